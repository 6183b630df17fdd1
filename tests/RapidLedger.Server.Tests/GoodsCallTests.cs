using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>A shop's server keeps goods, stock and shoppers up to date: what is answered is what is priced by from then on.</summary>
public sealed class GoodsCallTests
{
    [Theory]
    [MemberData(nameof(OwnShop.Currencies), MemberType = typeof(OwnShop))]
    public async Task A_price_that_is_written_is_the_next_quotes_and_what_is_left_out_stays(string currency)
    {
        var own = OwnShop.Of(currency);
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var before = await Priced(shop, own.Cart(("A", 2)));
        var (status, answer) = await shop.Put("items", $$"""{"sku": "A", "regular": "{{own.Money(2_500)}}"}""");
        Assert.Equal((200, 1), (status, (int)answer["changed"]!));
        Assert.Equal(5_000, own.Minor((await Priced(shop, own.Cart(("A", 2))))["totals"]!["regular"]!, currency));
        Assert.NotEqual(own.Money(5_000), (string)before["totals"]!["regular"]!);

        // The same again is the same; nothing is empty that was not said.
        Assert.Equal(0, (int)(await shop.Put("items", $$"""{"sku": "A", "regular": "{{own.Money(2_500)}}"}""")).Body["changed"]!);
        var shown = (await shop.Get("items"))["items"]!.AsArray().Single(item => (string)item!["sku"]! == "A")!;
        Assert.Equal(("Item A", own.Money(2_500), true), ((string)shown["name"]!, (string)shown["price"]!, (bool)shown["canBeHad"]!));

        // Reduced, reduced in another currency alone, and not reduced any more.
        await shop.Put("items", $$$"""{"sku": "A", "price": "{{{own.Money(2_000)}}}", "prices": {"GBP": {"regular": "9.99"} } }""");
        Assert.Equal(2_000, own.Minor((await Priced(shop, own.Cart(("A", 1))))["totals"]!["net"]!, currency));
        Assert.Equal(999, own.Minor((await Priced(shop, own.Cart(("A", 1)).With("currency", "\"GBP\"")))["totals"]!["net"]!, "GBP"));
        await shop.Put("items", """{"sku": "A", "price": null, "prices": null}""");
        // Moved to another product it is of that one alone, also the first of all.
        Assert.Equal("A", (string)(await shop.Get("items"))["items"]![0]!["sku"]!);
        await shop.Put("items", """{"sku": "A", "product": "p-B"}""");
        Assert.Equal(
            ["p-B"],
            (await shop.Get("items"))["items"]!
                .AsArray()
                .Where(item => (string)item!["sku"]! == "A")
                .Select(item => (string)item!["product"]!)
        );
        Assert.Equal(2_500, own.Minor((await Priced(shop, own.Cart(("A", 1))))["totals"]!["net"]!, currency));
    }

