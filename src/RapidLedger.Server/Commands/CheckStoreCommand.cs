using System.CommandLine;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>check-store</c>: compares the counters of a store with the rows that they count.</summary>
internal static class CheckStoreCommand
{
    public static Command Create()
    {
        var file = new Argument<string>("FILE") { Description = "The store; it may be in use." };
        var command = new Command("check-store", "Compares what is counted with what is there: uses, codes, stock. Exits with 1 if anything differs.") { file };
        command.SetAction(parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(file));
            var differences = new CounterCheck(database).Differences();
            foreach (var difference in differences) Console.WriteLine(difference);
            if (differences.Count == 0) Console.WriteLine("All counters agree with what they count.");
            return differences.Count == 0 ? 0 : 1;
        });
        return command;
    }
}
