using System.Net;
using System.Text;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Pages of other origins, and names that are not the server's own: neither read nor write.</summary>
public class StrangerTests(Served served)
{
    private readonly RunningServer server = served.Server;

    [Theory]
    [InlineData("Host", "shop.example", 421)]
    [InlineData("Host", "127.0.0.1.shop.example:80", 421)]
    [InlineData("Origin", "http://shop.example", 403)]
    [InlineData("Origin", "null", 403)]
    [InlineData("Origin", "http://127.0.0.1:1", 403)]
    [InlineData("Sec-Fetch-Site", "cross-site", 403)]
    [InlineData("Sec-Fetch-Site", "same-site", 403)]
    public async Task Is_kept_out(string header, string value, int status)
    {
        foreach (
            var (method, path) in new[]
            {
                (HttpMethod.Get, "/api/shop"),
                (HttpMethod.Post, "/api/promotions/letter15/copy"),
                (HttpMethod.Get, "/"),
                (HttpMethod.Get, "/metrics"),
            }
        )
            Assert.Equal(status, (int)(await Ask(method, path, (header, value))).StatusCode);
    }

    [Fact]
    public async Task Its_own_pages_and_programs_that_are_no_pages_are_answered()
    {
        var own = server.Address.GetLeftPart(UriPartial.Authority);
        Assert.Equal(HttpStatusCode.OK, (await Ask(HttpMethod.Get, "/api/shop", ("Origin", own))).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Ask(HttpMethod.Get, "/api/shop", ("Host", $"localhost:{server.Address.Port}"))).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Ask(HttpMethod.Get, "/api/shop", ("Sec-Fetch-Site", "same-origin"))).StatusCode);
        // A link from elsewhere opens a page.
        Assert.Equal(
            HttpStatusCode.OK,
            (await Ask(HttpMethod.Get, "/promotions", ("Sec-Fetch-Site", "cross-site"), ("Sec-Fetch-Mode", "navigate"))).StatusCode
        );
    }

    [Fact]
    public async Task Every_answer_says_how_it_may_be_used()
    {
        foreach (var path in (string[])["/", "/api/shop", "/api/nothing", "/mark.svg", "/healthz"])
        {
            using var answer = await Ask(HttpMethod.Get, path);
            string Said(string name) => Assert.Single(answer.Headers.GetValues(name));
            var policy = Said("Content-Security-Policy").Split("; ");
            Assert.Contains("script-src 'self'", policy);
            Assert.Contains("frame-ancestors 'none'", policy);
            Assert.Equal(
                ("nosniff", "no-referrer", "same-origin"),
                (Said("X-Content-Type-Options"), Said("Referrer-Policy"), Said("Cross-Origin-Resource-Policy"))
            );
        }

        using var page = await Ask(HttpMethod.Get, "/");
        Assert.DoesNotContain("<script>", await page.Content.ReadAsStringAsync());
        using var head = await Ask(HttpMethod.Head, "/api/shop");
        Assert.Equal((HttpStatusCode.OK, 0), (head.StatusCode, (await head.Content.ReadAsByteArrayAsync()).Length));
    }

    [Fact]
    public async Task What_is_too_large_is_refused_and_nothing_else_falls_over()
    {
        using var large = new StringContent(new string(' ', (16 * 1024 * 1024) + 1), Encoding.UTF8, "application/json");
        try
        {
            using var refused = await server.Http.PostAsync("/api/price", large);
            Assert.Equal(HttpStatusCode.RequestEntityTooLarge, refused.StatusCode);
        }
        catch (HttpRequestException)
        {
            // The server hung up before all was sent, which is its right.
        }

        var wide = $$"""{"revision": 1, "document": {"note": "{{new string('x', 1_000_001)}}"} }""";
        using var draft = new StringContent(wide, Encoding.UTF8, "application/json");
        foreach (var path in (string[])["/api/promotions/letter15/draft", "/api/promotions/letter15/live", "/api/promotions"])
        {
            using var refused = path.EndsWith("draft", StringComparison.Ordinal)
                ? await server.Http.PutAsync(path, draft)
                : await server.Http.PostAsync(path, new StringContent(wide, Encoding.UTF8, "application/json"));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        }
    }

    private async Task<HttpResponseMessage> Ask(HttpMethod method, string path, params (string Name, string Value)[] headers)
    {
        using var request = new HttpRequestMessage(method, path);
        foreach (var (name, value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        return await server.Http.SendAsync(request);
    }
}
