using System.Text.Json;

namespace RapidLedger.Formats.Tests;

/// <summary>Every case file gives the result it expects.</summary>
public class CaseFileTests
{
    public static TheoryData<string> Files() =>
        new(
            Directory
                .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json")
                .Select(Path.GetFileName)
                .Order(StringComparer.Ordinal)!
        );

    [Theory]
    [MemberData(nameof(Files))]
    public void Gives_what_it_expects(string file)
    {
        var json = File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "cases", file));
        var reading = CaseReader.Read(json);
        using var result = JsonDocument.Parse(ResultWriter.Write(reading));
        using var written = JsonDocument.Parse(json);
        Assert.Empty(Expectation.Differences(written.RootElement.GetProperty("expect"), result.RootElement));
    }
}
