using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>A shop that asks the store interface, and what is done for it at the desk.</summary>
internal sealed class Store : IDisposable
{
    /// <summary>A cart of one pannier.</summary>
    public static readonly JsonObject Pannier = Documents.Cart(("DROVER-PANNIER-BLACK", 1));

    /// <summary>A key for a shop.</summary>
    public static string NewKey(RunningServer server, string kind) =>
        RunningServer.Run("", "key", "new", kind, "--data", server.Data).Output.Trim();

    /// <summary>Writes a promotion and puts it live.</summary>
    /// <returns>Its id.</returns>
    public static async Task<string> PutLive(RunningServer server, string document)
    {
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = JsonNode.Parse(document) });
        var (status, answer) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{(string)begun!["id"]!}/live",
            new { revision = (long)begun["revision"]!, document = begun["document"] }
        );
        Assert.True(status == 200, answer?.ToJsonString());
        return (string)begun["id"]!;
    }

    private readonly HttpClient http;

    public Store(RunningServer server, string key, string? client = null)
    {
        http = new() { BaseAddress = new(server.Address, "/store/v1/") };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", key);
        if (client is not null)
            http.DefaultRequestHeaders.Add("Store-Client", client);
    }

    public async Task<JsonNode> Get(string path)
    {
        var (status, body) = await Send(HttpMethod.Get, path, null, null);
        return status == 200 ? body : throw new HttpRequestException($"{path}: {status} {body.ToJsonString()}");
    }

    /// <summary>The status of the answer to what is only read.</summary>
    public async Task<int> Asked(string path)
    {
        using var answer = await http.GetAsync(new Uri(path, UriKind.Relative));
        return (int)answer.StatusCode;
    }

    /// <summary>What is only read, whatever the answer.</summary>
    public Task<(int Status, JsonNode Body)> Read(string path) => Send(HttpMethod.Get, path, null, null);

    /// <summary>Brings a batch of codes.</summary>
    /// <returns>Its id.</returns>
    public static async Task<string> Bring(RunningServer server, params string[] codes)
    {
        using var brought = await server.Http.PostAsync(
            new Uri("/api/batches/bring?note=brought", UriKind.Relative),
            new StringContent($"code\n{string.Join('\n', codes)}\n", null, "text/csv")
        );
        return (string)JsonNode.Parse(await brought.Content.ReadAsStringAsync())!["id"]!;
    }

    public async Task<JsonNode> Quote(JsonObject cart)
    {
        var (status, body) = await Post("quote", new { cart }, null);
        Assert.True(status == 200, body.ToJsonString());
        return body;
    }

    public async Task<(int Status, JsonNode Order)> Place(JsonObject cart, JsonNode quote, string key, bool take = false) =>
        await Post(
            "orders",
            new
            {
                cart,
                shown = quote["shown"],
                take,
            },
            key
        );

    public Task<(int Status, JsonNode Body)> Post(string path, object? body, string? key) => Send(HttpMethod.Post, path, body, key);

    /// <summary>Puts JSON lines.</summary>
    public Task<(int Status, JsonNode Body)> Put(string path, string lines, string? key = null) =>
        Send(HttpMethod.Put, path, new StringContent(lines, null, "application/x-ndjson"), key);

    public Task<(int Status, JsonNode Body)> Delete(string path) => Send(HttpMethod.Delete, path, null, null);

    private async Task<(int Status, JsonNode Body)> Send(HttpMethod method, string path, object? body, string? key)
    {
        using var request = new HttpRequestMessage(method, path)
        {
            Content = body is null ? null : body as HttpContent ?? JsonContent.Create(body),
        };
        if (!string.IsNullOrEmpty(key))
            request.Headers.Add("Idempotency-Key", key);
        using var response = await http.SendAsync(request);
        var text = await response.Content.ReadAsStringAsync();
        var told = text.Length == 0 ? new JsonObject() : JsonNode.Parse(text)!;
        RunningServer.Answers.Enqueue(
            (method.Method, $"/store/v1/{path.Split('?')[0]}", (int)response.StatusCode, text.Length == 0 ? null : told.DeepClone())
        );
        return ((int)response.StatusCode, told);
    }

    public void Dispose() => http.Dispose();
}