    [Fact]
    public async Task Goods_come_in_whole_or_every_bad_line_is_told()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var (status, refused) = await shop.Put(
            "items",
            """
            {"sku": "N1", "product": "n", "name": "New", "category": ["Tents", "For two"], "regular": "10.00", "stock": 3, "options": {"size": "L"}}
            {"sku": "N2", "product": "n", "name": "Other", "regular": "11.00"}
            {"sku": "N3"}
            {"sku": "N1", "regular": "1.00"}
            {"sku": "A", "regular": null}
            {"sku": "B", "price": "99.00"}
            {"sku": "C", "colour": "red"}
            {"sku": "N4", "regular": 5}
            {"sku": "N5", "regular": "5.00", "stock": -1}
            {"sku": "N6", "regular": "5.00", "prices": {"JPY": {"regular": "5"}}}
            {"sku": "N7", "regular": "5.00", "prices": {"GBP": {"price": "5.00"}}}
            not json
            {"sku": "N8", "regular": "5.00", "category": "nowhere"}
            {"sku": "N9", "regular": "1.234"}
            """
        );
        Assert.Equal(422, status);
        // What a line says by itself, first; what it would make of a row only where that can be asked.
        Assert.Equal(
            [
                "/1/name conflict",
                "/2/regular missing",
                "/3/sku duplicate",
                "/4/regular missing",
                "/6/colour unknownName",
                "/8/stock outOfRange",
                "/11 notJson",
                "/12/category unknownCategory",
            ],
            Problems(refused)
        );
        (_, refused) = await shop.Put(
            "items",
            """
            {"sku": "B", "price": "99.00"}
            {"sku": "N4", "regular": 5}
            {"sku": "N6", "regular": "5.00", "prices": {"JPY": {"regular": "5"}}}
            {"sku": "N7", "regular": "5.00", "prices": {"GBP": {"price": "5.00"}}}
            {"sku": "N9", "regular": "1.234"}
            {"sku": "N2", "regular": "11.00"}
            """
        );
        Assert.Equal(
            [
                "/0/price aboveRegular",
                "/1/regular wrongType",
                "/2/prices/JPY noRate",
                "/3/prices/GBP/regular missing",
                "/4/regular tooManyDecimals",
            ],
            Problems(refused)
        );
        Assert.DoesNotContain((await shop.Get("items"))["items"]!.AsArray(), item => ((string)item!["sku"]!).StartsWith('N'));

