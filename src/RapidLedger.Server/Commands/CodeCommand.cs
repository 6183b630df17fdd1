using System.CommandLine;
using NodaTime;
using RapidLedger.Server.Codes;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

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
            var path = parsed.GetRequiredValue(data);
            if (!File.Exists(path)) throw new StorageFault($"There is no store at {path}. Name it with --data.");
            using var database = new Database(path);
            database.Upgrade();
            var (clock, codes) = (SystemClock.Instance, new CodeRepository(database, SystemClock.Instance));
            var shop = new OpenShop(database, new ShopRepository(database), new PromotionRepository(database, clock), codes, new OrderRepository(database));
            if (new CodeStories(shop, codes, clock).Of(parsed.GetRequiredValue(code)) is not { } story)
            {
                Console.Error.WriteLine($"Nobody knows the code {parsed.GetRequiredValue(code)}.");
                return 1;
            }

            Console.WriteLine($"{story.Code}: {story.Story}");
            foreach (var order in story.Orders) Console.WriteLine($"  used by the order {order}");
            return 0;
        });
        return command;
    }
}
