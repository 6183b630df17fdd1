using System.Collections.Concurrent;
using System.Globalization;
using System.Reflection;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using RapidLedger.Mutations;

// Changes a library in one place at a time, at random places drawn from a seed, and runs the tests that come by the place against each:
//   dotnet run -c Release --project tests/RapidLedger.Mutations -- [how many] [seed] [only files whose path holds this] [Pricing, Formats,
// Storage or Server]
// Prints a line for each and the score. Those that do not compile are left out.
var wanted = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 200;
var seed = args.Length > 1 ? int.Parse(args[1], CultureInfo.InvariantCulture) : 1;
var only = args.Length > 2 ? args[2] : "";
var library = args.Length > 3 ? args[3] : "Pricing";

// Whose tests come by it.
string[] projects = library switch
{
    "Pricing" => ["Formats", "Pricing"],
    "Formats" => ["Formats"],
    "Storage" => ["Storage", "Server"],
    "Server" => ["Server"],
    _ => throw new ArgumentException($"There are Pricing, Formats, Storage and Server, not {library}."),
};
var root = Root();

// That something may be null is only warned of, and looking for it takes most of the time.
var reading = new CSharpParseOptions(LanguageVersion.Preview).WithFeatures([
    new("run-nullable-analysis", "never"),
    new("InterceptorsNamespaces", "Microsoft.AspNetCore.OpenApi.Generated"),
]);
var core = Path.Combine(root, $"src/RapidLedger.{library}");
var trees = Directory
    .EnumerateFiles(core, "*.cs", SearchOption.AllDirectories)
    .Where(file =>
        !file.StartsWith(Path.Combine(core, "bin"), StringComparison.Ordinal)
        && (!file.StartsWith(Path.Combine(core, "obj"), StringComparison.Ordinal) || Generated(file, library))
    )
    .Order(StringComparer.Ordinal)
    .Select(file => Parsed(File.ReadAllText(file), Path.GetRelativePath(root, file)))
    .ToList();
var desks = Enumerable.Range(0, Environment.ProcessorCount).Select(at => new TestDesk(root, at, library, projects)).ToList();
var name = TestDesk.Assembly(library);
var own = desks[0].Libraries().Single(file => Path.GetFileName(file) == $"{name}.dll");
var references = ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!)
    .Split(Path.PathSeparator)
    .Where(file => file.Contains("/shared/Microsoft.", StringComparison.Ordinal))
    .Concat(desks[0].Libraries().Where(file => file != own))
    .DistinctBy(Path.GetFileName)
    .Select(file => MetadataReference.CreateFromFile(file))
    .ToList();

// What travels inside it, as it was built.
var built = Assembly.Load(File.ReadAllBytes(own));
ResourceDescription[] inside =
[
    .. built
        .GetManifestResourceNames()
        .Select(resource => new ResourceDescription(resource, () => built.GetManifestResourceStream(resource)!, isPublic: true)),
];
var whole = CSharpCompilation.Create(
    name,
    trees,
    references,
    new(
        library == "Server" ? OutputKind.ConsoleApplication : OutputKind.DynamicallyLinkedLibrary,
        optimizationLevel: OptimizationLevel.Release,
        nullableContextOptions: NullableContextOptions.Enable,
        allowUnsafe: true
    )
);

// Its calls are intercepted where they stand.
const string Intercepted = "RapidLedger.Server/Web/Site.cs";
var places = trees
    .Where(tree =>
        !tree.FilePath.EndsWith(Intercepted, StringComparison.Ordinal)
        && !tree.FilePath.Contains("/obj/", StringComparison.Ordinal)
        && tree.FilePath.Contains(only, StringComparison.Ordinal)
    )
    .SelectMany(Mutation.In)
    .ToArray();
Console.WriteLine($"{places.Length} places, {wanted} drawn with seed {seed}");
new Random(seed).Shuffle(places);

// More than are wanted: what does not compile is left out.
var drawn = places[..Math.Min(places.Length, 20 + (2 * wanted))];

// First each class of tests by itself on a core that notes what it reaches: how long it takes, and that it passes as it is.
var around = drawn.Select((one, place) => (Around: Reach.Around(one.Before), Place: place)).ToList();
var marks = around.Where(one => one.Around is not null).ToLookup(one => one.Around!, one => one.Place);
var notedTrees = trees
    .Select(tree => Parsed(new Reach(marks).Visit(tree.GetRoot()).ToFullString(), tree.FilePath))
    .Append(Parsed(Reach.Notes(drawn.Length), "Notes.cs"));
