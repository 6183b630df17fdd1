using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace RapidLedger.Tests;

/// <summary>
/// The program, serving on a free port over a file of its own: by the words of its command line, in the process of the tests, where what is
/// compiled is compiled once for all of them; or as it ships, in a process of its own, which can be killed, measured and asked to end.
/// </summary>
public sealed partial class RunningServer : IAsyncDisposable
{
    /// <summary>The day the demo shop was written for, on which all its figures are known.</summary>
    public const string DemoDay = "2027-03-05T10:00:00+01:00";

    // Longer than anything takes even on a busy machine; whoever waits longer waits for ever.
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(2);

    private readonly bool isShipped;
    private readonly string[] more;
    private IServing serving = null!;

    private RunningServer(string data, string? clock, bool isShipped, params string[] more) =>
        (Data, Clock, this.isShipped, this.more) = (data, clock, isShipped || AllShipped, more);

    /// <summary>What servers answered to the tests of this program: method, path, status, body.</summary>
    public static ConcurrentQueue<(string Method, string Path, int Status, JsonNode? Body)> Answers { get; } = new();

    public static string Root { get; } = FindRoot();

    // Every test is served by the program in a process of its own.
    private static readonly bool AllShipped = Environment.GetEnvironmentVariable("RAPID_LEDGER_SERVE") == "shipped";

    /// <summary>The program as it ships, or another build of it.</summary>
    public static string Executable { get; } =
        Environment.GetEnvironmentVariable("RAPID_LEDGER_PROGRAM") ?? Path.Combine(Root, "dist", "rapid-ledger");

    public string Data { get; }

    /// <summary>The moment at which its clock stands; null: it goes as the machine's does, as users run it.</summary>
    public string? Clock { get; private set; }

    public Uri Address { get; private set; } = null!;

    /// <summary>The number of its process, if it has one of its own.</summary>
    public int ProcessId => Shipped.Id;

    public HttpClient Http { get; private set; } = null!;

    /// <summary>Starts the program as users do: on the machine's clock, and with no option but where its file and its port are.</summary>
    /// <param name="demo">Over the demo shop; else over an empty file.</param>
    /// <param name="data">The file; null: one of its own.</param>
    /// <param name="clock">Where a date is what the test is about: the moment at which the clock stands.</param>
    /// <param name="more">Further options.</param>
    public static Task<RunningServer> Start(bool demo = true, string? data = null, string? clock = null, params string[] more) =>
        Begin(demo, data, clock, isShipped: false, more);

    /// <summary>Starts it as it ships, in a process of its own.</summary>
    /// <inheritdoc cref="Start(bool, string?, string?, string[])"/>
    public static Task<RunningServer> StartShipped(bool demo = true, string? data = null, string? clock = null, params string[] more) =>
        Begin(demo, data, clock, isShipped: true, more);

    private static async Task<RunningServer> Begin(bool demo, string? data, string? clock, bool isShipped, string[] more)
    {
        if (demo && data is null)
            File.Copy(await (clock == DemoDay ? FilledOnDemoDay : Filled).Value, data = OwnFile());
        var server = new RunningServer(data ?? OwnFile(), clock, isShipped, more);
        await server.Launch(demo, 0);
        return server;

        static string OwnFile() => Path.Combine(Directory.CreateTempSubdirectory("rapid-ledger").FullName, "shop.db");
    }

    /// <summary>Runs the program once with some input.</summary>
    public static (int Exit, string Output, string Errors) Run(string input, params string[] arguments) =>
        Start(Executable, input, arguments);

    /// <summary>A port that nobody listens on now.</summary>
    public static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    /// <summary>Runs a line of the shell, in which the program can be part of a pipeline.</summary>
    public static (int Exit, string Output, string Errors) Shell(string line, string input) => Start("bash", input, ["-c", line]);

