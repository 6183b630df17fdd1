using System.CommandLine;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Takings;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Commands;

/// <summary><c>takings</c>: what promotions brought in a stretch of days, also beside a running server.</summary>
internal static class TakingsCommand
{
    public static Command Create()
    {
        var data = DataOption.Create();
        var from = new Option<string?>("--from") { Description = "The first day, such as 2026-12-01; the last 28 days unless said." };
        var to = new Option<string?>("--to") { Description = "The last day; today unless said." };
        var promotion = new Option<string?>("--promotion") { Description = "The only promotion, by its id." };
        var byDay = new Option<bool>("--by-day") { Description = "Each day has rows of its own." };
        var brought = new Option<bool>("--brought") { Description = "Orders from before that were brought in are added." };
        var csv = new Option<bool>("--csv") { Description = "As CSV; without it as columns to read." };
        var command = new Command("takings", "Tells what promotions brought: orders, takings, what was given, margin.")
        {
            data,
            from,
            to,
            promotion,
            byDay,
            brought,
            csv,
        };
        command.SetAction(async parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            var shop = OpenShop.Of(database, ProgramClock.Machine);
            await TakingsFollower.Complete(new(database), shop);
            if (
                Stretch.Read(parsed.GetValue(from), parsed.GetValue(to), TakingsEndpoints.Today(shop, ProgramClock.Machine))
                is not { } stretch
            )
            {
                Console.Error.WriteLine("Two days are expected, the first not after the last: --from 2026-12-01 --to 2026-12-28.");
                return 1;
            }

            if (parsed.GetValue(promotion) is { } id && shop.Find(id) is null)
            {
                Console.Error.WriteLine($"There is no promotion '{id}'.");
                return 1;
            }

            string[][] rows =
            [
                .. TakingsCsv.Rows(
                    new(shop, new(database), new(database)),
                    stretch,
                    shop.Store.Currency,
                    parsed.GetValue(byDay),
                    parsed.GetValue(brought),
                    parsed.GetValue(promotion)
                ),
            ];
            Console.Write(parsed.GetValue(csv) ? TakingsCsv.Written(rows) : InColumns(rows));
            return 0;
        });
        return command;
    }

    // The same, each column as wide as its widest cell.
    private static string InColumns(string[][] rows)
    {
        int[] widths = [.. Enumerable.Range(0, rows[0].Length).Select(column => rows.Max(row => row[column].Length))];
        return string.Concat(rows.Select(row => $"{string.Join("  ", row.Select((cell, column) => cell.PadLeft(widths[column])))}\n"));
    }
}
