using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The store: keys made and withdrawn, stock set and put back, a shopper forgotten.</summary>
public class StoreTests
{
    [Fact]
    public async Task A_key_is_made_and_withdrawn_stock_is_set_and_put_back_and_a_shopper_is_forgotten()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Press("g", "s", "s");
        ledger.ClickWord("make it");
        ledger.Find("//*[contains(., 'Say in 1 to 100 characters what the key is for')]");
        ledger.Type("What the key is for", "the web shop");
        // Pressed twice: one is made, for the second nothing says what it is for.
        ledger.ClickWord("make it");
        ledger.ClickWord("make it");
        Assert.StartsWith("rl_", ledger.Text("[data-testid=made-key] .font-mono"), StringComparison.Ordinal);
        Assert.Equal(1, ledger.Count("[data-testid=key]"));
        ledger.Click("button[aria-label='withdraw k1']");
        ledger.Until(() =>
            ledger.Count("[data-testid=made-key]") == 0 && ledger.Text("[data-testid=key]").Contains("withdrawn", StringComparison.Ordinal)
        );
        Assert.Empty(ListeningTests.Axe(ledger));

        // What is no number is told, what is one is kept, and taken back.
        ledger.Find("[aria-label='Find an item of which to set the stock']").SendKeys("brass bell");
        ledger.Until(() => ledger.Count("[data-testid=stock-row]") == 2);
        ledger.Type("Left of Brass bell (22.2)", "many");
        ledger.Press(Keys.Tab);
        ledger.Until(() => ledger.Text("[data-testid=stock-row] [role=alert]").Contains("is no number of units", StringComparison.Ordinal));
        ledger.Type("Left of Brass bell (22.2)", "3");
        ledger.Press(Keys.Tab);
        ledger.UntilEqual("3", () => ledger.Find("[aria-label='Left of Brass bell (22.2)']").GetAttribute("value"));
        ledger.Until(() => ledger.Count("[data-testid=stock-row] [role=alert]") == 0);
        ledger.Find("h1").Click();
        ledger.Chord("z", Keys.Control);
        ledger.UntilEqual("75", () => ledger.Find("[aria-label='Left of Brass bell (22.2)']").GetAttribute("value"));

