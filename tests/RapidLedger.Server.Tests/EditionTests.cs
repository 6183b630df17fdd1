using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Editions: what each changed, any two compared, and an old one put live again.</summary>
public class EditionTests
{
    [Fact]
    public async Task What_was_live_is_told_compared_and_live_again()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        async Task<JsonNode> Do(string id, string what, object body) =>
            (await server.Send(HttpMethod.Post, $"/api/promotions/{id}/{what}", body)).Body!;
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
        Assert.Equal(
            [(4, 1, 0, 0), (3, 0, 1, 0), (2, 0, 0, 1)],
            editions.Take(3).Select(row => ((int)row!["number"]!, (int)row["joined"]!, (int)row["changed"]!, (int)row["gone"]!))
        );

        var compared = (await server.Get("/api/editions/1/compare/4"))["promotions"]!.AsArray();
        Assert.Equal(
            [("A bell or a tool roll with a rack", "gone"), ("Club helmets", "changed"), ("Tubes", "joined")],
            compared.Select(one => ((string)one!["name"]!, (string)one["kind"]!))
        );
        Assert.Equal(
            [
                ("label", "5.00 off every helmet for the club", "6.00 off every helmet"),
                ("gives", "Gives €5.00 off each of Helmets", "Gives €6.00 off each of Helmets"),
            ],
            compared[1]!["clauses"]!
                .AsArray()
                .Select(clause => ((string)clause!["name"]!, (string)clause["before"]!, (string)clause["after"]!))
        );
        // The other way round it is the other way round.
        Assert.Equal(
            ["joined", "changed", "gone"],
            (await server.Get("/api/editions/4/compare/1"))["promotions"]!.AsArray().Select(one => (string)one!["kind"]!)
        );

        Assert.Equal(409, (await server.Send(HttpMethod.Post, "/api/editions/1/restore", new { seen = 3 })).Status);
        Assert.Equal(404, (await server.Send(HttpMethod.Post, "/api/editions/9/restore", new { seen = 4 })).Status);
        var (status, live) = await server.Send(HttpMethod.Post, "/api/editions/1/restore", new { seen = 4 });
        Assert.Equal((200, 5), (status, (int)live!["edition"]!["number"]!));
        Assert.Empty((await server.Get("/api/editions/1/compare/5"))["promotions"]!.AsArray());
        Assert.Equal(
            ("live", "paused", "5.00 off every helmet for the club"),
            (
                (string)(await server.Get("/api/promotions/bell-gift"))["state"]!,
                (string)(await server.Get($"/api/promotions/{id}"))["state"]!,
                (string)(await server.Get("/api/promotions/club-helmet"))["document"]!["label"]!
            )
        );
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("REAR-RACK-BLACK", 1)) });
        Assert.Single(tape!["print"]!["offers"]!.AsArray());

        // And it is all there after a restart.
        server.Kill();
        await server.StartAgain();
        Assert.Equal(5, (int)(await server.Get("/readyz"))["edition"]!);
    }

    [Fact]
    public async Task A_live_promotion_gets_other_dates_beside_its_draft_and_its_history_tells_each_version_and_why()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        async Task<JsonNode> Page() => await server.Get("/api/promotions/letter15");
        async Task<long> Revision() => (long)(await Page())["revision"]!;
        var before = await Page();
        var draft = (JsonObject)before["document"]!.DeepClone();
        draft["label"] = "Something else";
        await server.Send(HttpMethod.Put, "/api/promotions/letter15/draft", new { revision = await Revision(), document = draft });

        // What is live is what the list tells, whatever is being written beside it.
        var row = (await server.Get("/api/promotions?id=letter15"))["rows"]![0]!;
        Assert.Equal((true, "live"), ((bool)row["hasDraft"]!, (string)row["state"]!));
        var (status, after) = await server.Send(
            HttpMethod.Post,
            "/api/promotions/letter15/dates",
            new
            {
                revision = await Revision(),
                endDays = 7,
                reason = "it goes well",
            }
        );
        Assert.Equal(200, status);
        Assert.Equal(
            ("Something else", 2, true),
            ((string)after!["document"]!["label"]!, (int)after["version"]!, (bool)after["hasDraft"]!)
        );
        var ends = new[] { before["saved"]!, after["saved"]!, after["document"]! }
            .Select(document => DateTime.Parse((string)document["window"]!["end"]!, System.Globalization.CultureInfo.InvariantCulture))
            .ToArray();
        Assert.Equal((ends[0].AddDays(7), ends[1]), (ends[1], ends[2]));
        Assert.Equal(409, (await server.Send(HttpMethod.Post, "/api/promotions/letter15/dates", new { revision = 1, days = 7 })).Status);
        Assert.Equal(
            204,
            (
                await server.Send(
                    HttpMethod.Put,
                    "/api/promotions/letter15/meant",
                    new
                    {
                        finding = "noEnd /window",
                        words = "It has no end.",
                        meant = true,
                    }
                )
            ).Status
        );
        await server.Send(HttpMethod.Post, "/api/promotions/letter15/pause", new { revision = await Revision(), reason = "no more" });

        var history = await server.Get("/api/promotions/letter15/history");
        var newest = history["versions"]![0]!;
        Assert.Equal(["runs"], newest["differences"]!.AsArray().Select(one => (string)one!["name"]!));
        Assert.Equal(
            (2, "it goes well", "no more"),
            ((int)newest["live"]![0]!["edition"]!, (string)newest["live"]![0]!["why"]!, (string)newest["live"]![0]!["whyNot"]!)
        );
        Assert.Equal("It has no end.", (string)history["meant"]![0]!["words"]!);
        Assert.Equal(["noEnd /window"], (await Page())["meant"]!.AsArray().Select(one => (string)one!));
        Assert.Equal(
            ["no more", "it goes well", null],
            (await server.Get("/api/editions"))["rows"]!.AsArray().Take(3).Select(one => (string?)one!["reason"])
        );

        // A cart under two editions is the tape's under each.
        var cart = new
        {
            codes = new[] { "LETTER15" },
            lines = new[] { new { sku = "REAR-RACK-BLACK", quantity = 3 } },
            method = "parcel",
            destination = "DE",
        };
        var (_, prices) = await server.Send(HttpMethod.Post, "/api/editions/2/compare/3/price", new { cart });
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
        Assert.Equal((string)tape!["print"]!["totals"]!["due"]!, (string)prices!["to"]!["due"]!);
        Assert.Equal(
            15m,
            decimal.Parse((string)prices["to"]!["due"]!, System.Globalization.CultureInfo.InvariantCulture)
                - decimal.Parse((string)prices["from"]!["due"]!, System.Globalization.CultureInfo.InvariantCulture)
        );
        Assert.Equal(
            "0.00",
            (string)(await server.Send(HttpMethod.Post, "/api/editions/0/compare/3/price", new { cart })).Body!["from"]!["saving"]!
        );
    }
}
