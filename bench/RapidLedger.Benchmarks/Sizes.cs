using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Benchmarks;

/// <summary>
/// A large shop: the demo shop with as many orders, shoppers and items as asked, served by the built program; what each list, search and
/// price costs in it, and the program's memory.
/// </summary>
internal static class Sizes
{
    private const int Rounds = 9;
    private const int OrdersOfDemo = 2_000;

    // Copies of what is there under other ids; the triggers that count uses one by one are set aside meanwhile. An order of the demo draws
    // on fewer than two promotions: two of them take part in the copies too, without any money, until there are two an order.
    private const string Copies = """
        CREATE TEMP TABLE copies (n INTEGER);
        WITH RECURSIVE count (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM count WHERE n < $orders / 2000 - 1)
        INSERT INTO copies SELECT n FROM count WHERE $orders >= 4000;
        INSERT INTO orders (id, state, placed_at, day, held_until, edition, shopper, rehearsal, total, cart, result, returned, change, back)
        SELECT id || '-' || n, state, placed_at - n * 86400, date(day, -n || ' days'), held_until, edition, shopper,
            rehearsal, total, cart, result, returned, change + n * (SELECT max(change) FROM orders), back
        FROM orders, copies WHERE instr(id, '-') = 0;
        INSERT INTO order_items SELECT sku, order_id || '-' || n FROM order_items, copies WHERE instr(order_id, '-') = 0;
        INSERT INTO redemptions (promotion_id, shopper_id, at, amount, order_id, day, drawn, counts)
        SELECT promotion_id, shopper_id, at, amount, order_id || '-' || n, date(day, -n || ' days'), drawn, counts
        FROM redemptions, copies WHERE order_id IS NOT NULL AND instr(order_id, '-') = 0;
        INSERT INTO order_figures SELECT order_id || '-' || n, document, fresh, guest FROM order_figures, copies WHERE instr(order_id,
            '-') = 0;
        INSERT INTO takings_added SELECT order_id || '-' || n, returned FROM takings_added, copies WHERE instr(order_id, '-') = 0;
        INSERT INTO redemptions (promotion_id, shopper_id, at, amount, order_id, day)
        SELECT 'club-points', shopper, placed_at, 0, id, day FROM orders WHERE instr(id, '-') > 0;
        INSERT INTO redemptions (promotion_id, shopper_id, at, amount, order_id, day)
        SELECT 'climb', shopper, placed_at, 0, id, day FROM orders WHERE instr(id, '-') > 0
        LIMIT (SELECT max(0, 2 * (SELECT count(*) FROM orders) - count(*)) FROM redemptions);
        CREATE TEMP TABLE days AS SELECT promotion, date(day, -n || ' days') AS day, held, sum(orders), sum(units), sum(takings),
            sum(given),
            sum(delivery), sum(without_tax), sum(paid), sum(margin_of), sum(cost), sum(new_shoppers), sum(guests)
            FROM takings_days, (SELECT n FROM copies UNION SELECT 0) GROUP BY 1, 2, 3;
        DELETE FROM takings_days;
        INSERT INTO takings_days SELECT * FROM days;
        INSERT INTO takings_days SELECT promotion_id, day, 0, count(*), 0, 0, 0, 0, 0, 0, 0, 0, 0, 0 FROM redemptions
            WHERE promotion_id IN ('club-points', 'climb') AND instr(order_id, '-') > 0 GROUP BY promotion_id, day;
        CREATE TEMP TABLE parts AS SELECT promotion, date(day, -n || ' days') AS day, part, word, sum(orders), sum(units), sum(takings),
            sum(given), sum(delivery), sum(margin_of), sum(cost)
            FROM takings_parts, (SELECT n FROM copies UNION SELECT 0) WHERE part <> 'hour' GROUP BY 1, 2, 3, 4;
        DELETE FROM takings_parts;
        INSERT INTO takings_parts SELECT * FROM parts;
        UPDATE takings_reached SET change = (SELECT max(change) FROM orders);
        WITH RECURSIVE count (n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM count WHERE n < $shoppers)
        INSERT INTO shoppers (id, name, groups, orders, spent)
        SELECT 'x' || n, 'Name ' || n, iif(n % 10 = 0, 'club', ''), n % 7, n FROM count;
        """;