    private static (int Exit, string Output, string Errors) Start(string program, string input, string[] arguments)
    {
        using var run = Process.Start(
            new ProcessStartInfo(program, arguments)
            {
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        var output = run.StandardOutput.ReadToEndAsync();
        var errors = run.StandardError.ReadToEndAsync();
        try
        {
            run.StandardInput.Write(input);
            run.StandardInput.Close();
        }
        catch (IOException)
        {
            // It went away before it had read all.
        }

        if (!run.WaitForExit(Patience))
        {
            run.Kill(entireProcessTree: true);
            throw new TimeoutException($"{program} did not end.");
        }

        return (run.ExitCode, output.Result, errors.Result);
    }

    /// <summary>Ends it as a crash does: at once.</summary>
    public void Kill() => Shipped.Kill();

    /// <summary>Ends it as an operator does, and gives its exit code.</summary>
    public Task<int> Stop() => serving.Stop();

    /// <summary>Starts it again over the same file, at the same address; at another moment if one is given.</summary>
    public Task StartAgain(string? clock = null)
    {
        Clock = clock ?? Clock;
        return Launch(false, Address.Port);
    }

    public async Task<JsonNode> Get(string path)
    {
        var (status, body) = await Send(HttpMethod.Get, path);
        return status == 200 ? body! : throw new HttpRequestException($"{path}: {status} {body?.ToJsonString()}");
    }

    public async Task<(int Status, JsonNode? Body)> Send(HttpMethod method, string path, object? body = null)
    {
        using var request = new HttpRequestMessage(method, path) { Content = body is null ? null : JsonContent.Create(body) };
        using var response = await Http.SendAsync(request);
        var text = await response.Content.ReadAsStringAsync();
        var told = text.Length == 0 ? null : JsonNode.Parse(text);
        Answers.Enqueue((method.Method, path.Split('?')[0], (int)response.StatusCode, told?.DeepClone()));
        return ((int)response.StatusCode, told);
    }

    public async ValueTask DisposeAsync()
    {
        serving.Dispose();
        Http.Dispose();
        await Task.CompletedTask;
    }

    private ServingProcess Shipped =>
        serving as ServingProcess ?? throw new InvalidOperationException($"Only a process can do that: begin with {nameof(StartShipped)}.");

    private async Task Launch(bool demo, int port)
    {
        string[] arguments =
        [
            "serve",
            "--port",
            $"{port}",
            "--data",
            Data,
            "--log-level",
            "Warning",
            .. Clock is null ? Array.Empty<string>() : new[] { "--clock", Clock },
            .. demo ? new[] { "--demo" } : [],
            .. more,
        ];
        serving = isShipped ? new ServingProcess(Executable, arguments) : new ServingHere(arguments);
        var line = await serving.Opened.WaitAsync(Patience) ?? throw new InvalidOperationException("The server ended before it was open.");
        Address = new(AddressIn().Match(line).Value);
        Http?.Dispose();
        Http = new() { BaseAddress = Address };
    }

    // The demo shop is filled once; each server gets a copy of it.
    private static readonly Lazy<Task<string>> Filled = new(() => Fill(null));
    private static readonly Lazy<Task<string>> FilledOnDemoDay = new(() => Fill(DemoDay));

    private static async Task<string> Fill(string? clock)
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory("rapid-ledger").FullName, "demo.db");
        await using var first = new RunningServer($"{file}.first", clock, isShipped: false);
        await first.Launch(true, 0);
        var (exit, _, errors) = Run("", "backup", file, "--data", first.Data);
        return exit == 0 ? file : throw new InvalidOperationException(errors);
    }

    private static string FindRoot()
    {
        for (var folder = new DirectoryInfo(AppContext.BaseDirectory); folder is not null; folder = folder.Parent)
            if (File.Exists(Path.Combine(folder.FullName, "RapidLedger.slnx")))
                return folder.FullName;
        throw new InvalidOperationException("The tests do not lie in the project.");
    }

    [GeneratedRegex(@"http://[0-9.:]+")]
    private static partial Regex AddressIn();
}
