using System.Text.Json.Nodes;
using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>What misled somebody who saw the ledger for the first time does so no more: on the machine's clock, as users have it.</summary>
public class FirstSightTests
{
    [Fact]
    public async Task What_is_typed_keeps_its_kind_and_what_is_half_typed_changes_nothing()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        Begin(ledger, "Sell in volume", "[data-reward=ladder]");
        async Task<JsonNode> Document() => (await server.Get($"/api/promotions/{ledger.Id}"))["document"]!;

        // A number alone over 5 %, and in the row below, is a percentage; an amount stays one.
        ledger.Type("takes, step 1", "8");
        ledger.ClickWord("another step");
        ledger.Type("takes, step 3", "20");
        ledger.Type("takes, step 2", "2.50 off");
        ledger.Type("takes, step 2", "3");
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        var steps = (await Document())["rewards"]![0]!["steps"]!;
        Assert.Equal(
            ["""{"percent":8}""", """{"amount":"3"}""", """{"percent":20}"""],
            steps.AsArray().Select(step => step!["rewards"]![0]!["take"]!.ToJsonString())
        );

        // A date that is typed goes through others, which do not stay behind; Escape puts back what stood there.
        var year = DateTime.UtcNow.Year + 1;
        ledger.Click("[aria-label^='End: ']");
        ledger.Press($"31.12.{year}", Keys.Enter);
        ledger.Until(() => ledger.Find("[aria-label^='End: ']").Text.Contains($"31 December {year}", StringComparison.Ordinal));
        var end = $"{year + 1}-01-01T00:00";
        foreach (var half in new[] { "31.4.2029", "12/31/2029 25:00", "Friday nonsense" })
        {
            ledger.Click("[aria-label^='End: ']");
            ledger.Press(half);
            ledger.Until(() => ledger.Text("[role=dialog] [role=status]").StartsWith('⚠'));
            ledger.Press(Keys.Escape);
            ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
            Assert.Equal(end, (string?)(await Document())["window"]!["end"]);
        }

        ledger.Click("[aria-label^='End: ']");
        ledger.Press("1 June 2029");
        ledger.Until(() =>
            ledger.Text("[role=dialog] [role=status]").StartsWith("Friday, 1 June 2029, 24:00, in ", StringComparison.Ordinal)
        );
        ledger.Press(Keys.Escape);
        ledger.Until(() => ledger.Find("[aria-label^='End: ']").Text.Contains($"31 December {year}", StringComparison.Ordinal));
        // Berlin has no such time that day, and says so while it is typed.
        ledger.Click("[aria-label^='Start: ']");
        ledger.Press("25 March 2029 02:30");
        ledger.Until(() => ledger.Text("[role=dialog] [role=status]").Contains("03:30 is taken", StringComparison.Ordinal));
        ledger.Press(Keys.Escape);

        // A click in the note marks nothing of it: what is typed next is added.
        ledger.Find("[aria-label^='Note']").SendKeys("ask Malte");
        ledger.Click("h1 ~ header h2, [data-clause=Runs] h2");
        ledger.Click("[aria-label^='Note']");
        ledger.Press(Keys.End, " first");
        Assert.Equal("ask Malte first", ledger.Find("[aria-label^='Note']").GetAttribute("value"));

