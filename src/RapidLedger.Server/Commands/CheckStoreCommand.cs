using System.CommandLine;
using RapidLedger.Server.Selling;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>check-store</c>: compares the counters of a store with the rows that they count.</summary>
internal static class CheckStoreCommand
{
    public static Command Create()
    {
        var file = new Argument<string>("FILE") { Description = "The store; it may be in use." };
        var command = new Command(
            "check-store",
            "Counts everything anew from the orders and compares with the counters: uses, by day and by shopper, amounts, draws, codes, units sold, shoppers' orders and spending. Exits with 1 if anything differs. Limits that are passed are told as notes."
        )
        {
            file,
        };
        command.SetAction(parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(file));
            var shop = OpenShop.Of(database, ProgramClock.Machine);
            foreach (var passed in new OrderRepository(database).Read(transaction => PassedLimits.Of(shop, transaction)))
                Console.WriteLine($"Note: {passed}");
            var differences = new CounterCheck(database).Differences();
            foreach (var difference in differences)
                Console.WriteLine(difference);
            if (differences.Count == 0)
                Console.WriteLine("All counters agree with what they count.");
            return differences.Count == 0 ? 0 : 1;
        });
        return command;
    }
}
