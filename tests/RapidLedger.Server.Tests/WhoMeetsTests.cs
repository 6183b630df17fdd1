using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Who meets whom, as the place asks for it and as a pipeline does; and how that is changed.</summary>
public sealed class WhoMeetsTests
{
    [Fact]
    public void The_command_tells_every_pair_of_the_demo_shop_with_a_case_that_prices_as_it_says()
    {
        var (exit, output, errors) = RunningServer.Run("", "meetings", Path.Combine(RunningServer.Root, "demo"));
        Assert.Equal((0, ""), (exit, errors));
        JsonNode[] pairs = [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => JsonNode.Parse(line)!)];
        var live = pairs.SelectMany(pair => new[] { (string)pair["a"]!, (string)pair["b"]! }).Distinct().Count();
        Assert.Equal(live * (live - 1) / 2, pairs.Length);
        // At most one in a hundred is left open.
        Assert.True(pairs.Count(pair => (string)pair["verdict"]! == "notFound") * 100 <= pairs.Length);
        Assert.All(pairs, pair => Assert.Equal((string)pair["verdict"]! == "never", pair["ground"] is not null));
        string[] grounds = [.. pairs.Select(pair => (string?)pair["ground"]).OfType<string>().Distinct().Order()];
        Assert.Equal(["family", "place", "stacking", "window"], grounds);
        // Those that can meet are priced as the case stands, some of every promotion.
        JsonNode[] shown = [.. pairs.Where(pair => pair["case"] is not null).Where((_, place) => place % 4 == 0)];
        var priced = RunningServer.Run(string.Join('\n', shown.Select(pair => pair["case"]!.ToJsonString())), "price");
        foreach (var (pair, line) in shown.Zip(priced.Output.Split('\n', StringSplitOptions.RemoveEmptyEntries)))
        {
            string[] applied =
            [
                .. JsonNode.Parse(line)!["promotions"]!
                    .AsArray()
                    .Where(promotion => (bool?)promotion!["applied"] == true)
                    .Select(promotion => (string)promotion!["id"]!),
            ];
            Assert.Equal((string)pair["verdict"]! == "can", applied.Contains((string)pair["a"]!) && applied.Contains((string)pair["b"]!));
        }