        // A press beside an open part closes it; what is typed next is no key of the page.
        ledger.Click("[aria-label^='End: ']");
        ledger.Find("[role=dialog]");
        ledger.Click("[data-clause=Runs] h2");
        ledger.Until(() => ledger.Count("[role=dialog]") == 0);
        var id = ledger.Id;
        ledger.Press("n", "?", "/");
        Assert.Equal((id, 0), (ledger.Id, ledger.Count("[role=dialog]")));
    }

    [Fact]
    public async Task Brackets_hold_conditions_of_every_kind()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        Begin(ledger, "Lift the basket", "[data-clause=When]");
        // 195.20 are in the cart: at the shop's own counter, or from 500.00 on, and only by parcel.
        ledger.UntilEqual("−10.00", () => ledger.Entry(ledger.Id));
        ledger.Choose("Narrow for whom", "a delivery method");
        ledger.Click("button[aria-label^='Ways of delivery']");
        ledger.Click("//label[normalize-space(.)='Parcel']/input");
        ledger.Press(Keys.Escape);
        ledger.Choose("Add a condition: and when…", "any of several");
        ledger.Choose("Add a condition: add to the bracket…", "a group of shoppers");
        ledger.Click("button[aria-label^='Groups']");
        ledger.Click("//label[normalize-space(.)='trade']/input");
        ledger.Press(Keys.Escape);
        ledger.UntilEqual(null, () => ledger.Entry(ledger.Id));
        ledger.Choose("Add a condition: add to the bracket…", "an amount of money");
        var least = ledger.Driver.FindElements(OpenQA.Selenium.By.CssSelector("[data-clause=When] [aria-label='At least']"))[^1];
        least.Click();
        least.SendKeys(Keys.Control + "a");
        least.SendKeys("150");
        ledger.UntilEqual("−10.00", () => ledger.Entry(ledger.Id));
        Assert.Contains("any of", ledger.Text("[data-clause=When]"));
        Assert.Empty(ListeningTests.Axe(ledger));
        // After other promotions it is counted only outside brackets, and says so.
        ledger.Driver.FindElements(OpenQA.Selenium.By.CssSelector("[data-clause=When] button[aria-label^='Counted']"))[^1].Click();
        Assert.Contains("only outside brackets", ledger.Find("[role=option][data-disabled]").Text);
    }

    [Fact]
    public async Task Codes_are_made_for_a_promotion_to_a_last_day()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        Begin(ledger, "One code for a partner", "[data-clause=Starts]");
        ledger.ClickWord("make one up");
        ledger.Until(() => ledger.Find("[aria-label^='Codes, with']").GetAttribute("value")?.Length == 8);
        ledger.Type("Name, for yourselves", "Fair at the lake");
        var id = ledger.Id;
        ledger.Until(() => (string?)server.Get($"/api/promotions/{id}").Result["document"]!["name"] == "Fair at the lake");

        ledger.Open("/codes");
        ledger.ClickWord("make codes…");
        ledger.Type("How many", "500");
        ledger.Click("button[aria-label^='Last day']");
        ledger.Press("31 December", Keys.Enter);
        ledger.Until(() => ledger.Text("[data-testid=make-batch]").Contains("31 December", StringComparison.Ordinal));
        ledger.Click("button[aria-label^='For which promotion']");
        ledger.Find("input[aria-label='Find a promotion']").SendKeys("fair at");
        ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith("Fair at the lake", StringComparison.Ordinal));
        ledger.Press(Keys.Enter);
        // It ends after 200.
        ledger.Until(() => ledger.Text("[data-testid=too-many-codes]").Contains("ends after 200 orders", StringComparison.Ordinal));
        Assert.Empty(ListeningTests.Axe(ledger));
        ledger.ClickWord("Make them");
        ledger.UntilEqual("500 codes, 0 used", () => ledger.Text("[data-batch=b2] [data-testid=batch-counts]"));
        var batch = (await server.Get("/api/batches")).AsArray().Single(one => (string?)one!["id"] == "b2")!;
        Assert.Equal($"{DateTime.UtcNow.Year}-12-31", (string?)batch["lastDay"]);
        ledger.ClickWord("open it to put that live");
        ledger.Until(() => ledger.ReadBack.Contains("or any code of the batch b2", StringComparison.Ordinal), () => ledger.ReadBack);
        Assert.Equal(id, ledger.Id);
    }

    [Fact]
    public async Task What_one_window_wrote_is_not_lost_to_another()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        Begin(ledger, "Lift the basket", "[data-clause=When]");
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        var page = await server.Get($"/api/promotions/{ledger.Id}");
        var theirs = page["document"]!.DeepClone();
        theirs["note"] = "theirs";
        await server.Send(
            HttpMethod.Put,
            $"/api/promotions/{ledger.Id}/draft",
            new { revision = (long)page["revision"]!, document = theirs }
        );

        ledger.Find("[aria-label^='Note']").SendKeys("mine");
        ledger.Find("[role=alert]");
        // Whoever goes away and comes back is shown both again; nothing was overwritten meanwhile.
        ledger.Driver.Navigate().Refresh();
        ledger.Until(() => ledger.Text("[role=alert]").Contains("theirs", StringComparison.Ordinal));
        Assert.Contains("mine", ledger.Text("[role=alert]"));
        Assert.Equal("choose first which of the two to keep", ledger.Text("[data-testid=why-not-live]"));
        Assert.Equal("theirs", (string?)(await server.Get($"/api/promotions/{ledger.Id}"))["document"]!["note"]);
        ledger.ClickWord("keep yours");
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        Assert.Equal("mine", (string?)(await server.Get($"/api/promotions/{ledger.Id}"))["document"]!["note"]);
    }

    [Fact]
    public async Task Places_are_reached_by_keys_and_a_server_that_is_away_is_told()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Find("[data-testid=row]");
        ledger.Press("g", "s");
        ledger.Until(() => ledger.Count("[aria-label=Places] u") == 5);
        ledger.Press("c");
        ledger.Find("[data-testid=counter]");
        ledger.Press("g", "w", "p");
        ledger.Find("[data-testid=row]");
        // The focus is at the place, whose keys work at once.
        ledger.Until(() => ledger.Script("return document.activeElement.getAttribute('role')") is "grid");
        ledger.Press("j", Keys.Enter);
        ledger.Find("[data-testid=read-back]");
        Assert.Equal(0, ledger.Count("[data-testid=away]"));
        ledger.Until(() => ledger.ReadBack.Length > 0);
        var shown = ledger.ReadBack;

        await server.Stop();
        ledger.Until(() =>
            ledger.Count("[data-testid=away]") == 1
            && ledger.Text("[data-testid=away]").Contains("What you see is from", StringComparison.Ordinal)
        );
        Assert.Equal(shown, ledger.ReadBack);
    }

    [Fact]
    public async Task Places_can_be_read_at_any_width_by_day_and_by_night()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        foreach (
            var path in (string[])
                [
                    "/promotions",
                    "/promotions/climb",
                    "/promotions/new",
                    "/codes",
                    "/takings",
                    "/stacking",
                    "/goods",
                    "/orders",
                    "/shoppers",
                    "/store",
                    "/counter",
                    "/editions",
                ]
        )
        {
            ledger.Driver.Navigate().GoToUrl(new Uri(server.Address, path));
            ledger.Find("[data-left-page] h1");
            ledger.Until(() => ledger.Text("[data-left-page]").Length > 80);
            foreach (var width in (int[])[390, 1024, 1280])
            {
                ledger.Widen(width);
                ledger.Until(() => Equals(ledger.Script("return innerWidth"), (long)width));
                Assert.Empty(ListeningTests.Axe(ledger).Select(one => $"{path} at {width}: {one}"));
                Assert.Equal(
                    (path, width, true),
                    (path, width, ledger.Script("return document.documentElement.scrollWidth <= innerWidth"))
                );
            }
        }

        ledger.Widen(null);
    }

    [Fact]
    public async Task A_rule_that_is_not_finished_asks_for_nothing_that_must_be_refused()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        foreach (var intent in (string[])["Clear slow stock", "Sell sets", "Thank with a gift", "One code for a partner", "An empty rule"])
        {
            Begin(ledger, intent, "[data-clause=Gives]");
            ledger.Until(() => ledger.Text("[data-testid=why-not-live]").Contains("not finished", StringComparison.Ordinal));
            // What the shopper reads is asked for a moment after the last key.
            ledger.Type("Label, for the shopper", "Soon");
            ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
            Thread.Sleep(TimeSpan.FromSeconds(1));
            var refused =
                (IEnumerable<object>)
                    ledger.Script(
                        "return performance.getEntriesByType('resource').filter((one) => one.responseStatus >= 400).map((one) => `${one.responseStatus} ${one.name}`)"
                    )!;
            Assert.Empty(refused);
        }
    }

    [Fact]
    public async Task What_a_finding_mends_is_looked_at_again()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server, at: "/promotions/oil-ladder");
        const string ToTrade = "//*[@data-check='belowCostTogether'][contains(., 'With “Trade terms”')]";
        var told = ledger.Text(ToTrade);
        Assert.Contains("Chain oil (50 ml) for €", told);
        ledger.Click($"{ToTrade}//button[normalize-space(.)='not beside “Trade terms”']");
        ledger.Until(() => ledger.Count(ToTrade) == 0);
        Assert.Contains("Trade terms", ledger.Text("[data-clause=Alongside]"));
        ledger.Chord("z", Keys.Control);
        ledger.Until(() => ledger.Count(ToTrade) == 1);
        Assert.Equal(told, ledger.Text(ToTrade));
    }

    [Fact]
    public async Task On_paper_stand_shop_buyer_place_clock_and_rule_and_nothing_to_press()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server, at: "/promotions/trade-12");
        ledger.Find("[data-testid=read-back]");
        ledger.OnPaper(true);
        const string Head = "[aria-label=Tape] header.only-printed";
        ledger.Until(() =>
            ledger.Text(Head).Contains("Priced by “Trade terms” as it is being written, beside edition 1", StringComparison.Ordinal)
        );
        var head = ledger.Text(Head);
        var shop = await server.Get("/api/shop");
        Assert.StartsWith((string)shop["name"]!, head);
        Assert.Contains(DateTime.UtcNow.Year.ToString(System.Globalization.CultureInfo.InvariantCulture), head);
        Assert.Contains($"{shop["timeZone"]} time", head);
        Assert.Contains("Malte Kranichstein buys on web, pays in EUR, to Berlin by Parcel", head);
        Assert.DoesNotContain(ledger.Driver.FindElements(By.CssSelector("[data-cart-line] button[aria-label^='One ']")), one =>
            one.Displayed
        );
        Assert.False(ledger.Find("[aria-label=Desk]").Displayed);
        ledger.OnPaper(false);
        Assert.True(ledger.Find("[aria-label=Desk]").Displayed);
    }

    private static void Begin(Ledger ledger, string intent, string begun)
    {
        ledger.Open("/promotions/new");
        ledger.Click($"//button[contains(., '{intent}')]");
        ledger.Find(begun);
        ledger.Find("[data-testid=read-back]");
    }
}
