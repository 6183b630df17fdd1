using System.Net.Http.Json;
using System.Text.Json.Nodes;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>
/// The store interface: what is placed is what was shown, limits hold however many compete, and nothing acknowledged is lost.
/// </summary>
public class StoreTests
{
    [Fact]
    public async Task A_shop_gets_from_a_cart_to_a_paid_order_and_back()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var store = new Store(server, NewKey(server, "server"));
        var cart = Documents.Cart(("DROVER-PANNIER-MOSS", 3)).With("codes", """["letter15"]""").With("shopper", """{"id": "s-new"}""");
        var before = await LastChange(store);
        var quote = await store.Quote(cart);
        // Three panniers at 64.90 less 25 % by an automatic promotion: 3 x 16.23 (rounded from 16.225) come off.
        Assert.Equal(
            "letter15",
            (string)quote["shown"]!["promotions"]!.AsArray().Single(entry => (string)entry!["id"]! == "letter15")!["id"]!
        );
        // The Friday hour opens at 18:00 in Berlin, ten minutes of grace before it.
        Assert.Equal("2027-03-05T16:50:00Z", (string)quote["validUntil"]!);
        Assert.DoesNotContain("margin", quote.ToJsonString());
        Assert.DoesNotContain("cost", quote.ToJsonString());

        var (placed, order) = await store.Place(cart, quote, "first");
        Assert.Equal((201, "held"), (placed, (string)order["state"]!));
        Assert.Equal("2027-03-05T09:30:00Z", (string)order["heldUntil"]!);
        // Sent again it is the same order; another call under the same key is refused.
        Assert.Equal(order.ToJsonString(), (await store.Place(cart, quote, "first")).Order.ToJsonString());
        Assert.Equal(422, (await store.Place(cart.With("channel", "\"app\""), quote, "first")).Status);
        Assert.Equal(400, (await store.Place(cart, quote, "")).Status);
        // Once for each shopper: a second order no longer comes to what was shown.
        var (again, refusal) = await store.Place(cart, quote, "second");
        Assert.Equal(409, again);
        Assert.Contains("/shown/promotions", refusal["problems"]!.AsArray().Select(problem => (string)problem!["at"]!));
        Assert.DoesNotContain("letter15", refusal["shown"]!["promotions"]!.ToJsonString());

        var id = (string)order["id"]!;
        Assert.Equal("taken", (string)(await store.Post($"orders/{id}/take", null, "take")).Body["state"]!);
        Assert.Equal(200, (await store.Post($"orders/{id}/take", null, "take again")).Status);
        var net = Cents(order["result"]!["lines"]![0]!["net"]!);
        var one = (await store.Post($"orders/{id}/give-back", new { lines = new[] { new { line = 0, quantity = 1 } } }, "one")).Body;
        Assert.Equal("taken", (string)one["state"]!);
        Assert.Equal((net + 2) / 3, Cents(one["returned"]!["now"]!));
        Assert.Equal(
            422,
            (await store.Post($"orders/{id}/give-back", new { lines = new[] { new { line = 0, quantity = 3 } } }, "too many")).Status
        );
        var rest = (await store.Post($"orders/{id}/give-back", null, "rest")).Body;
        Assert.Equal("givenBack", (string)rest["state"]!);
        Assert.Equal(Cents(order["result"]!["totals"]!["total"]!), Cents(rest["returned"]!["amount"]!));
        Assert.Equal(409, (await store.Post($"orders/{id}/take", null, "too late")).Status);
        // Given back, the code is free again for that shopper.
        Assert.Equal(quote["shown"]!.ToJsonString(), (await store.Quote(cart))["shown"]!.ToJsonString());

