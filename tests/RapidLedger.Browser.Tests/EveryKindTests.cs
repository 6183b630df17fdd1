using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>
/// One promotion of every kind, written at the desk from an empty page until it is live, half of them by keyboard alone, with the figures
/// on the tape.
/// </summary>
public class EveryKindTests
{
    private const string River = "RIVER-ROUTE-2027",
        Handbook = "TOURING-HANDBOOK-GERMAN",
        Moor = "MOOR-MAP-2027";

    [Fact]
    public async Task Buy_some_get_some_by_mouse()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Begin(ledger, "buy some, get some", (Moor, 2), (River, 1));
        Items(ledger, "Buy what", "moor map, north");
        Items(ledger, "Get what", "river");
        // Two maps of the moor at 9.80, and the river's 12.80 is free.
        ledger.UntilEqual("−12.80", () => ledger.Entry(ledger.Id));
        ledger.Choose("How the price comes down", "% off");
        ledger.Type("Percent off", "25 %");
        ledger.UntilEqual("−3.20", () => ledger.Entry(ledger.Id));
        ledger.Choose("By what it counts", "as in a table, of");
        // Pasted from a spreadsheet: one bought gives one, and two bought two.
        Paste(ledger, "buy, row 1", "1\t1\n2\t2");
        ledger.Until(() => ledger.Count("[aria-label='get, row 2']") == 1);
        ledger.Type("get, row 1", "1");
        ledger.UntilEqual("−3.20", () => ledger.Entry(ledger.Id));
        PutLive(ledger, "Maps for maps");
    }

    [Fact]
    public async Task A_set_by_keyboard()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Cart(ledger, (River, 1), (Handbook, 1));
        ledger.Open("/promotions");
        ledger.Press("n");
        ledger.TabTo("Sell sets");
        ledger.Press(Keys.Enter);
        ledger.Find("[data-reward=bundle]");
        TabToItems(ledger, "Slot 1: of what", "river");
        TabToItems(ledger, "Slot 2: of what", "touring handbook");
        // 12.80 and 24.00 together, 15 % less.
        ledger.UntilEqual("−5.52", () => ledger.Entry(ledger.Id));
        ledger.TabTo("Percent off");
        ledger.Press("20", Keys.Enter);
        ledger.UntilEqual("−7.36", () => ledger.Entry(ledger.Id));
        ledger.Chord(Keys.Enter, Keys.Control);
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_ladder_by_keyboard()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Cart(ledger, (River, 6));
        ledger.Open("/promotions");
        ledger.Press("n");
        ledger.TabTo("Sell in volume");
        ledger.Press(Keys.Enter);
        ledger.Find("[data-reward=ladder]");
        TabToItems(ledger, "Of what it counts", "books and");
        // Three steps, written like a spreadsheet: Enter goes down, and begins a row after the last.
        ledger.TabTo("from, step 1");
        ledger.Press("2", Keys.Enter, "5", Keys.Enter, "8", Keys.ArrowRight, "20 %", Keys.ArrowUp, "15%", Keys.ArrowUp, "2.00 off");
        // Six at 12.80: from five on 15 % off 76.80.
        ledger.UntilEqual("−11.52", () => ledger.Entry(ledger.Id));
        ledger.Until(
            () => ledger.ReadBack.Contains("from 2 items of Books and maps: €2.00 off", StringComparison.Ordinal),
            () => ledger.ReadBack
        );
        ledger.Chord(Keys.Enter, Keys.Control);
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_gift_and_delivery_in_one_promotion_by_mouse()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Begin(ledger, "a gift", (Handbook, 4));
        ledger.Click("button[aria-label^='Gifts']");
        ledger.Find("input[aria-label='Find variants']").SendKeys("brass bell");
        ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith("Brass bell", StringComparison.Ordinal));
        ledger.Press(Keys.Enter, Keys.Escape);
        ledger.UntilEqual("−16.00", () => ledger.Entry(ledger.Id));
        // Of a gift nothing bounds, so many are in stock: one press makes that the bound.
        ledger.Click("[data-check=giftStock] button");
        ledger.Until(() => ledger.ReadBack.Contains("Until ", StringComparison.Ordinal) && ledger.Count("[data-check=giftStock]") == 0);

        ledger.Choose("Give", "delivery for less");
        ledger.Until(() => ledger.Count("[data-reward=shipping]") == 1);
        ledger.Choose("By which ways", "only");
        ledger.Until(() => ledger.ReadBack.Contains("free delivery by Parcel", StringComparison.Ordinal));
        ledger.Click("[aria-label='Move this reward up']");
        ledger.UntilEqual("shipping", () => ledger.Find("[data-reward]").GetAttribute("data-reward"));
        // 96.00 and 4.90 for the parcel, which is free now.
        ledger.UntilEqual("€96.00", () => ledger.Due);
        PutLive(ledger, "A bell on the way");
    }

    [Fact]
    public async Task Lower_prices_points_and_credit_by_keyboard()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Begin(ledger, "lower prices", (Handbook, 2));
        TabToItems(ledger, "Level 1: of what", "touring handbook");
        ledger.Type("takes, level 1", "for 19.50");
        ledger.UntilEqual("−9.00", () => ledger.Entry(ledger.Id));
        ledger.Click("[aria-label='Take out: lower prices']");

        ledger.Choose("Give", "points");
        ledger.Type("For every so much", "12");
        // 48.00 paid, four times 12.
        ledger.UntilEqual("4", () => ledger.Text("[data-testid=points]"));
        ledger.Click("[aria-label='Take out: points']");

        ledger.Choose("Give", "credit");
        ledger.Type("Credit", "20,50");
        // 48.00 and 4.90 for the parcel, less 20.50.
        ledger.UntilEqual("€32.40", () => ledger.Due);
        ledger.Chord("z", Keys.Control);
        ledger.UntilEqual("€42.90", () => ledger.Due);
        Assert.Contains("taken back: a change of Gives", ledger.Text("[data-testid=taken-back]"));
        ledger.Chord("z", Keys.Control, Keys.Shift);
        ledger.UntilEqual("€32.40", () => ledger.Due);
    }

    [Fact]
    public async Task What_cannot_be_meant_is_not_started_and_amounts_are_said_by_currency()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Begin(ledger, "a discount", (Handbook, 1));
        Items(ledger, "On what", "touring handbook");
        ledger.Choose("How the price comes down", "EUR off");
        ledger.Type("Amount off", "0");
        ledger.Until(() => ledger.Count("[data-check=nothingGiven]") == 1);
        Assert.Equal("true", ledger.Find("button.stamp").GetAttribute("aria-disabled"));
        ledger.Type("Amount off", "€4.00");
        ledger.UntilEqual("−4.00", () => ledger.Entry(ledger.Id));
        ledger.Click("button[aria-label^='Amount off, in other currencies']");
        ledger.UntilEqual("3.40", () => ledger.Find("[aria-label='In GBP']").GetAttribute("placeholder"));
        ledger.Type("In GBP", "3.75");
        ledger.Press(Keys.Escape);
        ledger.Choose("Currency", "GBP");
        ledger.UntilEqual("−3.75", () => ledger.Entry(ledger.Id));
    }

    private static void Begin(Ledger ledger, string kind, params (string Sku, int Quantity)[] lines)
    {
        Cart(ledger, lines);
        ledger.Open("/promotions/new");
        ledger.Click("//button[contains(., 'An empty rule')]");
        if (kind == "a discount")
            return;
        ledger.Click("[aria-label='Take out: a discount']");
        ledger.Choose("Give", kind);
    }

    // A guest's, which goes to Berlin by parcel.
    private static void Cart(Ledger ledger, params (string Sku, int Quantity)[] lines) =>
        ledger.Script(
            "localStorage.setItem('rapid-ledger.cart', JSON.stringify({who: 'Guest', sample: '', cart: {destination: 'DE-BE', method: 'parcel', codes: [], lines: arguments[0].map((sku, place) => ({sku, quantity: Number(arguments[1][place])}))}}))",
            lines.Select(line => line.Sku).ToArray(),
            lines.Select(line => $"{line.Quantity}").ToArray()
        );

    private static void Items(Ledger ledger, string part, string typed)
    {
        ledger.Click($"button[aria-label^='{part}']");
        Choose(ledger, typed);
    }

    private static void TabToItems(Ledger ledger, string part, string typed)
    {
        ledger.TabTo(part);
        ledger.Press(Keys.Enter);
        Choose(ledger, typed);
    }

    private static void Choose(Ledger ledger, string typed)
    {
        ledger.Find("input[aria-label='Find items']");
        ledger.Press(typed);
        ledger.Until(
            () => ledger.Text("[role=dialog] [role=option]").StartsWith(typed, StringComparison.OrdinalIgnoreCase),
            () => $"{typed} is not found first"
        );
        ledger.Press(Keys.Enter);
        ledger.Find("[data-testid=selection-count]");
        ledger.Press(Keys.Escape);
        ledger.Until(() => ledger.Count("[role=dialog]") == 0);
    }

    private static void Paste(Ledger ledger, string cell, string text) =>
        ledger.Script(
            "const cell = document.querySelector(`[aria-label='${arguments[0]}']`); cell.focus(); const data = new DataTransfer(); data.setData('text/plain', arguments[1]); cell.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}));",
            cell,
            text
        );

    private static void PutLive(Ledger ledger, string name)
    {
        ledger.Type("Name, for yourselves", name);
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        ledger.ClickWord("Put live");
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
        ledger.ClickWord("all promotions");
        ledger.Until(() => ledger.Count($"//*[@data-testid='row'][contains(., '{name}')]") == 1);
    }
}
