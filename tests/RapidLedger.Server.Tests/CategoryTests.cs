using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>The tree of categories is written as other goods are: what it does is told, and every step can be taken back.</summary>
public sealed class CategoryTests
{
    [Fact]
    public async Task A_category_is_made_renamed_moved_and_taken_out_and_each_step_returns()
    {
        await using var server = await RunningServer.Start();
        async Task<(int Status, JsonNode Body)> Put(string? id, string name, string? parent)
        {
            var (status, body) = await server.Send(
                HttpMethod.Put,
                "/api/goods/categories",
                new
                {
                    id,
                    name,
                    parent,
                }
            );
            return (status, body!);
        }

        async Task<string[]> Tree() =>
            [
                .. (await server.Get("/api/goods/categories"))
                    .AsArray()
                    .Select(one => $"{one!["parent"]}/{one["id"]} {one["name"]} {one["items"]}"),
            ];

        async Task<string> Due() =>
            (string)
                (
                    await server.Send(
                        HttpMethod.Post,
                        "/api/tape",
                        new { cart = Documents.Cart(("FELL-TYRE-28-622", 2)).With("destination", "\"DE\"") }
                    )
                ).Body!["print"]!["totals"]!["total"]!;

        var (before, due) = (await Tree(), await Due());
        // Pair of tyres is about tyres. What lies in another category is still in it, and an empty one above changes nothing.
        var (status, made) = await Put(null, "Räder & Reifen", "wheels");
        Assert.Equal((200, 0), (status, made["effects"]!.AsArray().Count));
        Assert.Contains("wheels/rader-reifen Räder & Reifen 0", await Tree());
        Assert.Equal(200, (await Put("tyres", "Tyres", "rader-reifen")).Status);
        Assert.Contains(await Tree(), one => one.StartsWith("wheels/rader-reifen Räder & Reifen 2", StringComparison.Ordinal));
        Assert.Equal(due, await Due());
        // Out of Clothing, rain wear is no longer what a rule about clothing speaks of: of which carts that is true is told.
        await Store.PutLive(
            server,
            """{"id": "dressed", "name": "Dressed", "rewards": [{"kind": "discount", "on": {"in": [{"category": "clothing"}]}, "take": {"percent": 60}, "per": "unit"}]}"""
        );
        var (_, moved) = await Put("rain", "Rain wear", null);
        Assert.Contains(moved["effects"]!.AsArray().Select(effect => (string)effect!["what"]!), what =>
            what.Contains(" becomes ", StringComparison.Ordinal)
        );
        Assert.Equal(200, (await server.Send(HttpMethod.Post, $"/api/goods/steps/{moved["step"]}/back", null)).Status);
        Assert.Contains(await Tree(), one => one.StartsWith("clothing/rain ", StringComparison.Ordinal));

        // Refused, with what to do: in itself, a name that stands there, an unknown place, none, one that holds something.
        Assert.Equal((422, "cycle"), Refusal(await Put("wheels", "Wheels", "tyres")));
        Assert.Equal((422, "duplicate"), Refusal(await Put("rims", "Inner tubes", "wheels")));
        Assert.Equal((422, "unknownCategory"), Refusal(await Put("rims", "Rims", "nowhere")));
        Assert.Equal((422, "missing"), Refusal(await Put("rims", "  ", "wheels")));
        Assert.Equal(404, (await Put("nobody", "Nobody", null)).Status);
        var (refused, why) = await server.Send(HttpMethod.Delete, "/api/goods/categories/wheels", null);
        Assert.Equal(409, refused);
        Assert.Contains("Move them first", (string)why!["problems"]![0]!["message"]!, StringComparison.Ordinal);

        // Emptied it goes, and its id is nobody else's.
        Assert.Equal(200, (await Put("tyres", "Tyres", "wheels")).Status);
        Assert.Equal(200, (await server.Send(HttpMethod.Delete, "/api/goods/categories/rader-reifen", null)).Status);
        Assert.Equal(before, await Tree());
        await Put(null, "Räder-Reifen", null);
        Assert.Contains("/rader-reifen-2 Räder-Reifen 0", await Tree());
    }

    private static (int, string) Refusal((int Status, JsonNode Body) answer) =>
        (answer.Status, (string)answer.Body["problems"]![0]!["code"]!);
}
