using System.Diagnostics;
using System.Globalization;

namespace RapidLedger.Mutations;

/// <summary>A class of tests, and the project it stands in.</summary>
internal sealed record TestClass(string Project, string Name);

/// <summary>Copies of the test programs with a core of their own, so that several changes are tried at once.</summary>
internal sealed class TestDesk
{
    private readonly string[] _projects;
    private readonly string _library;
    private readonly string _folder;

    // What the tests of the server start as a program of its own; the rest they serve themselves, from the library beside them.
    private readonly string _program;

    public TestDesk(string root, int at, string library, string[] projects)
    {
        (_library, _projects) = (library, projects);
        // Below the project, which the tests look for above themselves.
        _folder = Path.Combine(root, "tests/RapidLedger.Mutations/bin/under", at.ToString(CultureInfo.InvariantCulture));
        if (Directory.Exists(_folder))
            Directory.Delete(_folder, recursive: true);
        foreach (var project in _projects)
            Copy($"tests/RapidLedger.{project}.Tests", project);
        if (_projects.Contains("Server"))
            Copy("src/RapidLedger.Server", "program");
        _program = Path.Combine(_folder, "program");

        void Copy(string project, string name)
        {
            var from = Path.Combine(root, project, "bin/Release/net10.0");
            foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
            {
                var to = Path.Combine(_folder, name, Path.GetRelativePath(from, file));
                Directory.CreateDirectory(Path.GetDirectoryName(to)!);
                File.Copy(file, to);
            }
        }
    }

    /// <summary>The name of a library's assembly.</summary>
    public static string Assembly(string library) => library == "Server" ? "rapid-ledger" : $"RapidLedger.{library}";

    /// <summary>Where the libraries lie that it can be compiled with, and the one that is changed.</summary>
    public IEnumerable<string> Libraries() =>
        Directory
            .EnumerateFiles(Directory.Exists(_program) ? _program : Path.Combine(_folder, _projects[^1]), "*.dll")
            .Where(file =>
                !Path.GetFileName(file).StartsWith("System.", StringComparison.Ordinal)
                || Path.GetFileName(file) is "System.CommandLine.dll"
            );

    /// <summary>Puts another core under the tests.</summary>
    public void Take(byte[] core)
    {
        foreach (var file in Directory.EnumerateFiles(_folder, $"{Assembly(_library)}.dll", SearchOption.AllDirectories).ToArray())
            File.WriteAllBytes(file, core);
    }

    /// <summary>All classes of tests there are.</summary>
    public IReadOnlyList<TestClass> Classes() =>
        [
            .. _projects.SelectMany(project =>
                Run(project, ["-list", "classes"], TimeSpan.FromMinutes(1))
                    .Said.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                    .Where(line => line.StartsWith("RapidLedger.", StringComparison.Ordinal))
                    .Select(name => new TestClass(project, name))
            ),
        ];

    /// <summary>Runs classes of one project: why they do not pass, or null.</summary>
    /// <param name="classes">One at the least.</param>
    /// <param name="limit">Of the processor's time: on a busy machine it is no verdict that they take long.</param>
    public Outcome Outcome(IReadOnlyList<TestClass> classes, TimeSpan limit)
    {
        var notes = Path.Combine(_folder, "reached");
        if (Directory.Exists(notes))
            Directory.Delete(notes, recursive: true);
        Directory.CreateDirectory(notes);
        var (code, _, took) = Run(
            classes[0].Project,
            [.. classes.SelectMany(one => (string[])["-class", one.Name]), "-stopOnFail"],
            limit,
            notes
        );
        return new(
            code switch
            {
                0 => null,
                null => "did not end",
                _ => "failed",
            },
            took,
            [.. Directory.EnumerateFiles(notes).SelectMany(File.ReadAllLines).Select(int.Parse)]
        );
    }

    private (int? Code, string Said, TimeSpan Took) Run(string project, string[] arguments, TimeSpan limit, string notes = "")
    {
        var start = new ProcessStartInfo(
            Path.Combine(_folder, project, $"RapidLedger.{project}.Tests"),
            [.. arguments, "-noColor", "-noLogo"]
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment[Reach.Variable] = notes;
        start.Environment["RAPID_LEDGER_PROGRAM"] = Path.Combine(_program, "rapid-ledger");
        using var run = Process.Start(start)!;
        var said = run.StandardOutput.ReadToEndAsync();
        run.BeginErrorReadLine();
        var took = TimeSpan.Zero;
        for (var watch = Stopwatch.StartNew(); took < limit && watch.Elapsed < 10 * limit; )
        {
            if (run.WaitForExit(TimeSpan.FromMilliseconds(100)))
                return (run.ExitCode, said.Result, took);
            try
            {
                // What another program does for it is not its own time.
                took = project == "Server" ? watch.Elapsed : run.TotalProcessorTime;
            }
            catch (Exception error) when (error is InvalidOperationException or System.ComponentModel.Win32Exception)
            {
                // It ended in between.
            }
        }

        run.Kill(entireProcessTree: true);
        return (null, "", took);
    }
}

/// <summary>What came of running tests.</summary>
/// <param name="Verdict">Why they do not pass, or null.</param>
/// <param name="Took">Of the processor's time.</param>
/// <param name="Reached">The numbers of the places they reached, where the core notes them.</param>
internal sealed record Outcome(string? Verdict, TimeSpan Took, HashSet<int> Reached);
