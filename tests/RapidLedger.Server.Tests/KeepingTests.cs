using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>What is kept for selling: keys made and withdrawn in the app, stock that is set, shoppers who are forgotten.</summary>
public class KeepingTests
{
    [Fact]
    public async Task A_key_is_told_once_opens_what_its_kind_may_and_is_good_until_it_is_withdrawn()
    {
        await using var server = await RunningServer.Start();
        var (status, made) = await server.Send(HttpMethod.Post, "/api/keys", new { kind = "page", name = "the shop's pages" });
        Assert.Equal(201, status);
        using var shop = new Store(server, (string)made!["key"]!);
        var quote = await shop.Quote(Store.Pannier);
        Assert.Equal(403, (await shop.Place(Store.Pannier, quote, "a")).Status);

        var row = Assert.Single((await server.Get("/api/keys")).AsArray(), row => (string)row!["id"]! == (string)made["id"]!)!;
        Assert.Equal(("page", "the shop's pages"), ((string)row["kind"]!, (string)row["name"]!));
        Assert.DoesNotContain((string)made["key"]!, (await server.Get("/api/keys")).ToJsonString(), StringComparison.Ordinal);

        Assert.Equal(204, (await server.Send(HttpMethod.Delete, $"/api/keys/{made["id"]}")).Status);
        Assert.Equal(401, (await shop.Post("quote", new { cart = Store.Pannier }, null)).Status);
        // Pressed twice, and in another window.
        Assert.Equal(404, (await server.Send(HttpMethod.Delete, $"/api/keys/{made["id"]}")).Status);
        Assert.Equal(
            (422, 422),
            (
                (await server.Send(HttpMethod.Post, "/api/keys", new { kind = "page", name = " " })).Status,
                (await server.Send(HttpMethod.Post, "/api/keys", new { kind = "counter", name = "x" })).Status
            )
        );
    }

