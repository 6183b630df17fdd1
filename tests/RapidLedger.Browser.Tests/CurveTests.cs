using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The price curve under the clauses: it follows the rule, and the tape's cart follows it.</summary>
public class CurveTests
{
    [Fact]
    public async Task At_a_number_the_most_it_can_give_is_found_by_key_and_by_press()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/staff-30");
        ledger.Find("[data-testid=finding]");
        var percent = ledger.Find("input[aria-label='Percent off']");
        ledger.Type("Percent off", "60");
        ledger.Chord("m", Keys.Alt);
        ledger.Until(
            () =>
                ledger
                    .Text("[data-testid=most] [role=status]")
                    .Contains("is the most with which every item keeps the floor of 15", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=most]")
        );
        var most = int.Parse(percent.GetAttribute("value")!, System.Globalization.CultureInfo.InvariantCulture);
        Assert.InRange(most, 1, 59);
        // With that nothing is found under the floor; with one more there is.
        ledger.Until(() => ledger.Count("[data-check=belowCost]") == 0);
        ledger.Type("Percent off", $"{most + 1}");
        ledger.Find("[data-check=belowCost]");
        ledger.Click("//button[normalize-space(.)='percent off: the most it can give']");
        ledger.UntilEqual($"{most}", () => percent.GetAttribute("value"));
        // Where some items may earn less, more can be given.
        percent.Click();
        ledger.Choose("Of how many items", "90 % of the items");
        ledger.Chord("m", Keys.Alt);
        ledger.Until(
            () =>
                ledger
                    .Text("[data-testid=most] [role=status]")
                    .Contains("is the most with which 90 % of the items keep the floor", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=most]")
        );
        Assert.InRange(int.Parse(percent.GetAttribute("value")!, System.Globalization.CultureInfo.InvariantCulture), most + 1, 99);
        Assert.Empty(ListeningTests.Axe(ledger));
    }

    [Fact]
    public async Task The_curve_tells_of_the_cliff_and_moves_the_cart_by_key_and_by_press()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.ClickWord("New");
        ledger.Click("//button[contains(., 'Lift the basket')]");
        ledger.Find("[data-testid=curve]");

        // The rest of the cart is 65.40; a pannier is 64.90, moss green 25 % off by another promotion: with the third 10.00 more come off.
        ledger.Type("At least", "250");
        ledger.UntilEqual("10.00 off from 250.00", () => ledger.Find("input[aria-label='Label, for the shopper']").GetAttribute("value"));
        var curve = ledger.Find("[data-testid=curve]");
        ledger.UntilEqual("2", () => curve.GetAttribute("aria-valuenow"));
        ledger.Until(
            () => ledger.Text("[data-testid=curve-mark][data-kind=begins]").Contains("It begins at 3", StringComparison.Ordinal),
            () => ledger.Text("[aria-label='Price curve']")
        );
        curve.SendKeys(Keys.ArrowRight);
        ledger.UntilEqual("−10.00", () => ledger.Entry(ledger.Id));
        ledger.Until(() => ledger.Text("[data-testid=curve-here]").StartsWith("With 3 it costs", StringComparison.Ordinal));
        // What the curve says is what the tape says.
        var due = ledger.Due.TrimStart('€');
        Assert.Contains($"costs {due} instead of", ledger.Text("[data-testid=curve-here]"));

        // Near its right end lie twelve and more.
        new OpenQA.Selenium.Interactions.Actions(ledger.Driver).MoveToElement(curve, (curve.Size.Width / 2) - 14, 0).Click().Perform();
        ledger.UntilEqual("12", () => curve.GetAttribute("aria-valuenow"));
        ledger.Chord("z", Keys.Control);
        ledger.Until(() => curve.GetAttribute("aria-valuenow") is "3" or "2");

        ledger.ClickWord("as a table");
        Assert.Equal(12, ledger.Count("[aria-label='Price curve'] tbody tr"));
        Assert.Empty(ListeningTests.Axe(ledger));
    }
}
