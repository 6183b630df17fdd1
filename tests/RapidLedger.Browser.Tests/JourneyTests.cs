using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The main path as a merchant walks it, once by mouse and once by keyboard, with the figures on the tape.</summary>
public class JourneyTests
{
    [Fact]
    public async Task By_mouse_a_promotion_is_written_priced_put_live_found_again_and_ended()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        Assert.Equal("€155.84", ledger.Due);
        Assert.Equal("−32.46", ledger.Entry("moss-panniers"));

        ledger.ClickWord("New");
        ledger.Click("//button[contains(., 'One code for a partner')]");
        ledger.Type("Name, for yourselves", "Moor walkers");
        ledger.Type("Codes, with commas between", "walk4");
        ledger.Type("Amount off", "4,50");
        // The amount was typed last: once it is read back, all that was typed before is.
        ledger.Until(() => ledger.ReadBack.Contains("Gives €4.50 off the order, once", StringComparison.Ordinal), () => ledger.ReadBack);
        Assert.StartsWith("Starts by the code WALK4 · ", ledger.ReadBack, StringComparison.Ordinal);

        // The tape knows the code before anything is saved.
        ledger.Find("#enter-code").SendKeys("Walk4" + Keys.Enter);
        var id = ledger.Id;
        ledger.UntilEqual("−4.50", () => ledger.Entry(id));
        ledger.UntilEqual("€151.34", () => ledger.Due);
        Assert.Contains("under the live edition €155.84", ledger.Text("[data-testid=beside]"));
        Assert.Contains("✓ WALK4", ledger.Text("[data-testid=code]"));

        // On what: only the tyres, chosen from the catalogue; 34.90 less 10 %.
        ledger.Choose("How the price comes down", "% off");
        // One goes on from where one was.
        ledger.UntilEqual("How the price comes down: % off", () =>
            (string?)ledger.Script("return document.activeElement.getAttribute('aria-label')")
        );
        ledger.Type("Percent off", "10");
        ledger.Choose("From which units", "every unit of");
        ledger.Click("[data-clause=Gives] button[aria-label^='On what']");
        ledger.Find("input[aria-label='Find items']").SendKeys("tyr");
        ledger.Click("//*[@role='option'][contains(., 'Tyres') and contains(., 'category, in Wheels')]");
        ledger.UntilEqual("28 SKUs of 6 products", () => ledger.Text("[data-testid=selection-count]"));
        ledger.Press(Keys.Escape);
        ledger.UntilEqual("−3.49", () => ledger.Entry(id));

        // From when to when: it starts next week, so the tape says why not and offers the clock.
        ledger.Click("[aria-label^='Start:']");
        ledger.Press("12.3. 8:00", Keys.Enter);
        ledger.UntilEqual(null, () => ledger.Entry(id));
        ledger.Click($"[data-testid=why-not][data-promotion='{id}'] button");
        ledger.UntilEqual("−3.49", () => ledger.Entry(id));

        ledger.ClickWord("Put live");
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
        server.Kill();
        await server.StartAgain();
        ledger.Driver.Navigate().Refresh();
        ledger.UntilEqual("Moor walkers", () => ledger.Find("[aria-label='Name, for yourselves']").GetAttribute("value"));
        ledger.UntilEqual("−3.49", () => ledger.Entry(id));

