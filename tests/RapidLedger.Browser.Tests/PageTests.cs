using System.Text.Json;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>What the pages do when something is wrong, in two windows, and for everybody.</summary>
public class PageTests
{
    [Fact]
    public async Task What_is_wrong_is_said_at_its_clause_and_the_tape_keeps_the_last_good_print()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Open("/promotions/moss-panniers");
        ledger.UntilEqual("−32.46", () => ledger.Entry("moss-panniers"));

        ledger.Type("Percent off", "o25");
        ledger.Until(() => ledger.Text("[data-clause=Gives]").Contains("A number is expected here", StringComparison.Ordinal));
        Assert.Contains("Last good print", ledger.Text("[aria-label=Tape]"));
        Assert.Equal("€155.84", ledger.Due);

        // The cart can still change; and what was typed is there after a reload, as typed.
        ledger.Click("[aria-label='One more Inner tube (28)']");
        ledger.UntilEqual("€162.74", () => ledger.Due);
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        ledger.Driver.Navigate().Refresh();
        ledger.UntilEqual("o25", () => ledger.Find("[aria-label='Percent off']").GetAttribute("value"));

        ledger.ClickWord("back to what was saved");
        ledger.UntilEqual("25", () => ledger.Find("[aria-label='Percent off']").GetAttribute("value"));
        ledger.Until(() => !ledger.Text("[aria-label=Tape]").Contains("Last good print", StringComparison.Ordinal));
    }

    [Fact]
    public async Task While_the_server_is_down_the_draft_is_kept_and_arrives_when_it_is_back()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Open("/promotions/club-helmet");
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
        await using var server = await RunningServer.Start();
        using var first = new Ledger(server);
        using var second = new Ledger(server);
        first.Open("/promotions/letter15");
        second.Open("/promotions/letter15");
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
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Open("/promotions/tyre-pair");
        ledger.Find("[data-testid=read-back]");
        ledger.Choose("Add a condition: and when", "any of several");
        ledger.Choose("Add a condition: and when", "an amount of money");
        ledger.Until(() => ledger.Count("[data-grip]") == 3);

        // The last one goes up into the bracket above it.
        ledger.Find("[data-grip='/when/all/2']").SendKeys(OpenQA.Selenium.Keys.Alt + OpenQA.Selenium.Keys.ArrowRight);
        ledger.Find("[data-grip='/when/all/1/any/0']");
        ledger.UntilEqual("When the cart holds at least 2 of Tyres and the cart comes to at least €50.00", () => ledger.ReadBack.Split(" · ")[2]);
        ledger.Choose("How the conditions in this bracket join", "none of");
        ledger.Until(() => ledger.ReadBack.Contains("it is not so that the cart comes to at least €50.00", StringComparison.Ordinal));
    }

    [Fact]
    public async Task The_list_is_filtered_and_several_are_paused_at_once()
    {
        await using var server = await RunningServer.Start();
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
        ledger.Until(() => ledger.Find("#row-tyre-pair").GetAttribute("data-phase") == "paused" && ledger.Find("#row-club-helmet").GetAttribute("data-phase") == "paused");
        ledger.Until(() => ledger.Edition.StartsWith("edition 3", StringComparison.Ordinal));
    }

    [Fact]
    public async Task An_old_edition_is_compared_put_live_again_and_that_is_taken_back()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Open("/promotions/free-parcel");
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
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Open("/promotions/moss-panniers");
        ledger.UntilEqual("−32.46", () => ledger.Entry("moss-panniers"));
        string? End() => (string?)server.Get("/api/promotions/moss-panniers").Result["saved"]!["window"]!["end"];
        var end = End();

        // Ended now, with a reason, it takes nothing; taken back, all is as it was.
        ledger.ClickWord("because…");
        ledger.Press("they are sold", OpenQA.Selenium.Keys.Enter);
        ledger.ClickWord("dates…");
        ledger.ClickWord("end it now");
        ledger.Until(() => ledger.Entry("moss-panniers") is null);
        ledger.UntilEqual("€188.30", () => ledger.Due);
        ledger.UntilEqual("version 2", () => ledger.Text("[data-testid=keeping]"));
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
        ledger.UntilEqual("changed, not live", () => ledger.Find("#row-moss-panniers").FindElements(OpenQA.Selenium.By.CssSelector(".text-doubt")).Select(one => one.Text).FirstOrDefault(text => text.StartsWith("changed", StringComparison.Ordinal)));
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
        await using var server = await RunningServer.Start();
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
        ledger.ClickWord("at…");
        ledger.Type("Live from", "tomorrow 9:00");
        ledger.Press(OpenQA.Selenium.Keys.Enter);
        ledger.Until(() => ledger.Text("[data-testid=phase]").StartsWith("starts in", StringComparison.Ordinal));
        Assert.Equal("live", (string)(await server.Get($"/api/promotions/{ledger.Id}"))["state"]!);
    }

    [Theory]
    [InlineData("day")]
    [InlineData("night")]
    public async Task Axe_finds_nothing_serious(string page)
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server, page);
        ledger.Find("[data-testid=row]");
        Assert.Empty(Axe(ledger));

        ledger.Open("/promotions/new");
        Assert.Empty(Axe(ledger));

        ledger.Open("/promotions/letter15");
        ledger.Find("[data-testid=read-back]");
        Assert.Empty(Axe(ledger));

        // A kind with a table of its own, a second look that finds something, and the editions.
        ledger.Open("/promotions/climb");
        ledger.Find("[aria-label='from, step 3']");
        Assert.Empty(Axe(ledger));
        ledger.Open("/promotions/staff-30");
        ledger.Find("[data-testid=finding]");
        Assert.Empty(Axe(ledger));
        ledger.Open("/editions");
        ledger.Find("[data-testid=differences]");
        Assert.Empty(Axe(ledger));
        ledger.Open("/promotions/letter15");
        ledger.Find("[data-testid=read-back]");

        ledger.Type("Uses in all", "many");
        ledger.Until(() => ledger.Text("[aria-label=Tape]").Contains("Last good print", StringComparison.Ordinal));
        Assert.Empty(Axe(ledger));

        ledger.Click("[data-clause=Gives] button[aria-label^='On what']");
        ledger.Find("[data-testid=selection-count]");
        Assert.Empty(Axe(ledger));
    }

    /// <summary>What a screen reader is told of the pages: every part has a name, no two of a kind the same, headings go down step by step, the tape is a table.</summary>
    [Fact]
    public async Task Those_who_listen_are_told_each_part_by_a_name_of_its_own()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        ledger.Open("/promotions/moss-panniers");
        ledger.Find("[data-testid=read-back]");
        ledger.Until(() => ledger.Entry("moss-panniers") is not null);
        Assert.Empty(Heard(ledger));
        string[] cells = [.. Tree(ledger).Where(node => node.Role is "cell" or "columnheader").Select(node => node.Name)];
        Assert.Contains("Goods", cells);
        Assert.Contains(ledger.Text("[data-testid=entry-amount]"), cells);
        foreach (var path in (string[])["/promotions/climb", "/promotions/bell-gift", "/promotions/new", "/promotions", "/codes", "/editions", "/counter"])
        {
            ledger.Open(path);
            ledger.Find("h1");
            ledger.Until(() => ledger.Count("[aria-busy=true]") == 0);
            Assert.Empty(Heard(ledger).Select(one => $"{path}: {one}"));
        }
    }

    private static IEnumerable<(string Role, string Name, int Level)> Tree(Ledger ledger)
    {
        var tree = (Dictionary<string, object>)ledger.Driver.ExecuteCdpCommand("Accessibility.getFullAXTree", [])!;
        foreach (var node in ((IEnumerable<object>)tree["nodes"]).Cast<Dictionary<string, object>>().Where(node => !(bool)node["ignored"]))
        {
            string Of(string member) => node.TryGetValue(member, out var value) && ((Dictionary<string, object>)value).TryGetValue("value", out var text) ? $"{text}" : "";
            var properties = node.TryGetValue("properties", out var all) ? ((IEnumerable<object>)all).Cast<Dictionary<string, object>>() : [];
            var level = properties.Where(one => (string)one["name"] == "level").Select(one => Convert.ToInt32(((Dictionary<string, object>)one["value"])["value"], System.Globalization.CultureInfo.InvariantCulture)).FirstOrDefault();
            yield return (Of("role"), Of("name"), level);
        }
    }

    private static string[] Heard(Ledger ledger)
    {
        var nodes = Tree(ledger).ToArray();
        var pressed = nodes.Where(node => node.Role is "button" or "link" or "textbox" or "combobox" or "checkbox" or "radio" or "spinbutton" or "searchbox" or "slider").ToArray();
        var levels = nodes.Where(node => node.Role == "heading").Select(node => node.Level).ToArray();
        return
        [
            .. pressed.Where(node => node.Name.Trim().Length == 0).Select(node => $"a {node.Role} without a name"),
            // Two links of one name lead to one place.
            .. pressed.Where(node => node.Role != "link").GroupBy(node => (node.Role, node.Name)).Where(group => group.Count() > 1).Select(group => $"{group.Count()} of {group.Key.Role} '{group.Key.Name}'"),
            .. levels.Zip(levels.Skip(1)).Where(pair => pair.Second > pair.First + 1).Select(pair => $"a heading of level {pair.Second} below one of {pair.First}"),
            .. levels.Take(1).Where(level => level != 1).Select(level => $"the first heading is of level {level}"),
        ];
    }

    // axe-core, the rules of WCAG 2.2 A and AA; what it calls serious or critical.
    internal static string[] Axe(Ledger ledger)
    {
        ledger.Script(File.ReadAllText(Path.Combine(RunningServer.Root, "tests/references/node_modules/axe-core/axe.min.js")));
        var found = (string)ledger.Driver.ExecuteAsyncScript(
            """
            const done = arguments[arguments.length - 1];
            axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] }).then((result) => done(JSON.stringify(
              result.violations.filter((one) => one.impact === 'serious' || one.impact === 'critical')
                .flatMap((one) => one.nodes.map((node) => `${one.id}: ${node.target.join(' ')} ${node.any.map((check) => check.message).join(' ')}`)))));
            """)!;
        return JsonSerializer.Deserialize<string[]>(found)!;
    }
}
