using System.CommandLine;
using System.Text.Json;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Commands;

/// <summary>
/// <c>check</c>: prices case files and compares with what they expect; of a whole shop, reads every file and prices its carts.
/// </summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var files = new Argument<string[]>("FILE")
        {
            Description = "Case files, or whole shops as export writes them: folders or zips.",
            Arity = ArgumentArity.OneOrMore,
        };
        var effort = EffortOption.Create();
        var command = new Command(
            "check",
            "Prices case files, compares with what they expect, and prints what differs; of a whole shop, reads all of it and prices its carts. Exits with 1 if anything is wrong."
        )
        {
            files,
            effort,
        };
        command.SetAction(parsed => Run(parsed.GetRequiredValue(files), Console.Out, parsed.GetValue(effort)));
        return command;
    }

    private static int Run(IEnumerable<string> files, TextWriter output, int effort)
    {
        var (right, wrong) = (0, 0);
        foreach (var file in files)
        {
            var differences = ArchiveFolder.IsShop(file) ? OfShop(file, effort) : Differences(file, effort);
            if (differences.Count == 0)
                right++;
            else
                wrong++;
            foreach (var difference in differences)
                output.WriteLine($"{file}{difference}");
        }

        output.WriteLine($"{right} as expected, {wrong} not");
        return wrong == 0 ? 0 : 1;
    }

    // What cannot be read, and carts that cannot be priced as of now with what is live.
    private static IReadOnlyList<string> OfShop(string path, int effort)
    {
        try
        {
            var (read, problems) = ArchiveFolder.Read(path);
            if (read is not { } shop)
                return [.. problems.Select(problem => $"/{problem}")];
            var catalogue = ShopImport.CatalogueOf(shop);
            var rulebook = Rulebook.Compile(catalogue, ShopImport.LiveOf(shop, catalogue).Select(one => one.Promotion));
            var ids = shop.Promotions.Select(promotion => promotion.Id).ToHashSet(StringComparer.Ordinal);
            var wrong = new List<string>();
            foreach (var kept in shop.Carts)
            {
                var document = kept.Cart.DeepClone().AsObject();
                if (!document.ContainsKey("at"))
                    document["at"] = ProgramClock.Machine.GetCurrentInstant().ToString();
                var cart = CaseReader.ReadCart(ShopImport.Bytes(document), catalogue, ids);
                var file = $"/{ArchivePaths.Carts}{ArchivePaths.Escape(kept.Id)}.case.json/cart";
                wrong.AddRange(cart.Problems.Select(problem => $"{file}{problem.At}: {problem.Message}"));
                if (cart.Value is { } priced)
                    rulebook.Price(priced, effort: effort);
            }

            return wrong;
        }
        catch (FormatException error)
        {
            return [$": {error.Message}"];
        }
    }

    private static IReadOnlyList<string> Differences(string file, int effort)
    {
        if (!File.Exists(file))
            return [": there is no such file"];
        var json = File.ReadAllBytes(file);
        var reading = CaseReader.Read(json);
        string[] problems = [.. reading.Problems.Select(problem => $"{problem.At}: {problem.Message}")];
        if (reading.Problems is [{ Code: ProblemCode.NotJson or ProblemCode.TooDeep } broken])
            return [$": {broken.Message}"];
        using var written = JsonDocument.Parse(ByteOrderMark.Utf8(json));
        using var result = JsonDocument.Parse(ResultWriter.Write(reading, effort));
        if (written.RootElement.ValueKind == JsonValueKind.Object && written.RootElement.TryGetProperty("expect", out var expected))
        {
            // Where a case is refused that was to be priced, what is wrong with it says all; nothing of a result is there.
            if (problems.Length > 0 && !(expected.ValueKind == JsonValueKind.Object && expected.TryGetProperty("problems", out _)))
                return problems;
            return Expectation.Differences(expected, result.RootElement);
        }

        return reading.Value is null ? problems : [": says nothing under 'expect', so there is nothing to check"];
    }
}
