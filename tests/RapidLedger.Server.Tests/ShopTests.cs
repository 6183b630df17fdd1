using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>The demo shop as the pages ask for it, on the day that it was written for: lists, searches, limits, the clock.</summary>
public class ShopTests(ServedOnDemoDay served) : IClassFixture<ServedOnDemoDay>
{
    private readonly RunningServer server = served.Server;

    [Fact]
    public async Task The_list_is_sorted_by_what_needs_attention_at_the_clock()
    {
        var rows = (await server.Get("/api/promotions"))["rows"]!.AsArray();
        Assert.Equal(["ending", "ending", "starting", "starting", "nearlyUsed"], rows.Take(5).Select(row => (string)row!["phase"]!));
        // On Sunday night, two days after Friday.
        Assert.Equal("ends in 2 days", (string)rows[0]!["phaseText"]!);
        Assert.Equal(
            ("46", "60"),
            ((string)Row(rows, "moss-panniers")["used"]!["used"]!, (string)Row(rows, "moss-panniers")["used"]!["of"]!)
        );

        // A fortnight later what was ending has ended, and what was starting runs.
        var later = (await server.Get("/api/promotions?at=2027-03-20T09:00:00Z"))["rows"]!.AsArray();
        Assert.Equal(("ended", "running"), ((string)Row(later, "light-pair")["phase"]!, (string)Row(later, "night-set")["phase"]!));
    }

    [Theory]
    [InlineData("q=helmets", "club-helmet")]
    [InlineData("q=LETTER15", "letter15")]
    [InlineData("state=paused", "moor-radio")]
    [InlineData("state=archived", "black-ice")]
    [InlineData("sku=BRASS-BELL-222&q=staff", "staff-30")]
    public async Task The_list_is_filtered_by_words_state_and_item(string query, string only) =>
        Assert.Equal([only], (await server.Get($"/api/promotions?{query}"))["rows"]!.AsArray().Select(row => (string)row!["id"]!));

    [Fact]
    public async Task What_touches_an_item_leaves_out_what_does_not()
    {
        var ids = (await server.Get("/api/promotions?sku=INNER-TUBE-28"))["rows"]!.AsArray().Select(row => (string)row!["id"]!).ToArray();
        Assert.Contains("tubes-3for2", ids);
        Assert.DoesNotContain("tyre-pair", ids);
        Assert.DoesNotContain("moss-panniers", ids);
    }

    [Fact]
    public async Task A_script_comes_compressed_to_whoever_takes_it_and_is_the_same()
    {
        using var plain = new HttpClient { BaseAddress = server.Address };
        var script = System.Text.RegularExpressions.Regex.Match(await plain.GetStringAsync("/"), "/assets/[^\"]+[.]js").Value;
        using var asked = new HttpRequestMessage(HttpMethod.Get, script) { Headers = { { "Accept-Encoding", "gzip, br" } } };
        using var compressed = await plain.SendAsync(asked);
        Assert.Equal(
            ("br", "text/javascript", "Accept-Encoding"),
            (
                compressed.Content.Headers.ContentEncoding.Single(),
                compressed.Content.Headers.ContentType!.MediaType,
                compressed.Headers.Vary.Single()
            )
        );
        await using var inside = new System.IO.Compression.BrotliStream(
            await compressed.Content.ReadAsStreamAsync(),
            System.IO.Compression.CompressionMode.Decompress
        );
        Assert.Equal(await plain.GetStringAsync(script), await new StreamReader(inside).ReadToEndAsync());
    }

    [Fact]
    public async Task Items_terms_and_shoppers_are_found_by_the_beginnings_of_words()
    {
        var terms = (await server.Get("/api/items/terms?q=tyr")).AsArray();
        // What begins so goes before what only holds a word that does.
        Assert.Equal(
            ("category", """{"category":"tyres"}""", 28),
            ((string)terms[0]!["kind"]!, terms[0]!["term"]!.ToJsonString(), (int)terms[0]!["count"]!)
        );
        // One colour in all its sizes is a term of its own.
        var moss = (await server.Get("/api/items/terms?q=touring+jersey+moss")).AsArray()[0]!;
        Assert.Equal(("option", "Touring jersey, moss"), ((string)moss["kind"]!, (string)moss["name"]!));
        var held = await server.Send(HttpMethod.Post, "/api/items/selection", new { @in = new[] { moss["term"] } });
        Assert.Equal((int)moss["count"]!, (int)held.Body!["count"]!);
        Assert.Equal("Touring jersey in colour moss", (string)held.Body["words"]!);
        var twice = await server.Send(
            HttpMethod.Post,
            "/api/items/selection",
            new
            {
                @in = new[]
                {
                    moss["term"],
                    new JsonObject { ["product"] = "touring-jersey" },
                },
            }
        );
        Assert.Equal("Touring jersey in colour moss is part of Touring jersey already.", (string)twice.Body!["twice"]!);
        var items = (await server.Get("/api/items?q=fell+28")).AsArray();
        Assert.Equal("FELL-TYRE-28-622", (string)Assert.Single(items)!["sku"]!);
        Assert.Equal("29.67", (string)(await server.Get("/api/items?q=fell+28&currency=GBP"))[0]!["price"]!);
        Assert.All((await server.Get("/api/shoppers?q=trade")).AsArray(), shopper =>
            Assert.Contains("trade", shopper!["groups"]!.AsArray().Select(group => (string)group!))
        );
    }

