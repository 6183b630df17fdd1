using System.CommandLine;
using RapidLedger.Formats;
using RapidLedger.Pricing;

namespace RapidLedger.Server.Commands;

/// <summary><c>review</c>: the second look at the promotions of case files, for a pipeline to hold.</summary>
internal static class ReviewCommand
{
    public static Command Create()
    {
        var files = new Argument<string[]>("FILE") { Description = "Case files.", Arity = ArgumentArity.OneOrMore };
        var command = new Command(
            "review",
            "Takes a second look at the live promotions of case files. Exits with 1 if it finds an error, or a file that cannot be read."
        )
        {
            files,
        };
        command.SetAction(parsed =>
        {
            var exit = 0;
            foreach (var file in parsed.GetRequiredValue(files))
                exit |= Look(file);
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
        var exit = 0;
        var live = read.Promotions.Where(promotion => promotion.State == State.Live).ToArray();
        var around = new Surroundings(
            read.Index,
            Rulebook.Compile(read.Index, live),
            new Wording(read.Index, read.Store.Currency),
            read.Cart.At,
            read.Cart
        );
        for (var place = 0; place < read.Promotions.Count; place++)
        {
            if (read.Promotions[place].State != State.Live)
                continue;
            foreach (var finding in Review.Of(read.Promotions[place], around))
            {
                if (finding.Severity == Severity.Error)
                    exit = 1;
                Console.WriteLine(
                    $"{file}/promotions/{place}{finding.At}: {finding.Severity.ToString().ToLowerInvariant()}: {finding.Sentence}{(finding.Mend is { } mend ? $" (mend: {mend.Words})" : "")}"
                );
            }
        }

        return exit;
    }
}
