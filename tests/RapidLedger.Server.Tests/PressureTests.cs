using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Much at once: hard carts, writers that wait, callers that go away. Whoever asks whether the server lives is answered.</summary>
public class PressureTests
{
    [Fact]
    public async Task Hard_carts_are_priced_a_few_at_once_and_the_others_are_asked_to_come_again()
    {
        await using var server = await RunningServer.StartShipped();
        var hard = HardCase();
        var pricing = Enumerable
            .Range(0, 60)
            .Select(async _ =>
            {
                using var body = new StringContent(hard, Encoding.UTF8, "application/json");
                using var answer = await server.Http.PostAsync("/api/price?effort=20", body);
                return (answer.StatusCode, Again: answer.Headers.RetryAfter?.Delta);
            })
            .ToArray();

        await StaysAlive(server, () => pricing.All(one => one.IsCompleted));
        var answers = await Task.WhenAll(pricing);
        Assert.All(answers, answer =>
            Assert.True(answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.TooManyRequests, $"{answer.StatusCode}")
        );
        Assert.Contains(answers, answer => answer.StatusCode == HttpStatusCode.OK);
        Assert.All(answers.Where(answer => answer.StatusCode == HttpStatusCode.TooManyRequests), answer =>
            Assert.Equal(TimeSpan.FromSeconds(1), answer.Again)
        );
    }

    [Fact]
    public async Task Pricing_for_nobody_ends()
    {
        await using var server = await RunningServer.StartShipped();
        var hard = HardCase();
        for (var number = 0; number < 12; number++)
        {
            using var patience = new CancellationTokenSource(TimeSpan.FromMilliseconds(150));
            using var body = new StringContent(hard, Encoding.UTF8, "application/json");
            await Assert.ThrowsAnyAsync<OperationCanceledException>(() =>
                server.Http.PostAsync("/api/price?effort=1000", body, patience.Token)
            );
        }

        // All of those would keep it busy for longer than anybody waits.
        var (status, _) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 3)) });
        Assert.Equal(200, status);
    }

    [Fact]
    public async Task Writers_that_wait_for_another_program_hold_up_nobody_else()
    {
        await using var server = await RunningServer.StartShipped();
        Task<(int Status, JsonNode? Body)>[] writing;
        using (var other = new SqliteConnection($"Data Source={server.Data};Pooling=False"))
        {
            other.Open();
            using var held = other.BeginTransaction(deferred: false);
            writing =
            [
                .. Enumerable
                    .Range(0, 40)
                    .Select(number => server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes($"W{number}") })),
            ];
            var asked = 0;
            await StaysAlive(server, () => ++asked > 30);
            Assert.All(writing, write => Assert.False(write.IsCompleted));
            // What only reads goes on, pricing too.
            Assert.Equal(
                200,
                (await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 1)) })).Status
            );
            held.Rollback();
        }

        Assert.All(await Task.WhenAll(writing), write => Assert.Equal(200, write.Status));
    }

    // It answers while the work is under way: were there no thread for it, it would only answer afterwards.
    private static async Task StaysAlive(RunningServer server, Func<bool> isOver)
    {
        using var apart = new HttpClient { BaseAddress = server.Address };
        _ = await apart.GetStringAsync("/healthz");
        var answered = 0;
        while (!isOver())
        {
            using var answer = await apart.GetAsync("/healthz");
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            if (!isOver())
                answered++;
            await Task.Delay(10);
        }

        Assert.True(answered > 0, "Nobody was answered before the work was done.");
    }

    // Bundles and buy-gets that all want the same units, and exclude one another in pairs.
    internal static string HardCase()
    {
        var random = new Random(7);
        var items = string.Join(
            ',',
            Enumerable
                .Range(0, 40)
                .Select(number =>
                    $$"""{"id": "p{{number}}", "name": "P", "variants": [{"sku": "S{{number}}", "regular": "{{10 + random.Next(90)}}.{{random.Next(10, 99)}}"}]}"""
                )
        );
        string Some() => string.Join(',', Enumerable.Range(0, 12).Select(_ => $"{{\"sku\": \"S{random.Next(40)}\"}}").Distinct());
        var promotions = string.Join(
            ',',
            Enumerable
                .Range(0, 60)
                .Select(number =>
                    $$"""
                        {"id": "r{{number}}", "stacking": {"allow": "except", "with": ["promotion:r{{(number + 1 + random.Next(58))
                            % 60}}", "promotion:r{{(number + 7) % 60}}"]},
                         "rewards": [{"kind": "bundle", "slots": [{"of": {"in": [{{Some()}}]}, "quantity": 2}, {"of": {"in": [{{Some()}}]}, "quantity": 1}], "take": {"percent": {{5
                            + random.Next(30)}} }, "repeat": "every"}]}
                        """
                )
        );
        var lines = string.Join(
            ',',
            Enumerable.Range(0, 40).Select(number => $$"""{"sku": "S{{number}}", "quantity": {{1 + random.Next(3)}} }""")
        );
        return $$"""{"store": {"currency": "EUR"}, "catalogue": {"products": [{{items}}]}, "promotions": [{{promotions}}], "cart": {"at": "2027-03-05T10:00:00Z", "lines": [{{lines}}]} }""";
    }
}
