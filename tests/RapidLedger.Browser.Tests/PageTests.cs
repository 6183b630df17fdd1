using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>What the pages do when something is wrong, and in two windows.</summary>
public class PageTests
{
    [Fact]
    public async Task What_is_wrong_is_said_at_its_clause_and_the_tape_keeps_the_last_good_print()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/moss-panniers");
        ledger.UntilEqual("−32.46", () => ledger.Entry("moss-panniers"));

        ledger.Type("Percent off", "o25");
        ledger.Until(() => ledger.Text("[data-clause=Gives]").Contains("A number is expected here", StringComparison.Ordinal));
        Assert.Contains("Prices without this promotion", ledger.Text("[aria-label=Tape]"));
        Assert.Equal("€155.84", ledger.Due);

        // The cart can still change; and what was typed is there after a reload, as typed.
        ledger.Click("[aria-label='One more Inner tube (28)']");
        ledger.UntilEqual("€162.74", () => ledger.Due);
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        ledger.Driver.Navigate().Refresh();
        ledger.UntilEqual("o25", () => ledger.Find("[aria-label='Percent off']").GetAttribute("value"));

        ledger.ClickWord("back to what was saved");
        ledger.UntilEqual("25", () => ledger.Find("[aria-label='Percent off']").GetAttribute("value"));
        ledger.Until(() => !ledger.Text("[aria-label=Tape]").Contains("Prices without this promotion", StringComparison.Ordinal));
    }

    [Fact]
    public async Task While_the_server_is_down_the_draft_is_kept_and_arrives_when_it_is_back()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/club-helmet");
        ledger.Find("[data-testid=read-back]");
        server.Kill();

        ledger.Type("Amount off", "7.25");
        ledger.Until(() => ledger.Text("[aria-label=Tape]").Contains("The server does not answer", StringComparison.Ordinal));
        ledger.UntilEqual("kept in this browser until the server answers", () => ledger.Text("[data-testid=keeping]"));

        await server.StartAgain();
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        ledger.Until(() => !ledger.Text("[aria-label=Tape]").Contains("does not answer", StringComparison.Ordinal));
        Assert.Equal("7.25", (string)(await server.Get("/api/promotions/club-helmet"))["document"]!["rewards"]![0]!["take"]!["amount"]!);
    }

    [Fact]
    public async Task Of_two_windows_on_one_promotion_the_second_is_told_and_shown_both()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var first = new Ledger(server, at: "/promotions/letter15");
        using var second = new Ledger(server, at: "/promotions/letter15");
        second.Find("[data-testid=read-back]");

        first.Type("Label, for the shopper", "Fifteen off");
        first.UntilEqual("draft kept", () => first.Text("[data-testid=keeping]"));
        second.Type("Uses in all", "99");

        second.Until(() => second.Count("[role=alert]") == 1);
        Assert.Contains("Fifteen off", second.Text("[role=alert]"));
        Assert.Contains("Until 99 uses", second.Text("[role=alert]"));
        second.ClickWord("take theirs");
        second.UntilEqual("Fifteen off", () => second.Find("[aria-label='Label, for the shopper']").GetAttribute("value"));
        second.UntilEqual("500", () => second.Find("[aria-label='Uses in all']").GetAttribute("value"));
    }

    [Fact]
    public async Task Conditions_nest_in_brackets_and_move_by_keys()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/tyre-pair");
        ledger.Find("[data-testid=read-back]");
        ledger.Choose("Add a condition: and when", "any of several");
        ledger.Choose("Add a condition: and when", "an amount of money");
        ledger.Until(() => ledger.Count("[data-grip]") == 3);

        // The last one goes up into the bracket above it.
        ledger.Find("[data-grip='/when/all/2']").SendKeys(OpenQA.Selenium.Keys.Alt + OpenQA.Selenium.Keys.ArrowRight);
        ledger.Find("[data-grip='/when/all/1/any/0']");
        ledger.UntilEqual("When the cart holds at least 2 of Tyres and the cart comes to at least €50.00", () =>
            ledger.ReadBack.Split(" · ")[2]
        );
        ledger.Choose("How the conditions in this bracket join", "none of");
        ledger.Until(() => ledger.ReadBack.Contains("it is not so that the cart comes to at least €50.00", StringComparison.Ordinal));
    }
}
