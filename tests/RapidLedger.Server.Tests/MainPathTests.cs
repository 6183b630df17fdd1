using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>From an empty draft to a live promotion and its end, through restarts.</summary>
public class MainPathTests
{
    [Fact]
    public async Task A_promotion_is_written_priced_put_live_found_again_paused_copied_and_retired()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        var cart = Documents.Cart(("INNER-TUBE-28", 3)).With("codes", """["tubes20"]""");

        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes() });
        var id = (string)begun!["id"]!;
        Assert.Equal("draft", (string)begun["state"]!);

        // Before it is saved, the tape knows it: three times 6.90 less 20 % each, then the cheapest of three is free at 5.52; delivery
        // 4.90.
        var (_, beside) = await server.Send(HttpMethod.Post, "/api/tape", new { cart, draft = Documents.Tubes().With("id", $"\"{id}\"") });
        Assert.Equal("4.14", (string)beside!["print"]!["entries"]![0]!["amount"]!);
        Assert.Equal("15.94", (string)beside["print"]!["totals"]!["due"]!);
        Assert.Equal("18.70", (string)beside["live"]!["due"]!);
        var (_, before) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
        Assert.Equal("unknown", (string)before!["print"]!["codes"]![0]!["status"]!);

        var (_, kept) = await server.Send(
            HttpMethod.Put,
            $"/api/promotions/{id}/draft",
            new { revision = (long)begun["revision"]!, document = Documents.Tubes().With("note", "\"as typed\"") }
        );
        var (status, live) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{id}/live",
            new { revision = (long)kept!["revision"]!, document = Documents.Tubes() }
        );
        Assert.Equal(200, status);
        Assert.Equal(("live", 1), ((string)live!["state"]!, (int)live["version"]!));

        server.Kill();
        await server.StartAgain();
        Assert.Equal("Tubes", (string)(await server.Get($"/api/promotions/{id}"))["document"]!["name"]!);
        var (_, after) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
        Assert.Equal(("applied", "15.94"), ((string)after!["print"]!["codes"]![0]!["status"]!, (string)after["print"]!["totals"]!["due"]!));

        var revision = (long)(await server.Get($"/api/promotions/{id}"))["revision"]!;
        var (_, paused) = await server.Send(HttpMethod.Post, $"/api/promotions/{id}/pause", new { revision, document = (object?)null });
        Assert.Equal("paused", (string)paused!["state"]!);
        var (_, gone) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
        Assert.Equal("18.70", (string)gone!["print"]!["totals"]!["due"]!);

        var (_, copy) = await server.Send(HttpMethod.Post, $"/api/promotions/{id}/copy");
        Assert.Equal(("draft", "Tubes, copy"), ((string)copy!["state"]!, (string)copy["document"]!["name"]!));
        var (_, retired) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{id}/retire",
            new { revision = (long)paused["revision"]!, document = (object?)null }
        );
        Assert.Equal("archived", (string)retired!["state"]!);

        // Published: filled, put live, paused. Retiring what is not live publishes nothing.
        Assert.Equal(3, (int)(await server.Get("/readyz"))["edition"]!);
        Assert.Equal(0, await server.Stop());
    }

    [Fact]
    public async Task A_copy_leaves_an_end_behind_that_has_passed()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        var (_, copy) = await server.Send(HttpMethod.Post, "/api/promotions/rail-clear/copy");
        Assert.Empty(copy!["document"]!["window"]!.AsObject());
    }

    [Fact]
    public async Task The_tape_as_a_case_file_prices_the_same_from_the_command_line()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        var cart = (JsonObject)(await server.Get("/api/shop"))["samples"]![0]!["cart"]!;
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart });
        var (_, file) = await server.Send(HttpMethod.Post, "/api/tape/case", new { cart });

        var (exit, output, _) = RunningServer.Run(file!.ToJsonString(), "price");

        Assert.Equal(0, exit);
        Assert.Equal((string)tape!["print"]!["totals"]!["due"]!, (string)JsonNode.Parse(output)!["totals"]!["due"]!);
        Assert.Equal("155.84", (string)tape["print"]!["totals"]!["due"]!);
    }

    [Fact]
    public async Task The_schemas_are_served()
    {
        await using var server = await RunningServer.Start(demo: false);
        foreach (var name in (string[])["case", "promotion", "result"])
            Assert.Equal("https://json-schema.org/draft/2020-12/schema", (string)(await server.Get($"/schemas/{name}.json"))["$schema"]!);
    }

    [Fact]
    public async Task The_web_app_and_its_types_follow_the_servers_own_document()
    {
        await using var server = await RunningServer.Start(demo: false);
        var committed = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(RunningServer.Root, "src/web/src/api/openapi.json")));
        Assert.True(JsonNode.DeepEquals(committed, await server.Get("/openapi/v1.json")), "The OpenAPI document changed: run 'make api'.");
        var schema = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(RunningServer.Root, "src/web/src/api/promotion.schema.json")));
        Assert.True(
            JsonNode.DeepEquals(schema, await server.Get("/schemas/promotion.json")),
            "The promotion's schema changed: run 'make api'."
        );
        Assert.Contains("<div id=\"root\">", await server.Http.GetStringAsync("/promotions/some-page"));
    }
}
