using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>
/// Every call that the OpenAPI document describes, sent right and wrong: what comes back is what the document says, and never a fault of
/// the program.
/// </summary>
public class ContractTests
{
    private static readonly string[] Bodies =
    [
        "",
        "{",
        "null",
        "7",
        "[]",
        "{}",
        "\"\\ud800\"",
        """{"cart": null}""",
        """{"cart": {}, "draft": []}""",
        """{"revision": 1e99, "document": {}}""",
        """{"revision": 1, "revision": 1}""",
        """{"document": {"id": 7, "name": "\ud800"}}""",
        """{"cart": {"at": "9999-12-31T23:59:59Z", "lines": [{"sku": "\u0000", "quantity": 1}]}}""",
        """{"in": [{"all": true}], "priceFrom": "NaN"}""",
        new string('[', 3_000),
        $"\ufeff{{}}",
    ];

    private static readonly string[] Words =
    [
        "",
        "no-such",
        "p1",
        "-1",
        "1e9",
        "\ud83d\ude00",
        "9999-12-31T23:59:59Z",
        "%00",
        "a/b",
        "'; DROP TABLE promotions; --",
    ];

    [Theory]
    [InlineData("the demo shop")]
    [InlineData("a shop just opened")]
    public async Task Whatever_is_sent_is_answered_as_the_document_says(string shop)
    {
        var isDemo = shop == "the demo shop";
        await using var server = isDemo ? await RunningServer.Start() : await JustOpened();
        var document = await server.Get("/openapi/v1.json");
        // The store interface is asked by somebody with a key.
        var key = (string)(await server.Get("/api/counter"))["key"]!;
        var sent = 0;
        foreach (var (path, operations) in document["paths"]!.AsObject())
        {
            foreach (var (method, operation) in operations!.AsObject())
            {
                // It ends this server: it is tested where the demo shop is left.
                if ((string?)operation!["operationId"] == "leaveDemo")
                    continue;
                var declared = operation!["responses"]!.AsObject().Select(response => response.Key).ToHashSet();
                var takesBody = operation["requestBody"] is not null;
                foreach (var word in Words)
                {
                    foreach (var body in takesBody ? Bodies : [""])
                    {
                        using var request = new HttpRequestMessage(new(method.ToUpperInvariant()), Address(path, operation, word));
                        if (path.StartsWith("/store", StringComparison.Ordinal))
                            request.Headers.Authorization = new("Bearer", key);
                        if (takesBody)
                            request.Content = new StringContent(
                                body,
                                Encoding.UTF8,
                                path.EndsWith("/bring", StringComparison.Ordinal) ? "text/csv" : "application/json"
                            );
                        using var answer = await server.Http.SendAsync(request);
                        var text = await answer.Content.ReadAsStringAsync();
                        var told =
                            $"{method} {request.RequestUri} {body[..Math.Min(60, body.Length)]}: {(int)answer.StatusCode} {text[..Math.Min(200, text.Length)]}";
                        sent++;
                        // What is in the way of a path may lead nowhere at all.
                        Assert.True(declared.Contains($"{(int)answer.StatusCode}") || (int)answer.StatusCode is 404 or 405, told);
                        Assert.True((int)answer.StatusCode is < 500 or 503, told);
                        if ((int)answer.StatusCode < 400)
                            continue;
                        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
                        var refusal = JsonNode.Parse(text)!;
                        Assert.NotEmpty(refusal["problems"]!.AsArray());
                        Assert.DoesNotContain("System.", text);
                        Assert.DoesNotContain("Int64", text);
                        Assert.DoesNotContain("Nullable", text);
                    }
                }

                using var wrong = new HttpRequestMessage(HttpMethod.Patch, Address(path, operation, "p1"));
                using var notDone = await server.Http.SendAsync(wrong);
                Assert.Equal((405, true), ((int)notDone.StatusCode, notDone.Content.Headers.Allow.Count > 0));
            }
        }

        Assert.True(sent > 1_000, $"{sent} sent");
        // And it still works.
        Assert.Equal(
            200,
            (
                await server.Send(
                    HttpMethod.Post,
                    "/api/tape",
                    new { cart = isDemo ? Documents.Cart(("INNER-TUBE-28", 3)) : Documents.Cart() }
                )
            ).Status
        );
        Assert.Equal("ready", (string)(await server.Get("/readyz"))["status"]!);
    }

    [Fact]
    public async Task A_shop_that_was_just_opened_answers_whoever_asks_for_a_list()
    {
        await using var server = await JustOpened();
        var listed = 0;
        foreach (var (path, operations) in (await server.Get("/openapi/v1.json"))["paths"]!.AsObject())
        {
            if (
                operations!["get"] is not { } operation
                || path.Contains('{', StringComparison.Ordinal)
                || !path.StartsWith("/api/", StringComparison.Ordinal)
            )
                continue;
            if ((operation["parameters"]?.AsArray() ?? []).Any(parameter => (bool?)parameter!["required"] == true))
                continue;
            using var answer = await server.Http.GetAsync(new Uri(path, UriKind.Relative));
            Assert.True((int)answer.StatusCode is 200 or 204, $"{path}: {(int)answer.StatusCode}");
            listed++;
        }

        Assert.True(listed > 15, $"{listed} lists");
    }

    private static async Task<RunningServer> JustOpened()
    {
        var server = await RunningServer.Start(demo: false);
        var (status, _) = await server.Send(
            HttpMethod.Post,
            "/api/opening",
            new
            {
                name = "Newly opened",
                currency = "EUR",
                timeZone = "Europe/Berlin",
                locale = "de-DE",
                country = "DE",
                countryName = "Germany",
                taxMode = "none",
            }
        );
        Assert.InRange(status, 200, 299);
        return server;
    }

    private static string Address(string path, JsonNode operation, string word)
    {
        var query = new List<string>();
        foreach (var parameter in operation["parameters"]?.AsArray() ?? [])
        {
            var name = (string)parameter!["name"]!;
            if ((string)parameter["in"]! == "path")
                path = path.Replace($"{{{name}}}", word.Length == 0 ? "x" : Uri.EscapeDataString(word), StringComparison.Ordinal);
            else
                query.Add($"{name}={Uri.EscapeDataString(word)}");
        }

        return query.Count == 0 ? path : $"{path}?{string.Join('&', query)}";
    }
}
