using System.Text.Json.Nodes;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>What comes back reaches the cards it came from; what is asked for wrongly is refused and changes nothing.</summary>
public class ReturnTests
{
    [Fact]
    public async Task Parts_of_an_order_come_back_to_the_cards_that_paid_the_last_first()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        var batch = await Bring(server, "CARD-1", "CARD-2");
        await PutLive(
            server,
            $$"""{"label": "Card", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "credit", "amount": "10.00", "keepRest": true}]}"""
        );
        await PutLive(
            server,
            """{"label": "Own", "rank": 200, "trigger": {"codes": ["OWN"]}, "rewards": [{"kind": "credit", "amount": "8.00", "keepRest": true}]}"""
        );
        await PutLive(
            server,
            """{"label": "Mishap", "rank": 300, "trigger": {"codes": ["MISHAP"]}, "rewards": [{"kind": "credit", "amount": "5.00", "keepRest": false}]}"""
        );

        // Three units at 33.33 and 4.90 for delivery come to 104.89; cards of 10, 10, 8 and 5 pay 33.00 of it.
        var cart = shop.Cart(("B", 3)).With("codes", """["CARD1", "card-2", "OWN", "MISHAP"]""");
        var quote = await store.Quote(cart);
        Assert.Equal(
            ("104.89", "33.00", "71.89"),
            ((string)quote["shown"]!["total"]!, (string)quote["shown"]!["credit"]!, (string)quote["shown"]!["due"]!)
        );
        var (_, order) = await store.Place(cart, quote, "place", take: true);
        var path = $"orders/{order["id"]}/give-back";
        Assert.Equal(["codeUsedUp", "codeUsedUp", "codeUsedUp", "codeUsedUp"], await Statuses());

        // One unit: 33.33 of 104.89, of which 33.33 x 33.00 / 104.89 = 10.48 to cards: 5.00 to the last that paid, 5.48 to the one before.
        var one = (await store.Post(path, new { lines = new[] { new { line = 0, quantity = 1 } } }, "one")).Body["returned"]!;
        Assert.Equal(("33.33", "10.48", "22.85"), ((string)one["now"]!, (string)one["toCredit"]!, (string)one["toMoney"]!));
        Assert.Equal(
            ["CARD1 0.00 0.00 0.00 false", "CARD-2 0.00 0.00 0.00 false", "OWN 5.48 5.48 0.00 true", "MISHAP 5.00 5.00 0.00 true"],
            Cards(one)
        );
        // It is on them again at once.
        Assert.Equal(["codeUsedUp", "codeUsedUp", "applied", "applied"], await Statuses());
        Assert.Equal(["5.48", "5.00"], (await store.Quote(cart))["shown"]!["codes"]!.AsArray().Select(code => (string)code!["amount"]!));

