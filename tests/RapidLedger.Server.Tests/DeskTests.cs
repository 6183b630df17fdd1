using System.Text.Json.Nodes;

namespace RapidLedger.Server.Tests;

/// <summary>
/// What the desk asks about a page being written: its curve, its words, the most it can give, and how much is found in the list.
/// </summary>
public class DeskTests(ServedOnDemoDay served) : IClassFixture<ServedOnDemoDay>
{
    private static readonly JsonObject Draft = (JsonObject)
        JsonNode.Parse(
            """
            {"id": "curved", "label": "Twenty off from 100.00", "trigger": {"codes": ["CURVED"]}, "when": {"all": [{"spend": {"from": "100.00"}}, {"shopper": {"groups": ["staff"]}}]},
             "rewards": [{"kind": "discount", "on": {"in": [{"category": "panniers"}]}, "take": {"amount": "20.00"}, "per": "cart"}]}
            """
        )!;

    [Fact]
    public async Task A_curve_says_what_the_tape_says_at_each_of_its_places()
    {
        var server = served.Server;
        var cart = Documents.Cart(("DROVER-PANNIER-BLACK", 1), ("MOOR-MAP-2027", 1));
        var (status, curve) = await server.Send(HttpMethod.Post, "/api/curve", new { cart, draft = Draft });
        Assert.Equal((200, "DROVER-PANNIER-BLACK"), (status, (string)curve!["sku"]!));
        // As if it were open to this shopper: the tape is asked with the same rule without a code and for everybody.
        var open = Draft.With("trigger", """{"automatic": true}""").With("when", """{"spend": {"from": "100.00"}}""");
        foreach (var point in curve["points"]!.AsArray().Where((_, place) => place % 3 == 0))
        {
            var units = (int)point!["units"]!;
            var filled = Documents.Cart(("DROVER-PANNIER-BLACK", units), ("MOOR-MAP-2027", 1));
            var print = (await server.Send(HttpMethod.Post, "/api/tape", new { cart = filled, draft = open })).Body!;
            Assert.Equal(
                (
                    (string)print["print"]!["totals"]!["total"]!,
                    (string)print["live"]!["due"]!,
                    (string)print["print"]!["totals"]!["margin"]!
                ),
                ((string)point["after"]!, (string)point["before"]!, (string)point["margin"]!)
            );
        }

        // Goods of 74.70 and 139.60: it begins at two.
        Assert.Equal(
            [2],
            curve["marks"]!.AsArray().Single(mark => (string)mark!["kind"]! == "begins")!["places"]!.AsArray().Select(place => (int)place!)
        );
        Assert.Equal(40, (
                await server.Send(
                    HttpMethod.Post,
                    "/api/curve",
                    new
                    {
                        cart,
                        draft = Draft,
                        sku = "INNER-TUBE-32",
                        most = 40,
                    }
                )
            ).Body!["points"]!.AsArray().Count);
    }

    [Fact]
    public async Task What_shoppers_read_is_told_for_each_situation_in_each_language()
    {
        var draft = Draft.With(
            "says",
            """{"near": {"en": "{missing} to go for {reward}", "de": "Noch {missing} bis zu {reward}"}, "refused": "{label}: not yet."}"""
        );
        var (status, told) = await served.Server.Send(HttpMethod.Post, "/api/says", new { cart = Documents.Cart(), draft });
        Assert.Equal(200, status);
        string? Said(string language, string situation) =>
            (string?)
                told!.AsArray().Single(entry => (string)entry!["language"]! == language)!["sentences"]!
                    .AsArray()
                    .SingleOrDefault(entry => (string)entry!["situation"]! == situation)
                    ?["sentence"];
        // One pannier is 64.90: 35.10 are missing to 100.00.
        Assert.StartsWith("€35.10 to go for €20.00 off", Said("en", "just short"));
        Assert.Equal("Noch 35,10 € bis zu 20,00 € Rabatt", Said("de", "just short"));
        Assert.Equal("Twenty off from 100.00: you save €20.00.", Said("en", "reached"));
        Assert.Equal("Twenty off from 100.00: Sie sparen 20,00 €.", Said("de", "reached"));
        Assert.Equal("Twenty off from 100.00: not yet.", Said("en", "not met"));
        Assert.Equal("Diesen Code kennen wir nicht.", Said("de", "code unknown"));
    }

    [Theory]
    [InlineData("/rewards/0/take/amount", 200)]
    [InlineData("/when/all/0/spend/from", 200)]
    [InlineData("/rewards/0/per", 422)]
    [InlineData("/rewards/7/take/percent", 422)]
    [InlineData("", 422)]
    public async Task The_most_is_told_of_numbers_that_give(string at, int expected)
    {
        var (status, answer) = await served.Server.Send(
            HttpMethod.Post,
            "/api/most",
            new
            {
                cart = Documents.Cart(),
                draft = Draft,
                at,
            }
        );
        Assert.Equal(expected, status);
        if (status != 200)
            return;
        Assert.Contains("the floor of 15", (string)answer!["sentence"]!);
        // With the number in its place it is found again.
        var changed = (JsonObject)Draft.DeepClone();
        var place = at.Split('/')
            .Skip(1)
            .SkipLast(1)
            .Aggregate((JsonNode)changed, (node, step) =>
                node is JsonArray list ? list[int.Parse(step, System.Globalization.CultureInfo.InvariantCulture)]! : node[step]!
            );
        place[at.Split('/')[^1]] = answer["value"]!.DeepClone();
        Assert.Equal(
            answer["value"]!.ToJsonString(),
            (
                await served.Server.Send(
                    HttpMethod.Post,
                    "/api/most",
                    new
                    {
                        cart = Documents.Cart(),
                        draft = changed,
                        at,
                    }
                )
            ).Body!["value"]!.ToJsonString()
        );
    }

    [Fact]
    public async Task The_list_tells_how_much_is_found_of_those_that_are_asked_about()
    {
        var server = served.Server;
        var risky = JsonNode.Parse(
            """{"name": "Risky", "label": "90 % off", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 90}, "per": "unit"}]}"""
        );
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = risky });
        var id = (string)begun!["id"]!;
        var told = (await server.Send(HttpMethod.Post, "/api/review", new { draft = begun["document"] }))
            .Body!.AsArray()
            .GroupBy(finding => (string)finding!["severity"]!)
            .ToDictionary(group => group.Key, group => group.Count());
        var found = (await server.Get($"/api/promotions/findings?ids={id},nobody")).AsArray();
        var only = Assert.Single(found)!;
        Assert.Equal(
            (id, told.GetValueOrDefault("error"), told["doubt"]),
            ((string)only["id"]!, (int)only["errors"]!, (int)only["doubts"]!)
        );
        Assert.Equal(
            422,
            (await server.Send(HttpMethod.Get, $"/api/promotions/findings?ids={string.Join(',', Enumerable.Range(0, 300))}")).Status
        );
    }
}