    /// <summary>
    /// Builds the shop and prints one line a measurement. How long anything takes fails nothing; an answer that leaves something out does.
    /// </summary>
    /// <param name="executable">The built program.</param>
    /// <param name="orders">Orders, in thousands of two.</param>
    /// <param name="shoppers">Shoppers beside those of the demo shop.</param>
    /// <param name="items">Items beside those of the demo shop.</param>
    /// <exception cref="InvalidOperationException">A call failed, or goods, shoppers or orders are missing in its answer.</exception>
    public static async Task Run(string executable, int orders, int shoppers, int items)
    {
        var data = Path.Combine(Directory.CreateTempSubdirectory("rapid-ledger-sizes").FullName, "shop.db");
        Counted before = default;
        await Serve(executable, data, "--demo", async (http, _) =>
        {
            // Takings by parts are added up behind the orders.
            await Task.Delay(TimeSpan.FromSeconds(5));
            before = await Count(http);
        });
        Fill(data, orders, shoppers);
        await Import(executable, data, items);
        await Serve(executable, data, null, async (http, server) =>
        {
            await Measure(http, server);
            var expected = new Counted(
                before.Goods + items,
                before.Shoppers + shoppers,
                before.Orders * Math.Max(1, orders / OrdersOfDemo)
            );
            var now = await Count(http);
            if (now != expected)
                throw new InvalidOperationException($"The shop holds {expected}, and answers with {now}.");
            Console.WriteLine($"nothing is missing: {now}");
        });
        Directory.Delete(Path.GetDirectoryName(data)!, recursive: true);
    }

    private readonly record struct Counted(long Goods, long Shoppers, long Orders);

    private static async Task<Counted> Count(HttpClient http)
    {
        async Task<JsonNode> Get(string path) => (await http.GetFromJsonAsync<JsonNode>(path))!;
        // Copies reach back a day each.
        var first = DateTime.UtcNow.AddDays(-1_000).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        return new(
            (long)(await Get("/api/goods"))["all"]!,
            (long)(await Get("/api/shoppers/page"))["all"]!,
            (long)(await Get($"/api/takings?from={first}"))["all"]!["orders"]!
        );
    }

    private static async Task Measure(HttpClient http, Process server)
    {
        Console.WriteLine($"{"at rest", -34} {Memory(server), 10} MB");
        var yearAgo = DateTime.UtcNow.AddDays(-364).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        foreach (
            var (name, path) in ((string, string)[])
                [
                    ("orders", "/api/orders"),
                    ("orders of a number", "/api/orders?q=o01234"),
                    ("orders of a promotion", "/api/orders?q=Second%20light"),
                    ("orders of most frequent promotion", "/api/orders?q=Club%20points"),
                    ("orders of an item", "/api/orders?q=Dynamo%20front"),
                    ("orders of a day", "/api/orders?q=yesterday"),
                    ("orders of an amount", "/api/orders?q=217.70"),
                    ("orders that match nothing", "/api/orders?q=nothing%20at%20all"),
                    ("held orders", "/api/orders?state=held"),
                    ("an order's rules", "/api/orders/o02000/rules"),
                    ("shoppers", "/api/shoppers/page"),
                    ("shoppers of a name", "/api/shoppers/page?q=name%20777"),
                    ("a shopper", "/api/shoppers/s47"),
                    ("goods", "/api/goods"),
                    ("goods of a name", "/api/goods?q=item%20777"),
                    ("promotions", "/api/promotions"),
                    ("takings of a year", $"/api/takings?from={yearAgo}"),
                    ("takings of a year by day, a file", $"/api/takings.csv?from={yearAgo}&byDay=true"),
                    ("a promotion's takings of a year", $"/api/takings/of/tyre-pair?from={yearAgo}"),
                    ("takings of all orders of a year", $"/api/takings/of/*?from={yearAgo}"),
                ]
        )
            await Print(name, () => http.GetAsync(path));
        var sample = (await http.GetFromJsonAsync<JsonNode>("/api/shop"))!["samples"]![0]!["cart"]!;
        await Print("the tape", () => http.PostAsJsonAsync("/api/tape", new { cart = sample }));
        Console.WriteLine($"{"after all that", -34} {Memory(server), 10} MB");
    }

