using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>
/// The ten commonest jobs by somebody who knows the desk, from the list until it is live: how many keys and clicks each takes, besides
/// the values that are typed. On the machine's clock.
/// </summary>
public class PressesTests
{
    [Fact]
    public async Task The_commonest_jobs_take_few_presses()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        var presses = new List<string>();
        var tooMany = new List<string>();

        Job("a code with conditions", 20, "One code for a partner", "[data-clause=Starts]", () =>
        {
            Wanting();
            ledger.Press("GRIP15");
            ledger.Type("At least", "50.00");
            ledger.Choose("How the price comes down", "% off");
            ledger.Type("Percent off", "15");
            Items("On what", "inner tubes");
            ledger.Click("[aria-label^='Start:']");
            ledger.Press("this weekend", Keys.Enter);
        });
        Said("by the code GRIP15", "at least €50.00", "15 % off", "Inner tubes", "1 for each shopper");

        Job("a gift", 12, "Thank with a gift", "[data-reward=gift]", () =>
        {
            Wanted("brass bell");
            ledger.Type("At least", "90.00");
        });
        Said("at least €90.00", "Brass bell");

        Job("volume", 10, "Sell in volume", "[data-reward=ladder]", () =>
        {
            Wanted("books and");
            ledger.Click("[aria-label='takes, step 1']");
            ledger.Press("8", Keys.Enter, "15");
        });
        Said("from 3 items of Books and maps: 8 %", "15 %");

        Job("second at half price", 12, "Second one at half price", "[data-reward=discount]", () =>
        {
            Wanted("helmets");
            Items("On what", "helmets");
        });
        Said("50 % off", "Helmets");

        Job("three for two", 12, "Buy some, get some", "[data-reward=buyGet]", () =>
        {
            Wanted("gloves");
            Items("Get what", "gloves");
        });
        Said("Gloves");

        Job("a set", 14, "Sell sets", "[data-reward=bundle]", () =>
        {
            Wanted("river");
            Items("Slot 2: of what", "touring handbook");
        });
        Said("River", "Touring handbook");

        Job("free delivery", 8, "Deliver free above an amount", "[data-reward=shipping]", () => ledger.Type("At least", "60.00"));
        Said("at least €60.00", "free delivery");

        Job("slow stock", 10, "Clear slow stock", "[data-reward=markdown]", () =>
        {
            Wanted("moor map");
            ledger.Click("[aria-label^='End:']");
            ledger.Press("in 2 weeks", Keys.Enter);
        });
        Said("25 %", "Moor map");

        Job("regulars", 8, "Thank regulars", "[data-clause=For]", () => ledger.Type("Percent off", "7"));
        Said("7 % off");

        // One that is live is changed.
        ledger.Open("/promotions/trade-12");
        ledger.Find("[data-testid=read-back]");
        var before = ledger.Presses;
        ledger.Type("Percent off", "11");
        Live();
        Count("a change of one that is live", ledger.Presses - before, 4);
        Said("11 % off");

        TestContext.Current.TestOutputHelper?.WriteLine(string.Join("\n", presses));
        Assert.True(tooMany.Count == 0, string.Join("\n", tooMany));

        void Job(string name, int most, string intent, string begun, Action write)
        {
            ledger.Open("/promotions");
            ledger.Find("[data-testid=row]");
            var counted = ledger.Presses;
            ledger.Press("n");
            ledger.Click($"//button[contains(., '{intent}')]");
            ledger.Find(begun);
            write();
            ledger.Type("Name, for yourselves", $"Our {name}");
            Live();
            Count(name, ledger.Presses - counted, most);
        }

        void Count(string name, int pressed, int most)
        {
            presses.Add($"{name}: {pressed} of {most}");
            if (pressed > most)
                tooMany.Add(presses[^1]);
        }

        // What must still be chosen has the focus.
        void Wanting() =>
            ledger.Until(
                () => (string?)ledger.Script("return document.activeElement.getAttribute('data-wanting')") == "true",
                () => $"the focus is at {ledger.Script("return document.activeElement.outerHTML.slice(0, 200)")}"
            );

        void Wanted(string typed)
        {
            Wanting();
            ledger.Press(Keys.Enter);
            Chosen(typed);
        }

        void Items(string label, string typed)
        {
            ledger.Click($"button[aria-label^='{label}']");
            Chosen(typed);
        }

        void Chosen(string typed)
        {
            ledger.Find("[role=dialog] input[aria-label^='Find ']");
            ledger.Press(typed);
            ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith(typed, StringComparison.OrdinalIgnoreCase));
            ledger.Press(Keys.Enter, Keys.Escape);
            ledger.Until(() => ledger.Count("[role=dialog]") == 0);
        }

        void Live()
        {
            var edition = ledger.Edition;
            ledger.Until(
                () => ledger.Find("button.stamp").GetAttribute("aria-disabled") == "false",
                () => ledger.Text("[aria-label=Desk]")
            );
            ledger.Chord(Keys.Enter, Keys.Control);
            ledger.Until(() => ledger.Edition != edition, () => ledger.Text("[aria-label=Desk]"));
        }

        void Said(params string[] words)
        {
            var said = ledger.ReadBack.Replace('\u00a0', ' ');
            Assert.All(words, word => Assert.True(said.Contains(word, StringComparison.OrdinalIgnoreCase), $"{word} in: {said}"));
        }
    }
}
