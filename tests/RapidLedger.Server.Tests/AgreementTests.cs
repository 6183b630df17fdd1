using System.Text.Json.Nodes;
using CsCheck;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>
/// The tape, a quote, an order and the case copied from the tape come to the same, whatever has been bought, used up and counted before.
/// </summary>
public class AgreementTests
{
    private static readonly string[] Codes = ["TWO", "EACH", "CARD1", "card-2", "OWN", "NOBODY"];
    private static readonly Gen<(int A, int B, int[] Codes, string? Shopper, string? Currency, bool Gift)> Carts = Gen.Select(
        Gen.Int[0, 3],
        Gen.Int[1, 3],
        Gen.Int[0, Codes.Length - 1].Array[0, 4],
        Gen.Int[0, 3].Select(n => n == 0 ? null : $"s{n}"),
        Gen.Bool.Select(isGbp => isGbp ? "GBP" : null),
        Gen.Bool
    );

    [Fact]
    public async Task Beside_what_is_written_stands_what_is_live_at_that_moment_also_when_a_window_opens_meanwhile()
    {
        await using var server = await RunningServer.Start();
        var zone = TimeZoneInfo.FindSystemTimeZoneById("Europe/Berlin");
        var draft = JsonNode.Parse("""{"id": "written", "rewards": [{"kind": "points", "fixed": 5}]}""");
        // On a busy machine it may be open before anything is printed: then once more, with more time.
        foreach (var lead in (int[])[4, 20, 60])
        {
            var opens = TimeZoneInfo.ConvertTime(DateTimeOffset.UtcNow, zone).AddSeconds(lead);
            await PutLive(
                server,
                $$"""{"label": "Soon", "window": {"start": "{{opens:yyyy-MM-ddTHH:mm:ss}}"}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 10}, "per": "unit"}], "stacking": {"allow": "any"} }"""
            );
            var seen = new HashSet<string>();
            while (DateTimeOffset.UtcNow < opens.AddSeconds(1) || seen.Count == 0)
                seen.Add(await LiveNow());
            if (seen.Count > 1)
                return;
        }

        Assert.Fail("It was never seen to open.");

        // What stands beside the draft is what the cart comes to without it, at the moment that was printed.
        async Task<string> LiveNow()
        {
            var beside = (await server.Send(HttpMethod.Post, "/api/tape", new { cart = Pannier, draft })).Body!;
            var (at, live) = ((string)beside["print"]!["at"]!, (string)beside["live"]!["due"]!);
            var alone = Pannier.DeepClone();
            alone["at"] = at;
            var then = (await server.Send(HttpMethod.Post, "/api/tape", new { cart = alone })).Body!;
            Assert.Equal((string)then["print"]!["totals"]!["total"]!, live);
            return live;
        }
    }

