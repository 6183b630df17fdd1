using System.Collections.Concurrent;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Two writers, many writers, a crash in the middle: nothing acknowledged is lost, nobody is overwritten unseen.</summary>
public class ConcurrencyTests(Served served)
{
    [Fact]
    public async Task Of_two_writers_the_second_is_told_and_shown_what_the_first_wrote()
    {
        var server = served.Server;
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("TWO") });
        var (id, revision) = ((string)begun!["id"]!, (long)begun["revision"]!);

        var (first, _) = await server.Send(
            HttpMethod.Put,
            $"/api/promotions/{id}/draft",
            new { revision, document = Documents.Tubes("FIRST") }
        );
        var (second, conflict) = await server.Send(
            HttpMethod.Put,
            $"/api/promotions/{id}/draft",
            new { revision, document = Documents.Tubes("SECOND") }
        );
        var (live, _) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{id}/live",
            new { revision, document = Documents.Tubes("SECOND") }
        );

        Assert.Equal((200, 409, 409), (first, second, live));
        Assert.Equal("FIRST", (string)conflict!["theirs"]!["document"]!["trigger"]!["codes"]![0]!);
        Assert.Equal("FIRST", (string)(await server.Get($"/api/promotions/{id}"))["document"]!["trigger"]!["codes"]![0]!);
    }

    [Fact]
    public async Task Of_many_writers_with_the_same_revision_exactly_one_wins()
    {
        var server = served.Server;
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes("MANY") });
        var writes = Enumerable
            .Range(0, 16)
            .Select(number =>
                server.Send(
                    HttpMethod.Put,
                    $"/api/promotions/{(string)begun!["id"]!}/draft",
                    new { revision = 1, document = Documents.Tubes($"MANY{number}") }
                )
            );
        Assert.Single(await Task.WhenAll(writes), write => write.Status == 200);
    }

    [Fact]
    public async Task A_crash_in_the_middle_of_writes_loses_nothing_that_was_acknowledged()
    {
        await using var server = await RunningServer.StartShipped();
        var acknowledged = new ConcurrentDictionary<string, (long Revision, string Code)>();
        var writers = Enumerable
            .Range(0, 4)
            .Select(async writer =>
            {
                var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = Documents.Tubes($"W{writer}") });
                var (id, revision) = ((string)begun!["id"]!, (long)begun["revision"]!);
                for (var number = 0; ; number++)
                {
                    var code = $"W{writer}N{number}";
                    try
                    {
                        var live = number % 5 == 4;
                        var (status, page) = await server.Send(
                            live ? HttpMethod.Post : HttpMethod.Put,
                            $"/api/promotions/{id}/{(live ? "live" : "draft")}",
                            new { revision, document = Documents.Tubes(code) }
                        );
                        Assert.Equal(200, status);
                        revision = (long)page!["revision"]!;
                        acknowledged[id] = (revision, code);
                    }
                    catch (Exception error) when (error is HttpRequestException or IOException)
                    {
                        return;
                    }
                }
            })
            .ToArray();

        using var patience = new CancellationTokenSource(TimeSpan.FromMinutes(1));
        while (acknowledged.Count < 4 || acknowledged.Values.Any(write => write.Revision < 12))
        {
            // A writer that failed says why.
            if (writers.FirstOrDefault(writer => writer.IsCompleted) is { } ended)
                await ended;
            await Task.Delay(5, patience.Token);
        }

        server.Kill();
        await Task.WhenAll(writers);
        await server.StartAgain();

        Assert.Equal(4, acknowledged.Count);
        foreach (var (id, (revision, code)) in acknowledged)
        {
            var page = await server.Get($"/api/promotions/{id}");
            var stored = (long)page["revision"]!;
            // The write under way at the crash may have been kept without its answer having arrived.
            Assert.InRange(stored, revision, revision + 1);
            if (stored == revision)
                Assert.Equal(code, (string)page["document"]!["trigger"]!["codes"]![0]!);
        }

        // What is live is whole: every edition's promotion can be priced.
        var (_, tape) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 1)) });
        Assert.NotNull(tape!["print"]);
    }
}
