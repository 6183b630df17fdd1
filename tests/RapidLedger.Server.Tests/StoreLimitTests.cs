using System.Collections.Concurrent;
using System.Text.Json.Nodes;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>Whatever is limited is used up exactly: with many at once, over midnight, beside codes being made, and through kills.</summary>
public class StoreLimitTests
{
    [Fact]
    public async Task Exactly_as_many_orders_as_a_limit_a_code_or_a_stock_allows()
    {
        var shop = OwnShop.Of("AUD");
        await using var server = await shop.ServeShipped();
        using var store = new Store(server, NewKey(server, "server"));
        await PutLive(
            server,
            """{"label": "Total", "trigger": {"codes": ["TOTAL"]}, "limits": {"total": 40}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        await PutLive(
            server,
            """{"label": "Each", "trigger": {"codes": ["EACH"]}, "limits": {"perShopper": 1}, "rewards": [{"kind": "points", "fixed": 2}]}"""
        );
        await PutLive(
            server,
            """{"label": "Day", "trigger": {"codes": ["DAY"]}, "limits": {"perDay": 7}, "rewards": [{"kind": "points", "fixed": 3}]}"""
        );
        await PutLive(
            server,
            """{"label": "Gift", "trigger": {"codes": ["GIFT"]}, "rewards": [{"kind": "gift", "give": {"skus": ["G"]}}]}"""
        );
        var batch = await Bring(server, "ONE-1", "ONE 2");
        await PutLive(server, $$"""{"label": "One", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "points", "fixed": 4}]}""");

        Assert.Equal(40, await Compete("TOTAL", 160, number => $$"""{"id": "t{{number}}"}"""));
        Assert.Equal(10, await Compete("EACH", 60, number => $$"""{"id": "e{{number % 10}}"}"""));
        Assert.Equal(7, await Compete("DAY", 40, number => $$"""{"id": "d{{number}}"}"""));
        Assert.Equal(9, await Compete("GIFT", 40, number => $$"""{"id": "g{{number}}"}"""));
        Assert.Equal(1, await Compete("one1", 30, number => $$"""{"id": "o{{number}}"}"""));
        Assert.Equal((0, "All counters agree with what they count.\n", ""), RunningServer.Run("", "check-store", server.Data));
        Assert.Contains("used by 1 of 1 order", RunningServer.Run("", "code", "ONE-1", "--data", server.Data).Output);

        async Task<int> Compete(string code, int attempts, Func<int, string> who)
        {
            var carts = Enumerable
                .Range(0, attempts)
                .Select(number => shop.Cart(("A", 1)).With("codes", $"""["{code}"]""").With("shopper", who(number)))
                .ToArray();
            var quote = await store.Quote(carts[0]);
            Assert.Equal("applied", (string)quote["result"]!["codes"]![0]!["status"]!);
            var placed = await Task.WhenAll(carts.Select((cart, number) => store.Place(cart, quote, $"{code} {number}", take: true)));
            Assert.All(placed, entry => Assert.True(entry.Status is 201 or 409, $"{entry.Status} {entry.Order.ToJsonString()}"));
            return placed.Count(entry => entry.Status == 201);
        }
    }

    [Theory]
    // Summer time begins in Berlin on 28 March 2027 at 2:00, which is then 3:00: that day has 23 hours (European Union, Directive
    // 2000/84/EC).
    [InlineData(
        "EUR",
        "2027-03-27T23:59:59+01:00 2,2027-03-28T00:00:00+01:00 2,2027-03-28T01:59:59+01:00 0,2027-03-28T03:00:00+02:00 0,2027-03-28T23:59:59+02:00 0,2027-03-29T00:00:00+02:00 2,2027-10-31T02:30:00+02:00 2,2027-10-31T02:30:00+01:00 0"
    )]
    // In Chile it ends on Saturday, 3 April 2027, at midnight, which is 23:00 again: the day has 25 hours (tz database, rules for Chile
    // from 2022 on).
    [InlineData("CLP", "2027-04-02T23:59:59-03:00 2,2027-04-03T23:30:00-03:00 2,2027-04-03T23:30:00-04:00 0,2027-04-04T00:00:00-04:00 2")]
    public async Task A_days_limit_begins_anew_at_midnight_also_where_the_clock_changes_and_what_comes_back_leaves_its_own_day(
        string currency,
        string clocks
    )
    {
        var shop = OwnShop.Of(currency);
        await using var server = await RunningServer.StartShipped(demo: false, data: await shop.File(), clock: clocks[..25]);
        var key = NewKey(server, "server");
        await PutLive(
            server,
            """{"label": "Day", "trigger": {"codes": ["DAY"]}, "limits": {"perDay": 2}, "rewards": [{"kind": "points", "fixed": 3}]}"""
        );
        var cart = shop.Cart(("A", 1)).With("codes", """["DAY"]""");
        var placedBefore = new List<string>();
        foreach (var (clock, free) in clocks.Split(',').Select(one => (one[..25], one[26] - '0')))
        {
            server.Kill();
            await server.StartAgain(clock);
            using var store = new Store(server, key);
            var placed = 0;
            for (var attempt = 0; attempt < 4; attempt++)
            {
                var quote = await store.Quote(cart);
                if ((string)quote["result"]!["codes"]![0]!["status"]! != "applied")
                    break;
                var (status, order) = await store.Place(cart, quote, $"{clock} {attempt}", take: true);
                Assert.Equal(201, status);
                placed++;
                placedBefore.Add((string)order["id"]!);
            }

            Assert.Equal((clock, free), (clock, placed));
            if (placedBefore.Count != 4 || placed != 2)
                continue;
            // What comes back today of an earlier day frees nothing of today.
            await store.Post($"orders/{placedBefore[0]}/give-back", null, "back");
            Assert.Equal("limitReached", (string)(await store.Quote(cart))["result"]!["codes"]![0]!["status"]!);
            await store.Post($"orders/{placedBefore[^1]}/give-back", null, "back today");
            Assert.Equal("applied", (string)(await store.Quote(cart))["result"]!["codes"]![0]!["status"]!);
            Assert.Equal(201, (await store.Place(cart, await store.Quote(cart), "again", take: true)).Status);
        }

        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task Codes_are_made_while_orders_are_placed_and_a_batch_that_is_stopped_keeps_what_was_made()
    {
        var shop = OwnShop.Of("CLP");
        await using var server = await shop.ServeShipped();
        var cart = shop.Cart(("A", 1));
        using var store = new Store(server, NewKey(server, "server"));
        var quote = await store.Quote(cart);
        var (_, made) = await server.Send(HttpMethod.Post, "/api/batches", new { count = 1_000_000, length = 14 });
        var id = (string)made!["id"]!;
        // Orders get in between.
        for (var number = 0; number < 20; number++)
            Assert.Equal(201, (await store.Place(cart, quote, $"{number}", take: true)).Status);
        var under = await Batch();
        Assert.True((long)under["wanted"]! == 1_000_000 && (long)under["codes"]! < 1_000_000, under.ToJsonString());
        Assert.Equal(204, (await server.Send(HttpMethod.Post, $"/api/batches/{id}/stop", new { keep = true })).Status);
        JsonNode stopped;
        do stopped = await Batch();
        while (stopped["wanted"] is not null);
        var kept = (long)stopped["codes"]!;
        await Task.Delay(200);
        Assert.Equal(kept, (long)(await Batch())["codes"]!);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
        // And thrown away, as nobody has used one.
        Assert.Equal(204, (await server.Send(HttpMethod.Post, $"/api/batches/{id}/stop", new { keep = false })).Status);
        Assert.DoesNotContain((await server.Get("/api/batches")).AsArray(), batch => (string)batch!["id"]! == id);

        // One that a kill has left half made is gone on with.
        (_, made) = await server.Send(HttpMethod.Post, "/api/batches", new { count = 60_000, length = 14 });
        id = (string)made!["id"]!;
        server.Kill();
        await server.StartAgain();
        while ((await Batch())["wanted"] is not null)
            await Task.Delay(50);
        Assert.Equal(60_000, (long)(await Batch())["codes"]!);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        async Task<JsonNode> Batch() => (await server.Get("/api/batches")).AsArray().Single(batch => (string)batch!["id"]! == id)!;
    }

    [Fact]
    public async Task A_kill_loses_no_acknowledged_order_and_counts_nothing_twice()
    {
        var shop = OwnShop.Of("KWD");
        await using var server = await shop.ServeShipped();
        var cart = shop.Cart(("A", 1), ("B", 2));
        var key = NewKey(server, "server");
        var acknowledged = new ConcurrentBag<string>();
        for (var round = 0; round < 3; round++)
        {
            using var store = new Store(server, key);
            var quote = await store.Quote(cart);
            var number = 0;
            var clients = Enumerable
                .Range(0, 8)
                .Select(async _ =>
                {
                    try
                    {
                        while (true)
                        {
                            var (status, order) = await store.Place(
                                cart,
                                quote,
                                $"{round} {Interlocked.Increment(ref number)}",
                                take: true
                            );
                            Assert.Equal(201, status);
                            acknowledged.Add((string)order["id"]!);
                        }
                    }
                    catch (Exception error) when (error is HttpRequestException or IOException or TaskCanceledException)
                    {
                        // The server is gone.
                    }
                })
                .ToArray();
            // Killed in the midst of it, however fast it goes.
            var before = acknowledged.Count;
            while (acknowledged.Count < before + 40)
                await Task.Delay(5);
            server.Kill();
            await Task.WhenAll(clients);
            await server.StartAgain();
        }

        using var after = new Store(server, key);
        Assert.NotEmpty(acknowledged);
        foreach (var id in acknowledged)
            Assert.Equal("taken", (string)(await after.Get($"orders/{id}"))["state"]!);
        Assert.Equal((0, "All counters agree with what they count.\n", ""), RunningServer.Run("", "check-store", server.Data));
    }
}
