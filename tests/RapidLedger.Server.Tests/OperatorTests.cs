using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>What an operator meets: starts that cannot be, backups, figures, an end that loses nothing.</summary>
public class OperatorTests(Served served)
{
    private readonly string folder = Directory.CreateTempSubdirectory("operate").FullName;

    [Fact]
    public void A_start_that_cannot_be_says_why_in_one_sentence()
    {
        var poem = Path.Combine(folder, "poem.txt");
        File.WriteAllText(poem, string.Concat(Enumerable.Repeat("roses are red, violets are blue\n", 50)));
        foreach (
            var (arguments, said) in new (string[], string)[]
            {
                (["serve", "--port", $"{served.Server.Address.Port}", "--data", Path.Combine(folder, "a.db")], "is in use"),
                (["serve", "--port", "0", "--data", poem], "not a file of Rapid Ledger"),
                (["serve", "--port", "0", "--data", folder], "cannot be opened"),
                (["serve", "--port", "0", "--bind", "0.0.0.0", "--data", Path.Combine(folder, "b.db")], "--unprotected"),
                (["serve", "--port", "70000"], "0 to 65535"),
                (["backup", Path.Combine(folder, "c.db"), "--data", Path.Combine(folder, "none.db")], "no store"),
            }
        )
        {
            var (exit, _, errors) = RunningServer.Run("", arguments);
            Assert.Equal(1, exit);
            Assert.Contains(said, errors);
            Assert.DoesNotContain("   at ", errors);
        }
    }

    [Fact]
    public void Asked_to_end_before_it_is_open_it_ends_without_a_word()
    {
        // While it fills the demo shop.
        var data = Path.Combine(folder, "early.db");
        Assert.Equal(
            (0, "", ""),
            RunningServer.Shell(
                $"\"{RunningServer.Executable}\" serve --demo --port 0 --data {data} & until [ -s {data} ]; do sleep 0.02; done; kill -TERM $!; wait $!",
                ""
            )
        );
    }

