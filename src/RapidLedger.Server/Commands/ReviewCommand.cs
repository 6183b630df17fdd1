using System.CommandLine;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Commands;

/// <summary><c>review</c>: the second look at the promotions of case files, for a pipeline to hold.</summary>
internal static class ReviewCommand
{
    public static Command Create()
    {
        var files = new Argument<string[]>("FILE")
        {
            Description = "Case files, or whole shops as export writes them: folders or zips.",
            Arity = ArgumentArity.OneOrMore,
        };
        var command = new Command(
            "review",
            "Takes a second look at the live promotions of case files and whole shops. Exits with 1 if it finds an error, or a file that cannot be read."
        )
        {
            files,
        };
        command.SetAction(parsed =>
        {
            var exit = 0;
            foreach (var file in parsed.GetRequiredValue(files))
                exit |= ArchiveFolder.IsShop(file) ? LookAtShop(file) : Look(file);
            return exit;
        });
        return command;
    }

    private static int Look(string file)
    {
        if (!File.Exists(file))
        {
            Console.WriteLine($"{file}: there is no such file");
            return 1;
        }

        var reading = CaseReader.Read(File.ReadAllBytes(file));
        foreach (var problem in reading.Problems)
            Console.WriteLine($"{file}{problem.At}: {problem.Message}");
        if (reading.Value is not { } read)
            return 1;
        var live = read.Promotions.Where(promotion => promotion.State == State.Live).ToArray();
        var around = new Surroundings(
            read.Index,
            Rulebook.Compile(read.Index, live),
            new Wording(read.Index, read.Store.Currency),
            read.Cart.At,
            read.Cart
        );
        var exit = 0;
        for (var place = 0; place < read.Promotions.Count; place++)
            if (read.Promotions[place].State == State.Live)
                exit |= Say(read.Promotions[place], around, $"{file}/promotions/{place}", []);
        return exit;
    }

    // As of now: what is said to be meant as written is not told again.
    private static int LookAtShop(string path)
    {
        try
        {
            var (read, problems) = ArchiveFolder.Read(path);
            foreach (var problem in problems)
                Console.WriteLine($"{path}/{problem}");
            if (read is not { } shop)
                return 1;
            var catalogue = ShopImport.CatalogueOf(shop);
            var live = ShopImport.LiveOf(shop, catalogue);
            var around = new Surroundings(
                catalogue,
                Rulebook.Compile(catalogue, live.Select(one => one.Promotion)),
                new Wording(catalogue, catalogue.Store.Currency),
                ProgramClock.Machine.GetCurrentInstant()
            );
            return live.Aggregate(0, (exit, one) =>
                exit
                | Say(
                    one.Promotion,
                    around,
                    $"{path}/{ArchivePaths.Promotions}{ArchivePaths.Escape(one.Promotion.Id)}.json",
                    [.. one.Meant.Select(meant => meant.Finding)]
                )
            );
        }
        catch (FormatException error)
        {
            Console.WriteLine($"{path}: {error.Message}");
            return 1;
        }
    }

    private static int Say(Promotion promotion, Surroundings around, string where, HashSet<string> meant)
    {
        var exit = 0;
        foreach (
            var finding in Review
                .Of(promotion, around)
                .Where(finding => finding.Severity == Severity.Error || !meant.Contains(KeyOf(finding)))
        )
        {
            if (finding.Severity == Severity.Error)
                exit = 1;
            Console.WriteLine(
                $"{where}{finding.At}: {finding.Severity.ToString().ToLowerInvariant()}: {finding.Sentence}{(finding.Mend is { } mend ? $" (mend: {mend.Words})" : "")}"
            );
        }

        return exit;
    }

    // By what it is kept that a finding is meant: its check, its place, and the other promotion it is about.
    private static string KeyOf(Finding finding) =>
        string.Join(' ', ((string?[])[finding.Check, finding.At, finding.Other]).Where(part => !string.IsNullOrEmpty(part)));
}
