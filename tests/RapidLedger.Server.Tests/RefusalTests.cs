using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Whatever is wrong with a request is said: what, and where. Nothing is changed by it.</summary>
public class RefusalTests(Served served)
{
    private readonly RunningServer server = served.Server;

    [Theory]
    [InlineData("GET", "/api/promotions/no-such", null, 404, "unknownPromotion", "")]
    [InlineData("GET", "/api/nothing", null, 404, "unknownName", "")]
    [InlineData("GET", "/api/promotions?at=soon", null, 422, "notAnInstant", "/at")]
    [InlineData("POST", "/api/promotions", "{", 400, "notJson", "")]
    [InlineData("POST", "/api/promotions", """{"document": 3}""", 422, "wrongType", "/document")]
    [InlineData("PUT", "/api/promotions/letter15/draft", """{"revision": 1}""", 422, "wrongType", "/document")]
    [InlineData("PUT", "/api/promotions/letter15/draft", """{"revision": "one", "document": {}}""", 400, "wrongType", "/revision")]
    [InlineData("PUT", "/api/promotions/letter15/draft", """{"document": {}}""", 400, "missing", "/revision")]
    [InlineData(
        "PUT",
        "/api/promotions/letter15/draft",
        """{"revision": 1, "document": {"name": "\ud800"}}""",
        422,
        "wrongType",
        "/document/name"
    )]
    [InlineData(
        "PUT",
        "/api/promotions/letter15/draft",
        """{"revision": 1, "document": {"a": {"x": 1, "x": 2}}}""",
        422,
        "duplicate",
        "/document/a/x"
    )]
    [InlineData("DELETE", "/api/promotions/letter15/draft", null, 422, "missing", "/revision")]
    [InlineData("POST", "/api/promotions/p1/live", "revision=1", 415, "notJson", "")]
    [InlineData("DELETE", "/api/shop", null, 405, "notAllowed", "")]
    [InlineData("GET", "/schemas/poem.json", null, 404, "unknownName", "")]
    [InlineData("GET", "/api/promotions?at=9999-12-31T23:59:59Z", null, 422, "notAnInstant", "/at")]
    [InlineData("GET", "/api/promotions?take=many", null, 422, "unknownValue", "/take")]
    [InlineData("POST", "/api/tape", "{}", 400, "missing", "/cart")]
    [InlineData("POST", "/api/tape/case", """{"cart": {"lines": []}, "draft": {"id": 7}}""", 422, "wrongType", "/draft/id")]
    [InlineData(
        "POST",
        "/api/promotions/club-helmet/live",
        """{"revision": 1, "document": {"name": "N", "when": {"any": []}, "rewards": [{"kind": "points", "fixed": 1}]}}""",
        422,
        "notMeant",
        "/when"
    )]
    [InlineData("PUT", "/api/promotions/letter15/draft", """{"revision": 1, "document": []}""", 422, "wrongType", "/document")]
    [InlineData("PUT", "/api/promotions/no-such/draft", """{"revision": 1, "document": {}}""", 404, "unknownPromotion", "")]
    [InlineData("POST", "/api/promotions/no-such/live", """{"revision": 1, "document": {}}""", 404, "unknownPromotion", "")]
    [InlineData("POST", "/api/promotions/letter15/live", """{"revision": 1, "document": {}}""", 422, "missing", "/rewards")]
    [InlineData("POST", "/api/promotions/moor-radio/pause", """{"revision": 1, "document": null}""", 422, "notAllowed", "/state")]
    [InlineData("POST", "/api/promotions/care-five/retire", """{"revision": 1, "document": null}""", 422, "notAllowed", "/state")]
    [InlineData("POST", "/api/promotions/no-such/copy", null, 404, "unknownPromotion", "")]
    [InlineData("DELETE", "/api/promotions/no-such/draft?revision=1", null, 404, "unknownPromotion", "")]
    [InlineData("POST", "/api/items/selection", """{"in": [{"category": "no-such"}]}""", 422, "unknownCategory", "/in/0/category")]
    [InlineData(
        "POST",
        "/api/tape/case",
        """{"cart": {"lines": [{"sku": "NO-SUCH", "quantity": 1}]}, "draft": null}""",
        422,
        "unknownSku",
        "/lines/0/sku"
    )]
    [InlineData("GET", "/api/promotions?sort=luck", null, 422, "unknownValue", "/sort")]
    [InlineData("POST", "/api/promotions/letter15/dates", """{"revision": 1}""", 422, "exactlyOne", "")]
    [InlineData("POST", "/api/promotions/letter15/dates", """{"revision": 1, "days": 7, "noEnd": true}""", 422, "exactlyOne", "")]
    [InlineData("POST", "/api/promotions/letter15/dates", """{"revision": 1, "days": 99999}""", 422, "outOfRange", "/days")]
    [InlineData(
        "POST",
        "/api/promotions/letter15/dates",
        """{"revision": 1, "end": "1999-01-01T00:00"}""",
        422,
        "endBeforeStart",
        "/window/end"
    )]
    [InlineData("POST", "/api/promotions/letter15/dates", """{"revision": 1, "end": "soon"}""", 422, "notALocalTime", "/window/end")]
    [InlineData("POST", "/api/promotions/tyre-pair/dates", """{"revision": 1, "days": 7}""", 422, "missing", "/days")]
    [InlineData("PUT", "/api/promotions/letter15/meant", """{"finding": "", "words": "a", "meant": true}""", 422, "outOfRange", "")]
    [InlineData("GET", "/api/promotions/no-such/history", null, 404, "unknownPromotion", "")]
    [InlineData("POST", "/api/editions/0/compare/99/price", """{"cart": {"lines": []}}""", 404, "unknownName", "")]
    public async Task Is_refused(string method, string path, string? body, int status, string code, string at)
    {
        using var request = new HttpRequestMessage(new(method), path);
        if (body is not null)
            request.Content = new StringContent(
                body,
                Encoding.UTF8,
                status == 415 ? "application/x-www-form-urlencoded" : "application/json"
            );
        using var response = await server.Http.SendAsync(request);

        // Problem details (RFC 9457), with our own list as a member.
        var refusal = JsonNode.Parse(await response.Content.ReadAsStringAsync())!;
        Assert.Equal(("application/problem+json", status), (response.Content.Headers.ContentType!.MediaType, (int)refusal["status"]!));
        var problem = refusal["problems"]![0]!;
        Assert.Equal((string)refusal["detail"]!, (string)problem["message"]!);
        Assert.Equal((status, code, at), ((int)response.StatusCode, (string)problem["code"]!, (string)problem["at"]!));
        Assert.NotEmpty((string)problem["message"]!);
    }

