using System.CommandLine;
using RapidLedger.Server.Codes;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Commands;

/// <summary><c>code</c>: tells the story of a code.</summary>
internal static class CodeCommand
{
    public static Command Create()
    {
        var data = DataOption.Create();
        var code = new Argument<string>("CODE") { Description = "As it was handed out, with or without hyphens." };
        var command = new Command("code", "Tells what is known of a code. Exits with 1 if nobody knows it.") { data, code };
        command.SetAction(parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            var clock = ProgramClock.Machine;
            if (
                new CodeStories(OpenShop.Of(database, clock), new(database, clock), clock).Of(parsed.GetRequiredValue(code))
                is not { } story
            )
            {
                Console.Error.WriteLine($"Nobody knows the code {parsed.GetRequiredValue(code)}.");
                return 1;
            }

            Console.WriteLine($"{story.Code}: {story.Story}");
            foreach (var order in story.Orders)
                Console.WriteLine($"  used by the order {order}");
            return 0;
        });
        return command;
    }
}
