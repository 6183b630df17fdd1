using System.Diagnostics;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Benchmarks;

/// <summary>
/// Measures the shipped executable as shops lean on it: orders placed by many clients beside a bare loop of single SQLite commits on the
/// same
/// disk, quotes beside the answer that says only that the server lives, and a million codes made and found. All in one run.
/// </summary>
internal static class StoreLoad
{
    private const int Clients = 64;
    private const string Cart =
        """{"method": "parcel", "destination": "DE-BE", "codes": [], "lines": [{"sku": "DROVER-PANNIER-BLACK", "quantity": 1}, {"sku": "FELL-TYRE-28-622", "quantity": 2}]}""";

    private static readonly TimeSpan Span = TimeSpan.FromSeconds(8);

    public static async Task Run(string executable, long codes)
    {
        var folder = Directory.CreateTempSubdirectory("rapid-ledger-load").FullName;
        var data = Path.Combine(folder, "shop.db");
        using var server = Process.Start(
            new ProcessStartInfo(executable, ["serve", "--port", "0", "--data", data, "--demo", "--log-level", "Warning"])
            {
                RedirectStandardOutput = true,
            }
        )!;
        try
        {
            var line = (await server.StandardOutput.ReadLineAsync())!;
            var address = new Uri(line[line.IndexOf("http", StringComparison.Ordinal)..line.IndexOf(" (", StringComparison.Ordinal)]);
            using var http = new HttpClient(new SocketsHttpHandler { MaxConnectionsPerServer = Clients }) { BaseAddress = address };
            var key = (string)(await http.GetFromJsonAsync<JsonNode>("/api/counter"))!["key"]!;
            http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", key);

            Console.WriteLine($"bare commits, one insert each, synchronous=FULL: {Bare(Path.Combine(folder, "bare.db")):N0} a second");
            Console.WriteLine(
                $"GET /healthz, {Clients} clients: {await Rate(async _ => (await http.GetAsync("/healthz")).Dispose()):N0} a second"
            );
            Console.WriteLine($"quote, {Clients} clients: {await Rate(_ => Quote(http)):N0} a second");
            var shown = (await Quote(http))["shown"]!.ToJsonString();
            var (placed, refused) = (0, 0);
            var rate = await Rate(async number =>
            {
                using var request = new HttpRequestMessage(HttpMethod.Post, "/store/v1/orders")
                {
                    Content = new StringContent($$"""{"cart": {{Cart}}, "shown": {{shown}}, "take": true}""", null, "application/json"),
                };
                request.Headers.Add("Idempotency-Key", $"load {number}");
                using var answer = await http.SendAsync(request);
                if ((int)answer.StatusCode == 201)
                    Interlocked.Increment(ref placed);
                else
                    Interlocked.Increment(ref refused);
            });
            Console.WriteLine(
                $"orders, {Clients} clients, each on disk before it is acknowledged: {rate:N0} a second ({placed} placed, {refused} refused)"
            );

            var before = await Each(() => Quote(http));
            var watch = Stopwatch.StartNew();
            using (var begun = await http.PostAsJsonAsync("/api/batches", new { count = codes, length = 12 }))
                begun.EnsureSuccessStatusCode();
            while (
                (await http.GetFromJsonAsync<JsonNode>("/api/batches"))!
                    .AsArray()
                    .Any(batch => (long?)batch!["wanted"] > (long)batch["codes"]!)
            )
                await Task.Delay(100);
            server.Refresh();
            Console.WriteLine(
                $"{codes:N0} codes made: {watch.Elapsed.TotalSeconds:N1} s, the server's memory then: {server.WorkingSet64 / 1_000_000} MB"
            );
            Console.WriteLine(
                $"search by a prefix among them: {await Each(async () => await http.GetStringAsync("/api/codes?q=K3F")):N1} ms"
            );
            Console.WriteLine($"a quote before: {before:N2} ms, beside them: {await Each(() => Quote(http)):N2} ms");
        }
        finally
        {
            server.Kill();
            await server.WaitForExitAsync();
            Directory.Delete(folder, true);
        }
    }

    private static async Task<JsonNode> Quote(HttpClient http)
    {
        using var answer = await http.PostAsync("/store/v1/quote", new StringContent($$"""{"cart": {{Cart}}}""", null, "application/json"));
        answer.EnsureSuccessStatusCode();
        return JsonNode.Parse(await answer.Content.ReadAsStringAsync())!;
    }

    private static async Task<double> Rate(Func<long, Task> call)
    {
        var (number, done) = (0L, 0L);
        var watch = Stopwatch.StartNew();
        await Task.WhenAll(
            Enumerable
                .Range(0, Clients)
                .Select(async _ =>
                {
                    while (watch.Elapsed < Span)
                    {
                        await call(Interlocked.Increment(ref number));
                        Interlocked.Increment(ref done);
                    }
                })
        );
        return done / watch.Elapsed.TotalSeconds;
    }

    // The median of single calls, in milliseconds.
    private static async Task<double> Each(Func<Task> call)
    {
        var times = new double[101];
        for (var i = 0; i < times.Length; i++)
        {
            var watch = Stopwatch.StartNew();
            await call();
            times[i] = watch.Elapsed.TotalMilliseconds;
        }

        Array.Sort(times);
        return times[times.Length / 2];
    }

    private static double Bare(string file)
    {
        using var connection = new SqliteConnection($"Data Source={file}");
        connection.Open();
        Execute("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; CREATE TABLE rows (id INTEGER PRIMARY KEY, text TEXT)");
        var (watch, done) = (Stopwatch.StartNew(), 0L);
        for (; watch.Elapsed < Span / 2; done++)
            Execute("INSERT INTO rows (text) VALUES ('one')");
        return done / watch.Elapsed.TotalSeconds;

        void Execute(string sql)
        {
            using var command = connection.CreateCommand();
            command.CommandText = sql;
            command.ExecuteNonQuery();
        }
    }
}
