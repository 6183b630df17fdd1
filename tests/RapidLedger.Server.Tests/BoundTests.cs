using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>
/// Every number of what is at most or at least taken: what stands at the end is taken, what is one further is refused at its place, in a
/// sentence that says the end.
/// </summary>
public sealed class BoundTests(BoundTests.Shop shop) : IClassFixture<BoundTests.Shop>
{
    private const long Billion = 1_000_000_000;

    /// <summary>One call with a value in it.</summary>
    /// <param name="Request">Method and path; <c>#</c> is the number, <c>§</c> a text so long, <c>…item#…</c> so many items.</param>
    /// <param name="Body">JSON, a line of JSON, or a table.</param>
    /// <param name="At">Where it is refused.</param>
    /// <param name="Least">The least that is taken; null: anything below.</param>
    /// <param name="Most">The most; null: there is none that stays the same.</param>
    /// <param name="Said">How the sentence says the most, where it counts in another way.</param>
    private sealed record Bound(string Request, string? Body, string At, long? Least, long? Most, string? Said = null);

    // No call with a revision of 0 changes anything: it is in conflict, which is said behind what is wrong with it.
    private static readonly Bound[] All =
    [
        new("GET /api/promotions?take=#", null, "/take", 0, 1_000),
        new("GET /api/promotions/findings?ids=…p#…", null, "/ids", null, 200),
        new("GET /api/editions?take=#", null, "/take", 0, 500),
        new("GET /api/goods?take=#", null, "/take", 1, 500),
        new("GET /api/shoppers/page?take=#", null, "/take", 1, 500),
        new("GET /store/v1/orders?take=#", null, "/take", 1, 1_000),
        new("GET /store/v1/items?take=#", null, "/take", 1, 1_000),
        new("POST /api/promotions/letter15/pause", """{"revision": 0, "reason": "§"}""", "/reason", null, 200),
        new("POST /api/promotions/letter15/dates", """{"revision": 0, "days": 1, "reason": "§"}""", "/reason", null, 200),
        new("POST /api/promotions/letter15/dates", """{"revision": 0, "days": #}""", "/days", -3_660, 3_660),
        new("POST /api/promotions/letter15/dates", """{"revision": 0, "endDays": #}""", "/days", -3_660, 3_660),
        new("PUT /api/promotions/letter15/meant", """{"finding": "§", "words": "a", "meant": false}""", "", 1, 300),
        new("PUT /api/promotions/letter15/meant", """{"finding": "none", "words": "§", "meant": false}""", "", 1, 2_000),
        new(
            "PUT /api/promotions/letter15/draft",
            """{"revision": 0, "document": {"name": "§"}}""",
            "/document",
            null,
            1_000_000 - 12,
            "1000000"
        ),
        new("POST /api/tape?effort=#", """{"cart": {"lines": []}}""", "/effort", 1, 1_000),
        new("POST /api/tape", """{"cart": {"codes": […"A#"…], "lines": []}}""", "/codes", null, 1_000),
        new("POST /api/tape", """{"cart": {"lines": [{"sku": "INNER-TUBE-28", "quantity": #}]}}""", "/lines/0/quantity", 1, 1_000_000),
        new(
            "POST /api/curve",
            """{"cart": {"lines": []}, "draft": {"id": "d", "name": "D", "rewards": [{"kind": "points", "fixed": 1}]}, "most": #}""",
            "/most",
            1,
            200
        ),
        new("POST /api/codes/void/many", """{"codes": […"NO-#"…], "void": true}""", "/codes", 1, 200),
        new("POST /api/batches", """{"count": 1, "note": "§"}""", "/note", null, 200),
        new("POST /api/batches/hardness", """{"count": #, "note": "none"}""", "/count", 1, 1_000_000),
        new("POST /api/keys", """{"kind": "page", "name": "§"}""", "/name", 1, 100),
        new("PUT /api/stock/INNER-TUBE-28", """{"free": #}""", "/free", 0, Billion),
        new("PUT /api/stock/INNER-TUBE-28", """{"by": #}""", "/by", -Billion, Billion),
        new("POST /api/words/rename", """{"kind": "brand", "word": "none", "becomes": "§"}""", "/becomes", 1, 200),
        new("PUT /api/goods/categories", """{"id": "none", "name": "§", "parent": null}""", "/name", 1, 200),
        new("POST /api/goods", """{"items": [{"sku": "INNER-TUBE-28", "name": "§"}]}""", "/items/0/name", null, 500),
        new("POST /api/goods", """{"items": [{"sku": "INNER-TUBE-28", "brand": "§"}]}""", "/items/0/brand", null, 200),
        new("POST /api/goods", """{"items": [{"sku": "INNER-TUBE-28", "tags": ["a", "§"]}]}""", "/items/0/tags", null, 200),
        new("POST /api/goods", """{"items": [{"sku": "INNER-TUBE-28", "options": {"§": "a"}}]}""", "/items/0/options", null, 200),
        new("POST /api/goods", """{"items": [{"sku": "INNER-TUBE-28", "category": ["§"]}]}""", "/items/0/category", 1, 200),
        new("POST /api/goods", """{"items": [{"sku": "INNER-TUBE-28", "stock": #}]}""", "/items/0/stock", 0, Billion),
        new("POST /api/shoppers", """{"shoppers": [{"id": "§"}]}""", "/shoppers/0/id", 1, 200),
        new("POST /api/shoppers", """{"shoppers": [{"id": "bound", "name": "§"}]}""", "/shoppers/0/name", null, 200),
        new("POST /api/shoppers", """{"shoppers": [{"id": "bound", "orders": #}]}""", "/shoppers/0/orders", 0, Billion),
        new("POST /api/shoppers", """{"shoppers": […{"id": "bound-#"}…]}""", "/shoppers", 1, 500),
        new("POST /store/v1/orders", """{"cart": {"lines": []}, "shown": "", "id": "§"}""", "/id", 1, 64),
        new("POST /store/v1/orders", """{"cart": {"lines": []}, "shown": "", "hold": #}""", "/hold", 1, 14 * 24 * 60 * 60, "14 days"),
        new("PUT /store/v1/stock", """{"sku": "INNER-TUBE-28", "stock": #}""", "/0/stock", 0, Billion),
        new("PUT /store/v1/items", """{"sku": "INNER-TUBE-28", "name": "§"}""", "/0/name", null, 500),
        new(
            "POST /api/imports?what=orders&name=a.csv",
            "order,sku,at,quantity,paid\nB,INNER-TUBE-28,2026-01-01,#,1\n",
            "quantity",
            1,
            1_000_000
        ),
        new("POST /api/imports?what=orders&name=a.csv", "order,sku,at,quantity,paid\n§,INNER-TUBE-28,2026-01-01,1,1\n", "order", null, 200),
        new("POST /api/imports?what=orders&name=a.csv", "order,sku,at,quantity,paid\nB,A,#-01-01,1,1\n", "at", 1990, null),
        new("POST /api/settings/look", """{"number": 0, "settings": {"name": "§", "locale": "en-GB"}}""", "/settings/name", 1, 100),
        new(
            "POST /api/settings/look",
            """{"number": 0, "settings": {"name": "A", "locale": "en-GB", "effort": #}}""",
            "/settings/effort",
            1,
            1_000
        ),
        new(
            "POST /api/settings/look",
            """{"number": 0, "settings": {"name": "A", "locale": "en-GB", "holdMinutes": #}}""",
            "/settings/holdMinutes",
            1,
            20_160
        ),
        new(
            "POST /api/settings/look",
            """{"number": 0, "settings": {"name": "A", "locale": "en-GB", "link": "https://a.example/{code}§"}}""",
            "/settings/link",
            null,
            500 - 24,
            "500"
        ),
    ];

