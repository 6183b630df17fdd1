using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>
/// What a stranger's shop meets: keys before bodies, ports, proxies, offers that say what they take, a feed that loses nothing, an end that
/// cuts nothing off.
/// </summary>
public class StoreContractTests
{
    private const string Points = "\"rewards\": [{\"kind\": \"points\", \"fixed\": 1}]";

    [Fact]
    public void An_answer_that_the_document_does_not_foresee_is_found()
    {
        string[] wrong = AnswersFitTheDocument.Misfits([
            ("GET", "/store/v1/health", 200, new JsonObject { ["status"] = "ready" }),
            ("GET", "/store/v1/health", 200, new JsonObject { ["status"] = 1 }),
            ("GET", "/store/v1/health", 418, null),
            ("POST", "/store/v1/orders/o1/take", 200, new JsonObject { ["id"] = "o1" }),
        ]);
        Assert.Equal(3, wrong.Length);
        Assert.Contains("this status is not in the document", wrong[1], StringComparison.Ordinal);
        // And the document itself passes a linter (Redocly CLI, its recommended rules).
        var (exit, _, errors) = RunningServer.Shell(
            $"cd {Path.Combine(RunningServer.Root, "tests/references")} && REDOCLY_TELEMETRY=off node_modules/.bin/redocly lint {Path.Combine(RunningServer.Root, "src/web/src/api/openapi.json")} --extends recommended",
            ""
        );
        Assert.True(exit == 0, errors);
    }

