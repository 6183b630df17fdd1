using System.CommandLine;
using System.Text.Json;
using RapidLedger.Formats;

namespace RapidLedger.Server.Commands;

/// <summary><c>check</c>: prices case files and compares with what they expect.</summary>
internal static class CheckCommand
{
    public static Command Create()
    {
        var files = new Argument<FileInfo[]>("FILE") { Description = "Case files.", Arity = ArgumentArity.OneOrMore };
        var effort = EffortOption.Create();
        var command = new Command(
            "check",
            "Prices case files, compares with what they expect, and prints what differs. Exits with 1 if anything does."
        )
        {
            files,
            effort,
        };
        command.SetAction(parsed => Run(parsed.GetRequiredValue(files), Console.Out, parsed.GetValue(effort)));
        return command;
    }

    internal static int Run(IEnumerable<FileInfo> files, TextWriter output, int effort)
    {
        var (right, wrong) = (0, 0);
        foreach (var file in files)
        {
            var differences = Differences(file, effort);
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

    private static IReadOnlyList<string> Differences(FileInfo file, int effort)
    {
        if (!file.Exists)
            return [": there is no such file"];
        var json = File.ReadAllBytes(file.FullName);
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
