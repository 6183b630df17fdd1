using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Settings are looked at before they hold, and take nothing from under what needs it.</summary>
public sealed class SettingsTests
{
    [Fact]
    public async Task What_a_change_does_is_shown_before_it_holds_and_is_what_it_then_does()
    {
        var own = OwnShop.Of("AUD");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        await Store.PutLive(
            server,
            """{"id": "night", "name": "Night", "window": {"start": "2026-01-01T00:00"}, "when": {"any": [{"method": ["parcel"]}, {"spend": {"of": {"in": [{"all": true}]}, "from": "1.00"}}]}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 10}, "per": "unit"}]}"""
        );
        var cart = own.Cart(("A", 1)).With("method", "\"parcel\"");
        var stands = await server.Get("/api/settings");
        var change = new
        {
            number = (long)stands["number"]!,
            store = JsonNode.Parse(
                """{"shipping": [{"id": "parcel", "name": "Post", "bands": [{"toGrams": 100, "price": "6.00"}, {"price": "9.00"}]}], "timeZone": "Europe/London"}"""
            ),
            settings = new { holdMinutes = 2 },
            cart,
        };
        var (_, look) = await server.Send(HttpMethod.Post, "/api/settings/look", change);
        Assert.Empty(look!["problems"]!.AsArray());
        // 17.99 with 19 % on top, and 6.00 with 19 % in place of 4.90.
        Assert.Equal("AUD 27.24 becomes AUD 28.55.", ((string)look["tape"]!).Replace('\u00a0', ' '));
        // A promotion that names the delivery says its new name.
        Assert.Contains("Post", (string)Assert.Single(look["promotions"]!.AsArray())!["what"]!, StringComparison.Ordinal);
        Assert.Equal("27.24", (string)(await shop.Quote(cart))["result"]!["totals"]!["total"]!);

        var (status, written) = await server.Send(HttpMethod.Post, "/api/settings", change);
        Assert.Equal(200, status);
        var quote = await shop.Quote(cart);
        Assert.Equal("28.55", (string)quote["result"]!["totals"]!["total"]!);
        var (_, order) = await shop.Place(cart, quote, "k1");
        var held = DateTimeOffset.Parse((string)order["heldUntil"]!, null) - DateTimeOffset.UtcNow;
        Assert.InRange(held, TimeSpan.FromSeconds(90), TimeSpan.FromSeconds(121));
        // Who began from settings of before is told, and nothing of theirs is written.
        Assert.Equal(409, (await server.Send(HttpMethod.Post, "/api/settings", change)).Status);
        Assert.Equal(200, (await server.Send(HttpMethod.Post, $"/api/goods/steps/{written!["step"]}/back")).Status);
        Assert.Equal("27.24", (string)(await shop.Quote(cart))["result"]!["totals"]!["total"]!);
        Assert.True(JsonNode.DeepEquals(stands["store"], (await server.Get("/api/settings"))["store"]));
    }

    [Fact]
    public async Task What_rules_prices_classes_and_held_orders_need_is_not_taken_out_and_says_who_needs_it()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        async Task<string[]> Refused(string store)
        {
            var body = new { store = JsonNode.Parse(store) };
            var (status, refused) = await server.Send(HttpMethod.Post, "/api/settings", body);
            Assert.Equal(422, status);
            // What a look finds is what the write refuses.
            var look = (await server.Send(HttpMethod.Post, "/api/settings/look", body)).Body!;
            Assert.True(JsonNode.DeepEquals(look["problems"], refused!["problems"]));
            return [.. refused["problems"]!.AsArray().Select(one => $"{one!["at"]} {one["message"]}")];
        }

        await server.Send(
            HttpMethod.Post,
            "/api/settings",
            new { store = JsonNode.Parse("""{"families": [{"name": "season", "onePerCart": true}]}""") }
        );
        var spring = await Store.PutLive(
            server,
            """{"id": "f", "name": "Spring", "stacking": {"family": "season"}, "when": {"method": ["parcel"]}, "rewards": [{"kind": "points", "points": 1, "each": {"GBP": "1.00", "EUR": "1.00"}}]}"""
        );
        Assert.StartsWith("/store/families The promotion “Spring” needs it: ", Assert.Single(await Refused("""{"families": []}""")));
        Assert.StartsWith("/store/shipping The promotion “Spring” needs it: ", Assert.Single(await Refused("""{"shipping": []}""")));
        var low = await Refused("""{"tax": {"mode": "inclusive", "rates": [{"class": "standard", "place": "DE", "percent": 19}]}}""");
        Assert.Equal(["/store/tax low cannot be taken out: 1 product is taxed by it."], low);

