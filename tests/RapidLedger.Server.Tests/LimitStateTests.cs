using System.Globalization;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Storage;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>What limits, holds, codes and promotions allow as their states change, on the machine's clock.</summary>
public class LimitStateTests
{
    private const string Points = "\"rewards\": [{\"kind\": \"points\", \"fixed\": 1}]";

    [Fact]
    public async Task A_hold_lasts_as_many_seconds_as_asked_and_a_shopper_holds_three_whatever_is_taken()
    {
        var shop = OwnShop.Of("CLP");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        var cart = shop.Cart(("A", 1)).With("shopper", """{"id": "s2"}""");
        var quote = await store.Quote(cart);
        for (var number = 0; number < 3; number++)
            Assert.Equal(201, (await store.Place(cart, quote, $"taken {number}", take: true)).Status);
        for (var number = 0; number < 3; number++)
        {
            var (status, held) = await store.Post(
                "orders",
                new
                {
                    cart,
                    shown = quote["shown"],
                    hold = 4_000,
                },
                $"held {number}"
            );
            Assert.Equal((201, 4_000d), (status, (Moment(held["heldUntil"]!) - Moment(held["placedAt"]!)).TotalSeconds));
            Assert.False((bool)held["rehearsal"]!);
        }

        var (fourth, refusal) = await store.Post("orders", new { cart, shown = quote["shown"] }, "fourth");
        Assert.Equal((409, "/cart/shopper"), (fourth, (string)refusal["problems"]![0]!["at"]!));
        // Another shopper may, and so may nobody that is known, and who pays at once.
        Assert.Equal(201, (await store.Place(cart.With("shopper", """{"id": "s3"}"""), quote, "another")).Status);
        Assert.Equal(201, (await store.Place(cart, quote, "paid", take: true)).Status);
        var (_, usual) = await store.Place(shop.Cart(("A", 1)), quote, "nobody");
        Assert.Equal(1_800d, (Moment(usual["heldUntil"]!) - Moment(usual["placedAt"]!)).TotalSeconds);
    }

    [Fact]
    public async Task A_guest_is_known_by_the_key_that_the_shop_gives_and_only_hashed()
    {
        var shop = OwnShop.Of("AUD");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        await PutLive(server, $$"""{"label": "Once", "trigger": {"codes": ["ONCE"]}, "limits": {"perShopper": 1}, {{Points}} }""");
        var cart = shop.Cart(("A", 1)).With("codes", """["ONCE"]""").With("guestKey", "\"device-4711\"");
        Assert.Equal("applied", Status(await store.Quote(cart)));
        Assert.Equal(201, (await store.Place(cart, await store.Quote(cart), "one", take: true)).Status);
        Assert.Equal("shopperLimitReached", Status(await store.Quote(cart)));
        Assert.Equal("applied", Status(await store.Quote(cart.With("guestKey", "\"device-4712\""))));
        Assert.DoesNotContain("device-4711", (await store.Get("orders?after=0")).ToJsonString(), StringComparison.Ordinal);
        var copy = Path.Combine(Path.GetDirectoryName(server.Data)!, "copy.db");
        Assert.Equal(0, RunningServer.Run("", "backup", copy, "--data", server.Data).Exit);
        Assert.DoesNotContain("device-4711", await File.ReadAllTextAsync(copy, System.Text.Encoding.Latin1), StringComparison.Ordinal);
        // A key for pages may say neither, nor read or move orders.
        using var page = new Store(server, NewKey(server, "page"));
        foreach (
            var (path, body) in new (string, object)[]
            {
                ("quote", new { cart }),
                ("quote", new { cart = shop.Cart(("A", 1)), replaces = "o1" }),
            }
        )
            Assert.Equal((path, 422), (path, (await page.Post(path, body, null)).Status));
        foreach (var path in (string[])["orders", "orders/o1"])
            Assert.Equal(403, await page.Asked(path));
    }