    [Fact]
    public async Task A_selection_tells_how_many_it_holds_and_shows_a_sample_with_its_margin()
    {
        var (_, held) = await server.Send(
            HttpMethod.Post,
            "/api/items/selection",
            JsonNode.Parse("""{"in": [{"category": "wheels"}], "out": [{"brand": "Velt"}], "priceTo": "30.00"}""")
        );
        Assert.Equal("Wheels and tyres priced €30.00 or less, without Velt", (string)held!["words"]!);
        Assert.Equal(["Wheels and tyres"], held["in"]!.AsArray().Select(word => (string)word!));
        Assert.All(held["sample"]!.AsArray(), item =>
            Assert.True(
                decimal.Parse((string)item!["price"]!, System.Globalization.CultureInfo.InvariantCulture) <= 30
                    && (decimal)item["marginPercent"]! > 0
            )
        );
    }

    [Fact]
    public async Task A_limit_counts_what_was_used_until_the_clock_and_by_the_shopper()
    {
        var cart = Documents.Cart(("DROVER-PANNIER-BLACK", 2)).With("codes", """["LETTER15"]""").With("destination", "\"DE\"");
        async Task<string> Status(JsonObject of) =>
            (string)(await server.Send(HttpMethod.Post, "/api/tape", new { cart = of })).Body!["print"]!["codes"]![0]!["status"]!;
        Assert.Equal("applied", await Status(cart));
        // Somebody who has used it: the first redeemer of the demo shop's file.
        var redeemer = File.ReadLines(Path.Combine(RunningServer.Root, "demo", "redemptions.csv"))
            .First(line => line.StartsWith("letter15,", StringComparison.Ordinal))
            .Split(',')[1];
        Assert.Equal("shopperLimitReached", await Status(cart.With("shopper", $$"""{"id": "{{redeemer}}"}""")));
        Assert.Equal("ended", await Status(cart.With("at", "\"2027-04-01T00:06:00+02:00\"")));
        // Before anything was ever used.
        Assert.Equal("notStarted", await Status(cart.With("at", "\"2019-03-05T10:00:00+01:00\"")));
    }

    [Fact]
    public async Task A_day_is_the_stores_not_that_of_greenwich()
    {
        // In Berlin, an hour ahead in November, 6 November 2026 begins at 23:00 UTC of the 5th, on which the code had been used.
        var draft = Documents.Tubes("DAILY").With("id", "\"welcome10\"").With("limits", """{"perDay": 1}""");
        var cart = Documents.Cart(("INNER-TUBE-28", 1)).With("codes", """["DAILY"]""");
        async Task<string> Status(string at) =>
            (string)
                (await server.Send(HttpMethod.Post, "/api/tape", new { cart = cart.With("at", $"\"{at}\""), draft })).Body!["print"]![
                    "codes"
                ]![0]!["status"]!;

        Assert.Equal("limitReached", await Status("2026-11-05T22:59:59Z"));
        Assert.Equal("applied", await Status("2026-11-05T23:00:00Z"));
    }