        ledger.ClickWord("pause");
        ledger.Until(() => ledger.Text("[aria-label=Desk] header").Contains("paused", StringComparison.Ordinal));
        ledger.ClickWord("all promotions");
        ledger.UntilEqual(null, () => ledger.Entry(id));
        ledger.Find("[placeholder^='filter by a word']").SendKeys("moor walkers");
        ledger.Click($"#row-{id}");
        ledger.ClickWord("copy");
        ledger.UntilEqual("Moor walkers, copy", () => ledger.Find("[aria-label='Name, for yourselves']").GetAttribute("value"));
        ledger.Open($"/promotions/{id}");
        ledger.ClickWord("retire");
        ledger.Until(() => ledger.Text("[aria-label=Desk] header").Contains("retired", StringComparison.Ordinal));
    }

    [Fact]
    public async Task By_keyboard_alone_a_promotion_is_written_priced_and_put_live()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);

        ledger.Press("n");
        ledger.TabTo("An empty rule");
        ledger.Press(Keys.Enter);
        ledger.Find("[data-testid=read-back]");
        ledger.TabTo("Name, for yourselves");
        ledger.Press("Tubes by three", Keys.Enter);

        ledger.TabTo("Add a condition");
        ledger.Press(Keys.Enter);
        ledger.Until(() => ledger.Count("[role=menuitem]") > 5);
        ledger.Press(Keys.Enter);
        // When the cart holds at least 3 of inner tubes: the part opens a chooser, typing works at once.
        ledger.TabTo("How many");
        ledger.Press("3", Keys.Enter);
        ledger.TabTo("Of what");
        ledger.Press(Keys.Enter);
        ledger.Find("input[aria-label='Find items']");
        ledger.Press("inner tubes");
        ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith("Inner tubes", StringComparison.Ordinal));
        ledger.Press(Keys.Enter, Keys.Escape);
        ledger.TabTo("Percent off");
        ledger.Press("15");
        ledger.TabTo("On what");
        ledger.Press(Keys.Enter);
        ledger.Find("input[aria-label='Find items']");
        ledger.Press("inner tubes");
        ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith("Inner tubes", StringComparison.Ordinal));
        ledger.Press(Keys.Enter, Keys.Escape);

        // 15 % of 6.90 is 1.035, rounded 1.04, three times; then the cheapest of the three is free at 5.86.
        var id = ledger.Id;
        ledger.UntilEqual("−3.12", () => ledger.Entry(id));
        ledger.UntilEqual("€153.76", () => ledger.Due);

        // One tube fewer: the tape says what is missing; the key brings it back.
        ledger.TabTo("Quantity of Inner tube (28)");
        ledger.Press(Keys.ArrowDown);
        ledger.UntilEqual(null, () => ledger.Entry(id));
        Assert.Contains("Has 2 items of Inner tubes, needs at least 3.", ledger.Text($"[data-testid=why-not][data-promotion='{id}']"));
        // The focus was not lost when the tape reprinted.
        ledger.Press(Keys.ArrowUp);
        ledger.UntilEqual("−3.12", () => ledger.Entry(id));

        ledger.TabTo("Put live");
        ledger.Press(Keys.Enter);
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));

        // Undo goes back by what was done; the typed percentage first.
        ledger.TabTo("Percent off");
        ledger.Press("20");
        ledger.UntilEqual("−4.14", () => ledger.Entry(id));
        ledger.Driver.ExecuteScript("document.activeElement.blur()");
        new OpenQA.Selenium.Interactions.Actions(ledger.Driver).KeyDown(Keys.Control).SendKeys("z").KeyUp(Keys.Control).Perform();
        ledger.UntilEqual("−3.12", () => ledger.Entry(id));

        // The command line goes anywhere.
        ledger.Press("/");
        ledger.Find("[aria-label=Command]");
        ledger.Press("workshop restock", Keys.Enter);
        // For trade first: 12 % of 6.90, 35.90 and 8.90 are 0.83, 4.31 and 1.07, on 40 tubes, 12 tyres and 24 oils; the handbook is left
        // out.
        ledger.Until(() => ledger.Count("[data-testid=entry]") == 5);
        Assert.Equal("−110.60", ledger.Entry("trade-12"));

        // It does what the page can do too, as it stands then.
        foreach (var (word, state) in new[] { ("pause", "paused"), ("resume", "running") })
        {
            ledger.Driver.ExecuteScript("document.activeElement.blur()");
            ledger.Press("/");
            ledger.Find("[aria-label=Command]");
            ledger.Press(word, Keys.Enter);
            ledger.UntilEqual(state, () => ledger.Text("[aria-label=Desk] [data-testid=phase]"));
        }
    }

    [Fact]
    public async Task The_tape_shows_every_kind_and_lets_a_gift_be_picked()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.Press("/");
        ledger.Find("[aria-label=Command]");
        ledger.Press("rack, rain", Keys.Enter);

        // Marked down in the goods: a tenth of 149.00, and 42.00 to 35.00. Socks twice 18.00 again, free. 5 % of 264.10. Delivery. Credit.
        ledger.UntilEqual("−21.90", () => ledger.Entry("rain-week"));
        Assert.Equal("−36.00", ledger.Entry("socks-again"));
        Assert.Equal("−13.21", ledger.Entry("climb"));
        Assert.Equal("−20.00", ledger.Entry("sorry-20"));
        Assert.Equal("50", ledger.Text("[data-testid=points]"));
        Assert.Equal("€230.89", ledger.Due);

        ledger.ClickWord("Neck tube (slate)");
        ledger.UntilEqual("−16.00", () => ledger.Entry("bell-gift"));
        Assert.Equal("€230.89", ledger.Due);
        Assert.Equal(0, ledger.Count("[data-testid=offer]"));
    }
}