        // The second: 66.66 in all, 20.97 to cards: 5.00, 8.00, and 7.97 to the second card.
        var two = (await store.Post(path, new { lines = new[] { new { line = 0, quantity = 1 } } }, "two")).Body["returned"]!;
        Assert.Equal(
            ["CARD1 0.00 0.00 0.00 false", "CARD-2 7.97 7.97 0.00 true", "OWN 8.00 2.52 0.00 true", "MISHAP 5.00 0.00 0.00 true"],
            Cards(two)
        );
        // The last brings delivery too, and nothing is drawn any more.
        var last = (await store.Post(path, null, "last")).Body;
        Assert.Equal(("givenBack", "104.89"), ((string)last["state"]!, (string)last["returned"]!["amount"]!));
        Assert.Equal(quote["shown"]!.ToJsonString(), (await store.Quote(cart))["shown"]!.ToJsonString());
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        // One that was made void meanwhile cannot be used, though something is on it again.
        var with = shop.Cart(("A", 1), ("B", 1)).With("codes", """["card-2"]""");
        var (_, big) = await store.Place(with, await store.Quote(with), "big", take: true);
        Assert.Equal(204, (await server.Send(HttpMethod.Post, "/api/codes/void?code=card2&isVoid=true", null)).Status);
        var partly = (
            await store.Post($"orders/{big["id"]}/give-back", new { lines = new[] { new { line = 0, quantity = 1 } } }, "partly")
        ).Body["returned"]!;
        Assert.EndsWith(" false", Cards(partly).Single());
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        async Task<string[]> Statuses() =>
            [.. (await store.Quote(cart))["result"]!["codes"]!.AsArray().Select(code => (string)code!["status"]!)];
        static string[] Cards(JsonNode returned) =>
            [
                .. returned["cards"]!
                    .AsArray()
                    .Select(card => $"{card!["code"]} {card["amount"]} {card["now"]} {card["waiting"]} {card["usable"]}"),
            ];
    }

    [Fact]
    public async Task A_card_whose_rest_lapses_waits_for_its_whole_payment_and_is_never_money()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        await PutLive(
            server,
            """{"label": "Mishap", "trigger": {"codes": ["MISHAP"]}, "rewards": [{"kind": "credit", "amount": "60.00", "keepRest": false}]}"""
        );
        // 66.66 and 4.90: the card pays 60.00 of 71.56.
        var cart = shop.Cart(("B", 2)).With("codes", """["MISHAP"]""");
        var (_, order) = await store.Place(cart, await store.Quote(cart), "place", take: true);
        var part = (
            await store.Post($"orders/{order["id"]}/give-back", new { lines = new[] { new { line = 0, quantity = 1 } } }, "part")
        ).Body["returned"]!;
        // 33.33 x 60.00 / 71.56 = 27.94 waits on the card, which holds nothing.
        Assert.Equal(
            ("27.94", "5.39", "27.94", false),
            (
                (string)part["toCredit"]!,
                (string)part["toMoney"]!,
                (string)part["cards"]![0]!["waiting"]!,
                (bool)part["cards"]![0]!["usable"]!
            )
        );
        Assert.Equal("codeUsedUp", (string)(await store.Quote(cart))["result"]!["codes"]![0]!["status"]!);
        var rest = (await store.Post($"orders/{order["id"]}/give-back", null, "rest")).Body["returned"]!;
        Assert.Equal(
            ("60.00", "0.00", true),
            ((string)rest["cards"]![0]!["amount"]!, (string)rest["cards"]![0]!["waiting"]!, (bool)rest["cards"]![0]!["usable"]!)
        );
        Assert.Equal("applied", (string)(await store.Quote(cart))["result"]!["codes"]![0]!["status"]!);
    }

    [Fact]
    public async Task What_is_misspelt_too_much_or_nothing_is_refused_and_gives_nothing_back()
    {
        var shop = OwnShop.Of("KWD");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        var cart = shop.Cart(("A", 2));
        var quote = await store.Quote(cart);
        var (_, order) = await store.Place(cart, quote, "place");
        var path = $"orders/{order["id"]}/give-back";
        foreach (
            var (where, body, status, code, at) in new (string, string, int, string, string)[]
            {
                (path, """{"line": [{"line": 0, "quantity": 1}]}""", 422, "unknownName", "/line"),
                (path, """{"lines": [{"line": 0, "quantity": 1, "qty": 2}]}""", 422, "unknownName", "/lines/0/qty"),
                (path, """{"lines": [{"line": 0, "quantity": 9223372036854775807}]}""", 422, "outOfRange", "/lines/0/quantity"),
                (
                    path,
                    """{"lines": [{"line": 0, "quantity": 1}, {"line": 0, "quantity": 9223372036854775807}]}""",
                    422,
                    "outOfRange",
                    "/lines/1/quantity"
                ),
                (path, """{"lines": [{"line": 0, "quantity": 0}]}""", 422, "outOfRange", "/lines/0/quantity"),
                (path, """{"lines": [null]}""", 422, "wrongType", "/lines/0"),
                ($"orders/{order["id"]}/take", """{"lines": []}""", 422, "unknownName", "/lines"),
                (
                    "orders",
                    $$"""{"cart": {{cart.ToJsonString()}}, "shown": {{quote["shown"]!.ToJsonString()}}, "replace": "{{order["id"]}}"}""",
                    422,
                    "unknownName",
                    "/replace"
                ),
                (
                    "orders",
                    $$"""{"cart": {{cart.With("linez", "[]").ToJsonString()}}, "shown": {{quote["shown"]!.ToJsonString()}}}""",
                    422,
                    "unknownName",
                    "/cart/linez"
                ),
                (
                    "orders",
                    $$"""{"cart": {{cart.ToJsonString()}}, "shown": {{quote["shown"]!.ToJsonString()}}, "id": "a/b"}""",
                    422,
                    "outOfRange",
                    "/id"
                ),
                (
                    "orders",
                    $$"""{"cart": {{cart.ToJsonString()}}, "shown": {{quote["shown"]!.ToJsonString()}}, "id": ".."}""",
                    422,
                    "outOfRange",
                    "/id"
                ),
                (
                    "orders",
                    $$"""{"cart": {{cart.With("shopper", """{"id": "guest:abc"}""").ToJsonString()}}, "shown": {{quote["shown"]!.ToJsonString()}}}""",
                    422,
                    "notAllowed",
                    "/cart/shopper/id"
                ),
                (
                    "orders",
                    $$"""{"cart": {{cart.With("shopper", """{"id": "forgotten-1"}""").ToJsonString()}}, "shown": {{quote["shown"]!.ToJsonString()}}}""",
                    422,
                    "notAllowed",
                    "/cart/shopper/id"
                ),
                ("quote", """{"cart": {"lines": []}, "carts": 1}""", 422, "unknownName", "/carts"),
            }
        )
        {
            var (told, refusal) = await store.Post(
                where,
                JsonNode.Parse(body),
                body.GetHashCode(StringComparison.Ordinal).ToString(System.Globalization.CultureInfo.InvariantCulture)
            );
            Assert.Equal(
                (body, status, code, at),
                (
                    body,
                    told,
                    (string?)refusal["problems"]?[0]?["code"] ?? refusal.ToJsonString(),
                    (string?)refusal["problems"]?[0]?["at"] ?? ""
                )
            );
        }

        Assert.Equal("held", (string)(await store.Get($"orders/{order["id"]}"))["state"]!);
        // What can stand in an address is found there.
        var (placed, own) = await store.Post(
            "orders",
            new
            {
                cart,
                shown = quote["shown"],
                id = "2026-11.A_7~x",
            },
            "own"
        );
        Assert.Equal((201, "2026-11.A_7~x"), (placed, (string)own["id"]!));
        Assert.Equal("2026-11.A_7~x", (string)(await store.Get("orders/2026-11.A_7~x"))["id"]!);

        // A key that was used for another call, of whatever kind, is refused; the same call again is the same answer.
        Assert.Equal(200, (await store.Post(path, new { lines = new[] { new { line = 0, quantity = 1 } } }, "move")).Status);
        Assert.Equal(200, (await store.Post(path, new { lines = new[] { new { line = 0, quantity = 1 } } }, "move")).Status);
        Assert.Equal(422, (await store.Post(path, null, "move")).Status);
        Assert.Equal(422, (await store.Post($"orders/{order["id"]}/take", null, "move")).Status);
        Assert.Equal("held", (string)(await store.Get($"orders/{order["id"]}"))["state"]!);
    }
}