    [Fact]
    public async Task A_backup_of_a_served_store_is_a_store()
    {
        await using var server = await RunningServer.StartShipped();
        await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("KEPT") });
        var backup = Path.Combine(folder, "backup.db");
        Assert.Equal(0, RunningServer.Run("", "backup", backup, "--data", server.Data).Exit);

        await using var restored = await RunningServer.StartShipped(demo: false, data: backup);
        Assert.Equal((int)(await server.Get("/api/promotions"))["all"]!, (int)(await restored.Get("/api/promotions"))["all"]!);
        Assert.Equal("Kestrelmoor Cycles", (string)(await restored.Get("/api/shop"))["name"]!);
    }

    [Fact]
    public async Task Figures_are_there_for_whoever_watches()
    {
        await using var server = await RunningServer.StartShipped();
        await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 1)) });
        // Prometheus' text format: name, labels, value (prometheus.io/docs/instrumenting/exposition_formats).
        var figures = (await server.Http.GetStringAsync("/metrics"))
            .Split('\n')
            .Where(line => line.Length > 0 && line[0] != '#')
            .Select(line => line.Split(' '))
            .ToDictionary(parts => string.Join(' ', parts[..^1]), parts => parts[^1]);
        Assert.Equal(
            ("1", "1", "0"),
            (figures["rapid_ledger_pricing_seconds_count"], figures["rapid_ledger_edition"], figures["rapid_ledger_pricing_waiting"])
        );
        Assert.True(double.Parse(figures["rapid_ledger_database_bytes"], System.Globalization.CultureInfo.InvariantCulture) > 100_000);
        Assert.Contains(figures.Keys, name =>
            name.StartsWith("http_requests_received_total", StringComparison.Ordinal)
            && name.Contains("/api/tape", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task A_live_promotion_that_can_no_longer_be_read_is_shown_and_not_dropped_in_silence()
    {
        var file = Path.Combine(folder, "broken.db");
        await using (var server = await RunningServer.StartShipped(data: file))
            await server.Stop();
        using (var connection = new SqliteConnection($"Data Source={file};Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                """UPDATE versions SET document = replace(document, '"tubes"', '"hoses"') WHERE promotion_id = 'tubes-3for2'""";
            Assert.Equal(1, command.ExecuteNonQuery());
        }

        await using var again = await RunningServer.StartShipped(demo: false, data: file);
        var (_, tape) = await again.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 3)) });
        var first = tape!["print"]!["whyNot"]![0]!;
        Assert.Equal(("tubes-3for2", "failed"), ((string)first["promotion"]!, (string)first["reason"]!));
        Assert.Contains("hoses", (string)first["message"]!);
        Assert.Equal(1, (int)(await again.Get("/readyz"))["unreadable"]!);
    }

    [Fact]
    public async Task What_others_name_is_not_taken_away_unsaid_and_its_id_never_comes_again()
    {
        await using var server = await RunningServer.StartShipped();
        var (_, named) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("NAMED") });
        var id = (string)named!["id"]!;
        var (_, other) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("OTHER") });
        var naming = Documents
            .Tubes("OTHER")
            .With("name", "\"Naming\"")
            .With("stacking", $$"""{"allow": "except", "with": ["promotion:{{id}}"]}""");
        var (status, live) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{(string)other!["id"]!}/live",
            new { revision = 1, document = naming }
        );
        Assert.Equal(200, status);
        Assert.Contains("“Tubes”", live!["clauses"]!.AsArray().Select(clause => (string)clause!["text"]!).Last());

        var (refused, why) = await server.Send(HttpMethod.Delete, $"/api/promotions/{id}/draft?revision=1");
        Assert.Equal((422, "inUse"), (refused, (string)why!["problems"]![0]!["code"]!));
        Assert.Contains("Naming", (string)why["detail"]!);
        Assert.Equal(204, (await server.Send(HttpMethod.Delete, $"/api/promotions/{id}/draft?revision=1&confirmed=true")).Status);

        // Live goes on, and no other promotion is ever meant by that name.
        var (_, tape) = await server.Send(
            HttpMethod.Post,
            "/api/tape",
            new { cart = Documents.Cart(("INNER-TUBE-28", 1)).With("codes", "[\"OTHER\"]") }
        );
        Assert.Equal("applied", (string)tape!["print"]!["codes"]![0]!["status"]!);
        var (_, fresh) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("FRESH") });
        Assert.NotEqual(id, (string)fresh!["id"]!);
        Assert.Equal(
            404,
            (
                await server.Send(HttpMethod.Put, $"/api/promotions/{id}/draft", new { revision = 1, document = Documents.Tubes("STALE") })
            ).Status
        );
    }

    [Fact]
    public async Task A_draft_that_says_what_is_saved_is_none_and_a_state_can_be_taken_back()
    {
        await using var server = await RunningServer.StartShipped();
        var saved = await server.Get("/api/promotions/uk-eight");
        async Task<JsonNode> Do(HttpMethod method, string what, object body) =>
            (await server.Send(method, $"/api/promotions/uk-eight/{what}", body)).Body!;
        var changed = await Do(HttpMethod.Put, "draft", new { revision = (long)saved["revision"]!, document = Documents.Tubes("UK") });
        var back = await Do(HttpMethod.Put, "draft", new { revision = (long)changed["revision"]!, document = saved["document"] });
        Assert.Equal((true, false), ((bool)changed["hasDraft"]!, (bool)back["hasDraft"]!));

        var paused = await Do(HttpMethod.Post, "pause", new { revision = (long)back["revision"]! });
        var resumed = await Do(HttpMethod.Post, "resume", new { revision = (long)paused["revision"]! });
        Assert.Equal(("paused", "live"), ((string)paused["state"]!, (string)resumed["state"]!));
        // A code that rests says whose it is.
        var (_, tape) = await server.Send(
            HttpMethod.Post,
            "/api/tape",
            new { cart = Documents.Cart(("INNER-TUBE-28", 1)).With("codes", "[\"MOOR5\"]") }
        );
        Assert.Contains("paused", (string)tape!["print"]!["codes"]![0]!["message"]!);
    }
}
