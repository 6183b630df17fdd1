using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>A word that is renamed is renamed wherever it stands, at once: no price differs before, meanwhile or after.</summary>
public sealed class RenameTests
{
    private static readonly (string Kind, string? Option, string Word, string Becomes)[] Renames =
    [
        ("tag", null, "wet", "wet weather"),
        ("brand", null, "Ödland", "Oedland"),
        ("option", "Size", "L", "large"),
        ("group", null, "club", "members"),
        ("channel", null, "app", "phone"),
        ("family", null, "spring", "Spring sale"),
    ];

    [Fact]
    public async Task Goods_shoppers_rules_drafts_carts_and_settings_follow_and_undo_brings_all_back()
    {
        var own = OwnShop.Of("AUD");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        await shop.Put("items", """{"sku": "A", "tags": ["wet", "new"], "brand": "Ödland", "options": {"Size": "L", "Colour": "L"}}""");
        await server.Send(
            HttpMethod.Post,
            "/api/settings",
            new
            {
                settings = new { channels = new[] { "web", "app" }, groups = new[] { "club", "trade" } },
                store = new { families = new[] { new { name = "spring", onePerCart = true } } },
            }
        );
        var rules = new[] { """{"tag": "wet"}""", """{"brand": "Ödland"}""", """{"option": {"name": "Size", "value": "L"}}""" };
        string[] ids =
        [
            .. await Task.WhenAll(rules.Select((term, place) => Store.PutLive(server, Rule($"by term {place}", 3 + place, term, "[]")))),
            await Store.PutLive(
                server,
                Rule(
                    "of the club",
                    10,
                    """{"all": true}""",
                    """[{"shopper": {"groups": ["trade", "club"]}}, {"any": [{"channel": ["app"]}]}]"""
                )
            ),
        ];
        // A retired one, and a draft beside a live one.
        var retired = await Store.PutLive(server, Rule("retired", 1, rules[0], "[]"));
        var page = await server.Get($"/api/promotions/{retired}");
        await server.Send(HttpMethod.Post, $"/api/promotions/{retired}/retire", new { revision = (long)page["revision"]! });
        page = await server.Get($"/api/promotions/{ids[0]}");
        var typed = page["document"]!.DeepClone();
        typed["label"] = "being written";
        await server.Send(HttpMethod.Put, $"/api/promotions/{ids[0]}/draft", new { revision = (long)page["revision"]!, document = typed });

        var cart = own.Cart(("A", 2), ("B", 1)).With("shopper", """{"id": "s1"}""").With("channel", "\"app\"");
        var price = await Priced(shop, cart);
        var edition = (long)(await server.Get("/api/edition"))["edition"]!["number"]!;
        var steps = new List<long>();
        foreach (var (kind, option, word, becomes) in Renames)
        {
            Assert.Contains(word, await Words(server, kind, option));
            // While it is written and read anew, whoever asks gets the one price.
            using var stop = new CancellationTokenSource();
            var asking = Task.Run(async () =>
            {
                while (!stop.IsCancellationRequested)
                    Assert.Equal(price, await Priced(shop, cart));
            });
            var (status, answer) = await server.Send(
                HttpMethod.Post,
                "/api/words/rename",
                new
                {
                    kind,
                    option,
                    word,
                    becomes,
                }
            );
            Assert.True(status == 200, answer?.ToJsonString());
            steps.Add((long)answer!["step"]!);
            Assert.Equal(price, await Priced(shop, cart));
            await stop.CancelAsync();
            await asking;
            var words = await Words(server, kind, option);
            Assert.Contains(becomes, words);
            Assert.DoesNotContain(word, words);
        }

        // One edition each where a live rule held it: a family that no rule is in changes none.
        Assert.Equal(edition + 5, (long)(await server.Get("/api/edition"))["edition"]!["number"]!);
        var everything = await Everything(server, [.. ids, retired]);
        foreach (var gone in (string[])["\"wet\"", "Ödland", "\"club\"", "\"app\"", "\"spring\""])
            Assert.DoesNotContain(gone, everything);
        // The colour L is another word than the size L.
        Assert.Contains("\"being written\"", everything);
        Assert.Equal(
            ["L"],
            (await server.Get("/api/words/option"))["words"]!
                .AsArray()
                .Where(row => (string)row!["option"]! == "Colour")
                .Select(row => (string)row!["word"]!)
        );
        // What was live before is read by the new words, and can be put live again.
        var compared = await server.Get($"/api/editions/{edition}/compare/{edition + 5}");
        Assert.Empty(compared["promotions"]!.AsArray());
        // A word that means the same is no difference between its versions.
        var versions = (await server.Get($"/api/promotions/{ids[1]}/history"))["versions"]!.AsArray();
        Assert.True(versions.Count > 1);
        Assert.All(versions, version => Assert.Empty(version!["differences"]!.AsArray()));
        // The rows of a list that still call it by its old name mean the new one; a word that is made anew here is its own.
        await shop.Put(
            "items",
            """{"sku": "N", "name": "New", "regular": "10.00", "tags": ["wet"], "brand": "Ödland", "options": {"Size": "L"}}"""
        );
        Assert.Equal(
            ["2", "2", "2"],
            [await Items(server, "tag", "wet weather"), await Items(server, "brand", "Oedland"), await Items(server, "option", "large")]
        );

        // A name that is there already, or none, is refused.
        foreach (
            var (word, becomes, status) in new[]
            {
                ("wet weather", "new", 422),
                ("wet weather", "a,b", 422),
                ("wet weather", " ", 422),
                ("wet", "dry", 404),
            }
        )
            Assert.Equal(
                (word, becomes, status),
                (
                    word,
                    becomes,
                    (
                        await server.Send(
                            HttpMethod.Post,
                            "/api/words/rename",
                            new
                            {
                                kind = "tag",
                                word,
                                becomes,
                            }
                        )
                    ).Status
                )
            );

        foreach (var step in Enumerable.Reverse(steps))
            Assert.Equal(200, (await server.Send(HttpMethod.Post, $"/api/goods/steps/{step}/back", new { })).Status);
        foreach (var (kind, option, word, becomes) in Renames)
        {
            var words = await Words(server, kind, option);
            Assert.Contains(word, words);
            Assert.DoesNotContain(becomes, words);
        }

        Assert.Equal(price, await Priced(shop, cart));
        Assert.Equal(["2"], [await Items(server, "tag", "wet")]);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        // And all of it is on disk.
        await server.Stop();
        await server.StartAgain();
        using var again = new Store(server, Store.NewKey(server, "server"));
        Assert.Equal(price, await Priced(again, cart));
    }

