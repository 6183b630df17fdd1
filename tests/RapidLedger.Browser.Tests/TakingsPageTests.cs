using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>What promotions brought, as a merchant looks at it; and what the shop calls things and sold before.</summary>
public sealed class TakingsPageTests
{
    [Fact]
    public async Task From_the_list_to_what_a_promotion_brought_and_the_orders_behind_it()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        var row = await Row(server, "welcome10");
        ledger.Open("/promotions");
        ledger.Until(() => ledger.Count("[data-testid=brought]") > 2);
        ledger.Click($"//*[@data-testid='row'][contains(., 'Welcome')]//*[@data-testid='brought']//a");
        ledger.UntilEqual("Welcome", () => ledger.Text("[data-testid=takings-page] h2"));
        // What the tables hold is what the interface answers; a partner's code is a line, the cards of a batch are one.
        ledger.Until(() => ledger.Text(RowOf("Welcome")).Contains($"{row["now"]!["orders"]}", StringComparison.Ordinal));
        ledger.Until(() => ledger.Count("[data-testid=takings-by-code] tbody tr") == 2);
        Assert.Contains("WELCOME10", ledger.Text("[data-testid=takings-by-code]"), StringComparison.Ordinal);
        Assert.Contains("batch b1", ledger.Text("[data-testid=takings-by-code]"), StringComparison.Ordinal);
        Assert.Contains("orders alone do not tell", ledger.Text("[data-testid=takings-caution]"), StringComparison.Ordinal);
        // The picture is read as the table beside it.
        var days = ledger.Driver.FindElements(By.CssSelector("[data-testid=takings-page] figure table tbody tr")).Count;
        Assert.Equal((28, 28 * 2), (days, ledger.Count("[data-testid=takings-picture] rect")));
        Assert.Empty(ListeningTests.Axe(ledger));

        // By keys from promotion to promotion; all orders and those without any stand last.
        ledger.Find("[data-promotion=welcome10]").SendKeys(Keys.ArrowDown);
        ledger.Until(() => ledger.Text("[data-testid=takings-page] h2") != "Welcome");
        ledger.Click("[data-promotion='*']");
        ledger.UntilEqual("All orders", () => ledger.Text("[data-testid=takings-page] h2"));
        ledger.Choose("Beside", "beside the days before");
        ledger.Find("//*[contains(., 'The second line is the stretch beside it.')]");
        ledger.Choose("Which days", "days of my own");
        var (first, last) = (DateTime.UtcNow.AddDays(-20), DateTime.UtcNow.AddDays(-14));
        ledger.Type("From which day", first.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
        ledger.Type("To which day", last.ToString("d MMM yyyy", CultureInfo.InvariantCulture));
        ledger.Until(
            () =>
                ledger.Driver.Url.Contains(
                    string.Create(CultureInfo.InvariantCulture, $"from={first:yyyy-MM-dd}&to={last:yyyy-MM-dd}"),
                    StringComparison.Ordinal
                ),
            () => ledger.Driver.Url
        );
        ledger.Until(() => ledger.Count("[data-testid=takings-picture] rect") == 14);

        // An order that is paid now counts within a moment; pressed, its orders are found.
        ledger.Open("/takings?p=tyre-pair&stretch=today");
        // Some of the demo shop's may be of today.
        ledger.Find(RowOf("Pair of tyres"));
        var sold = int.TryParse(Cells(ledger, "Pair of tyres")[0], CultureInfo.InvariantCulture, out var count) ? count : 0;
        await Order(server);
        ledger.UntilEqual($"{sold + 1}", () => Cells(ledger, "Pair of tyres")[0]);
        ledger.ClickWord("its orders");
        ledger.Until(() =>
            ledger.Text("[data-testid=orders-only]").StartsWith("Only orders with Pair of tyres placed on", StringComparison.Ordinal)
        );
        ledger.UntilEqual($"{sold + 1}", () => $"{ledger.Count("[data-testid=order]")}");
        // One of them lies open, and the list stays held to them until all are asked for.
        ledger.Click("[data-testid=order] button");
        ledger.Until(() =>
            ledger.Driver.Url.Contains("order=", StringComparison.Ordinal) && ledger.Count("[data-testid=orders-only]") == 1
        );
        ledger.ClickWord("all orders");
        ledger.Until(() => ledger.Count("[data-testid=orders-only]") == 0 && ledger.Count("[data-testid=order]") > sold + 1);

        // Nobody has ordered in a shop that was opened just now.
        await using var empty = await RunningServer.Start(demo: false);
        using var other = new Ledger(empty);
        other.Type("The shop’s name", "Leer");
        other.Type("Tax in percent", "20");
        other.ClickWord("open it without goods");
        other.Find("[data-testid=due], [data-testid=goods]");
        other.Open("/takings");
        other.Find("//*[contains(., 'No paid orders yet')]");
        other.ClickWord("bring past orders");
        other.Find("[data-testid=orders]");
    }

