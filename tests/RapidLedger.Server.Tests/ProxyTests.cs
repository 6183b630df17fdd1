using System.Diagnostics;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>Behind nginx, by the configuration that ships, but for the ports and the certificate.</summary>
public class ProxyTests
{
    [Fact]
    public async Task A_shop_buys_through_nginx_and_visitors_are_counted_by_their_own_addresses()
    {
        var shop = OwnShop.Of("EUR");
        var (inside, outside) = (RunningServer.FreePort(), RunningServer.FreePort());
        await using var server = await shop.Serve("--store", $"{inside}", "--proxy", "127.0.0.1/32");
        var folder = Directory.CreateTempSubdirectory("nginx").FullName;
        var (made, _, why) = RunningServer.Shell(
            $"openssl req -x509 -newkey rsa:2048 -nodes -days 2 -subj /CN=prices.shop.example -keyout {folder}/key -out {folder}/pem",
            ""
        );
        Assert.True(made == 0, why);
        var configuration = (await File.ReadAllTextAsync(Path.Combine(RunningServer.Root, "examples", "nginx.conf")))
            .Replace("listen 443 ssl", $"listen 127.0.0.1:{outside} ssl", StringComparison.Ordinal)
            .Replace("/etc/ssl/certs/prices.shop.example.pem", $"{folder}/pem", StringComparison.Ordinal)
            .Replace("/etc/ssl/private/prices.shop.example.key", $"{folder}/key", StringComparison.Ordinal)
            .Replace("127.0.0.1:5081", $"127.0.0.1:{inside}", StringComparison.Ordinal);
        await File.WriteAllTextAsync($"{folder}/nginx.conf", configuration);
        using var nginx = Process.Start(
            new ProcessStartInfo(
                "nginx",
                [
                    "-c",
                    $"{folder}/nginx.conf",
                    "-p",
                    folder,
                    "-e",
                    $"{folder}/errors",
                    "-g",
                    $"daemon off; pid {folder}/pid; error_log {folder}/errors;",
                ]
            )
        )!;
        try
        {
            using var http = new HttpClient(new HttpClientHandler { ServerCertificateCustomValidationCallback = (_, _, _, _) => true })
            {
                BaseAddress = new($"https://127.0.0.1:{outside}"),
            };
            while (!nginx.HasExited && !await Answers(http))
                await Task.Delay(50);
            Assert.False(
                nginx.HasExited,
                File.Exists($"{folder}/errors") ? await File.ReadAllTextAsync($"{folder}/errors") : "nginx ended"
            );
            var (status, quote) = await Ask(http, NewKey(server, "server"), new { cart = shop.Cart(("A", 1)) });
            Assert.Equal((200, "24.89"), (status, (string)quote["shown"]!["total"]!));
            // What a visitor says of itself is not believed: nginx says who it is.
            var page = NewKey(server, "page");
            for (var guess = 0; guess < 12; guess++)
                (_, quote) = await Ask(
                    http,
                    page,
                    new { cart = shop.Cart(("A", 1)).With("codes", $"[\"guess{guess}\"]") },
                    $"192.0.2.{guess}"
                );
            Assert.Equal("tooMany", (string)quote["result"]!["codes"]![0]!["status"]!);
            Assert.Equal(HttpStatusCode.NotFound, (await http.GetAsync(new Uri("/api/shop", UriKind.Relative))).StatusCode);
        }
        finally
        {
            nginx.Kill(entireProcessTree: true);
        }
    }

    private static async Task<bool> Answers(HttpClient http)
    {
        try
        {
            return (await http.GetAsync(new Uri("/store/v1/health", UriKind.Relative))).IsSuccessStatusCode;
        }
        catch (HttpRequestException)
        {
            return false;
        }
    }

    private static async Task<(int Status, JsonNode Body)> Ask(HttpClient http, string key, object body, string? says = null)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/store/v1/quote")
        {
            Content = new StringContent(System.Text.Json.JsonSerializer.Serialize(body), Encoding.UTF8, "application/json"),
        };
        request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", key);
        if (says is not null)
            request.Headers.Add("X-Forwarded-For", says);
        using var answer = await http.SendAsync(request);
        return ((int)answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync())!);
    }
}