        // A case file gives its own promotions and moment; one promotion alone has the pairs it is in.
        var file = Path.GetTempFileName();
        File.WriteAllText(file, pairs.First(pair => pair["case"] is not null)["case"]!.ToJsonString());
        var (_, some, _) = RunningServer.Run("", "meetings", file, "--promotion", "staff-30");
        Assert.Equal(live - 1, some.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length);
        Assert.Equal(1, RunningServer.Run("", "meetings", file, "--promotion", "nobody").Exit);
        Assert.Equal(1, RunningServer.Run("", "meetings", file + ".none").Exit);
        File.Delete(file);
    }

    [Fact]
    public async Task What_two_are_to_each_other_is_written_into_their_drafts_and_found_again()
    {
        await using var server = await RunningServer.Start();
        var table = await Until(server, "/api/meetings", answer => (int)answer["known"]! == (int)answer["pairs"]!);
        var rows = table["rows"]!.AsArray();
        Assert.Equal(rows.Count * (rows.Count - 1) / 2, (int)table["pairs"]!);
        // A draft beside what is live takes part as it is being written.
        Assert.Contains(rows, row => (bool)row!["isDraft"]!);
        Assert.Equal("none", (string)Row(table, "staff-30")["heading"]!);
        Assert.Equal(
            ("family", "season"),
            ((string)Row(table, "workshop-weeks")["heading"]!, (string)Row(table, "workshop-weeks")["family"]!)
        );

        var before = await Of(server, "tyre-pair");
        Assert.Equal((int)Row(table, "tyre-pair")["meets"]!, before["pairs"]!.AsArray().Count(pair => (string?)pair!["verdict"] == "can"));
        var pair = Pair(before, "night-set");
        Assert.Equal("can", (string)pair["verdict"]!);
        // The cart lies on the tape as it is: both apply to it.
        var (status, printed) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = pair["cart"] });
        Assert.True(status == 200, printed?.ToJsonString());
        Assert.Equal(
            2,
            printed!["print"]!["entries"]!.AsArray().Count(entry => (string?)entry!["promotion"] is "tyre-pair" or "night-set")
        );

        Assert.Equal((decimal?)printed["print"]!["marginPercent"], (decimal?)pair["margin"]);
        Assert.EndsWith(
            "“Repair cards with wheel parts” is used up, so it does not apply on the tape.",
            (string)Pair(before, "wheel-cards")["why"]!,
            StringComparison.Ordinal
        );

        // So do all that are told to be the most in one cart.
        var most = before["most"]!;
        string[] names = [.. most["names"]!.AsArray().Select(name => (string)name!)];
        var (_, file) = await server.Send(HttpMethod.Post, "/api/tape/case", new { cart = most["cart"] });
        // Nothing has been used there.
        file!.AsObject().Remove("usage");
        var priced = JsonNode.Parse(RunningServer.Run(file!.ToJsonString().ReplaceLineEndings(""), "price").Output)!;
        string[] applied =
        [
            .. priced["promotions"]!
                .AsArray()
                .Where(promotion => (bool?)promotion!["applied"] == true)
                .Select(promotion => (string)Row(table, (string)promotion!["id"]!)["name"]!),
        ];
        Assert.Equal(names, applied);
        Assert.True(names.Length > 3);

        // Never, of one family, and as it was.
        var drafts = await Change(server, "tyre-pair", "night-set", "never");
        Assert.Equal(["tyre-pair"], drafts.Select(draft => (string)draft!["id"]!));
        Assert.Contains("anything but “Night set”", (string)drafts[0]!["sentence"]!);
        Assert.Equal("can", (string)Pair(await Of(server, "tyre-pair"), "night-set")["verdict"]!);
        await Write(server, drafts);
        Assert.Equal(("never", "stacking"), Verdict(await Of(server, "tyre-pair"), "night-set"));
        var back = await Change(server, "night-set", "tyre-pair", "can");
        Assert.Equal(["tyre-pair"], back.Select(draft => (string)draft!["id"]!));
        await Write(server, back);
        Assert.Equal("can", Verdict(await Of(server, "night-set"), "tyre-pair").Verdict);
        await Write(server, await Change(server, "tyre-pair", "night-set", "family", "season"));
        Assert.Equal(("never", "family"), Verdict(await Of(server, "tyre-pair"), "night-set"));
        await Write(server, await Change(server, "tyre-pair", "night-set", "can"));
        Assert.Equal("can", Verdict(await Of(server, "tyre-pair"), "night-set").Verdict);
        // What stands alone lets one in.
        await Write(server, await Change(server, "staff-30", "night-set", "can"));
        Assert.Equal("can", Verdict(await Of(server, "staff-30"), "night-set").Verdict);
        // What naming one promotion does not bring about is refused, with what to do: a markdown makes prices whatever stands beside it.
        Assert.Equal(422, (await Asked(server, "rain-week", "tyre-pair", "never")).Status);
        // Nothing of it is live yet.
        Assert.Equal("none", (string)(await server.Get("/api/promotions/staff-30"))["saved"]!["stacking"]!["allow"]!);

        foreach (
            var (one, other, to, family, refused) in new[]
            {
                ("nobody", "night-set", "never", (string?)null, 404),
                ("night-set", "nobody", "never", null, 404),
                ("night-set", "night-set", "never", null, 422),
                ("night-set", "tyre-pair", "sometimes", null, 422),
                ("night-set", "tyre-pair", "family", "nobody's", 422),
            }
        )
            Assert.Equal(refused, (await Asked(server, one, other, to, family)).Status);
    }

    [Fact]
    public async Task Where_one_always_goes_before_the_other_each_says_its_part()
    {
        var own = OwnShop.Of("AUD");
        await using var server = await own.Serve();
        string At(string price) =>
            $$"""{"name": "At {{price}}", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "A"}]}, "take": {"price": "{{price}}"}, "per": "unit"}]}""";
        var (low, high) = (await Store.PutLive(server, At("5.00")), await Store.PutLive(server, At("8.00")));
        Assert.Equal(("wins", "loses"), (Verdict(await Of(server, low), high).Verdict, Verdict(await Of(server, high), low).Verdict));
    }

    [Fact]
    public async Task A_row_that_is_moved_stands_there_then_and_all_others_as_before()
    {
        await using var server = await RunningServer.Start();
        var random = new Random(7);
        for (var round = 0; round < 12; round++)
        {
            string[] order = [.. (await server.Get("/api/meetings"))["rows"]!.AsArray().Select(row => (string)row!["id"]!)];
            var moved = order[random.Next(order.Length)];
            var before = round % 4 == 0 ? null : order.Where(id => id != moved).ElementAt(random.Next(order.Length - 1));
            var (status, answer) = await server.Send(HttpMethod.Post, "/api/meetings/move", new { id = moved, before });
            Assert.Equal(200, status);
            var drafts = answer!.AsArray();
            Assert.True(drafts.Count == 0 || (string)drafts[0]!["id"]! == moved);
            await Write(server, drafts);
            List<string> expected = [.. order.Where(id => id != moved)];
            expected.Insert(before is null ? expected.Count : expected.IndexOf(before), moved);
            Assert.Equal(expected, (await server.Get("/api/meetings"))["rows"]!.AsArray().Select(row => (string)row!["id"]!));
        }

        foreach (
            var (id, before, refused) in new[]
            {
                ("nobody", "night-set", 404),
                ("night-set", "nobody", 404),
                ("night-set", "night-set", 422),
            }
        )
            Assert.Equal(refused, (await server.Send(HttpMethod.Post, "/api/meetings/move", new { id, before })).Status);
    }

    [Fact]
    public async Task What_a_second_look_finds_of_the_demo_shop_is_told_apart_and_names_whom_it_is_about()
    {
        await using var server = await RunningServer.Start();
        var together = 0;
        foreach (var id in (await server.Get("/api/meetings"))["rows"]!.AsArray().Select(row => (string)row!["id"]!))
        {
            var (status, found) = await server.Send(
                HttpMethod.Post,
                "/api/review",
                new { draft = (await server.Get($"/api/promotions/{id}"))["document"] }
            );
            Assert.Equal(200, status);
            var findings = found!.AsArray();
            Assert.Equal(
                findings.Count,
                findings
                    .Select(finding => ((string)finding!["check"]!, (string)finding["at"]!, (string?)finding["other"]))
                    .Distinct()
                    .Count()
            );
            Assert.All(
                findings.Where(finding => (string)finding!["check"]! is "belowCostTogether" or "meets" or "addsToMarkdown"),
                finding => Assert.NotNull((string?)finding!["other"])
            );
            together += findings.Count(finding => (string)finding!["check"]! == "belowCostTogether");
        }

        Assert.True(together > 5, $"{together}");
    }

    private static JsonNode Row(JsonNode table, string id) => table["rows"]!.AsArray().First(row => (string)row!["id"]! == id)!;

    private static JsonNode Pair(JsonNode of, string id) => of["pairs"]!.AsArray().First(pair => (string)pair!["id"]! == id)!;

    private static (string? Verdict, string? Ground) Verdict(JsonNode of, string id) =>
        ((string?)Pair(of, id)["verdict"], (string?)Pair(of, id)["ground"]);

    private static Task<JsonNode> Of(RunningServer server, string id) =>
        Until(server, $"/api/meetings/of/{id}", answer => (bool)answer["isWhole"]!);

    // Asked again as the page does it.
    private static async Task<JsonNode> Until(RunningServer server, string path, Func<JsonNode, bool> isWhole)
    {
        for (var asked = 0; asked < 200; asked++)
            if (await server.Get(path) is var answer && isWhole(answer))
                return answer;
        throw new InvalidOperationException($"{path} never came to an end.");
    }

    private static async Task<JsonArray> Change(RunningServer server, string one, string other, string to, string? family = null)
    {
        var (status, answer) = await Asked(server, one, other, to, family);
        Assert.True(status == 200, answer?.ToJsonString());
        return answer!.AsArray();
    }

    private static Task<(int Status, JsonNode? Body)> Asked(
        RunningServer server,
        string one,
        string other,
        string to,
        string? family = null
    ) =>
        server.Send(
            HttpMethod.Post,
            "/api/meetings/change",
            new
            {
                one,
                other,
                to,
                family,
            }
        );

    private static async Task Write(RunningServer server, JsonArray drafts)
    {
        foreach (var draft in drafts)
            Assert.Equal(
                200,
                (
                    await server.Send(
                        HttpMethod.Put,
                        $"/api/promotions/{draft!["id"]}/draft",
                        new { revision = (long)draft["revision"]!, document = draft["document"] }
                    )
                ).Status
            );
    }
}
