using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The list, the dates and the history of promotions, and the editions.</summary>
public class LifeTests
{
    [Fact]
    public async Task The_list_is_filtered_and_several_are_paused_at_once()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.Until(() => ledger.Count("[data-testid=row]") > 14);
        Assert.Equal("ending", ledger.Find("[data-testid=row]").GetAttribute("data-phase"));

        ledger.Type("Filter promotions", "helmets");
        ledger.Until(() => ledger.Count("[data-testid=row]") == 1);
        ledger.Type("Filter promotions", "");
        ledger.Choose("Touching a SKU of the cart", "Fell tyre (28-622)");
        ledger.Until(() => ledger.Count("#row-tyre-pair") == 1 && ledger.Count("#row-club-helmet") == 0);
        ledger.Choose("Touching a SKU of the cart", "anything");

        ledger.Click("[aria-label='Select Pair of tyres']");
        ledger.Click("[aria-label='Select Club helmets']");
        ledger.ClickWord("pause");
        ledger.Choose("State", "paused");
        ledger.Until(() =>
            ledger.Find("#row-tyre-pair").GetAttribute("data-phase") == "paused"
            && ledger.Find("#row-club-helmet").GetAttribute("data-phase") == "paused"
        );
        ledger.Until(() => ledger.Edition.StartsWith("edition 3", StringComparison.Ordinal));
    }

    [Fact]
    public async Task An_old_edition_is_compared_put_live_again_and_that_is_taken_back()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/free-parcel");
        ledger.ClickWord("pause");
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
        // At the desk it is priced as if it were live; away from it, as it is: the parcel costs 4.90 again.
        Assert.Equal("€155.84", ledger.Due);
        ledger.Click("[data-testid=edition] a");
        ledger.UntilEqual("€160.74", () => ledger.Due);
        ledger.UntilEqual("1 gone", () => ledger.Text("[data-testid=edition-row] span:last-child"));
        Assert.Contains("Free parcel from 150.00 is no longer live", ledger.Text("[data-testid=differences]"));
        ledger.Click("//button[@data-testid='edition-row'][contains(., 'edition 1')]");
        ledger.ClickWord("Put it live again");
        ledger.Until(() => ledger.Edition.StartsWith("edition 3", StringComparison.Ordinal));
        ledger.UntilEqual("€155.84", () => ledger.Due);
        ledger.Chord("z", OpenQA.Selenium.Keys.Control);
        ledger.Until(() => ledger.Edition.StartsWith("edition 4", StringComparison.Ordinal));
        ledger.UntilEqual("€160.74", () => ledger.Due);
        Assert.Contains("edition 1 put live again", ledger.Text("[data-testid=taken-back]"));
    }

    [Fact]
    public async Task Dates_are_set_from_the_desk_and_for_many_and_put_back_and_the_history_tells_it_with_its_reason()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/moss-panniers");
        ledger.UntilEqual("−32.46", () => ledger.Entry("moss-panniers"));
        string? End() => (string?)server.Get("/api/promotions/moss-panniers").Result["saved"]!["window"]!["end"];
        var end = End();

        // Ended now, with a reason, it takes nothing; taken back, all is as it was.
        ledger.ClickWord("reason…");
        ledger.Press("they are sold", OpenQA.Selenium.Keys.Enter);
        ledger.Click("[aria-label^='End: ']");
        ledger.Press("now", OpenQA.Selenium.Keys.Enter);
        ledger.Until(() => ledger.Entry("moss-panniers") is null);
        ledger.UntilEqual("€188.30", () => ledger.Due);
        ledger.Chord(OpenQA.Selenium.Keys.Enter, OpenQA.Selenium.Keys.Control);
        ledger.UntilEqual("version 2", () => ledger.Text("[data-testid=keeping]"));
        Assert.NotEqual(end, End());
        Assert.Equal("Clear the moss panniers is live.", ledger.Text("[data-testid=announced]"));
        // What was done last is taken back first: putting it live, then the end that was written.
        ledger.ClickWord("undo");
        ledger.Until(() => End() == end);
        Assert.Null(ledger.Entry("moss-panniers"));
        ledger.ClickWord("undo");
        ledger.UntilEqual("−32.46", () => ledger.Entry("moss-panniers"));
        Assert.Equal(end, End());

        // I mean it: kept with the promotion, shown in its history, and so is what each version changed.
        ledger.Type("Percent off", "70");
        ledger.Find("[data-testid=finding][data-check=belowCost]");
        ledger.Click("//li[@data-check='belowCost']//button[.='I mean it']");
        ledger.Find("[data-testid=as-meant]");
        ledger.Driver.Navigate().Refresh();
        ledger.Find("[data-testid=as-meant]");
        ledger.Click("[aria-label=History] button");
        ledger.Until(() => ledger.Text("[data-testid=history]").Contains("they are sold", StringComparison.Ordinal));
        Assert.StartsWith("version 3", ledger.Text("[data-testid=history]"), StringComparison.Ordinal);
        Assert.Contains("below cost", ledger.Text("[data-testid=meant]"));

        // The list shows what is live, marked as changed; many are moved by days at once, and moved back.
        ledger.Open("/promotions");
        ledger.UntilEqual("changed, not live", () =>
            ledger
                .Find("#row-moss-panniers")
                .FindElements(OpenQA.Selenium.By.CssSelector(".text-doubt"))
                .Select(one => one.Text)
                .FirstOrDefault(text => text.StartsWith("changed", StringComparison.Ordinal))
        );
        Assert.Contains("25 % off", ledger.Text("#row-moss-panniers"));
        ledger.Click("[aria-label='Select Clear the moss panniers']");
        ledger.Click("[aria-label='Select Second light half price']");
        ledger.ClickWord("dates…");
        ledger.Type("Days that both dates go by", "-14");
        ledger.ClickWord("move");
        ledger.Until(() => End() is { } moved && string.CompareOrdinal(moved, end) < 0);
        ledger.Until(() => ledger.Count("#row-light-pair") == 0);
        ledger.Chord("z", OpenQA.Selenium.Keys.Control);
        ledger.Until(() => End() == end);
        // And so is what was being written.
        ledger.Until(() => (int?)server.Get("/api/promotions/moss-panniers").Result["document"]!["rewards"]![0]!["take"]!["percent"] == 70);
        Assert.Equal(end, (string?)(await server.Get("/api/promotions/moss-panniers"))["document"]!["window"]!["end"]);
    }

    [Fact]
    public async Task The_list_goes_by_what_is_asked_and_a_draft_is_put_live_at_a_moment()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.Until(() => ledger.Count("[data-testid=row]") > 10);
        ledger.Choose("In order of", "amount on the tape");
        ledger.Until(() => ledger.Find("[data-testid=row]").GetAttribute("id") == "row-moss-panniers");
        ledger.Choose("Kind", "ladders");
        ledger.Until(() => ledger.Count("[data-testid=row]") is 1 or 2 && ledger.Count("#row-climb") == 1);
        ledger.Choose("Kind", "anything");
        ledger.Choose("In order of", "name");
        ledger.Until(() => ledger.Text("[data-testid=row]").StartsWith("A bell", StringComparison.Ordinal));

        ledger.Open("/promotions/letter15");
        ledger.ClickWord("copy");
        ledger.Until(() => ledger.Id != "letter15" && ledger.Count("[data-clause=Starts]") == 1);
        ledger.Type("Codes, with commas between", "LATER15");
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        ledger.ClickWord("put live later…");
        ledger.Type("Live from", "tomorrow 9:00");
        ledger.Press(OpenQA.Selenium.Keys.Enter);
        ledger.Until(() => ledger.Text("[data-testid=phase]").StartsWith("starts in", StringComparison.Ordinal));
        Assert.Equal("live", (string)(await server.Get($"/api/promotions/{ledger.Id}"))["state"]!);
    }
}