var noting = whole.RemoveAllSyntaxTrees().AddSyntaxTrees(notedTrees);
var notingCore = Emitted(noting)
    ?? throw new InvalidOperationException(
        "The core does not compile: "
            + noting.Emit(Stream.Null).Diagnostics.FirstOrDefault(found => found.Severity == DiagnosticSeverity.Error)
    );
foreach (var desk in desks)
    desk.Take(notingCore);
var classes = new ConcurrentBag<(TestClass Class, Outcome Outcome)>();
InParallel(desks[0].Classes(), (desk, one) =>
{
    var outcome = desk.Outcome([one], TimeSpan.FromMinutes(20));
    if (outcome.Verdict is not null)
        throw new InvalidOperationException($"{one.Name} does not pass as it is: {outcome.Verdict}.");
    classes.Add((one, outcome));
});

// Those that take long come last, as most changes are noticed by the quick ones.
var ordered = classes.OrderBy(one => one.Outcome.Took).ThenBy(one => one.Class.Name, StringComparer.Ordinal).ToList();
var quick = TimeSpan.FromSeconds(6);
var (tried, noticed) = (0, 0);
InParallel(Enumerable.Range(0, drawn.Length), (desk, place) =>
{
    var mutation = drawn[place];
    var changed = mutation.Tree.WithRootAndOptions(
        mutation.Tree.GetRoot().ReplaceNode(mutation.Before, mutation.After),
        mutation.Tree.Options
    );
    if (
        Volatile.Read(ref tried) >= wanted
        || Emitted(whole.ReplaceSyntaxTree(mutation.Tree, changed)) is not { } changedCore
        || Interlocked.Increment(ref tried) > wanted
    )
        return;
    desk.Take(changedCore);
    var (verdict, count) = ((string?)null, 0);
    foreach (
        var wave in ordered
            .Where(one => around[place].Around is null || one.Outcome.Reached.Contains(place))
            .GroupBy(one => (Slow: one.Outcome.Took > quick, one.Class.Project))
            .OrderBy(wave => wave.Key.Slow)
    )
    {
        // A change that makes them take several times as long makes them not end.
        var limit = TimeSpan.FromSeconds(20) + (3 * wave.Aggregate(TimeSpan.Zero, (sum, one) => sum + one.Outcome.Took));
        count += wave.Count();
        verdict = desk.Outcome([.. wave.Select(one => one.Class)], limit).Verdict;
        if (verdict is not null)
            break;
    }

    if (verdict is not null)
        Interlocked.Increment(ref noticed);
    Console.WriteLine(verdict is null ? $"SURVIVED {count} classes of tests: {mutation}" : $"noticed, {verdict}: {mutation}");
});

Console.WriteLine($"{noticed} of {Math.Min(tried, wanted)} noticed");
return noticed == Math.Min(tried, wanted) ? 0 : 1;

void InParallel<T>(IEnumerable<T> all, Action<TestDesk, T> each)
{
    var free = new ConcurrentBag<TestDesk>(desks);
    Parallel.ForEach(
        Partitioner.Create(all, EnumerablePartitionerOptions.NoBuffering),
        new ParallelOptions { MaxDegreeOfParallelism = desks.Count },
        one =>
        {
            if (!free.TryTake(out var desk))
                throw new InvalidOperationException("More at once than there is room for.");
            each(desk, one);
            free.Add(desk);
        }
    );
}

byte[]? Emitted(CSharpCompilation compilation)
{
    using var stream = new MemoryStream();
    return compilation.Emit(stream, manifestResources: inside).Success ? stream.ToArray() : null;
}

SyntaxTree Parsed(string text, string path) => CSharpSyntaxTree.ParseText(text, reading, path, System.Text.Encoding.UTF8);

static bool Generated(string file, string library) =>
    file.Contains("/Release/", StringComparison.Ordinal)
    && (
        file.Contains("/generated/", StringComparison.Ordinal)
        || file.EndsWith("GlobalUsings.g.cs", StringComparison.Ordinal)
        || file.EndsWith($"RapidLedger.{library}.AssemblyInfo.cs", StringComparison.Ordinal)
        || Path.GetFileName(file) == ".NETCoreApp,Version=v10.0.AssemblyAttributes.cs"
    );

static string Root()
{
    for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
        if (File.Exists(Path.Combine(folder.FullName, "RapidLedger.slnx")))
            return folder.FullName;
    throw new InvalidOperationException("The tool does not lie in the project.");
}
