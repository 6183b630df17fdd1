using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Editions: what each changed, any two compared, and an old one put live again.</summary>
public class EditionTests
{
    [Fact]
    public async Task What_was_live_is_told_compared_and_live_again()
    {
        await using var server = await RunningServer.Start();
        async Task<JsonNode> Do(string id, string what, object body) => (await server.Send(HttpMethod.Post, $"/api/promotions/{id}/{what}", body)).Body!;
        var bell = await server.Get("/api/promotions/bell-gift");
        var club = await server.Get("/api/promotions/club-helmet");
        var changed = (JsonObject)club["document"]!.DeepClone();
        changed["label"] = "6.00 off every helmet";
        changed["rewards"]![0]!["take"] = new JsonObject { ["amount"] = "6.00" };
        await Do("bell-gift", "pause", new { revision = (long)bell["revision"]! });
        await Do("club-helmet", "live", new { revision = (long)club["revision"]!, document = changed });
        var (_, fresh) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("FRESH") });
        var id = (string)fresh!["id"]!;
        await Do(id, "live", new { revision = 1, document = Documents.Tubes("FRESH") });

        var editions = (await server.Get("/api/editions"))["rows"]!.AsArray();
        Assert.Equal([(4, 1, 0, 0), (3, 0, 1, 0), (2, 0, 0, 1)], editions.Take(3).Select(row => ((int)row!["number"]!, (int)row["joined"]!, (int)row["changed"]!, (int)row["gone"]!)));

        var compared = (await server.Get("/api/editions/1/compare/4"))["promotions"]!.AsArray();
        Assert.Equal([("A bell or a tool roll with a rack", "gone"), ("Club helmets", "changed"), ("Tubes", "joined")], compared.Select(one => ((string)one!["name"]!, (string)one["kind"]!)));
        Assert.Equal(
            [("label", "5.00 off every helmet for the club", "6.00 off every helmet"), ("gives", "Gives €5.00 off each of Helmets", "Gives €6.00 off each of Helmets")],
            compared[1]!["clauses"]!.AsArray().Select(clause => ((string)clause!["name"]!, (string)clause["before"]!, (string)clause["after"]!)));
        // The other way round it is the other way round.
        Assert.Equal(["joined", "changed", "gone"], (await server.Get("/api/editions/4/compare/1"))["promotions"]!.AsArray().Select(one => (string)one!["kind"]!));

        Assert.Equal(409, (await server.Send(HttpMethod.Post, "/api/editions/1/restore", new { seen = 3 })).Status);
        Assert.Equal(404, (await server.Send(HttpMethod.Post, "/api/editions/9/restore", new { seen = 4 })).Status);
        var (status, live) = await server.Send(HttpMethod.Post, "/api/editions/1/restore", new { seen = 4 });
        Assert.Equal((200, 5), (status, (int)live!["edition"]!["number"]!));
        Assert.Empty((await server.Get("/api/editions/1/compare/5"))["promotions"]!.AsArray());
        Assert.Equal(("live", "paused", "5.00 off every helmet for the club"), (
            (string)(await server.Get("/api/promotions/bell-gift"))["state"]!, (string)(await server.Get($"/api/promotions/{id}"))["state"]!,
            (string)(await server.Get("/api/promotions/club-helmet"))["document"]!["label"]!));
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("REAR-RACK-BLACK", 1)) });
        Assert.Single(tape!["print"]!["offers"]!.AsArray());

        // And it is all there after a restart.
        server.Kill();
        await server.StartAgain();
        Assert.Equal(5, (int)(await server.Get("/readyz"))["edition"]!);
    }
}
