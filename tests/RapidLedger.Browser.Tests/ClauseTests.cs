using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>Every clause of the desk and every part of the tape's head, each with what it does to the sentence and the figures.</summary>
public class ClauseTests
{
    [Fact]
    public async Task Each_clause_changes_the_sentence_and_the_tape()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.ClickWord("New");
        ledger.Click("//button[contains(., 'Lift the basket')]");
        ledger.Find("[data-testid=read-back]");
        var id = ledger.Id;
        ledger.UntilEqual("−10.00", () => ledger.Entry(id));

        // For: a group the shopper is not in, taken out again.
        ledger.Choose("Narrow for whom", "a group of shoppers");
        ledger.Until(() => ledger.Text("[data-clause=For]").Contains("Nobody is chosen yet", StringComparison.Ordinal));
        ledger.Click("button[aria-label^='Groups']");
        ledger.Click("//label[normalize-space(.)='trade']/input");
        ledger.Press(Keys.Escape);
        ledger.UntilEqual("For the group trade", () => ledger.ReadBack.Split(" · ")[1]);
        ledger.UntilEqual(null, () => ledger.Entry(id));
        ledger.Click("[data-clause=For] button[aria-label='Take this out']");
        ledger.UntilEqual("−10.00", () => ledger.Entry(id));

        // For: places, where this cart goes.
        ledger.Choose("Narrow for whom", "some places");
        ledger.Click("button[aria-label^='Places']");
        ledger.Find("input[aria-label='Find in Places']").SendKeys("berl" + Keys.Enter + Keys.Enter);
        ledger.UntilEqual("For carts to Berlin", () => ledger.ReadBack.Split(" · ")[1]);
        Assert.Equal("−10.00", ledger.Entry(id));

        // When: at exactly the amount it holds, a cent above it does not.
        ledger.Type("At least", "195.20");
        ledger.UntilEqual("−10.00", () => ledger.Entry(id));
        ledger.Type("At least", "195.21");
        ledger.UntilEqual(null, () => ledger.Entry(id));
        Assert.Contains("€0.01 short of €195.21", ledger.Text($"[data-testid=why-not][data-promotion='{id}']"));
        ledger.Type("At least", "100");

        // Gives: a cap, and only the dearest.
        ledger.Type("At most in one cart", "7.5");
        ledger.UntilEqual("−7.50", () => ledger.Entry(id));
        ledger.Type("At most in one cart", "");
        ledger.Choose("From which units", "only the dearest");
        ledger.Type("How many units", "2");
        // Twice ten off the two panniers at 48.67 that are dearest then.
        ledger.UntilEqual("−20.00", () => ledger.Entry(id));

        // Until and Alongside: limits are said, nothing else may stand beside it.
        ledger.Type("Uses for each shopper", "1");
        ledger.Type("Budget", "500");
        ledger.UntilEqual("Until 1 for each shopper, €500.00 given", () => ledger.ReadBack.Split(" · ")[5]);
        ledger.Choose("Beside what", "nothing else");
        ledger.UntilEqual("Alongside nothing else", () => ledger.ReadBack.Split(" · ")[6]);
        ledger.UntilEqual(null, () => ledger.Entry(id));
        Assert.Contains("Cannot meet Clear the moss panniers", ledger.Text($"[data-testid=why-not][data-promotion='{id}']"));
        ledger.Choose("Beside what", "anything but");
        ledger.Click("button[aria-label^='Those it names']");
        ledger.Click("//label[normalize-space(.)='Clear the moss panniers']/input");
        ledger.Press(Keys.Escape);
        ledger.UntilEqual("Alongside anything but “Clear the moss panniers”", () => ledger.ReadBack.Split(" · ")[6]);
    }

    [Fact]
    public async Task The_head_of_the_tape_says_who_buys_where_to_and_when()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.Choose("Delivery", "Pick-up at the shop");
        ledger.UntilEqual("0.00", () => ledger.Text("[data-testid=delivery]"));
        ledger.Choose("Destination", "Canary Islands");
        ledger.Choose("Delivery", "Parcel");
        ledger.Until(() => ledger.Text("[aria-label=Tape]").Contains("Parcel is not to be had there", StringComparison.Ordinal));
        ledger.Choose("Destination", "Germany");

        // In pounds at 0.85, each price rounded by itself: panniers 55.17, tubes 5.87, tyre 29.67, map 8.33.
        ledger.Choose("Currency", "GBP");
        ledger.UntilEqual("165.95", () => ledger.Text("[data-testid=goods]"));
        ledger.Choose("Currency", "EUR");

        ledger.Click("button[aria-label^='Shopper']");
        ledger.Find("input[aria-label='Find a shopper']").SendKeys("trade");
        ledger.Until(() => ledger.Text("[role=dialog] [role=option]").Contains("trade", StringComparison.Ordinal));
        ledger.Press(Keys.Enter);
        ledger.Until(() => ledger.Entry("trade-12") is not null);

        ledger.Click("button[aria-label^='Price the cart at']");
        ledger.Find("[role=dialog] input").SendKeys(Keys.Control + "a");
        ledger.Find("[role=dialog] input").SendKeys("12 March 18:30" + Keys.Enter);
        ledger.Until(() => ledger.Entry("friday-hour") is not null, () => ledger.Text("button[aria-label^='Price the cart at']"));
        // The list follows the tape's clock.
        ledger.Until(
            () => ledger.Text("#row-rain-week").Contains("ends in 2 days", StringComparison.Ordinal),
            () => ledger.Text("#row-rain-week")
        );
    }

    [Fact]
    public async Task A_line_tells_its_parts_and_the_tape_folds_away()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.Click("button[title^='Drover pannier (moss)']");
        ledger.Until(() => ledger.Text("[aria-label=Tape] dl").Contains("Moss green, 25 % off, on 2", StringComparison.Ordinal));
        Assert.Contains("27.26", ledger.Text("[aria-label=Tape] dl"));
        ledger.Find("#add-item").SendKeys("brass bell");
        ledger.Until(() => ledger.Count("[role=option]") == 2);
        ledger.Find("#add-item").SendKeys(Keys.Enter + Keys.Escape);
        ledger.Until(() => ledger.Count("[data-testid=line-goods]") == 5);
        ledger.Find("[role=grid]").Click();
        ledger.Script("document.activeElement.blur()");
        ledger.Press("\\");
        ledger.Until(() => ledger.Count("[aria-label=Tape]") == 0);
        ledger.Press("\\");
        ledger.Find("[aria-label=Tape]");
        ledger.Press("?");
        ledger.Until(() => ledger.Text("[role=dialog]").Contains("fold the right page away", StringComparison.Ordinal));
    }
}