    public static TheoryData<int> Places => [.. Enumerable.Range(0, All.Length)];

    [Theory]
    [MemberData(nameof(Places))]
    public async Task What_stands_at_the_end_is_taken_and_what_is_one_further_is_refused_there(int place)
    {
        var bound = All[place];
        if (bound.Least is { } least)
        {
            Assert.Null(await Refusal(bound, least));
            Assert.NotEmpty((await Refusal(bound, least - 1))!);
        }

        if (bound.Most is not { } most)
            return;
        Assert.Null(await Refusal(bound, most));
        Assert.Contains(bound.Said ?? $"{most}", await Refusal(bound, most + 1), StringComparison.Ordinal);
    }

    // What is said of it at its place; whatever else is wrong with the call is not asked here.
    private async Task<string?> Refusal(Bound bound, long value)
    {
        var (method, path) = bound.Request.Split(' ') is [var first, var second] ? (new HttpMethod(first), second) : default;
        using var request = new HttpRequestMessage(method, Filled(path!, value));
        if (path!.StartsWith("/store", StringComparison.Ordinal))
        {
            request.Headers.Authorization = new("Bearer", shop.Key);
            request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
        }

        if (bound.Body is not null)
        {
            var kind =
                path.Contains("imports", StringComparison.Ordinal) ? "application/octet-stream"
                : method == HttpMethod.Put && path.StartsWith("/store", StringComparison.Ordinal) ? "application/x-ndjson"
                : "application/json";
            request.Content = new StringContent(Filled(bound.Body, value), null, kind);
        }

        TestContext.Current.TestOutputHelper?.WriteLine($"{bound.Request} {bound.Body} with {value}");
        using var response = await shop.Server.Http.SendAsync(request);
        var text = await response.Content.ReadAsStringAsync();
        Assert.True((int)response.StatusCode < 500, text);
        TestContext.Current.TestOutputHelper?.WriteLine($"{(int)response.StatusCode} {text[..Math.Min(text.Length, 1_000)]}");
        if (!text.StartsWith('{'))
            return null;
        var answer = JsonNode.Parse(text)!;
        var faults = answer["problems"] ?? answer["cartProblems"] ?? answer["look"]?["bad"];
        if (path.Contains("imports", StringComparison.Ordinal))
            await shop.Server.Send(HttpMethod.Delete, $"/api/imports/{answer["id"]}");
        return (faults?.AsArray() ?? [])
            .Where(fault => (string?)(fault!["at"] ?? fault["member"]) == bound.At)
            .Select(fault => (string)fault!["message"]!)
            .FirstOrDefault();
    }

    private static string Filled(string written, long value)
    {
        if (written.Split('…') is [var before, var item, var after])
            return before
                + string.Join(
                    ',',
                    Enumerable.Range(0, (int)value).Select(number => item.Replace("#", $"{number}", StringComparison.Ordinal))
                )
                + after;
        return written
            .Replace("#", $"{value}", StringComparison.Ordinal)
            .Replace("§", new string('x', (int)Math.Max(0, written.Contains('§') ? value : 0)), StringComparison.Ordinal);
    }

    /// <summary>A shop of which nothing else is asked, with a key for it.</summary>
    public sealed class Shop : IAsyncLifetime
    {
        internal RunningServer Server { get; private set; } = null!;

        internal string Key { get; private set; } = "";

        public async ValueTask InitializeAsync()
        {
            Server = await RunningServer.Start();
            Key = Store.NewKey(Server, "server");
        }

        public ValueTask DisposeAsync() => Server.DisposeAsync();
    }
}
