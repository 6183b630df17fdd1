using System.Xml.Linq;

namespace RapidLedger.Pricing.Tests;

/// <summary>The rooms of the house, and who may look into which.</summary>
public class House
{
    private static readonly Dictionary<string, string[]> MayLookInto = new()
    {
        ["RapidLedger.Pricing"] = [],
        ["RapidLedger.Formats"] = ["RapidLedger.Pricing"],
        ["RapidLedger.Storage"] = ["RapidLedger.Pricing"],
        ["RapidLedger.Server"] = ["RapidLedger.Formats", "RapidLedger.Storage"],
    };

    // Longer than a file should be, each of one duty that is not read better in two.
    private static readonly string[] LongFiles =
    [
        "BundleFilling.cs",
        "BuyGet.cs",
        "OrderTransaction.cs",
        "PromotionRepository.cs",
        "Rulebook.cs",
    ];

    public static string Root { get; } = FindRoot();

    [Fact]
    public void Projects_point_only_downward()
    {
        var found = Directory
            .EnumerateDirectories(Path.Combine(Root, "src"))
            .Where(folder => Directory.EnumerateFiles(folder, "*.csproj").Any())
            .Select(Path.GetFileName)
            .Order();
        Assert.Equal(MayLookInto.Keys.Order(), found);
        foreach (var (project, allowed) in MayLookInto)
        {
            var references = XDocument
                .Load(Path.Combine(Root, "src", project, $"{project}.csproj"))
                .Descendants("ProjectReference")
                .Select(reference => Path.GetFileNameWithoutExtension((string)reference.Attribute("Include")!));
            Assert.Equal(allowed.Order(), references.Order());
        }
    }

    [Fact]
    public void The_core_needs_nothing_but_time()
    {
        var references = typeof(Rulebook)
            .Assembly.GetReferencedAssemblies()
            .Select(name => name.Name!)
            .Where(name => !name.StartsWith("System.", StringComparison.Ordinal));
        Assert.Empty(references.Except(["NodaTime"]));
        // No JSON, no network, no database, no clock, no chance, no floating point.
        Assert.DoesNotContain(typeof(Rulebook).Assembly.GetReferencedAssemblies(), name =>
            name.Name is "System.Text.Json" or "System.Net.Http" or "System.Data.Common"
        );
        foreach (
            var file in Directory
                .EnumerateFiles(Path.Combine(Root, "src", "RapidLedger.Pricing"), "*.cs", SearchOption.AllDirectories)
                .Where(file => !file.Contains("/obj/", StringComparison.Ordinal))
        )
            Assert.DoesNotMatch(
                @"\b(double|float|DateTime\.(Now|UtcNow)|SystemClock|new Random|Guid\.NewGuid|Environment\.)\b",
                File.ReadAllText(file)
            );
    }

    [Fact]
    public void Lines_end_at_140_but_for_texts_that_have_no_break()
    {
        var tooLong = Sources()
            .SelectMany(file =>
                File.ReadLines(file)
                    .Where(line =>
                        line.Length > 140 && (!line.Contains('"') || line.TrimStart().StartsWith("//", StringComparison.Ordinal))
                    )
                    .Select(line => $"{Path.GetRelativePath(Root, file)}: {line.Trim()}")
            );
        Assert.Empty(tooLong);
    }

    [Fact]
    public void Files_have_some_300_lines_and_at_most_400_but_for_a_few() =>
        Assert.Equal(
            LongFiles,
            Sources()
                .Where(file => File.ReadLines(file).Count() > 400)
                .Select(file => Path.GetFileName(file)!)
                .Order(StringComparer.Ordinal)
        );

    private static IEnumerable<string> Sources() =>
        ((string[])["src", "bench"])
            .SelectMany(folder => Directory.EnumerateFiles(Path.Combine(Root, folder), "*.cs", SearchOption.AllDirectories))
            .Where(file => !file.Contains("/obj/", StringComparison.Ordinal) && !file.Contains("/node_modules/", StringComparison.Ordinal));

    private static string FindRoot()
    {
        for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
            if (File.Exists(Path.Combine(folder.FullName, "RapidLedger.slnx")))
                return folder.FullName;
        throw new InvalidOperationException("The tests do not lie in the project.");
    }
}
