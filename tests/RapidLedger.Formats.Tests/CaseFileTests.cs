using System.Text.Json;

namespace RapidLedger.Formats.Tests;

/// <summary>Every case file gives the result it expects, or is refused because it needs a kind that is not there yet.</summary>
public class CaseFileTests
{
    public static TheoryData<string> Files() =>
        new(Directory.EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json").Select(Path.GetFileName).Order(StringComparer.Ordinal)!);

    [Theory]
    [MemberData(nameof(Files))]
    public void Gives_what_it_expects(string file)
    {
        var json = File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "cases", file));
        var reading = CaseReader.Read(json);
        using var result = JsonDocument.Parse(ResultWriter.Write(reading));
        using var written = JsonDocument.Parse(json);
        if (reading.Problems.Any(problem => problem.Code == ProblemCode.NotYet))
        {
            Assert.Skip("needs a kind that cannot be priced yet");
        }

        Assert.Empty(Expectation.Differences(written.RootElement.GetProperty("expect"), result.RootElement));
    }
}
