using System.Diagnostics;
using System.Globalization;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using RapidLedger.Mutations;

// Changes the core in one place at a time, at random places drawn from a seed, and runs the tests against each:
//   dotnet run -c Release --project tests/RapidLedger.Mutations -- [how many] [seed] [only files whose path holds this]
// Prints a line for each and the score. Those that do not compile or that were drawn already are drawn again.
var wanted = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 200;
var seed = args.Length > 1 ? int.Parse(args[1], CultureInfo.InvariantCulture) : 1;
var only = args.Length > 2 ? args[2] : "";
var root = Root();
var core = Path.Combine(root, "src/RapidLedger.Pricing");
var trees = Directory.EnumerateFiles(core, "*.cs", SearchOption.AllDirectories)
    .Where(file => !file.StartsWith(Path.Combine(core, "bin"), StringComparison.Ordinal) && (!file.StartsWith(Path.Combine(core, "obj"), StringComparison.Ordinal) || Generated(file)))
    .Order(StringComparer.Ordinal)
    .Select(file => CSharpSyntaxTree.ParseText(File.ReadAllText(file), new(LanguageVersion.Preview), Path.GetRelativePath(root, file), System.Text.Encoding.UTF8))
    .ToList();

// The tests run in copies of their own; the quick ones first, as most changes are noticed by them.
var folders = ((string[])["Formats", "Pricing"]).ToDictionary(name => name, name => Copied($"tests/RapidLedger.{name}.Tests/bin/Release/net10.0"));
(string Name, string Folder, string[] Arguments)[] runs =
[
    ("case files", "Formats", ["-class", "*CaseFileTests"]),
    ("core", "Pricing", []),
    ("formats", "Formats", ["-class-", "*CaseFileTests"]),
];
var references = ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!).Split(Path.PathSeparator)
    .Where(file => Path.GetFileName(file).StartsWith("System", StringComparison.Ordinal) || Path.GetFileName(file) is "netstandard.dll" or "mscorlib.dll")
    .Append(Path.Combine(folders["Pricing"], "NodaTime.dll"))
    .Select(file => MetadataReference.CreateFromFile(file)).ToList();
var whole = CSharpCompilation.Create("RapidLedger.Pricing", trees, references, new(OutputKind.DynamicallyLinkedLibrary,
    optimizationLevel: OptimizationLevel.Release, nullableContextOptions: NullableContextOptions.Enable, allowUnsafe: true));
if (Emitted(whole) is null) throw new InvalidOperationException("The core itself does not compile: " + whole.GetDiagnostics().First(found => found.Severity == DiagnosticSeverity.Error));

// A change that makes them take several times as long makes them not end.
var limit = TimeSpan.FromMinutes(20);
var watch = Stopwatch.StartNew();
foreach (var run in runs)
    if (Noticed(run.Folder, run.Arguments) is { } verdict) throw new InvalidOperationException($"The tests of the {run.Name} do not pass as it is: {verdict}.");
limit = TimeSpan.FromMinutes(1) + (3 * watch.Elapsed);

var places = trees.Where(tree => !tree.FilePath.Contains("/obj/", StringComparison.Ordinal) && tree.FilePath.Contains(only, StringComparison.Ordinal)).SelectMany(Mutation.In).ToList();
var random = new Random(seed);
var (noticed, survived) = (0, new List<Mutation>());
Console.WriteLine($"{places.Count} places, {wanted} drawn with seed {seed}");
while (noticed + survived.Count < wanted && places.Count > 0)
{
    var drawn = random.Next(places.Count);
    var mutation = places[drawn];
    places.RemoveAt(drawn);
    var changed = mutation.Tree.WithRootAndOptions(mutation.Tree.GetRoot().ReplaceNode(mutation.Before, mutation.After), mutation.Tree.Options);
    if (Emitted(whole.ReplaceSyntaxTree(mutation.Tree, changed)) is not { } assembly) continue;
    foreach (var folder in folders.Values) File.WriteAllBytes(Path.Combine(folder, "RapidLedger.Pricing.dll"), assembly);
    var by = runs.Select(run => (run.Name, Verdict: Noticed(run.Folder, run.Arguments))).FirstOrDefault(run => run.Verdict is not null);
    if (by.Verdict is null) survived.Add(mutation);
    else noticed++;
    Console.WriteLine($"{(by.Verdict is null ? "SURVIVED" : $"noticed by {by.Name}, {by.Verdict}")}: {mutation}");
}

Console.WriteLine($"{noticed} of {noticed + survived.Count} noticed");
return survived.Count == 0 ? 0 : 1;

string? Noticed(string folder, string[] arguments)
{
    var program = Path.Combine(folders[folder], $"RapidLedger.{folder}.Tests");
    using var run = Process.Start(new ProcessStartInfo(program, [.. arguments, "-stopOnFail", "-noColor", "-noLogo"]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
    run.OutputDataReceived += (_, _) => { };
    run.BeginOutputReadLine();
    run.BeginErrorReadLine();
    if (run.WaitForExit(limit)) return run.ExitCode == 0 ? null : "failed";
    run.Kill(entireProcessTree: true);
    return "did not end";
}

byte[]? Emitted(CSharpCompilation compilation)
{
    using var stream = new MemoryStream();
    return compilation.Emit(stream).Success ? stream.ToArray() : null;
}

string Copied(string folder)
{
    // Below the project, which the tests look for above themselves.
    var copy = Path.Combine(root, "tests/RapidLedger.Mutations/bin/under", Path.GetFileName(Path.GetDirectoryName(Path.GetDirectoryName(Path.GetDirectoryName(folder))))!);
    if (Directory.Exists(copy)) Directory.Delete(copy, recursive: true);
    foreach (var file in Directory.EnumerateFiles(Path.Combine(root, folder), "*", SearchOption.AllDirectories))
    {
        var to = Path.Combine(copy, Path.GetRelativePath(Path.Combine(root, folder), file));
        Directory.CreateDirectory(Path.GetDirectoryName(to)!);
        File.Copy(file, to);
    }

    return copy;
}

static bool Generated(string file) =>
    file.Contains("/Release/", StringComparison.Ordinal) && (file.Contains("/generated/", StringComparison.Ordinal) || file.EndsWith("GlobalUsings.g.cs", StringComparison.Ordinal) || file.EndsWith("RapidLedger.Pricing.AssemblyInfo.cs", StringComparison.Ordinal)
        || Path.GetFileName(file) == ".NETCoreApp,Version=v10.0.AssemblyAttributes.cs");

static string Root()
{
    for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
        if (File.Exists(Path.Combine(folder.FullName, "RapidLedger.slnx"))) return folder.FullName;
    throw new InvalidOperationException("The tool does not lie in the project.");
}