        // One SKU may stand for a product; a product's name is changed for all its variants.
        (status, _) = await shop.Put(
            "items",
            """
            {"sku": "N1", "product": "n", "name": "New", "category": ["Tents", "For two"], "regular": "10.00", "stock": 3, "options": {"size": "L"}}

            {"sku": "N2", "product": "n", "category": ["Tents", "For two"], "regular": "11.00", "stock": 0}
            """
        );
        Assert.Equal(200, status);
        await shop.Put("items", """{"sku": "N2", "name": "Newer"}""");
        var items = (await shop.Get("items"))["items"]!.AsArray().Where(item => (string?)item!["product"] == "n").ToArray();
        Assert.Equal(
            ["Newer for-two true", "Newer for-two false"],
            items.Select(item => $"{item!["name"]} {item["category"]} {item["canBeHad"]}")
        );
        var page = await shop.Get("items?after=B&take=2");
        Assert.Equal(["C", "G"], page["items"]!.AsArray().Select(item => (string)item!["sku"]!));
        Assert.Equal("G", (string?)page["after"]);
    }

    [Fact]
    public async Task What_is_taken_out_cannot_be_bought_or_given_and_no_live_promotion_ends_by_it()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var id = await Store.PutLive(
            server,
            """{"name": "Off A and B", "label": "Off", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "A"}, {"sku": "B"}]}, "take": {"percent": 10}, "per": "unit"}, {"kind": "gift", "give": {"skus": ["G"]}, "quantity": 1}]}"""
        );
        Assert.Single((await Priced(shop, own.Cart(("A", 1))))["gifts"]!.AsArray());
        Assert.Equal(204, (await shop.Delete("items/A")).Status);
        Assert.Equal(204, (await shop.Delete("items/G")).Status);
        Assert.Equal(404, (await shop.Delete("items/none")).Status);
        var (status, refused) = await shop.Post("quote", new { cart = own.Cart(("A", 1)) }, null);
        Assert.Equal(422, status);
        Assert.Equal(["/cart/lines/0/sku notAllowed"], Problems(refused));
        // The other goes on, and what was a gift is none.
        var priced = await Priced(shop, own.Cart(("B", 1)));
        Assert.Equal("3.33", (string)priced["promotions"]![0]!["amount"]!);
        Assert.Empty(priced["gifts"]!.AsArray());
        Assert.Equal("live", (string)(await server.Get($"/api/promotions/{id}"))["state"]!);
        Assert.DoesNotContain((await server.Get("/api/items?q=Item"))!.AsArray(), item => (string)item!["sku"]! == "A");

        // Who writes it again has it again.
        await shop.Put("items", """{"sku": "A", "cost": "2.00"}""");
        // What is live and no longer so in the draft stands beside what the draft does.
        async Task<string[]> Gone(string sku) =>
            [
                .. (
                    await server.Send(
                        HttpMethod.Post,
                        "/api/tape",
                        new
                        {
                            cart = own.Cart(("A", 1)),
                            draft = JsonNode.Parse(
                                $$$"""{"id": "{{{id}}}", "name": "D", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "{{{sku}}}"}]}, "take": {"percent": 10}, "per": "unit"}]}"""
                            ),
                        }
                    )
                ).Body!["live"]!["gone"]!
                    .AsArray()
                    .Select(entry => $"{entry!["promotion"]} {entry["amount"]}"),
            ];
        Assert.Equal([$"{id} 2.00"], await Gone("B"));
        Assert.Empty(await Gone("A"));
        Assert.Equal("2.00", (string)(await Priced(shop, own.Cart(("A", 1))))["promotions"]![0]!["amount"]!);
    }

    [Fact]
    public async Task Stock_is_what_is_free_now_and_the_same_call_again_is_the_same()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        Assert.Equal(200, (await shop.Put("stock", "{\"sku\": \"G\", \"stock\": 2}\n{\"sku\": \"A\", \"stock\": 0}", key: "one")).Status);
        Assert.Equal(200, (await shop.Put("stock", """{"sku": "G", "stock": 7}""")).Status);
        Assert.Equal(200, (await shop.Put("stock", "{\"sku\": \"G\", \"stock\": 2}\n{\"sku\": \"A\", \"stock\": 0}", key: "one")).Status);
        Assert.Equal(422, (await shop.Put("stock", """{"sku": "G", "stock": 3}""", key: "one")).Status);
        async Task<long?> Free(string sku) =>
            (long?)(await server.Get($"/api/stock?q={sku}")).AsArray().Single(row => (string)row!["sku"]! == sku)!["free"];
        Assert.Equal((7, 0), (await Free("G"), await Free("A")));
        // As the catalogue says again, which knows no end of it; also of the first item of all.
        Assert.Equal(204, (await server.Send(HttpMethod.Delete, "/api/stock/A")).Status);
        Assert.Null(await Free("A"));
        await shop.Put("stock", """{"sku": "A", "stock": null}""");
        Assert.Null(await Free("A"));
        Assert.Equal(
            ["/0/stock outOfRange", "/1/sku unknownSku", "/2/by unknownName", "/2/stock outOfRange"],
            Problems((await shop.Put("stock", "{\"sku\": \"A\"}\n{\"sku\": \"none\", \"stock\": 1}\n{\"sku\": \"B\", \"by\": 1}")).Body)
        );
        // With the item, too.
        await shop.Put("items", """{"sku": "G", "stock": 4}""");
        Assert.Equal(4, await Free("G"));
        await shop.Put("items", """{"sku": "G", "stock": null}""");
        Assert.Null(await Free("G"));
    }

    [Fact]
    public async Task Shoppers_come_in_beside_what_they_have_bought_here_and_are_forgotten()
    {
        var own = OwnShop.Of("KWD");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        await Store.PutLive(
            server,
            """{"name": "Club", "label": "Club", "when": {"shopper": {"groups": ["gold"]}}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 50}, "per": "unit"}]}"""
        );
        var cart = own.Cart(("B", 1)).With("shopper", """{"id": "s9"}""");
        Assert.Empty((await Priced(shop, cart))["promotions"]!.AsArray());
        var (status, answer) = await shop.Put(
            "shoppers",
            """{"id": "s9", "name": "Cleo", "groups": ["gold"], "orders": 4, "spent": "1.250", "place": "KW", "language": "ar"}"""
        );
        Assert.True(status == 200, answer.ToJsonString());
        Assert.Equal("1.667", (string)(await Priced(shop, cart))["promotions"]![0]!["amount"]!);
        await Order(shop, cart);
        async Task<JsonNode?> Cleo() => (await server.Get("/api/shoppers?q=s9")).AsArray().SingleOrDefault();
        Assert.Equal(
            (5, "Cleo", "KW"),
            ((int)(await Cleo())!["orders"]!, (string)(await Cleo())!["name"]!, (string)(await Cleo())!["place"]!)
        );
        await shop.Put("shoppers", """{"id": "s9", "orders": 10, "groups": null}""");
        Assert.Equal((11, 0), ((int)(await Cleo())!["orders"]!, (await Cleo())!["groups"]!.AsArray().Count));
        Assert.Equal(
            [
                "/0/id notAllowed",
                "/1/id missing",
                "/2/orders notAnInteger",
                "/3/spent notAnAmount",
                "/3/place unknownPlace",
                "/4/id duplicate",
                "/5/groups wrongType",
            ],
            Problems(
                (
                    await shop.Put(
                        "shoppers",
                        """
                        {"id": "guest:x"}
                        {"name": "nobody"}
                        {"id": "x1", "orders": -1}
                        {"id": "x2", "spent": "1.2345", "place": "Q"}
                        {"id": "x1"}
                        {"id": "x3", "groups": ["a,b"]}
                        """
                    )
                ).Body
            )
        );
        Assert.Equal(200, (await shop.Delete("shoppers/s9")).Status);
        Assert.Null(await Cleo());
        Assert.Equal(404, (await shop.Delete("shoppers/s9")).Status);
        Assert.Equal((0, ""), RunningServer.Run("", "check-store", server.Data) is var (exit, _, errors) ? (exit, errors) : default);
    }

    [Fact]
    public async Task A_fifth_of_all_items_change_at_once_while_orders_are_placed_and_another_process_follows()
    {
        var own = OwnShop.Of("EUR") with { Items = 5_000 };
        await using var server = await own.Serve();
        await using var other = await RunningServer.Start(demo: false, data: server.Data);
        using var shop = new Store(server, Store.NewKey(server, "server"));
        using var elsewhere = new Store(other, Store.NewKey(other, "server"));
        var lines = Enumerable.Range(4, 1_000).Select(number => $$"""{"sku": "F{{number}}", "regular": "{{number}}.00"}""");
        var before = (string)(await Priced(shop, own.Cart(("F4", 1), ("F1003", 1))))["totals"]!["regular"]!;
        var writing = shop.Put("items", string.Join('\n', lines));
        var seen = new HashSet<string>();
        while (!writing.IsCompleted)
        {
            var cart = own.Cart(("F4", 1), ("F1003", 1));
            var order = await Order(shop, cart, again: true);
            seen.Add((string)order["result"]!["totals"]!["regular"]!);
        }

        Assert.Equal(200, (await writing).Status);
        // All at once: never one at the old price beside one at the new.
        Assert.Subset(new HashSet<string> { "1007.00", before }, seen);
        Assert.Equal("1007.00", (string)(await Priced(shop, own.Cart(("F4", 1), ("F1003", 1))))["totals"]!["regular"]!);
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        while ((string)(await Priced(elsewhere, own.Cart(("F1003", 1))))["totals"]!["regular"]! != "1003.00")
            await Task.Delay(50, patience.Token);
        // Nor does another process sell at what it cost before.
        var shown = await elsewhere.Quote(own.Cart(("F10", 1)));
        await shop.Put("items", """{"sku": "F10", "regular": "77.00"}""");
        var (status, _) = await elsewhere.Place(own.Cart(("F10", 1)), shown, "late", take: true);
        Assert.Equal(409, status);
    }

    private static string[] Problems(JsonNode? refusal) =>
        [.. refusal!["problems"]!.AsArray().Select(problem => $"{problem!["at"]} {problem["code"]}")];

    private static async Task<JsonNode> Priced(Store shop, JsonObject cart) => (await shop.Quote(cart))["result"]!;

    private static async Task<JsonNode> Order(Store shop, JsonObject cart, bool again = false)
    {
        while (true)
        {
            var (status, order) = await shop.Place(cart, await shop.Quote(cart), Guid.NewGuid().ToString(), take: true);
            if (status == 201)
                return order;
            Assert.True(again && status == 409, order.ToJsonString());
        }
    }
}