    [Fact]
    public async Task A_lapsed_order_is_not_taken_past_what_its_promotion_allows_live_or_not_nor_with_a_void_code()
    {
        var shop = OwnShop.Of("KWD");
        await using var server = await shop.ServeShipped();
        using var store = new Store(server, NewKey(server, "server"));
        var batch = await Bring(server, "GOOD-1", "GOOD-2");
        var last = await PutLive(
            server,
            $$"""{"name": "Last", "label": "Last", "trigger": {"codes": ["LAST"]}, "limits": {"total": 1}, {{Points}} }"""
        );
        await PutLive(server, $$"""{"label": "Batch", "trigger": {"batches": ["{{batch}}"]}, {{Points}} }""");
        var card = await PutLive(
            server,
            $$"""{"label": "Card", "trigger": {"codes": ["CARD"]}, "rewards": [{"kind": "credit", "amount": "{{shop.Money(3_000)}}", "keepRest": true}]}"""
        );
        var lapsed = new Dictionary<string, string>();
        foreach (var code in (string[])["LAST", "GOOD-1", "GOOD-2", "CARD"])
        {
            var cart = With(code);
            var (_, order) = await store.Post(
                "orders",
                new
                {
                    cart,
                    shown = (await store.Quote(cart))["shown"],
                    hold = 1,
                },
                code
            );
            lapsed[code] = (string)order["id"]!;
        }

        foreach (var id in lapsed.Values)
            while ((string)(await store.Get($"orders/{id}"))["state"]! == "held")
                await Task.Delay(50);
        Assert.Contains(
            $"rapid_ledger_orders_total{{what=\"lapsed\"}} {lapsed.Count}\n",
            await server.Http.GetStringAsync("/metrics"),
            StringComparison.Ordinal
        );

        // Others come in between; then the promotions rest.
        foreach (var code in (string[])["LAST", "CARD"])
            Assert.Equal(201, (await store.Place(With(code), await store.Quote(With(code)), $"other {code}", take: true)).Status);
        foreach (var id in (string[])[last, card])
        {
            var row = await server.Get($"/api/promotions/{id}");
            Assert.Equal(
                200,
                (await server.Send(HttpMethod.Post, $"/api/promotions/{row["id"]}/pause", new { revision = (long)row["revision"]! })).Status
            );
        }

        Assert.Equal(204, (await server.Send(HttpMethod.Post, "/api/codes/void?code=good1&isVoid=true")).Status);
        foreach (
            var (code, status, at) in new[]
            {
                ("LAST", 409, "/promotions/"),
                ("CARD", 409, "/promotions/"),
                ("GOOD-1", 409, "/codes"),
                ("GOOD-2", 200, ""),
            }
        )
        {
            var (told, answer) = await store.Post($"orders/{lapsed[code]}/take", null, $"take {code}");
            Assert.Equal((code, status), (code, told));
            if (status == 409)
                Assert.StartsWith(at, (string)answer["problems"]![0]!["at"]!, StringComparison.Ordinal);
        }

        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
        // A limit that is lowered below what was used is told, and is no fault of the counters.
        var lowered = (await server.Get($"/api/promotions/{last}"))!;
        var document = lowered["document"]!.DeepClone();
        document["limits"] = new JsonObject { ["total"] = 0 };
        await server.Send(HttpMethod.Post, $"/api/promotions/{last}/live", new { revision = (long)lowered["revision"]!, document });
        var (exit, output, _) = RunningServer.Run("", "check-store", server.Data);
        Assert.Equal((0, true), (exit, output.Contains("Note: “Last” was used 1 times of 0.", StringComparison.Ordinal)));

        JsonObject With(string code) => shop.Cart(("A", 2)).With("codes", $"[\"{code}\"]");
    }