        ledger.Find("[aria-label='Find a shopper to forget']").SendKeys("Bente Tannholz");
        ledger.Click("button[aria-label='forget Bente Tannholz']");
        ledger.ClickWord("cancel");
        ledger.Click("button[aria-label='forget Bente Tannholz']");
        ledger.ClickWord("forget for good");
        ledger.Until(
            () => ledger.Text("[aria-label='Shoppers to forget']").Contains("Bente Tannholz is forgotten", StringComparison.Ordinal),
            () => ledger.Text("[aria-label='Shoppers to forget']")
        );
        ledger.Find("[aria-label='Find a shopper to forget']").SendKeys("Bente Tannholz");
        ledger.Until(() => ledger.Text("[aria-label='Shoppers to forget']").Contains("Nobody of that name", StringComparison.Ordinal));
        Assert.Empty(ListeningTests.Axe(ledger));
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task An_order_is_found_by_its_code_and_given_back_in_part_and_whole()
    {
        await using var server = await RunningServer.Start();
        var order = (await server.Get("/api/orders?q=o00026"))["orders"]![0]!;
        var code = (await server.Get("/api/codes?q=FIRST"))["ofBatches"]!.AsArray().First(code => (int)code!["used"]! > 0)!["code"]!;
        using var ledger = new Ledger(server);
        ledger.Open($"/codes?code={code}");
        ledger.Click("[data-testid=story] a[href^='/orders?order=']");
        ledger.Until(() => ledger.Count("[data-testid=order]") == 1 && ledger.Count("[data-testid=order-slip]") == 1);
        // What stands on the slip adds up to what is due.
        var amounts = ledger
            .Driver.FindElements(By.CssSelector("[data-testid=order-slip] [data-amount]"))
            .Select(element => decimal.Parse(element.GetAttribute("data-amount")!, System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal(
            decimal.Parse(
                ledger.Find("[data-testid=order-slip] [data-due]").GetAttribute("data-due")!,
                System.Globalization.CultureInfo.InvariantCulture
            ),
            amounts.Sum()
        );
        Assert.Empty(ListeningTests.Axe(ledger));

        ledger.Type("Find an order", (string)order["id"]!);
        ledger.Until(() =>
            ledger.Count("[data-testid=order]") == 1 && ledger.Text("[data-testid=order]").Contains("paid", StringComparison.Ordinal)
        );
        ledger.Click("[data-testid=order] button");
        ledger.Find("[data-testid=order-slip] input").SendKeys("99");
        ledger.ClickWord("give back…");
        ledger.ClickWord("give these back");
        ledger.Until(() =>
            ledger.Text("[data-testid=order-slip]").Contains("“99” is not a number of units from 1 to", StringComparison.Ordinal)
        );
        ledger.Find("[data-testid=order-slip] input").SendKeys(Keys.Control + "a");
        ledger.Find("[data-testid=order-slip] input").SendKeys(Keys.Backspace);
        ledger.ClickWord("give back…");
        ledger.ClickWord("cancel");
        ledger.ClickWord("give back…");
        ledger.ClickWord("give all of it back");
        ledger.Until(
            () =>
                ledger.Text("[data-testid=order-state]") == "given back"
                && ledger.Text("[data-testid=order-slip]").Contains("came back.", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=order]")
        );
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task A_price_of_delivery_and_a_family_are_changed_by_sentences_that_show_what_they_change()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server, at: "/store");
        // A price that a sample cart is delivered at, typed by keyboard; the difference stands there before anything holds.
        ledger.Type("Price 1 of delivery 1", "5.50");
        ledger.Until(
            () => ledger.Text("[aria-label='What changes']").Contains("becomes", StringComparison.Ordinal),
            () => ledger.Text("[aria-label='What changes']")
        );
        ledger.ClickWord("another family");
        ledger.Until(() => ledger.Text("[aria-label='What changes']").Contains("One thing is not right yet", StringComparison.Ordinal));
        ledger.Type("name, family 2", "clearance");
        ledger.Until(() => ledger.Text("[aria-label='What changes']").Contains("becomes", StringComparison.Ordinal));
        Assert.Empty(ListeningTests.Axe(ledger));
        // Typed, not stamped, and loaded again: it is there as it was typed.
        ledger.Open("/store");
        ledger.UntilEqual("5.50", () => ledger.Find("[aria-label='Price 1 of delivery 1']").GetAttribute("value"));
        ledger.Until(() => ledger.Text("[aria-label='What changes']").Contains("becomes", StringComparison.Ordinal));
        Assert.Equal("4.90", (string?)(await server.Get("/api/settings"))["store"]!["shipping"]![0]!["bands"]![0]!["price"]);
        ledger.ClickWord("Change the store");
        ledger.Until(() => ledger.Count("[aria-label='What changes']") == 0);
        Assert.Equal("5.50", (string?)(await server.Get("/api/settings"))["store"]!["shipping"]![0]!["bands"]![0]!["price"]);
        Assert.Equal(["season", "clearance"], (await server.Get("/api/shop"))["families"]!.AsArray().Select(one => (string)one!));
        ledger.Find("h1").Click();
        ledger.Chord("z", Keys.Control);
        ledger.UntilEqual("4.90", () => ledger.Find("[aria-label='Price 1 of delivery 1']").GetAttribute("value"));
        ledger.Chord("z", Keys.Control, Keys.Shift);
        ledger.UntilEqual("5.50", () => ledger.Find("[aria-label='Price 1 of delivery 1']").GetAttribute("value"));

        // What a rule names is not taken out: it says which.
        ledger.Click("[aria-label='Take family 1 out']");
        ledger.Until(
            () => ledger.Text("[data-clause=Families]").Contains("needs it", StringComparison.Ordinal),
            () => ledger.Text("[data-clause=Families]")
        );
        ledger.ClickWord("leave it as it was");
        ledger.Until(() => ledger.Count("[aria-label='What changes']") == 0);
    }

    [Fact]
    public async Task Orders_are_found_by_what_is_known_of_them_and_walked_by_keys()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Press("g", "s", "o");
        ledger.Find("[data-testid=order]");
        ledger.Press("f");
        ledger.Press("second light");
        ledger.Until(() =>
            ledger.Text("[data-testid=orders]").Contains("Looked for", StringComparison.Ordinal) && ledger.Count("[data-testid=order]") > 0
        );
        ledger.Press(Keys.ArrowDown);
        ledger.Find("[data-testid=order-rule]");
        var first = ledger.Text("[data-testid=order-slip] h2");
        ledger.Press("j");
        ledger.Until(() => ledger.Text("[data-testid=order-slip] h2") != first);
        ledger.Press("k");
        ledger.UntilEqual(first, () => ledger.Text("[data-testid=order-slip] h2"));
        Assert.Contains("half price", ledger.Text("[aria-label='Why it was that price']"), StringComparison.Ordinal);
        Assert.Empty(ListeningTests.Axe(ledger));
        ledger.Type("Find an order", "nothing of the kind");
        ledger.Find("//*[contains(., 'No order matches.')]");
    }

    [Fact]
    public async Task A_shopper_is_written_in_grouped_lets_one_see_what_they_would_get_and_buys_on_the_tape()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Press("g", "s", "h");
        ledger.Find("[data-testid=shopper]");
        ledger.ClickWord("a new shopper…");
        ledger.ClickWord("put them in");
        ledger.Find("//*[contains(., 'Say the number or address by which your shop knows them.')]");
        ledger.Type("Name of the new shopper", "Mira Neu");
        ledger.Type("Number of the new shopper", "m-1");
        ledger.ClickWord("put them in");
        ledger.Until(() => ledger.Text("[data-testid=shopper-page] h2") == "Mira Neu");
        bool Gets(string promotion) =>
            ledger
                .Driver.FindElements(By.CssSelector("[data-testid=open-promotion]"))
                .Any(one => one.Text.Contains(promotion, StringComparison.Ordinal));
        ledger.Until(() => Gets("Welcome"));
        Assert.False(Gets("Trade terms"));

        // Into a group: what is for it is open to them at once, and one step takes it back.
        ledger.Click("[aria-label^='Groups of this shopper']");
        ledger.Press("trade");
        ledger.Press(Keys.Enter);
        ledger.Until(() => Gets("Trade terms"));
        ledger.Press(Keys.Escape);
        Assert.Empty(ListeningTests.Axe(ledger));
        ledger.ClickWord("buy as them on the tape");
        ledger.Find("h1").Click();
        ledger.Chord("z", Keys.Control);
        ledger.Chord("z", Keys.Control);
        ledger.Until(() => !Gets("Trade terms"));
        ledger.Chord("z", Keys.Control, Keys.Shift);
        ledger.Until(() => Gets("Trade terms"));
        ledger.Type("Find a shopper", "mira neu");
        ledger.Until(() =>
            ledger.Count("[data-testid=shopper]") == 1 && ledger.Text("[data-testid=shopper]").Contains("trade", StringComparison.Ordinal)
        );
    }
}
