using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>Who may meet whom, as a merchant looks it up and changes it.</summary>
public sealed class StackingTests
{
    [Fact]
    public async Task From_who_meets_whom_to_a_cart_that_shows_it_and_a_draft_that_ends_it()
    {
        await using var server = await RunningServer.Start();
        using var ledger = new Ledger(server);
        // From the desk, which says how many it meets.
        ledger.Open("/promotions/tyre-pair");
        ledger.Until(() =>
            ledger.Text("[data-testid=meets]").StartsWith("meets ", StringComparison.Ordinal)
            && !ledger.Text("[data-testid=meets]").Contains("so far")
        );
        var meets = ledger.Text("[data-testid=meets]");
        ledger.Click("[data-testid=meets]");
        ledger.UntilEqual("Pair of tyres", () => ledger.Text("[data-testid=stacking] h1"));
        ledger.Until(() => ledger.Count("[data-testid=meets-open]") == 0);
        Assert.Equal(meets, $"meets {ledger.Count("[data-testid=meets-can] li")} of {ledger.Count("[data-testid=stacking-pair]")}");
        Assert.Empty(ListeningTests.Axe(ledger));

        // The cart that shows it lies on the tape: both are entries there.
        ledger.Click(PairOf("Night set") + "//button");
        ledger.Until(() => ledger.Entry("night-set") is not null && ledger.Entry("tyre-pair") is not null);

        // Changed here: first said, then written, then taken back.
        ledger.Click(PairOf("Night set") + "//button[starts-with(@aria-label, 'Change beside')]");
        ledger.ClickWord("never let these meet");
        Assert.Contains("Alongside anything but “Night set”", ledger.Text("[data-testid=stacking-sentence]"), StringComparison.Ordinal);
        ledger.ClickWord("write it");
        ledger.Find("//*[@data-testid='meets-never']" + PairOf("Night set"));
        var never = (await server.Get("/api/promotions/tyre-pair"))["document"]!;
        ledger.Chord("z", OpenQA.Selenium.Keys.Control);
        ledger.Find("//*[@data-testid='meets-can']" + PairOf("Night set"));

        // By headings of what is written, and by keys from one to the next.
        ledger.ClickWord("all promotions");
        ledger.Until(() => ledger.Count("[data-testid=stacking-row]") > 20);
        // Once it stands again under the heading under which it stood before.
        ledger.Find(With("with anything") + Tyres);
        ledger.Find("//section[@aria-label='stands alone']//button[normalize-space(.)='Staff']").SendKeys(OpenQA.Selenium.Keys.ArrowDown);
        ledger.UntilEqual("Welcome", () => (string?)ledger.Script("return document.activeElement.textContent"));
        // Moved behind it: said first, shown on the tape, then written and taken back.
        ledger.Find(Tyres).SendKeys(OpenQA.Selenium.Keys.Alt + OpenQA.Selenium.Keys.ArrowDown);
        ledger.Until(() => ledger.Text("[data-testid=stacking-moved]").Contains("Pair of tyres: rank"));
        var behind = ledger.Text("[data-testid=stacking-moved] p").Split(" after ")[1];
        Assert.Empty(ListeningTests.Axe(ledger));
        ledger.ClickWord("write it");
        ledger.Until(() => Places(ledger, behind) < Places(ledger, "Pair of tyres"));
        ledger.Chord("z", OpenQA.Selenium.Keys.Control);
        ledger.Until(() => Places(ledger, behind) > Places(ledger, "Pair of tyres"));

        // Somebody else lets them never meet: it comes to stand under another heading, and whoever is on it stays on it.
        ledger.Find(With("with anything") + Tyres).SendKeys(OpenQA.Selenium.Keys.ArrowUp + OpenQA.Selenium.Keys.ArrowDown);
        var revision = (long)(await server.Get("/api/promotions/tyre-pair"))["revision"]!;
        var (kept, _) = await server.Send(HttpMethod.Put, "/api/promotions/tyre-pair/draft", new { revision, document = never });
        Assert.Equal(200, kept);
        ledger.Find(With("anything but some") + Tyres);
        ledger.UntilEqual("Pair of tyres", () => (string?)ledger.Script("return document.activeElement.textContent"));

        ledger.Find("[data-testid=stacking-find]").SendKeys("tyre");
        ledger.UntilEqual("1", () => $"{ledger.Count("[data-testid=stacking-row]")}");
    }

    private const string Tyres = "//button[normalize-space(.)='Pair of tyres']";

    private static string With(string heading) => $"//section[@aria-label='{heading}']";

    private static int Places(Ledger ledger, string name) =>
        (int)(long)ledger.Script($"return [...document.querySelectorAll('[data-walked]')].findIndex(row => row.textContent === '{name}')")!;

    private static string PairOf(string name) => $"//li[@data-testid='stacking-pair'][.//button[normalize-space(.)='{name}']]";
}