    [Fact]
    public async Task A_batch_is_void_as_a_whole_and_is_not_thrown_away_once_an_order_has_used_it()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        var batch = await Bring(server, "ONE-1", "ONE-2");
        await PutLive(server, $$"""{"label": "Batch", "trigger": {"batches": ["{{batch}}"]}, {{Points}} }""");
        var (first, second) = (shop.Cart(("A", 1)).With("codes", """["one1"]"""), shop.Cart(("A", 1)).With("codes", """["one2"]"""));
        var (_, order) = await store.Place(first, await store.Quote(first), "one", take: true);
        Assert.Equal("codeUsedUp", Status(await store.Quote(first)));
        Assert.Equal(409, (await server.Send(HttpMethod.Post, $"/api/batches/{batch}/stop", new { keep = false })).Status);
        Assert.Equal(204, (await server.Send(HttpMethod.Post, $"/api/batches/{batch}/void?isVoid=true")).Status);
        Assert.Equal("codeVoid", Status(await store.Quote(second)));
        // What was accepted stays, and comes back as it was.
        Assert.Equal("taken", (string)(await store.Get($"orders/{order["id"]}"))["state"]!);
        Assert.Equal(204, (await server.Send(HttpMethod.Post, $"/api/batches/{batch}/void?isVoid=false")).Status);
        Assert.Equal("applied", Status(await store.Quote(second)));
        // Nor may a promotion have a code of the batch for its own, or the same batch a second one.
        foreach (
            var (trigger, at) in new[]
            {
                ("{\"codes\": [\"FREE\", \"one 2\"]}", "/trigger/codes/1"),
                ($"{{\"batches\": [\"{batch}\"]}}", "/trigger/batches/0"),
            }
        )
        {
            var (_, begun) = await server.Send(
                HttpMethod.Post,
                "/api/promotions",
                new { document = JsonNode.Parse($$"""{"label": "Other", "trigger": {{trigger}}, {{Points}} }""") }
            );
            var (status, answer) = await server.Send(
                HttpMethod.Post,
                $"/api/promotions/{begun!["id"]}/live",
                new { revision = 1, document = begun["document"] }
            );
            Assert.Equal(
                (422, "duplicate", at),
                (status, (string)answer!["problems"]![0]!["code"]!, (string)answer["problems"]![0]!["at"]!)
            );
        }
    }

    [Fact]
    public async Task Whatever_makes_something_live_goes_by_the_same_checks()
    {
        var shop = OwnShop.Of("AUD");
        var file = await shop.File();
        using (var database = new Database(file))
            await new WholeShopRepository(database, SystemClock.Instance).Replace(
                new(
                    "",
                    "",
                    "",
                    [],
                    [],
                    [new("bad", "live", $$"""{"id": "bad", "name": "Bad", "state": "live", "when": {"any": []}, {{Points}} }""", null, [])],
                    []
                ),
                ""
            );
        await using var server = await RunningServer.Start(demo: false, data: file);
        var batch = await Bring(server, "ONE-1");
        var firstId = await PutLive(
            server,
            $$"""{"name": "First", "label": "First", "trigger": {"batches": ["{{batch}}"]}, {{Points}} }"""
        );
        await Do("pause", await Row(firstId));
        var secondId = await PutLive(
            server,
            $$"""{"name": "Second", "label": "Second", "trigger": {"batches": ["{{batch}}"]}, {{Points}} }"""
        );
        // The batch starts the second now: the first is not resumed, and not put live again either.
        var (resumed, refusal) = await Do("resume", await Row(firstId));
        Assert.Equal((422, "/trigger/batches/0"), (resumed, (string)refusal!["problems"]![0]!["at"]!));
        Assert.Equal("paused", (string)(await Row(firstId))["state"]!);
        // An old edition is put back whole, in which only the first has it; and then the second is not resumed.
        var newest = (long)(await server.Get("/readyz"))["edition"]!;
        Assert.Equal(200, (await server.Send(HttpMethod.Post, $"/api/editions/{newest - 2}/restore", new { seen = newest })).Status);
        Assert.Equal(("live", "paused"), ((string)(await Row(firstId))["state"]!, (string)(await Row(secondId))["state"]!));
        Assert.Equal(422, (await Do("resume", await Row(secondId))).Status);

        // What cannot be meant, as an older program may have put it live, is neither resumed nor put back with an edition.
        var bad = await server.Get("/api/promotions/bad");
        Assert.Equal(200, (await Do("pause", bad)).Status);
        var (again, cannot) = await Do("resume", await Row("bad"));
        Assert.Equal(
            (422, "notMeant", "/when"),
            (again, (string)cannot!["problems"]![0]!["code"]!, (string)cannot["problems"]![0]!["at"]!)
        );
        newest = (long)(await server.Get("/readyz"))["edition"]!;
        var (restored, not) = await server.Send(HttpMethod.Post, "/api/editions/1/restore", new { seen = newest });
        Assert.Equal(
            (422, "notMeant", "/promotions/bad/when"),
            (restored, (string)not!["problems"]![0]!["code"]!, (string)not["problems"]![0]!["at"]!)
        );

        async Task<JsonNode> Row(string id) => await server.Get($"/api/promotions/{id}");
        async Task<(int Status, JsonNode? Body)> Do(string what, JsonNode row) =>
            await server.Send(HttpMethod.Post, $"/api/promotions/{row["id"]}/{what}", new { revision = (long)row["revision"]! });
    }

    [Fact]
    public async Task Times_with_seconds_are_moved_copied_and_kept_as_times_without()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        var document = Documents.Tubes("SECONDS").With("window", """{"start": "2027-03-01T08:00:30", "end": "2027-03-04T20:00:15"}""");
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document });
        // A copy leaves an end behind that has passed, to the second.
        var (_, copy) = await server.Send(HttpMethod.Post, $"/api/promotions/{begun!["id"]}/copy");
        Assert.Empty(copy!["document"]!["window"]!.AsObject());
        var (_, moved) = await server.Send(HttpMethod.Post, $"/api/promotions/{begun["id"]}/dates", new { revision = 1, days = 7 });
        Assert.Equal(
            ("2027-03-08T08:00:30", "2027-03-11T20:00:15"),
            ((string)moved!["document"]!["window"]!["start"]!, (string)moved["document"]!["window"]!["end"]!)
        );
    }

    [Fact]
    public void A_store_is_made_by_serving_it_alone()
    {
        var typo = Path.Combine(Directory.CreateTempSubdirectory("rapid-ledger").FullName, "typo.db");
        foreach (
            var arguments in (string[][])
                [
                    ["key", "new", "server", "--data", typo],
                    ["key", "list", "--data", typo],
                    ["key", "withdraw", "k1", "--data", typo],
                    ["code", "X", "--data", typo],
                    ["check-store", typo],
                    ["backup", $"{typo}.copy", "--data", typo],
                ]
        )
        {
            var (exit, output, errors) = RunningServer.Run("", arguments);
            Assert.Equal((1, ""), (exit, output));
            Assert.Contains("There is no store at", errors, StringComparison.Ordinal);
        }

        Assert.Empty(Directory.GetFiles(Path.GetDirectoryName(typo)!));
    }

    private static DateTimeOffset Moment(JsonNode written) => DateTimeOffset.Parse((string)written!, CultureInfo.InvariantCulture);

    private static string Status(JsonNode quote) => (string)quote["result"]!["codes"]![0]!["status"]!;
}