    [Theory]
    [InlineData("""{"spend": {"from": "6.91"}}""", true)]
    [InlineData(
        """{"all": [{"spend": {"from": "90000.00"}}, {"quantity": {"op": ">=", "n": 9000}}, {"weight": {"op": ">=", "grams": 9000000}}, {"currency": ["GBP"]}]}""",
        false
    )]
    public async Task Of_those_whose_condition_does_not_hold_the_nearest_is_told_first(string when, bool isFirst)
    {
        var draft = Documents.Tubes().With("id", "\"welcome10\"").With("trigger", """{"automatic": true}""").With("when", when);
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 1)), draft });
        var told = tape!["print"]!["whyNot"]!
            .AsArray()
            .Where(one => (string)one!["reason"]! == "conditionNotMet")
            .Select(one => (string)one!["promotion"]!)
            .ToArray();
        Assert.True(told.Length > 2);
        Assert.Equal("welcome10", isFirst ? told[0] : told[^1]);
    }

    [Fact]
    public async Task A_version_is_counted_where_something_changed()
    {
        await using var own = await RunningServer.Start();
        var (_, page) = await own.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes() });
        var id = (string)page!["id"]!;
        foreach (var (name, version) in new[] { ("A", 1), ("A", 1), ("B", 2), ("B", 2), ("A", 3) })
        {
            (_, page) = await own.Send(
                HttpMethod.Post,
                $"/api/promotions/{id}/live",
                new { revision = (long)page!["revision"]!, document = Documents.Tubes().With("name", $"\"{name}\"") }
            );
            Assert.Equal((version, name), ((int)page!["version"]!, (string)page["document"]!["name"]!));
        }

        // Filled, and each time that what is live changed.
        Assert.Equal(4, (int)(await own.Get("/readyz"))["edition"]!);
    }

    [Fact]
    public async Task A_copied_case_holds_the_draft_in_the_place_of_its_live_self()
    {
        var (_, file) = await server.Send(
            HttpMethod.Post,
            "/api/tape/case",
            new { cart = Documents.Cart(("INNER-TUBE-28", 1)), draft = Documents.Tubes("NEW").With("id", "\"letter15\"") }
        );
        var own = Assert.Single(file!["promotions"]!.AsArray(), promotion => (string)promotion!["id"]! == "letter15");
        Assert.Equal("NEW", (string)own!["trigger"]!["codes"]![0]!);
        Assert.True(file["promotions"]!.AsArray().Count > 10);
    }

    [Fact]
    public async Task The_demo_shop_is_filled_once_and_another_edition_keeps_what_was_before()
    {
        await using var own = await RunningServer.Start();
        var (_, page) = await own.Send(HttpMethod.Get, "/api/promotions/club-helmet");
        await own.Send(
            HttpMethod.Post,
            "/api/promotions/club-helmet/pause",
            new { revision = (long)page!["revision"]!, document = (object?)null }
        );
        await own.Stop();

        await using var again = await RunningServer.Start(demo: true, data: own.Data);
        Assert.Equal(2, (int)(await again.Get("/readyz"))["edition"]!);
        Assert.Equal("paused", (string)(await again.Get("/api/promotions/club-helmet"))["state"]!);
        Assert.Equal(27, (int)(await again.Get("/api/promotions"))["all"]!);
    }

    [Fact]
    public async Task A_draft_that_was_never_saved_goes_when_it_is_thrown_away_and_a_saved_one_returns_to_what_was_saved()
    {
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("GONE") });
        var id = (string)begun!["id"]!;
        Assert.Equal(204, (await server.Send(HttpMethod.Delete, $"/api/promotions/{id}/draft?revision=1")).Status);
        Assert.Equal(404, (await server.Send(HttpMethod.Get, $"/api/promotions/{id}")).Status);

        var saved = await server.Get("/api/promotions/uk-eight");
        var (_, changed) = await server.Send(
            HttpMethod.Put,
            "/api/promotions/uk-eight/draft",
            new { revision = (long)saved["revision"]!, document = Documents.Tubes("UK") }
        );
        Assert.True((bool)changed!["hasDraft"]!);
        var (_, returned) = await server.Send(HttpMethod.Delete, $"/api/promotions/uk-eight/draft?revision={(long)changed["revision"]!}");
        Assert.Equal("Across the water", (string)returned!["document"]!["name"]!);
    }

    [Fact]
    public async Task Picks_and_remedies_stand_on_the_tape()
    {
        var (_, offered) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("REAR-RACK-BLACK", 1)) });
        Assert.Equal(1, (int)offered!["print"]!["offers"]![0]!["units"]!);
        var remedy = offered["print"]!["whyNot"]!.AsArray().Single(one => (string)one!["promotion"]! == "tyre-pair")!["remedy"]!;
        Assert.Equal(("add", 2), ((string)remedy["kind"]!, (int)remedy["units"]!));

        var (_, picked) = await server.Send(
            HttpMethod.Post,
            "/api/tape",
            new { cart = Documents.Cart(("REAR-RACK-BLACK", 1)).With("picks", """{"bell-gift": ["BRASS-BELL-222"]}""") }
        );
        var gift = picked!["print"]!["entries"]!.AsArray().Single(entry => (string)entry!["from"]! == "gift")!;
        Assert.Equal(("16.00", "0.00"), ((string)gift["amount"]!, (string)gift["net"]!));
        Assert.Empty(picked["print"]!["offers"]!.AsArray());
    }

    private static JsonNode Row(JsonArray rows, string id) => rows.Single(row => (string)row!["id"]! == id)!;
}
