using System.CommandLine;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Goods;
using RapidLedger.Server.Goods.Importing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary>
/// <c>import</c>: brings a file of goods, shoppers or past orders into a shop, also beside a running server, which follows.
/// </summary>
internal static class ImportCommand
{
    private const int MostBad = 1_000;

    public static Command Create()
    {
        var file = new Argument<string>("FILE")
        {
            Description =
                "Goods, shoppers or past orders: CSV, a spreadsheet (.xlsx), JSON lines; also packed with gzip or zip. A whole shop: a folder or zip that export wrote.",
        };
        var replace = new Option<bool>("--replace")
        {
            Description = "Of a whole shop: it takes the place of the one that is there. Orders, uses, keys and history stay.",
        };
        var anew = new Option<bool>("--uses-begin-anew")
        {
            Description = "Of a whole shop: uses of limited promotions and draws on credits begin at none, and that is meant.",
        };
        var data = DataOption.Create();
        var what = new Option<string?>("--what") { Description = "goods, shoppers or orders; told from the headings where that is clear." };
        what.AcceptOnlyFromAmong("goods", "shoppers", "orders");
        var missing = new Option<string>("--missing")
        {
            Description = "What becomes of items that are not in the file: keep or out.",
            DefaultValueFactory = _ => "keep",
        };
        missing.AcceptOnlyFromAmong("keep", "out");
        var marks = new Option<string?>("--decimals") { Description = "point or comma, where a column reads either way." };
        marks.AcceptOnlyFromAmong("point", "comma");
        var days = new Option<string?>("--dates") { Description = "day or month, whichever comes first, where a column reads either way." };
        days.AcceptOnlyFromAmong("day", "month");
        var command = new Command(
            "import",
            "Brings a file of goods, shoppers or past orders, or a whole shop: all of it, or nothing where a row is wrong."
        )
        {
            file,
            data,
            what,
            missing,
            marks,
            days,
            replace,
            anew,
        };
        command.SetAction(
            async (parsed, gone) =>
                ArchiveFolder.IsShop(parsed.GetRequiredValue(file))
                    ? await Whole(
                        new(parsed.GetValue(replace), parsed.GetValue(anew)),
                        parsed.GetRequiredValue(file),
                        parsed.GetRequiredValue(data)
                    )
                    : await Run(
                        parsed.GetRequiredValue(file),
                        parsed.GetRequiredValue(data),
                        parsed.GetValue(what),
                        parsed.GetRequiredValue(missing) == "out",
                        parsed.GetValue(marks),
                        parsed.GetValue(days),
                        gone
                    )
        );
        return command;
    }

    private static async Task<int> Run(
        string path,
        string data,
        string? what,
        bool takeOut,
        string? marks,
        string? days,
        CancellationToken gone
    )
    {
        if (!File.Exists(path))
            return Fail($"There is no file {path}.");
        using var database = DataOption.OpenExisting(data);
        var shop = OpenShop.Of(database, ProgramClock.Machine);
        if (!shop.Setup.IsThere)
            return Fail($"{data} holds no shop yet. Open one first: serve it, and say its name, currency and tax.");
        var steps = new StepRepository(database, ProgramClock.Machine);
        // What is unpacked is unpacked beside a copy: nothing is written where the file lies.
        var copy = Path.GetTempFileName();
        try
        {
            File.Copy(path, copy, overwrite: true);
            var file = IncomingFile.Of(copy, new(what), shop.Setup);
            if (marks is not null || days is not null)
                file = IncomingFile.Of(
                    copy,
                    new(what, Marks: [.. file.Columns.Select(column => Answered(column, marks, days))]),
                    shop.Setup
                );
            if (file.Open.Count > 0)
                return Fail([.. file.Open]);
            var (rows, unread, count) = await ImportDesk.ReadLines(file, shop.Setup, ProgramClock.Machine.GetCurrentInstant(), gone);
            if (takeOut && rows is ItemLines items)
                items.TakeOutOthers();
            if (unread.Count > 0)
                return Fail([.. unread.Concat(rows.Bad).OrderBy(bad => bad.Line).Take(MostBad).Select(Said)]);
            var name = Path.GetFileName(path);
            var words = ImportDesk.Words(name, count, file.What);
            var past = new PastOrderBatches(database, ProgramClock.Machine);
            var goods = new GoodsWriter(shop, steps, past, new(database, steps, new(database, ProgramClock.Machine))) { Follows = false };
            var writer = new IncomingWriter(goods, past);
            var (outcome, faults) = await writer.Write(name, words, rows, null, gone);
            if (faults.Count > 0)
                return Fail([.. faults.OrderBy(bad => bad.Line).Take(MostBad).Select(Said)]);
            Console.WriteLine($"{words}, {outcome.Changed} {(file.What == "orders" ? "orders are new" : "rows changed")}.");
            return 0;
        }
        catch (FormatException error)
        {
            return Fail(error.Message);
        }
        finally
        {
            File.Delete(copy);
            File.Delete($"{copy}.unpacked");
            File.Delete($"{copy}.unpacked.unpacked");
        }
    }

    private static async Task<int> Whole(WholeImport import, string path, string data)
    {
        try
        {
            return await import.Run(path, data, Console.WriteLine) is { Count: > 0 } faults ? Fail([.. faults]) : 0;
        }
        catch (FormatException error)
        {
            return Fail(error.Message);
        }
    }

    private static string Answered(FileColumn column, string? marks, string? days) =>
        (
            column.Marks == "either"
                ? column.Readings[0].Marks == "day"
                    ? days
                    : marks
                : null
        ) ?? "";

    private static string Said(BadLine bad) => $"row {bad.Line}{(bad.Member.Length > 0 ? $", {bad.Member}" : "")}: {bad.Message}";

    private static int Fail(params IEnumerable<string> messages)
    {
        foreach (var message in messages)
            Console.Error.WriteLine(message);
        Console.Error.WriteLine("Nothing was written.");
        return 1;
    }
}