    [Fact]
    public async Task Stock_that_is_set_is_what_the_store_the_shelf_and_the_tape_give_from()
    {
        await using var server = await RunningServer.Start();
        await Store.PutLive(
            server,
            """{"name": "A bell", "label": "A bell for you", "rewards": [{"kind": "gift", "give": {"skus": ["MOOR-TYRE-32-622"]}, "quantity": 2}]}"""
        );
        using var shop = new Store(server, Store.NewKey(server, "server"));
        Assert.Equal(204, (await server.Send(HttpMethod.Put, "/api/stock/MOOR-TYRE-32-622", new { free = 3 })).Status);
        var quote = await shop.Quote(Store.Pannier);
        Assert.Equal(2, (int)quote["shown"]!["gifts"]![0]!["quantity"]!);
        Assert.Equal(201, (await shop.Place(Store.Pannier, quote, "one", take: true)).Status);

        // One is left: of two promised one is given, on the tape as in the store.
        var stock = Assert.Single((await server.Get("/api/stock?q=moor-tyre-32-622")).AsArray())!;
        Assert.Equal((1, 2), ((long)stock["free"]!, (long)stock["sold"]!));
        Assert.Equal(1, (int)(await shop.Quote(Store.Pannier))["shown"]!["gifts"]![0]!["quantity"]!);
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Store.Pannier });
        Assert.Equal(1, (int)Assert.Single(tape!["print"]!["entries"]!.AsArray(), entry => (string)entry!["name"]! == "A bell")!["units"]!);
        Assert.Equal(
            1,
            (long)
                (await server.Get("/api/shelf?q=moor"))["products"]!
                    .AsArray()
                    .SelectMany(product => product!["variants"]!.AsArray())
                    .Single(variant => (string)variant!["sku"]! == "MOOR-TYRE-32-622")!["stock"]!
        );

        // What the catalogue keeps no stock of is counted too, moved, and without end again.
        async Task<long?> Free() => (long?)Assert.Single((await server.Get("/api/stock?q=gift-voucher-25")).AsArray())!["free"];
        foreach (
            var (method, body, status, free) in ((HttpMethod, object?, int, long?)[])
                [
                    (HttpMethod.Put, new { by = 1 }, 422, null),
                    (HttpMethod.Put, new { free = 7 }, 204, 7),
                    (HttpMethod.Put, new { by = -2 }, 204, 5),
                    (HttpMethod.Put, new { }, 422, 5),
                    (HttpMethod.Put, new { free = 1, by = 1 }, 422, 5),
                    (HttpMethod.Delete, null, 204, null),
                    (HttpMethod.Delete, null, 204, null),
                ]
        )
        {
            Assert.Equal(status, (await server.Send(method, "/api/stock/GIFT-VOUCHER-25", body)).Status);
            Assert.Equal(free, await Free());
        }

        Assert.Equal(
            (404, 404, 422),
            (
                (await server.Send(HttpMethod.Put, "/api/stock/NONE", new { free = 3 })).Status,
                (await server.Send(HttpMethod.Delete, "/api/stock/NONE")).Status,
                (await server.Send(HttpMethod.Put, "/api/stock/MOOR-TYRE-32-622", new { free = -1 })).Status
            )
        );
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task Orders_are_found_by_their_number_who_bought_and_a_code_and_are_moved_by_hand()
    {
        await using var server = await RunningServer.Start();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var cart = Documents.Cart(("DROVER-PANNIER-BLACK", 3));
        cart["shopper"] = new JsonObject { ["id"] = "s1" };
        var (_, placed) = await shop.Place(cart, await shop.Quote(cart), "one");
        var id = (string)placed["id"]!;
        async Task<string[]> Found(string q) =>
            [.. (await server.Get($"/api/orders?q={Uri.EscapeDataString(q)}"))["orders"]!.AsArray().Select(row => (string)row!["id"]!)];

        var newest = await server.Get("/api/orders");
        var row = newest["orders"]![0]!;
        Assert.Equal(
            (id, "held", "Xenia Kranichstein", (string)placed["result"]!["totals"]!["due"]!),
            ((string)row["id"]!, (string)row["state"]!, (string)row["who"]!, (string)row["due"]!)
        );
        // Page after page all of them come, each once, those that changed last first.
        List<long> seen = [];
        for (JsonNode page = newest; ; page = await server.Get($"/api/orders?before={seen[^1]}"))
        {
            seen.AddRange(page["orders"]!.AsArray().Select(entry => (long)entry!["change"]!));
            if (!(bool)page["hasMore"]!)
                break;
        }

        Assert.Equal(seen.Distinct().OrderDescending(), seen);
        Assert.Equal(2_001, seen.Count);
        Assert.Equal([id], await Found(id));
        Assert.Equal([id], await Found("xenia kranichstein"));
        Assert.Equal(["o00006"], await Found("o00006"));
        var card = (await server.Get("/api/codes?q=FIRST"))["ofBatches"]!.AsArray().First(code => (int)code!["used"]! > 0)!;
        var by = await Found((string)card["code"]!);
        Assert.Equal((await server.Get($"/api/codes/story?code={card["code"]}"))["orders"]!.AsArray().Select(order => (string)order!), by);
        Assert.Empty(await Found("nothing of that"));
        // By what it came to in the currency it was paid in, and not by as much of another.
        var pounds = cart.DeepClone().AsObject();
        (pounds["currency"], pounds["destination"]) = ("GBP", "GB");
        var (_, abroad) = await shop.Place(pounds, await shop.Quote(pounds), "abroad");
        string Total(JsonNode order) => (string)order["result"]!["totals"]!["total"]!;
        Assert.Contains((string)abroad["id"]!, await Found($"£{Total(abroad)}"));
        Assert.DoesNotContain((string)abroad["id"]!, await Found(Total(placed)));
        Assert.Contains(id, await Found(Total(placed)));

        // Pressed twice, and more given back than there is.
        foreach (
            var (path, body, status, state) in ((string, object?, int, string)[])
                [
                    ("take", null, 200, "taken"),
                    ("take", null, 200, "taken"),
                    ("give-back", new { lines = new[] { new { line = 0, quantity = 2 } } }, 200, "taken"),
                    ("give-back", new { lines = new[] { new { line = 0, quantity = 2 } } }, 422, "taken"),
                    ("give-back", null, 200, "givenBack"),
                    ("give-back", null, 200, "givenBack"),
                    ("take", null, 409, "givenBack"),
                ]
        )
        {
            Assert.Equal(status, (await server.Send(HttpMethod.Post, $"/api/orders/{id}/{path}", body)).Status);
            Assert.Equal(state, (string)(await server.Get($"/api/orders/{id}"))["state"]!);
        }

        Assert.Equal(404, (await server.Send(HttpMethod.Post, "/api/orders/none/take")).Status);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task A_shopper_who_is_forgotten_is_in_no_order_any_more()
    {
        await using var server = await RunningServer.Start();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var cart = Store.Pannier.DeepClone().AsObject();
        cart["shopper"] = new JsonObject { ["id"] = "somebody-else" };
        Assert.Equal(201, (await shop.Place(cart, await shop.Quote(cart), "one", take: true)).Status);
        var (status, forgotten) = await server.Send(HttpMethod.Post, "/api/shoppers/somebody-else/forget");
        Assert.Equal((200, 1), (status, (int)forgotten!["orders"]!));
        Assert.DoesNotContain("somebody-else", (await shop.Get("orders?after=0")).ToJsonString(), StringComparison.Ordinal);
        Assert.Equal(404, (await server.Send(HttpMethod.Post, "/api/shoppers/somebody-else/forget")).Status);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
        // A copy of the file holds the id nowhere either.
        var file = Path.Combine(Path.GetDirectoryName(server.Data)!, "copy.db");
        Assert.Equal(0, RunningServer.Run("", "backup", file, "--data", server.Data).Exit);
        Assert.DoesNotContain("somebody-else", File.ReadAllText(file, System.Text.Encoding.Latin1), StringComparison.Ordinal);
    }
}