    [Fact]
    public async Task What_is_no_json_is_told_by_its_line_and_byte()
    {
        using var body = new StringContent("{\n  \"document\": x}", Encoding.UTF8, "application/json");
        using var response = await server.Http.PostAsync("/api/promotions", body);
        var problem = JsonNode.Parse(await response.Content.ReadAsStringAsync())!["problems"]![0]!;
        Assert.Equal("This is not the JSON that is expected here: see line 2, byte 15.", (string)problem["message"]!);
    }

    [Fact]
    public async Task An_effort_is_taken_within_its_bounds()
    {
        // At one time: what is printed says its minute.
        var cart = Documents.Cart(("INNER-TUBE-28", 3)).With("at", "\"2027-03-05T10:00\"");
        var (usual, more) = (
            await server.Send(HttpMethod.Post, "/api/tape", new { cart }),
            await server.Send(HttpMethod.Post, "/api/tape?effort=10", new { cart })
        );
        Assert.Equal((200, usual.Body!.ToJsonString()), (more.Status, more.Body!.ToJsonString()));
        foreach (var path in (string[])["/api/tape?effort=0", "/api/price?effort=1001"])
        {
            var (status, body) = await server.Send(HttpMethod.Post, path, new { cart });
            Assert.Equal((422, "/effort"), (status, (string)body!["problems"]![0]!["at"]!));
        }
    }

    [Fact]
    public async Task What_is_wrong_in_a_draft_is_told_by_its_place_and_the_cart_is_not_priced_with_it()
    {
        var draft = Documents
            .Tubes()
            .With("id", "\"p\"")
            .With("window", """{"start": "2027-04-01T00:00", "end": "2027-03-01T00:00"}""")
            .With("limits", """{"total": "ten"}""");
        var (_, answer) = await server.Send(HttpMethod.Post, "/api/tape", new { cart = Documents.Cart(("INNER-TUBE-28", 1)), draft });
        Assert.Null(answer!["print"]);
        Assert.Equal(["/window/end", "/limits/total"], answer["draftProblems"]!.AsArray().Select(problem => (string)problem!["at"]!));
    }

    [Fact]
    public async Task A_draft_that_is_not_finished_is_kept_as_typed_but_not_put_live()
    {
        var typed = Documents.Tubes("UNFINISHED").With("limits", """{"total": "2o0"}""");
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = typed });
        var id = (string)begun!["id"]!;

        var (status, refused) = await server.Send(HttpMethod.Post, $"/api/promotions/{id}/live", new { revision = 1, document = typed });

        Assert.Equal(422, status);
        Assert.Equal("/limits/total", (string)refused!["problems"]![0]!["at"]!);
        Assert.Equal("2o0", (string)(await server.Get($"/api/promotions/{id}"))["document"]!["limits"]!["total"]!);
    }

    [Fact]
    public async Task Price_takes_a_case_and_tells_every_problem_of_a_bad_one()
    {
        using var body = new StringContent(
            """{"store": {"currency": "EUR"}, "catalogue": {}, "promotions": [], "cart": {"lines": [{"sku": "A", "quantity": 0}]}}""",
            Encoding.UTF8,
            "application/json"
        );
        using var response = await server.Http.PostAsync("/api/price", body);
        var problems = JsonNode.Parse(await response.Content.ReadAsStringAsync())!["problems"]!.AsArray();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, response.StatusCode);
        Assert.Equal(["/cart/lines/0/sku", "/cart/lines/0/quantity", "/cart/at"], problems.Select(problem => (string)problem!["at"]!));
    }
}