        var changed = await store.Get($"orders?after={before}");
        Assert.Equal([id], changed["orders"]!.AsArray().Select(entry => (string)entry!["id"]!));
        Assert.Empty((await store.Get($"orders?after={changed["after"]}"))["orders"]!.AsArray());
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task Whoever_has_no_key_or_the_wrong_one_is_turned_away()
    {
        await using var server = await RunningServer.Start();
        using var page = new Store(server, NewKey(server, "page"));
        using var nobody = new Store(server, "rl_guess");
        Assert.Equal(401, (await nobody.Post("quote", new { cart = Pannier }, null)).Status);
        var quote = await page.Quote(Pannier);
        Assert.Equal(403, (await page.Place(Pannier, quote, "p")).Status);
        Assert.Equal(422, (await page.Post("quote", new { cart = Pannier.With("shopper", """{"id": "s1"}""") }, null)).Status);
        Assert.Equal(422, (await page.Post("quote", new { cart = Pannier.With("at", "\"2027-03-05T10:00:00Z\"") }, null)).Status);

        // After ten unknown codes nothing more is told of any, and the cart is still priced.
        for (var i = 0; i < 11; i++)
            Assert.Equal("unknown", Status(await page.Quote(Pannier.With("codes", $"""["guess{i}"]"""))));
        var closed = await page.Quote(Pannier.With("codes", """["climb"]"""));
        Assert.Equal("tooMany", Status(closed));
        Assert.Equal(quote["shown"]!.ToJsonString(), closed["shown"]!.ToJsonString());
        Assert.Equal(
            "Es wurden zu viele Codes probiert. Bitte warten Sie eine Minute.",
            (string)
                (await page.Quote(Pannier.With("codes", """["climb"]""").With("language", "\"de\"")))["result"]!["codes"]![0]!["shopper"]!
        );

        // Nor can they be tried in one cart, nor by placing: a server names for whom it asks.
        var many = Pannier.With("codes", $"[{string.Join(',', Enumerable.Range(0, 20).Select(i => $"\"try{i}\""))}, \"climb\"]");
        using var asking = new Store(server, NewKey(server, "server"), "somebody");
        var first = await asking.Quote(many);
        Assert.Equal([.. Enumerable.Repeat("unknown", 11), .. Enumerable.Repeat("tooMany", 10)], Statuses(first));
        Assert.Equal(quote["shown"]!.ToJsonString(), first["shown"]!.ToJsonString());
        using var placing = new Store(server, NewKey(server, "server"), "another");
        Assert.Equal(201, (await placing.Place(many, quote, "many")).Status);
        Assert.Equal(Enumerable.Repeat("tooMany", 21), Statuses(await placing.Quote(many)));

        Assert.Equal(0, RunningServer.Run("", "key", "withdraw", "k1", "--data", server.Data).Exit);
        Assert.Equal(401, (await page.Post("quote", new { cart = Pannier }, null)).Status);

        static string[] Statuses(JsonNode quote) => [.. quote["result"]!["codes"]!.AsArray().Select(code => (string)code!["status"]!)];
        static string Status(JsonNode quote) => Statuses(quote)[^1];
    }

    [Fact]
    public async Task A_hold_lapses_frees_what_it_used_and_is_taken_only_if_that_is_still_free()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await RunningServer.StartShipped(demo: false, data: await shop.File(), clock: RunningServer.DemoDay);
        var key = NewKey(server, "server");
        await PutLive(
            server,
            """{"label": "Last", "trigger": {"codes": ["LAST"]}, "limits": {"total": 1}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        var cart = shop.Cart(("B", 1)).With("codes", """["LAST"]""");
        string held;
        JsonNode quote;
        using (var store = new Store(server, key))
        {
            quote = await store.Quote(cart);
            held = (string)(await store.Place(cart.With("shopper", """{"id": "a"}"""), quote, "a")).Order["id"]!;
            Assert.Equal(409, (await store.Place(cart.With("shopper", """{"id": "b"}"""), quote, "b")).Status);
            // The same shopper tries again: the new order stands in the place of the old one.
            var again = await store.Post(
                "orders",
                new
                {
                    cart = cart.With("shopper", """{"id": "a"}"""),
                    shown = quote["shown"],
                    replaces = held,
                },
                "a again"
            );
            Assert.Equal(201, again.Status);
            Assert.Equal("givenBack", (string)(await store.Get($"orders/{held}"))["state"]!);
            held = (string)again.Body["id"]!;
            // Another's cannot be replaced, and stays.
            Assert.Equal(
                409,
                (
                    await store.Post(
                        "orders",
                        new
                        {
                            cart = cart.With("shopper", """{"id": "b"}"""),
                            shown = quote["shown"],
                            replaces = held,
                        },
                        "b again"
                    )
                ).Status
            );
            Assert.Equal("held", (string)(await store.Get($"orders/{held}"))["state"]!);
        }

        server.Kill();
        await server.StartAgain("2027-03-05T10:30:00+01:00");
        using var later = new Store(server, key);
        var (status, other) = await later.Place(cart.With("shopper", """{"id": "b"}"""), quote, "b later");
        Assert.Equal(201, status);
        Assert.Equal("lapsed", (string)(await later.Get($"orders/{held}"))["state"]!);
        var (late, refusal) = await later.Post($"orders/{held}/take", null, "late");
        Assert.Equal(409, late);
        Assert.Contains("used up by others", refusal.ToJsonString());
        await later.Post($"orders/{(string)other["id"]!}/give-back", null, "free");
        Assert.Equal("taken", (string)(await later.Post($"orders/{held}/take", null, "late again")).Body["state"]!);
    }

    [Fact]
    public async Task Who_tries_again_is_quoted_and_sold_what_the_first_try_held()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await RunningServer.StartShipped(demo: false, data: await shop.File(), clock: RunningServer.DemoDay);
        var key = NewKey(server, "server");
        // The last use, the last gift, and for first orders only: the hold has all three.
        await PutLive(
            server,
            """{"label": "Again", "trigger": {"codes": ["AGAIN"]}, "limits": {"total": 1}, "when": {"shopper": {"orders": {"op": "=", "n": 0}}}, "rewards": [{"kind": "gift", "give": {"skus": ["G"]}, "quantity": 9}]}"""
        );
        var cart = shop.Cart(("B", 1)).With("codes", """["AGAIN"]""").With("shopper", """{"id": "again"}""");
        JsonNode first;
        string held;
        using (var store = new Store(server, key))
        {
            first = await store.Quote(cart);
            Assert.Equal(9, (int)first["shown"]!["gifts"]![0]!["quantity"]!);
            held = (string)(await store.Place(cart, first, "first")).Order["id"]!;
            Assert.NotEqual(first["shown"]!.ToJsonString(), (await store.Quote(cart))["shown"]!.ToJsonString());
            var (status, again) = await store.Post("quote", new { cart, replaces = held }, null);
            Assert.Equal((200, first["shown"]!.ToJsonString()), (status, again["shown"]!.ToJsonString()));
            var second = await store.Post(
                "orders",
                new
                {
                    cart,
                    shown = again["shown"],
                    replaces = held,
                },
                "second"
            );
            Assert.Equal(201, second.Status);
            held = (string)second.Body["id"]!;
        }

        // Once the hold is over it has lapsed, though nobody wrote anything since.
        server.Kill();
        await server.StartAgain("2027-03-05T10:30:00+01:00");
        using var later = new Store(server, key);
        Assert.Equal(first["shown"]!.ToJsonString(), (await later.Quote(cart))["shown"]!.ToJsonString());
        Assert.Equal("lapsed", (string)(await later.Get($"orders/{held}"))["state"]!);
        Assert.Equal(201, (await later.Place(cart, first, "later", take: true)).Status);
        var (late, refusal) = await later.Post($"orders/{held}/take", null, "late");
        Assert.Equal(409, late);
        Assert.Equal(
            ["/gifts", "/promotions/"],
            refusal["problems"]!
                .AsArray()
                .Select(problem => (string)problem!["at"]!)
                .Select(at => at.StartsWith("/promotions/", StringComparison.Ordinal) ? "/promotions/" : at)
                .Order()
        );
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task A_lapsed_order_that_a_card_had_paid_is_taken_only_while_the_card_still_holds_it()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await RunningServer.StartShipped(demo: false, data: await shop.File(), clock: RunningServer.DemoDay);
        var key = NewKey(server, "server");
        var batch = await Bring(server, "CARD-1");
        await PutLive(
            server,
            $$"""{"label": "Card", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "credit", "amount": "60.00", "keepRest": true}]}"""
        );
        var cart = shop.Cart(("B", 1)).With("codes", """["card1"]""");
        string held;
        using (var store = new Store(server, key))
        {
            // 33.33 and delivery 4.90 of the card's 60.00.
            var quote = await store.Quote(cart);
            Assert.Equal(("38.23", "0.00"), ((string)quote["shown"]!["credit"]!, (string)quote["shown"]!["due"]!));
            held = (string)(await store.Place(cart, quote, "held")).Order["id"]!;
            Assert.Equal("21.77", (string)(await store.Quote(cart))["shown"]!["credit"]!);
        }

        server.Kill();
        await server.StartAgain("2027-03-05T10:30:00+01:00");
        using var later = new Store(server, key);
        var other = (await later.Place(cart, await later.Quote(cart), "other", take: true)).Order;
        var (late, refusal) = await later.Post($"orders/{held}/take", null, "late");
        Assert.Equal((409, "/codes"), (late, (string)refusal["problems"]![0]!["at"]!));
        var back = (await later.Post($"orders/{(string)other["id"]!}/give-back", null, "back")).Body;
        Assert.Equal(
            ("38.23", "0.00", true),
            (
                (string)back["returned"]!["toCredit"]!,
                (string)back["returned"]!["toMoney"]!,
                (bool)back["returned"]!["cards"]![0]!["usable"]!
            )
        );
        Assert.Equal(200, (await later.Post($"orders/{held}/take", null, "late again")).Status);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task A_rehearsal_at_another_clock_uses_nothing_up()
    {
        var shop = OwnShop.Of("AUD");
        await using var server = await shop.Serve();
        using var counter = new Store(server, (string)(await server.Get("/api/counter"))["key"]!);
        var cart = shop.Cart(("B", 1))
            .With("codes", """["LETTER15"]""")
            .With("at", "\"2027-03-12T10:00:00Z\"")
            .With("shopper", """{"id": "r"}""");
        await PutLive(
            server,
            """{"label": "Letter", "trigger": {"codes": ["LETTER15"]}, "limits": {"total": 1}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        var quote = await counter.Quote(cart);
        var (status, order) = await counter.Place(cart, quote, "r", take: true);
        Assert.Equal((201, true), (status, (bool)order["rehearsal"]!));
        // Said or not, now is no rehearsal.
        cart.Remove("at");
        var (_, counted) = await counter.Place(cart, await counter.Quote(cart), "now", take: true);
        Assert.False((bool)counted["rehearsal"]!);
        Assert.Equal("limitReached", (string)(await counter.Quote(cart))["result"]!["codes"]![0]!["status"]!);
        await counter.Post($"orders/{counted["id"]}/give-back", null, "back");
        cart["at"] = "2027-03-12T10:00:00Z";
        Assert.Equal(quote["shown"]!.ToJsonString(), (await counter.Quote(cart))["shown"]!.ToJsonString());
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task A_port_of_its_own_answers_nothing_but_shops_and_their_pages()
    {
        var port = RunningServer.FreePort();
        await using var server = await RunningServer.Start(more: ["--store", $"{port}"]);
        using var http = new HttpClient { BaseAddress = new($"http://127.0.0.1:{port}") };
        foreach (var path in new[] { "/", "/api/shop", "/api/counter", "/openapi/v1.json", "/metrics" })
            Assert.Equal(404, (int)(await http.GetAsync(new Uri(path, UriKind.Relative))).StatusCode);

        // A page of the shop's own origin asks first whether it may.
        using var asking = new HttpRequestMessage(HttpMethod.Options, "/store/v1/quote")
        {
            Headers = { { "Origin", "https://shop.example" }, { "Access-Control-Request-Headers", "authorization,content-type" } },
        };
        using var may = await http.SendAsync(asking);
        Assert.Equal((204, "*"), ((int)may.StatusCode, may.Headers.GetValues("Access-Control-Allow-Origin").Single()));
        using var quote = new HttpRequestMessage(HttpMethod.Post, "/store/v1/quote")
        {
            Content = JsonContent.Create(new { cart = Pannier }),
            Headers = { { "Origin", "https://shop.example" }, { "Host", "prices.shop.example" } },
        };
        quote.Headers.Authorization = new("Bearer", NewKey(server, "page"));
        using var told = await http.SendAsync(quote);
        Assert.Equal((200, "*"), ((int)told.StatusCode, told.Headers.GetValues("Access-Control-Allow-Origin").Single()));
        // The main port keeps to its own pages.
        using var foreign = new HttpRequestMessage(HttpMethod.Post, new Uri(server.Address, "/store/v1/quote"))
        {
            Headers = { { "Origin", "https://shop.example" } },
        };
        Assert.Equal(403, (int)(await http.SendAsync(foreign)).StatusCode);
    }

    [Fact]
    public async Task The_example_client_places_takes_and_gives_back_an_order()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        var script = $$"""
            import { readFileSync } from 'node:fs';
            import typescript from '{{Path.Combine(RunningServer.Root, "src/web/node_modules/typescript/lib/typescript.js")}}';
            const text = readFileSync('{{Path.Combine(RunningServer.Root, "examples/store-client.ts")}}', 'utf8');
            const compiled = typescript.transpileModule(text, { compilerOptions: { module: 'ESNext', target: 'ES2022' } }).outputText;
            const { StoreClient, Refused } = await import(`data:text/javascript,${encodeURIComponent(compiled)}`);
            const store = new StoreClient('{{server.Address.ToString().TrimEnd('/')}}', '{{NewKey(server, "server")}}');
            const cart = { method: 'parcel', destination: 'DE-BE', lines: [{ sku: 'INNER-TUBE-32', quantity: 3 }] };
            const quote = await store.quote(cart);
            const order = await store.place(cart, quote, { key: 'one' });
            const again = await store.place(cart, quote, { key: 'one' });
            const taken = await store.take(order.id, 'two');
            const back = await store.giveBack(order.id, 'three');
            const refused = await store.place({ ...cart, lines: [{ sku: 'INNER-TUBE-32', quantity: 4 }] }, quote, { key: 'four' }).catch((error) => error);
            console.log([order.state, again.id === order.id, taken.state, back.state, refused instanceof Refused, refused.status, refused.now?.result.totals.due, quote.result.totals.due].join(' '));
            """;
        var (exit, output, errors) = RunningServer.Shell("node --input-type=module", script);
        Assert.True(exit == 0, errors);
        Assert.Equal("held true taken givenBack true 409 25.60 18.70\n", output);
    }

    private static async Task<long> LastChange(Store store)
    {
        for (var after = 0L; ; )
        {
            var next = (long)(await store.Get($"orders?after={after}"))["after"]!;
            if (next == after)
                return after;
            after = next;
        }
    }

    private static long Cents(JsonNode amount) =>
        long.Parse(((string)amount!).Replace(".", "", StringComparison.Ordinal), System.Globalization.CultureInfo.InvariantCulture);

    [Fact]
    public async Task An_order_is_told_with_its_uses_and_in_the_form_that_the_document_says()
    {
        await using var server = await RunningServer.Start();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var cart = Documents.Cart(("INNER-TUBE-28", 3));
        cart["shopper"] = new JsonObject { ["id"] = "somebody-new" };
        var (status, placed) = await shop.Place(cart, await shop.Quote(cart), "one", take: true);
        Assert.True(status == 201, placed.ToJsonString());
        Assert.Equal(placed["result"]!["totals"]!["total"]!.ToString(), await Spent());
        await shop.Post($"orders/{placed["id"]}/give-back", new { lines = new[] { new { line = 0, quantity = 1 } } }, "two");
        var order = await shop.Get($"orders/{placed["id"]}");
        // So much less has been spent.
        Assert.Equal(Cents(placed["result"]!["totals"]!["total"]!) - Cents(order["returned"]!["amount"]!), Cents(await Spent()));
        Assert.Equal(
            order["result"]!["promotions"]!
                .AsArray()
                .Select(one => ((string)one!["id"]!, (string)one["amount"]!))
                .Where(one => one.Item2 != "0.00")
                .Order(),
            order["redemptions"]!
                .AsArray()
                .Select(one => ((string)one!["promotion"]!, (string)one["amount"]!))
                .Where(one => one.Item2 != "0.00")
                .Order()
        );

        var forms = (await server.Get("/openapi/v1.json"))["components"]!["schemas"]!;
        Fits(order, forms["Order"]!);
        Fits(order["returned"]!, forms["Order"]!["properties"]!["returned"]!);
        Fits(order["result"]!, forms["StoreResult"]!);
        Fits(order["result"]!["totals"]!, forms["StoreResult"]!["properties"]!["totals"]!);
        await shop.Post($"orders/{placed["id"]}/give-back", new { }, "three");
        Assert.Equal("0.00", await Spent());

        async Task<string> Spent() => (string)(await server.Get("/api/shoppers?q=somebody-new"))[0]!["spent"]!;
        static void Fits(JsonNode told, JsonNode form)
        {
            string[] members = [.. told.AsObject().Select(member => member.Key)];
            Assert.Equal([], form["required"]!.AsArray().Select(name => (string)name!).Except(members));
            Assert.Equal([], members.Except(form["properties"]!.AsObject().Select(member => member.Key)));
        }
    }
}