        await shop.Put("items", """{"sku": "A", "prices": {"GBP": {"regular": "9.99"}}}""");
        Assert.Contains(
            "/store/rates GBP cannot be taken out: 1 item has prices of their own in it.",
            await Refused("""{"rates": {"USD": "1.1"}}""")
        );
        await shop.Put("items", """{"sku": "A", "prices": null}""");
        await server.Send(HttpMethod.Post, $"/api/promotions/{spring}/retire", new { });
        var cart = own.Cart(("A", 1)).With("currency", "\"GBP\"").With("method", "\"parcel\"");
        await shop.Place(cart, await shop.Quote(cart), "k1");
        Assert.Contains(
            "/store/shipping Parcel cannot be taken out: 1 held order goes by it.",
            await Refused("""{"shipping": [{"id": "post", "price": "1.00"}], "rates": {"GBP": "1"}}""")
        );
        Assert.StartsWith(
            "/store/currency Orders have been counted in EUR, so it stays.",
            Assert.Single(await Refused("""{"currency": "GBP", "rates": {"EUR": "1.1"}}"""))
        );
        Assert.Equal(
            ["/store/shipping/0 A method has either a price or bands by weight."],
            await Refused("""{"shipping": [{"id": "x"}]}""")
        );
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Theory]
    [InlineData("AUD")]
    [InlineData("CLP")]
    public async Task An_order_is_found_by_all_that_one_may_know_of_it_and_says_by_which_rules_it_was_priced(string currency)
    {
        var own = OwnShop.Of(currency);
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        string Rule(int percent) =>
            $$"""{"id": "ten", "name": "Bright days", "trigger": {"codes": ["SPRING"]}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "A"}]}, "take": {"percent": {{percent}}}, "per": "unit"}]}""";
        var ten = await Store.PutLive(server, Rule(10));
        async Task<JsonNode> Place(JsonObject cart, string key)
        {
            var (status, order) = await shop.Place(cart, await shop.Quote(cart), key);
            Assert.Equal(201, status);
            return order;
        }

        async Task<string> Story() => (string)(await server.Get("/api/codes/story?code=spring"))["story"]!;
        Assert.EndsWith("which is live; not used yet.", await Story(), StringComparison.Ordinal);
        var first = await Place(own.Cart(("A", 2), ("B", 1)).With("codes", "[\"spring\"]").With("shopper", """{"id": "s1"}"""), "k1");
        Assert.EndsWith("which is live; used by 1 order.", await Story(), StringComparison.Ordinal);
        var second = await Place(own.Cart(("C", 3)), "k2");
        async Task<string[]> Found(string q, string state = "") =>
            [
                .. (await server.Get($"/api/orders?q={Uri.EscapeDataString(q)}&state={state}"))["orders"]!
                    .AsArray()
                    .Select(order => (string)order!["id"]!),
            ];
        var (one, two) = ((string)first["id"]!, (string)second["id"]!);
        var today = TimeZoneInfo.ConvertTime(DateTimeOffset.UtcNow, TimeZoneInfo.FindSystemTimeZoneById(own.Zone));
        foreach (var q in (string[])["spring", "bright", "Ada", "s1", one, "Item B", (string)first["result"]!["totals"]!["total"]!])
            Assert.Equal([one], await Found(q));
        Assert.Equal([two], await Found((string)second["result"]!["totals"]!["total"]!));
        foreach (
            var day in (string[])
                ["today", today.ToString("yyyy-MM-dd"), today.ToString("d MMM", System.Globalization.CultureInfo.GetCultureInfo("en-GB"))]
        )
            Assert.Equal([two, one], await Found(day));
        Assert.Empty(await Found("yesterday"));
        // What was paid abroad is found by what was paid, also when the rate has changed since.
        var abroad = await Place(own.Cart(("B", 2)).With("currency", "\"GBP\""), "k3");
        var paid = (string)abroad["result"]!["totals"]!["total"]!;
        Assert.Equal([(string)abroad["id"]!], await Found(paid));
        var rates = new JsonObject { ["GBP"] = (own.Rate * 1.1m).ToString(System.Globalization.CultureInfo.InvariantCulture) };
        Assert.Equal(200, (await server.Send(HttpMethod.Post, "/api/settings", new { store = new { rates } })).Status);
        Assert.Equal([(string)abroad["id"]!], await Found(paid));
        await shop.Post($"orders/{abroad["id"]}/give-back", null, "b3");
        // Of one shopper: not of all whose id is like theirs, as it is where one is looked for.
        async Task<int> Of(string who) => (await server.Get($"/api/orders?shopper={who}"))["orders"]!.AsArray().Count;
        Assert.Equal((1, 0), (await Of("s1"), await Of("s")));
        Assert.Equal([two, one], await Found("", "held"));
        Assert.Empty(await Found("", "taken"));
        Assert.Equal(422, (await server.Send(HttpMethod.Get, "/api/orders?state=odd")).Status);

        var then = (await server.Get($"/api/orders/{one}/rules"))["promotions"]![0]!;
        Assert.True((bool)then["isSame"]!);
        Assert.Contains("10\u00a0%", string.Join(' ', then["clauses"]!.AsArray()), StringComparison.Ordinal);
        var now = await server.Get($"/api/promotions/{ten}");
        var (status, _) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{ten}/live",
            new { revision = (long)now["revision"]!, document = JsonNode.Parse(Rule(25)) }
        );
        Assert.Equal(200, status);
        // Its takings mark the day for both: it began, and was changed while it was live.
        Assert.Equal(
            ["started", "changed"],
            (await server.Get($"/api/takings/of/{ten}"))["marks"]!.AsArray().Select(mark => (string)mark!["what"]!)
        );
        then = (await server.Get($"/api/orders/{one}/rules"))["promotions"]![0]!;
        Assert.Equal((1, false), ((int)(await server.Get($"/api/orders/{one}/rules"))["edition"]!, (bool)then["isSame"]!));
        Assert.Contains("10\u00a0%", string.Join(' ', then["clauses"]!.AsArray()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Yesterday_is_the_day_before_in_the_shops_zone_and_what_is_left_of_a_limit_is_said()
    {
        // At 14:00 of Greenwich it is half past midnight of the next day in Adelaide, which is ahead by ten and a half hours.
        var own = OwnShop.Of("AUD");
        await using var server = await RunningServer.Start(demo: false, data: await own.File(), clock: "2026-11-02T13:20:00Z");
        var two = await Store.PutLive(
            server,
            """{"name": "Two", "limits": {"total": 2}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"amount": "1.00"}, "per": "cart"}]}"""
        );
        var first = await Place("k1");
        Assert.StartsWith("1 use left", await Left());
        await server.Stop();
        await server.StartAgain("2026-11-02T14:00:00Z");
        var second = await Place("k2");
        Assert.Equal("all uses used up", await Left());
        Assert.Equal([first], await Found("yesterday"));
        Assert.Equal([second], await Found("today"));
        Assert.Equal([second], await Found("3 Nov"));
        // Without a year it is the last such day.
        Assert.Empty(await Found("4 Nov"));

        async Task<string> Place(string key)
        {
            using var store = new Store(server, Store.NewKey(server, "server"));
            var cart = own.Cart(("A", 1));
            var (status, order) = await store.Place(cart, await store.Quote(cart), key, take: true);
            Assert.Equal(201, status);
            return (string)order["id"]!;
        }

        async Task<string[]> Found(string q) =>
            [.. (await server.Get($"/api/orders?q={Uri.EscapeDataString(q)}"))["orders"]!.AsArray().Select(order => (string)order!["id"]!)];
        async Task<string> Left() =>
            (string)(await server.Get("/api/takings"))["rows"]!.AsArray().Single(row => (string)row!["id"]! == two)!["left"]!;
    }
}