    private static async Task Print(string name, Func<Task<HttpResponseMessage>> ask)
    {
        var times = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            using var answer = await ask();
            _ = await answer.Content.ReadAsByteArrayAsync();
            if (!answer.IsSuccessStatusCode)
                throw new InvalidOperationException($"{name}: {answer.StatusCode}");
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        // The first warms up.
        times = [.. times.Skip(1).Order()];
        Console.WriteLine(
            string.Create(CultureInfo.InvariantCulture, $"{name, -34} {times[times.Count / 2], 10:0.0} ms, {times[^1]:0.0} at most")
        );
    }

    private static void Fill(string data, int orders, int shoppers)
    {
        using var connection = new SqliteConnection($"Data Source={data};Pooling=False");
        connection.Open();
        void Do(string sql)
        {
            using var command = connection.CreateCommand();
            command.CommandText = sql;
            command.Parameters.AddWithValue("$orders", orders);
            command.Parameters.AddWithValue("$shoppers", shoppers);
            command.ExecuteNonQuery();
        }

        var triggers = new List<(string Name, string Sql)>();
        using (var command = connection.CreateCommand())
        {
            command.CommandText = "SELECT name, sql FROM sqlite_master WHERE type = 'trigger'";
            using var rows = command.ExecuteReader();
            while (rows.Read())
                triggers.Add((rows.GetString(0), rows.GetString(1)));
        }

        Do("PRAGMA synchronous = OFF; PRAGMA foreign_keys = OFF");
        using (var transaction = connection.BeginTransaction())
        {
            foreach (var (name, _) in triggers)
                Do($"DROP TRIGGER {name}");
            Do(Copies);
            foreach (var (_, sql) in triggers)
                Do(sql);
            transaction.Commit();
        }

        Do("ANALYZE");
        using var counted = connection.CreateCommand();
        counted.CommandText = "SELECT count(*) FROM redemptions";
        Console.WriteLine($"{"promotions taken part in by orders", -34} {counted.ExecuteScalar(), 10}");
    }

    private static async Task Import(string executable, string data, int items)
    {
        var list = $"{data}.csv";
        var rows = new StringBuilder("sku,name,regular,cost,category\n");
        for (var item = 0; item < items; item++)
            rows.Append(
                CultureInfo.InvariantCulture,
                $"N{item},Item {item},{1 + (item % 900)}.{item % 90 + 10},0.50,Group {item % 40} > Part {item % 2000}\n"
            );
        await File.WriteAllTextAsync(list, rows.ToString());
        var watch = Stopwatch.StartNew();
        using var import = Process.Start(executable, ["import", list, "--data", data]);
        await import.WaitForExitAsync();
        Console.WriteLine(
            string.Create(CultureInfo.InvariantCulture, $"{$"{items} items come in", -34} {watch.Elapsed.TotalSeconds, 10:0.0} s")
        );
    }

    private static async Task Serve(string executable, string data, string? how, Func<HttpClient, Process, Task> work)
    {
        string[] arguments = ["serve", "--port", "0", "--data", data, "--log-level", "Warning", .. how is null ? [] : new[] { how }];
        using var server = Process.Start(new ProcessStartInfo(executable, arguments) { RedirectStandardOutput = true })!;
        try
        {
            var line = (await server.StandardOutput.ReadLineAsync())!;
            using var http = new HttpClient
            {
                BaseAddress = new(line[line.IndexOf("http", StringComparison.Ordinal)..line.IndexOf(" (", StringComparison.Ordinal)]),
            };
            await work(http, server);
        }
        finally
        {
            server.Kill();
            await server.WaitForExitAsync();
        }
    }

    private static long Memory(Process server)
    {
        server.Refresh();
        return server.WorkingSet64 >> 20;
    }
}