    [Fact]
    public async Task Two_generated_clients_make_the_five_calls_and_mistakes_do_not_compile()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve();
        // Hey API's openapi-ts and the TypeScript compiler (npm, MIT and Apache 2.0).
        var (exit, output, errors) = RunningServer.Shell(
            $"""
            cd {Path.Combine(
                RunningServer.Root,
                "tests/references"
            )} && node_modules/.bin/openapi-ts --silent -i ../../src/web/src/api/openapi.json -o made -c @hey-api/client-fetch &&
            node_modules/.bin/tsc --noEmit --strict --skipLibCheck --target es2022 --module preserve --moduleResolution bundler --types node store-clients.ts 1>&2 &&
            ../../src/web/node_modules/.bin/rolldown store-clients.ts --file made/run.mjs --platform node 1>&2 && node made/run.mjs {server.Address.ToString().TrimEnd(
                '/'
            )} {NewKey(server, "server")}
            """,
            ""
        );
        Assert.True(exit == 0, errors);
        const string Told = "99.99 held taken 33.33 B 66.66\n";
        Assert.Equal(Told + Told, output);
    }

    [Fact]
    public async Task A_key_comes_before_the_body_and_a_body_has_at_most_a_megabyte()
    {
        var shop = OwnShop.Of("AUD");
        await using var server = await shop.ServeShipped();
        var (before, most) = (Resident(server), Resident(server, "VmHWM"));
        // Without a key nothing of the body is read: sixteen megabytes, twelve times at once.
        var large = new byte[16 * 1024 * 1024];
        var flood = Enumerable
            .Range(0, 12)
            .Select(async _ =>
            {
                using var request = new HttpRequestMessage(HttpMethod.Post, "/store/v1/quote")
                {
                    Content = new ByteArrayContent(large) { Headers = { ContentType = new MediaTypeHeaderValue("application/json") } },
                };
                request.Headers.ExpectContinue = true;
                try
                {
                    using var answer = await server.Http.SendAsync(request);
                    return answer.StatusCode;
                }
                catch (HttpRequestException)
                {
                    // The server hung up before all was sent, which is its right.
                    return HttpStatusCode.Unauthorized;
                }
            });
        Assert.All(await Task.WhenAll(flood), status => Assert.Equal(HttpStatusCode.Unauthorized, status));
        // Neither while it came nor afterwards.
        const long More = 50L * 1024 * 1024;
        Assert.InRange(Resident(server, "VmHWM"), 0, Math.Max(most, before + More));
        Assert.InRange(Resident(server), 0, before + More);

        using var store = new Store(server, NewKey(server, "server"));
        var (status, refusal) = await store.Post(
            "quote",
            new { cart = shop.Cart(("A", 1)).With("guestKey", $"\"{new string('x', 1_100_000)}\"") },
            null
        );
        Assert.Equal((413, "This is larger than the 1 MB that are taken at once."), (status, (string)refusal["detail"]!));
        Assert.Equal(400, (await Raw(server, NewKey(server, "server"), "{\"cart\": ")).Status);
        Assert.Equal("notJson", (await Raw(server, NewKey(server, "server"), "{\"cart\": ")).Code);
    }

    [Fact]
    public async Task The_port_of_the_store_answers_it_alone_and_unknown_paths_are_problems_everywhere()
    {
        var shop = OwnShop.Of("CLP");
        var port = RunningServer.FreePort();
        await using var server = await shop.Serve("--store", $"{port}", "--store-bind", "127.0.0.2");
        using var http = new HttpClient { BaseAddress = new($"http://127.0.0.2:{port}") };
        foreach (var path in (string[])["/", "/api/shop", "/healthz", "/metrics", "/store/v1/nothing", "/store/v2/quote", "/counter"])
        {
            using var answer = await http.GetAsync(new Uri(path, UriKind.Relative));
            Assert.Equal(
                (path, 404, "application/problem+json"),
                (path, (int)answer.StatusCode, answer.Content.Headers.ContentType?.MediaType)
            );
        }

        // Whoever balances the load asks by address, without a key.
        using var health = await http.GetAsync(new Uri("/store/v1/health", UriKind.Relative));
        Assert.Equal(
            (200, "*", "Retry-After, WWW-Authenticate"),
            (
                (int)health.StatusCode,
                health.Headers.GetValues("Access-Control-Allow-Origin").Single(),
                health.Headers.GetValues("Access-Control-Expose-Headers").Single()
            )
        );
        using var main = await server.Http.GetAsync(new Uri("/store/v1/nothing", UriKind.Relative));
        Assert.Equal((404, "application/problem+json"), ((int)main.StatusCode, main.Content.Headers.ContentType?.MediaType));
        using var alive = new HttpRequestMessage(HttpMethod.Get, "/healthz") { Headers = { Host = "10.1.2.3" } };
        Assert.Equal(HttpStatusCode.OK, (await server.Http.SendAsync(alive)).StatusCode);
    }

    [Fact]
    public async Task Guesses_are_counted_for_each_client_each_server_and_each_address_that_a_known_proxy_names()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve("--proxy", "127.0.0.0/8");
        var (page, key) = (NewKey(server, "page"), NewKey(server, "server"));
        foreach (
            var (who, bearer, header, value) in new[]
            {
                ("a page", page, "X-Forwarded-For", "192.0.2.1"),
                ("a server", key, "Store-Client", "anna"),
            }
        )
        {
            for (var guess = 0; guess < 11; guess++)
                Assert.Equal((who, "unknown"), (who, await Guess(bearer, header, value, guess)));
            Assert.Equal((who, "tooMany"), (who, await Guess(bearer, header, value, 11)));
        }

        // Nobody else is held to that: another address, another client, a server that names nobody.
        foreach (
            var (bearer, header, value) in new[]
            {
                (page, "X-Forwarded-For", "192.0.2.2"),
                (key, "Store-Client", "ben"),
                (key, "X-Forwarded-For", "192.0.2.1"),
            }
        )
            Assert.Equal("unknown", await Guess(bearer, header, value, 12));
        // Where no proxy is known, nobody is believed.
        await using var plain = await RunningServer.Start(demo: false, data: server.Data);
        for (var guess = 0; guess < 11; guess++)
            await Guess(page, "X-Forwarded-For", $"192.0.2.{guess}", guess, plain);
        Assert.Equal("tooMany", await Guess(page, "X-Forwarded-For", "192.0.2.99", 99, plain));

        async Task<string> Guess(string bearer, string header, string value, int number, RunningServer? of = null)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, new Uri((of ?? server).Address, "/store/v1/quote"))
            {
                Content = new StringContent(
                    new JsonObject { ["cart"] = shop.Cart(("A", 1)).With("codes", $"[\"guess{number}\"]") }.ToJsonString(),
                    Encoding.UTF8,
                    "application/json"
                ),
            };
            request.Headers.Authorization = new("Bearer", bearer);
            request.Headers.Add(header, value);
            using var answer = await server.Http.SendAsync(request);
            return (string)JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["result"]!["codes"]![0]!["status"]!;
        }
    }

    [Fact]
    public async Task Offers_say_what_they_take_and_are_told_to_whom_they_are_for()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve();
        await PutLive(
            server,
            """{"label": "Large", "when": {"all": [{"spend": {"from": "150.00"}}, {"destination": {"in": ["DE", "AT"]}}]}, "rewards": [{"kind": "shipping", "take": {"percent": 100}}]}"""
        );
        await PutLive(
            server,
            $$"""{"label": "Pounds", "when": {"all": [{"currency": ["GBP"]}, {"quantity": {"of": {"in": [{"sku": "B"}]}, "op": ">=", "n": 2} } ]}, "says": {"show": ["item", "basket"]}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "B"}]}, "take": {"percent": 20}, "per": "unit"}]}"""
        );
        await PutLive(server, $$"""{"label": "Club", "when": {"shopper": {"groups": ["club"]} }, {{Points}} }""");
        await PutLive(server, $$"""{"label": "First", "when": {"shopper": {"orders": {"op": "=", "n": 0} } }, {{Points}} }""");
        await PutLive(server, $$"""{"label": "Secret", "trigger": {"codes": ["SECRET"]}, {{Points}} }""");
        await PutLive(
            server,
            $$"""{"label": "Told", "trigger": {"codes": ["told"]}, "window": {"end": "2190-01-01T00:00"}, "says": {"show": ["today"]}, {{Points}} }"""
        );
        await PutLive(
            server,
            """{"label": "Markdown", "rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"sku": "B"}]}, "take": {"percent": 10}}]}]}"""
        );
        // A word of the shop says how many promotions name it.
        var club = (await server.Get("/api/words/group"))["words"]!.AsArray().Single(word => (string)word!["word"]! == "club")!;
        Assert.Equal((1, 1), ((int)club["promotions"]!, (int)club["shoppers"]!));
        using var page = new Store(server, NewKey(server, "page"));
        using var own = new Store(server, NewKey(server, "server"));
        Assert.Equal(
            [
                "First: on a first order",
                "Large: from €150.00, in Germany or Austria",
                "Markdown: ",
                "Pounds: paid in GBP, for 2 or more of Item B",
            ],
            await Offers(page, "")
        );
        Assert.Equal(
            [
                "First: bei der ersten Bestellung",
                "Large: ab 150,00 €, in Germany oder Austria",
                "Markdown: ",
                "Pounds: bezahlt in GBP, ab 2 Stück aus Item B",
            ],
            (await Offers(page, "?language=de")).Select(said => said.Replace('\u00a0', ' '))
        );
        // What is settled by where it goes and what is paid in is not said, and what is not for there is not told.
        Assert.Equal(
            ["First: on a first order", "Large: from £128.55", "Markdown: ", "Pounds: for 2 or more of Item B"],
            await Offers(page, "?destination=AT&currency=GBP")
        );
        Assert.Equal(["First: on a first order", "Markdown: "], await Offers(page, "?destination=GB&currency=EUR"));
        // A server may say who looks: s1 is of the club and has bought before.
        Assert.Equal(["Club: ", "Markdown: "], await Offers(own, "?destination=GB&currency=EUR&shopper=s1"));
        var today = (await page.Get("offers?show=today"))["offers"]![0]!;
        Assert.Equal(("TOLD", "2189-12-31T23:00:00Z"), ((string)today["code"]!, (string)today["ends"]!));
        Assert.StartsWith("31 Dec 2189", (string)today["endsWords"]!, StringComparison.Ordinal);
        // Beside an item its price after markdowns, and what several cost.
        var item = await page.Get("offers?sku=B&currency=GBP");
        Assert.Equal(("28.56", "25.70"), ((string)item["item"]!["regular"]!, (string)item["item"]!["price"]!));
        var pounds = item["offers"]!.AsArray().Single(offer => (string)offer!["label"]! == "Pounds")!["prices"]!.AsArray();
        Assert.Equal(["25.70", "41.12"], pounds.Take(2).Select(price => (string)price!["total"]!));
        Assert.Equal([1, 2, 3, 4, 5, 6, 8, 10, 12, 20], pounds.Select(price => (int)price!["units"]!));
        var shelf = (await server.Get("/api/shelf"))["products"]!.AsArray().Single(product => (string)product!["id"]! == "p-B")![
            "variants"
        ]![0]!;
        Assert.Equal(("33.33", "30.00"), ((string)shelf["regular"]!, (string)shelf["price"]!));
        foreach (
            var (query, at) in new[]
            {
                ("?place=item", "/place"),
                ("?show=window", "/show"),
                ("?sku=Z", "/sku"),
                ("?destination=XX", "/destination"),
                ("?currency=USD", "/currency"),
                ("?shopper=s1", "/shopper"),
                ("?at=2027-03-05T10:00:00Z", "/at"),
            }
        )
        {
            var (status, body) = await page.Read($"offers{query}");
            Assert.Equal((query, 422, at), (query, status, (string)body["problems"]![0]!["at"]!));
        }

        static async Task<string[]> Offers(Store store, string query) =>
            [
                .. (await store.Get($"offers{query}"))["offers"]!
                    .AsArray()
                    .Select(offer => $"{offer!["label"]}: {string.Join(", ", offer["takes"]!.AsArray())}")
                    .Order(StringComparer.Ordinal),
            ];
    }

    [Fact]
    public async Task The_feed_goes_on_where_it_was_and_says_when_it_cannot()
    {
        var shop = OwnShop.Of("KWD");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        var cart = shop.Cart(("A", 1));
        for (var number = 0; number < 5; number++)
            Assert.Equal(201, (await store.Place(cart, await store.Quote(cart), $"{number}", take: true)).Status);
        var (seen, after) = (new List<long>(), "0");
        for (var more = true; more; )
        {
            var page = await store.Get($"orders?after={after}&take=2");
            seen.AddRange(page["orders"]!.AsArray().Select(order => (long)order!["change"]!));
            (after, more) = (page["after"]!.ToString(), (bool)page["more"]!);
        }

        Assert.Equal([1, 2, 3, 4, 5], seen);
        var end = await store.Get("orders?after=end");
        Assert.Equal((0, 5L, false), (end["orders"]!.AsArray().Count, (long)end["after"]!, (bool)end["more"]!));
        foreach (var query in (string[])["after=6", "after=-1", "after=soon", "take=0", "take=1001"])
            Assert.Equal((query, 422), (query, (await store.Read($"orders?{query}")).Status));
    }

    [Fact]
    public async Task What_is_under_way_is_finished_when_it_is_told_to_end()
    {
        await using var server = await RunningServer.StartShipped(demo: false);
        // A hard cart is under way when the end comes, one that takes far less than the ten seconds that it has, also on a busy machine.
        using var hard = new StringContent(PressureTests.HardCase(), Encoding.UTF8, "application/json");
        var pricing = server.Http.PostAsync(new Uri("/api/price?effort=8", UriKind.Relative), hard);
        while (
            !pricing.IsCompleted
            && !(await server.Http.GetStringAsync("/metrics")).Contains(
                "http_requests_in_progress{method=\"POST\"",
                StringComparison.Ordinal
            )
        )
            await Task.Delay(5);
        var exit = await server.Stop();
        Assert.Equal((0, HttpStatusCode.OK), (exit, (await pricing).StatusCode));
    }

    [Theory]
    [InlineData("--bind", "foo")]
    [InlineData("--port", "abc")]
    [InlineData("--store", "0")]
    [InlineData("--store-bind", "here")]
    [InlineData("--proxy", "10.0.0.0/99")]
    public void What_is_mistyped_is_said_in_a_sentence(string option, string value)
    {
        var (exit, output, errors) = RunningServer.Run("", "serve", option, value);
        Assert.Equal(1, exit);
        Assert.Contains($"'{value}' is no", errors, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", errors + output, StringComparison.Ordinal);
        Assert.DoesNotContain("System.", errors, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Somebody_who_is_forgotten_is_in_no_file_of_the_store_and_the_backups_that_hold_them_are_named()
    {
        var shop = OwnShop.Of("EUR");
        await using var server = await shop.Serve();
        using var store = new Store(server, NewKey(server, "server"));
        var cart = shop.Cart(("A", 1)).With("shopper", """{"id": "somebody-to-forget"}""");
        Assert.Equal(201, (await store.Place(cart, await store.Quote(cart), "one", take: true)).Status);
        var backup = Path.Combine(Path.GetDirectoryName(server.Data)!, "before.backup");
        Assert.Equal(0, RunningServer.Run("", "backup", backup, "--data", server.Data).Exit);
        var (status, forgotten) = await server.Send(HttpMethod.Post, "/api/shoppers/somebody-to-forget/forget");
        Assert.Equal((200, 1, backup), (status, (int)forgotten!["orders"]!, (string)forgotten["backups"]!.AsArray().Single()!));
        foreach (var file in Directory.GetFiles(Path.GetDirectoryName(server.Data)!, "own.db*"))
            Assert.DoesNotContain("somebody-to-forget", Encoding.Latin1.GetString(await Bytes(file)), StringComparison.Ordinal);
        Assert.Contains("somebody-to-forget", await File.ReadAllTextAsync(backup, Encoding.Latin1), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Cells_that_a_spreadsheet_would_run_are_written_so_that_it_does_not_and_read_back_as_they_were()
    {
        var shop = OwnShop.Of("CLP");
        await using var server = await shop.Serve();
        var batch = await Bring(server, "'=SUM(A1)", "@HOME", "PLAIN");
        var csv = await server.Http.GetStringAsync(new Uri($"/api/batches/{batch}.csv", UriKind.Relative));
        Assert.Contains("'=SUM(A1)", csv, StringComparison.Ordinal);
        Assert.Contains("'@HOME", csv, StringComparison.Ordinal);
        Assert.DoesNotContain("'PLAIN", csv, StringComparison.Ordinal);
        Assert.Equal("@HOME", (string)(await server.Get("/api/codes?q=@home"))["ofBatches"]![0]!["code"]!);
        Assert.Equal("=SUM(A1)", (string)(await server.Get("/api/codes?q=%3Dsum"))["ofBatches"]![0]!["code"]!);
    }

    private static long Resident(RunningServer server, string what = "VmRSS")
    {
        // Linux: resident pages of the process now, or the most there ever were, in bytes (proc(5)).
        var line = File.ReadLines($"/proc/{server.ProcessId}/status").First(one => one.StartsWith($"{what}:", StringComparison.Ordinal));
        return long.Parse(line.Split(' ', StringSplitOptions.RemoveEmptyEntries)[1], System.Globalization.CultureInfo.InvariantCulture)
            * 1024;
    }

    private static async Task<byte[]> Bytes(string file)
    {
        await using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
        using var all = new MemoryStream();
        await stream.CopyToAsync(all);
        return all.ToArray();
    }

    private static async Task<(int Status, string Code)> Raw(RunningServer server, string key, string body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/store/v1/quote")
        {
            Content = new StringContent(body, Encoding.UTF8, "application/json"),
        };
        request.Headers.Authorization = new("Bearer", key);
        using var answer = await server.Http.SendAsync(request);
        return ((int)answer.StatusCode, (string)JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["problems"]![0]!["code"]!);
    }
}