    [Fact]
    public async Task Past_orders_come_in_a_group_is_renamed_and_the_demo_is_left_for_ones_own()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        var folder = Directory.CreateTempSubdirectory("past-");
        var list = Path.Combine(folder.FullName, "orders.csv");
        await File.WriteAllTextAsync(
            list,
            "order,date,sku,qty,line total,customer,country\n1001,03/02/2025,DROVER-PANNIER-BLACK,1,64.90,s001,DE\n1001,03/02/2025,OLD-1,2,9.80,s001,DE\n1002,2025-02-27,DROVER-PANNIER-BLACK,1,,,\n"
        );
        ledger.Open("/orders");
        ledger.Find("[data-testid=order]");
        ledger.Find("input[type=file]").SendKeys(list);
        ledger.Find("//*[contains(., 'reads either way')]");
        ledger.Choose("How dates under date are written", "2025-02-03");
        ledger.Until(() => ledger.Text("[data-testid=import-look]").StartsWith("2 orders are new", StringComparison.Ordinal));
        Assert.Contains("the order is marked “price assumed”", ledger.Text("[data-testid=import-look]"), StringComparison.Ordinal);
        ledger.ClickWord("bring them in");
        ledger.Find("[data-testid=import-done]");
        ledger.ClickWord("close");
        ledger.Choose("State", "brought in from before");
        ledger.Until(() => ledger.Count("[data-testid=past-order]") == 2);
        ledger.Type("Find an order", "OLD-1");
        ledger.Until(() => ledger.Count("[data-testid=past-order]") == 1);
        ledger.Click("[data-testid=past-order] button");
        ledger.Until(() => ledger.Text("[data-testid=past-order-slip]").Contains("€74.70", StringComparison.Ordinal));
        Assert.Empty(ListeningTests.Axe(ledger));

        // Renamed in one place, it is called so in the rule, and Ctrl Z calls it as before.
        ledger.Open("/store");
        ledger.Click("[aria-label='rename trade']");
        ledger.Type("What trade is called now", "workshops");
        ledger.ClickWord("rename everywhere");
        ledger.Find("[aria-label='rename workshops']");
        ledger.Open("/promotions/trade-12");
        ledger.Until(() => ledger.ReadBack.Contains("workshops", StringComparison.Ordinal), () => ledger.ReadBack);
        ledger.Open("/store");
        ledger.Click("[aria-label='rename staff']");
        ledger.Type("What staff is called now", "the team");
        ledger.ClickWord("rename everywhere");
        ledger.Find("[aria-label='rename the team']");
        ledger.Chord("z", Keys.Control);
        ledger.Find("[aria-label='rename staff']");
        Assert.Empty(ListeningTests.Axe(ledger));

        // What an item is, typed over in its sentence.
        ledger.Open("/goods");
        ledger.Click("//*[@data-testid='goods-row'][3]//button");
        ledger.Type("Brand", "Hollow Lane");
        ledger.Press(Keys.Tab);
        ledger.Until(() => ledger.Text("[data-testid=item-page]").Contains("brand Hollow Lane", StringComparison.Ordinal));
        Assert.Contains("Hollow Lane", (await server.Get("/api/words/brand")).ToJsonString(), StringComparison.Ordinal);

        // And out of the demo shop: it is kept, and the opening stands there.
        ledger.Open("/store");
        ledger.ClickWord("leave the demo shop…");
        ledger.ClickWord("leave it and begin my own");
        ledger.Find("[data-testid=opening]");
        Assert.False((bool)(await server.Get("/api/shop"))["isThere"]!);
        var kept = Assert.Single(Directory.GetFiles(Path.GetDirectoryName(server.Data)!, "*.demo-*Z"));
        await using var demo = await RunningServer.Start(demo: false, data: kept);
        Assert.True((bool)(await demo.Get("/api/shop"))["isDemo"]!);
    }

    private static async Task<JsonNode> Row(RunningServer server, string promotion) =>
        (await server.Get("/api/takings"))["rows"]!.AsArray().Single(row => (string)row!["id"]! == promotion)!;

    private static string RowOf(string name) => $"//*[@data-testid='takings-row'][contains(., '{name}')]";

    private static string[] Cells(Ledger ledger, string name) =>
        [.. ledger.Driver.FindElements(By.XPath($"{RowOf(name)}/td")).Select(cell => cell.Text)];

    private static async Task Order(RunningServer server)
    {
        var key = RunningServer.Run("", "key", "new", "server", "--data", server.Data).Output.Trim();
        async Task<JsonNode> Call(string path, object body)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"/store/v1/{path}")
            {
                Content = new StringContent(System.Text.Json.JsonSerializer.Serialize(body), Encoding.UTF8, "application/json"),
            };
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", key);
            request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
            using var answer = await server.Http.SendAsync(request);
            var text = await answer.Content.ReadAsStringAsync();
            Assert.True(answer.IsSuccessStatusCode, text);
            return JsonNode.Parse(text)!;
        }

        var cart = new { destination = "DE", lines = new[] { new { sku = "FELL-TYRE-28-622", quantity = 2 } } };
        var quote = await Call("quote", new { cart });
        await Call(
            "orders",
            new
            {
                cart,
                shown = quote["shown"],
                take = true,
            }
        );
    }
}
