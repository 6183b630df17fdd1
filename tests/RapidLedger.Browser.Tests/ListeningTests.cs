using System.Text.Json;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The pages for everybody: what axe-core finds, and what those who listen are told.</summary>
public class ListeningTests
{
    [Fact]
    public async Task Axe_finds_nothing_serious_by_day_and_by_night()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
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
        ledger.Until(() => ledger.Text("[aria-label=Tape]").Contains("Prices without this promotion", StringComparison.Ordinal));
        Assert.Empty(Axe(ledger));

        ledger.Click("[data-clause=Gives] button[aria-label^='On what']");
        ledger.Find("[data-testid=selection-count]");
        Assert.Empty(Axe(ledger));

        // Whoever turned the paper once has it so when they come again.
        using var night = new Ledger(server, "night");
        Assert.Equal("night", night.Script("return document.documentElement.dataset.page"));
    }

    /// <summary>
    /// What a screen reader is told of the pages: every part has a name, no two of a kind the same, headings go down step by step, the tape
    /// is a table.
    /// </summary>
    [Fact]
    public async Task Those_who_listen_are_told_each_part_by_a_name_of_its_own()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/moss-panniers");
        ledger.Find("[data-testid=read-back]");
        ledger.Until(() => ledger.Entry("moss-panniers") is not null);
        ledger.Until(() => Heard(ledger).Length == 0, () => string.Join("; ", Heard(ledger)));
        string[] cells = [.. Tree(ledger).Where(node => node.Role is "cell" or "columnheader").Select(node => node.Name)];
        Assert.Contains("Goods", cells);
        Assert.Contains(ledger.Text("[data-testid=entry-amount]"), cells);
        foreach (
            var path in (string[])
                [
                    "/promotions/climb",
                    "/promotions/bell-gift",
                    "/promotions/new",
                    "/promotions",
                    "/codes",
                    "/takings",
                    "/stacking",
                    "/stacking?p=trade-12",
                    "/goods",
                    "/orders",
                    "/shoppers",
                    "/store",
                    "/editions",
                    "/counter",
                ]
        )
        {
            ledger.Open(path);
            ledger.Find("[data-left-page] h1");
            ledger.Until(() => ledger.Count("[aria-busy=true]") == 0);
            // What is told to listeners follows what is drawn a moment later.
            ledger.Until(() => Heard(ledger).Length == 0, () => $"{path}: {string.Join("; ", Heard(ledger))}");
            // The page itself never scrolls: what does is inside it.
            Assert.Equal(true, ledger.Script("return document.documentElement.scrollHeight <= innerHeight"));
        }

        // At its narrowest the head stays one line, and nothing of it is cut.
        ledger.Driver.Manage().Window.Size = new(1024, 800);
        ledger.Open("/promotions");
        ledger.Until(
            () =>
                Equals(
                    ledger.Script(
                        "const head = document.querySelector('header'); return [...head.children].every((one) => one.getBoundingClientRect().bottom <= head.getBoundingClientRect().bottom + 1) && head.scrollWidth <= head.clientWidth"
                    ),
                    true
                ),
            () => "the head does not fit"
        );
    }

    private static IEnumerable<(string Role, string Name, int Level)> Tree(Ledger ledger)
    {
        var tree = (Dictionary<string, object>)ledger.Driver.ExecuteCdpCommand("Accessibility.getFullAXTree", [])!;
        foreach (var node in ((IEnumerable<object>)tree["nodes"]).Cast<Dictionary<string, object>>().Where(node => !(bool)node["ignored"]))
        {
            string Of(string member) =>
                node.TryGetValue(member, out var value) && ((Dictionary<string, object>)value).TryGetValue("value", out var text)
                    ? $"{text}"
                    : "";
            var properties = node.TryGetValue("properties", out var all)
                ? ((IEnumerable<object>)all).Cast<Dictionary<string, object>>()
                : [];
            var level = properties
                .Where(one => (string)one["name"] == "level")
                .Select(one =>
                    Convert.ToInt32(((Dictionary<string, object>)one["value"])["value"], System.Globalization.CultureInfo.InvariantCulture)
                )
                .FirstOrDefault();
            yield return (Of("role"), Of("name"), level);
        }
    }

    private static string[] Heard(Ledger ledger)
    {
        var nodes = Tree(ledger).ToArray();
        var pressed = nodes
            .Where(node =>
                node.Role
                    is "button"
                        or "link"
                        or "textbox"
                        or "combobox"
                        or "checkbox"
                        or "radio"
                        or "spinbutton"
                        or "searchbox"
                        or "slider"
            )
            .ToArray();
        // In the order in which they are read: the nodes come level by level of the page.
        var levels = ledger
            .Driver.FindElements(OpenQA.Selenium.By.CssSelector("h1, h2, h3, h4"))
            .Select(heading => heading.TagName[1] - '0')
            .ToArray();
        int[] told = [.. nodes.Where(node => node.Role == "heading").Select(node => node.Level).Order()];
        if (!levels.Order().SequenceEqual(told))
            return [$"of the headings {string.Join(' ', levels.Order())} are told {string.Join(' ', told)}"];
        return
        [
            .. pressed.Where(node => node.Name.Trim().Length == 0).Select(node => $"a {node.Role} without a name"),
            // Two links of one name lead to one place.
            .. pressed
                .Where(node => node.Role != "link")
                .GroupBy(node => (node.Role, node.Name))
                .Where(group => group.Count() > 1)
                .Select(group => $"{group.Count()} of {group.Key.Role} '{group.Key.Name}'"),
            .. levels
                .Zip(levels.Skip(1))
                .Where(pair => pair.Second > pair.First + 1)
                .Select(pair => $"a heading of level {pair.Second} below one of {pair.First}"),
            .. levels.Take(1).Where(level => level != 1).Select(level => $"the first heading is of level {level}"),
        ];
    }

    // axe-core, the rules of WCAG 2.2 A and AA; what it calls serious or critical. By night the page is the same but for its colours, so
    // only what is told of colours is asked again.
    internal static string[] Axe(Ledger ledger)
    {
        if (ledger.Script("return typeof axe") is "undefined")
            ledger.Script(File.ReadAllText(Path.Combine(RunningServer.Root, "tests/references/node_modules/axe-core/axe.min.js")));
        var found = (string)
            ledger.Driver.ExecuteAsyncScript(
                """
                const done = arguments[arguments.length - 1];
                const stood = document.documentElement.dataset.page;
                const run = async (colours, runOnly) => {
                  document.documentElement.dataset.page = colours;
                  const { violations } = await axe.run(document, { runOnly, resultTypes: ['violations'] });
                  return violations.filter((one) => one.impact === 'serious' || one.impact === 'critical')
                    .flatMap((one) => one.nodes.map((node) => `${colours}: ${one.id}: ${node.target.join(' ')} ${node.any.map((check) => check.message).join(' ')}`));
                };
                (async () => {
                  const byDay = await run('day', ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']);
                  const byNight = await run('night', { type: 'rule', values: ['color-contrast'] });
                  document.documentElement.dataset.page = stood;
                  done(JSON.stringify([...byDay, ...byNight]));
                })();
                """
            )!;
        return JsonSerializer.Deserialize<string[]>(found)!;
    }
}