    private static string Rule(string name, int percent, string term, string when) =>
        $$"""{"label": "{{name}}", "when": {"all": {{when}} }, "rewards": [{"kind": "discount", "on": {"in": [{{term}}]}, "take": {"percent": {{percent}} }, "per": "unit"}]}""";

    private static async Task<string> Priced(Store shop, JsonObject cart) =>
        (await shop.Quote(cart.DeepClone().AsObject()))["result"]!["totals"]!.ToJsonString();

    private static async Task<string[]> Words(RunningServer server, string kind, string? option) =>
        [
            .. (await server.Get($"/api/words/{kind}"))["words"]!
                .AsArray()
                .Where(row => (string?)row!["option"] == option)
                .Select(row => (string)row!["word"]!),
        ];

    private static async Task<string> Items(RunningServer server, string kind, string word) =>
        (await server.Get($"/api/words/{kind}"))["words"]!
            .AsArray()
            .Where(row => (string)row!["word"]! == word)
            .Sum(row => (int)row!["items"]!)
            .ToString(System.Globalization.CultureInfo.InvariantCulture);

    // With letters as they are: escaped, no word would be found.
    private static string Plain(JsonNode node) =>
        node.ToJsonString(new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping });

    private static async Task<string> Everything(RunningServer server, string[] ids)
    {
        var pages = await Task.WhenAll(ids.Select(id => server.Get($"/api/promotions/{id}")));
        var rest = new[] { await server.Get("/api/settings"), await server.Get("/api/shoppers?q="), await server.Get("/api/goods") };
        return string.Concat(pages.Concat(rest).Select(Plain));
    }
}