    [Theory]
    [MemberData(nameof(OwnShop.Currencies), MemberType = typeof(OwnShop))]
    public async Task Tape_quote_order_and_case_agree(string currency)
    {
        var shop = OwnShop.Of(currency);
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"), "somebody");
        await PutLive(
            server,
            """{"id": "two", "label": "Two", "trigger": {"codes": ["TWO"]}, "limits": {"total": 6}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 7}, "per": "cart"}]}"""
        );
        await PutLive(
            server,
            """{"label": "Each", "trigger": {"codes": ["EACH"]}, "limits": {"perShopper": 2}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "B"}]}, "take": {"percent": 12.5}, "per": "unit"}]}"""
        );
        await PutLive(
            server,
            """{"label": "Regulars", "when": {"shopper": {"orders": {"op": ">=", "n": 4}}}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "A"}]}, "take": {"percent": 3}, "per": "unit"}]}"""
        );
        await PutLive(
            server,
            $$"""{"label": "Spenders", "when": {"shopper": {"spent": {"from": "{{shop.Money(15_000)}}"} } }, "rewards": [{"kind": "points", "fixed": 5}]}"""
        );
        await PutLive(
            server,
            """{"label": "Gift", "when": {"quantity": {"op": ">=", "n": 4}}, "rewards": [{"kind": "gift", "give": {"skus": ["G"]}, "quantity": 2}]}"""
        );
        var batch = await Bring(server, "CARD-1", "CARD-2");
        await PutLive(
            server,
            $$"""{"label": "Card", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "credit", "amount": "{{shop.Money(9_000)}}", "keepRest": true}]}"""
        );
        await PutLive(
            server,
            $$"""{"label": "Own", "trigger": {"codes": ["OWN"]}, "rewards": [{"kind": "credit", "amount": "{{shop.Money(2_500)}}", "keepRest": false}]}"""
        );

        var (placed, cases) = (0, new List<(string Case, JsonNode Quote)>());
        await Carts.SampleAsync(
            async drawn =>
            {
                var cart = shop.Cart([
                    ("B", drawn.B),
                    .. drawn.A > 0 ? [("A", drawn.A)] : Array.Empty<(string, int)>(),
                    .. drawn.Gift ? [("G", 1)] : Array.Empty<(string, int)>(),
                ]);
                cart["codes"] = new JsonArray([.. drawn.Codes.Distinct().Select(code => JsonValue.Create(Codes[code]))]);
                if (drawn.Shopper is { } id)
                    cart["shopper"] = new JsonObject { ["id"] = id };
                if (drawn.Currency is { } other)
                    cart["currency"] = other;

                var quote = await store.Quote(cart);
                var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
                var (_, file) = await server.Send(HttpMethod.Post, "/api/tape/case", new { cart });
                cases.Add((file!.ToJsonString(), quote));
                var shown = quote["shown"]!;
                Agrees("tape", shown, tape!["print"]!["totals"]!, cart);
                Assert.Equal(Statuses(quote["result"]!["codes"]!), Statuses(tape["print"]!["codes"]!));

                var (status, order) = await store.Place(cart, quote, $"{++placed}", take: true);
                Assert.True(status == 201, order.ToJsonString());
                Assert.Equal(shown["due"]!.ToString(), order["result"]!["totals"]!["due"]!.ToString());
                if (placed % 5 == 0)
                    await store.Post(
                        $"orders/{order["id"]}/give-back",
                        new { lines = new[] { new { line = 0, quantity = 1 } } },
                        $"back {placed}"
                    );
                if (placed % 9 == 0)
                    await server.Send(HttpMethod.Put, "/api/stock/G", new { free = placed % 4 });
            },
            iter: 40,
            threads: 1
        );
        // All cases in one run of the command line, as a pipeline does it.
        var (_, output, _) = RunningServer.Run(string.Concat(cases.Select(one => one.Case + "\n")), "price");
        var results = output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => JsonNode.Parse(line)!).ToArray();
        Assert.Equal(cases.Count, results.Length);
        foreach (var ((file, quote), priced) in cases.Zip(results))
        {
            Assert.True(priced["totals"] is not null, priced.ToJsonString());
            var shown = quote["shown"]!;
            Agrees("case", shown, priced["totals"]!, JsonNode.Parse(file)!["cart"]!);
            Assert.Equal(Told(shown["promotions"]!), Told(priced["promotions"]!));
            Assert.Equal(
                shown["gifts"]!.AsArray().Sum(gift => (int)gift!["quantity"]!),
                priced["gifts"]!.AsArray().Sum(gift => (int)gift!["quantity"]!)
            );
            Assert.Equal(Statuses(quote["result"]!["codes"]!), Statuses(priced["codes"]!));
        }

        Assert.Equal((0, "All counters agree with what they count.\n", ""), RunningServer.Run("", "check-store", server.Data));

        static string[] Told(JsonNode promotions) =>
            [
                .. promotions
                    .AsArray()
                    .Where(one => one!["applied"] is null || (bool)one["applied"]!)
                    .Select(one => $"{one!["id"]} {one["amount"]}")
                    .Order(StringComparer.Ordinal),
            ];
        static string[] Statuses(JsonNode codes) => [.. codes.AsArray().Select(code => $"{code!["code"]} {code["status"]}")];
    }

    [Fact]
    public async Task Of_fifty_thousand_items_each_is_priced_as_of_four()
    {
        var large = OwnShop.Of("AUD") with { Items = 50_000 };
        await using var server = await large.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        await PutLive(
            server,
            """{"label": "Last", "rewards": [{"kind": "gift", "give": {"skus": ["G"]}, "quantity": 2}, {"kind": "discount", "on": {"in": [{"sku": "F49999"}]}, "take": {"percent": 50}, "per": "unit"}]}"""
        );
        var cart = large.Cart(("F49999", 2), ("F4", 1));
        var quote = await store.Quote(cart);
        // 100 + 49,999 % 997 = 249 cents, less half of it (125, rounded), twice; 104; delivery 490; 19 % on top.
        Assert.Equal("10.02", (string)quote["shown"]!["total"]!);
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
        Agrees("tape", quote["shown"]!, tape!["print"]!["totals"]!, cart);
        Assert.Equal(201, (await store.Place(cart, quote, "one", take: true)).Status);
        var (_, file) = await server.Send(HttpMethod.Post, "/api/tape/case", new { cart });
        Assert.Equal(
            7,
            (int)file!["catalogue"]!["products"]!.AsArray().Single(product => (string)product!["id"]! == "p-G")!["variants"]![0]!["stock"]!
        );
        Agrees(
            "case",
            (await store.Quote(cart))["shown"]!,
            JsonNode.Parse(RunningServer.Run(file.ToJsonString(), "price").Output)!["totals"]!,
            cart
        );
    }

    // What the shopper is shown, as another tells it.
    private static void Agrees(string who, JsonNode shown, JsonNode totals, JsonNode cart)
    {
        foreach (var figure in (string[])["total", "due", "credit", "points"])
            Assert.True(
                JsonNode.DeepEquals(shown[figure], totals[figure]),
                $"{who}: {figure} {totals[figure]} in place of {shown[figure]} of {cart.ToJsonString()}"
            );
    }
}
