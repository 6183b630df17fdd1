using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The place of codes: a batch made by a sentence, given to a promotion at the desk, its codes found, used and voided.</summary>
public class CodesPageTests
{
    [Fact]
    public async Task A_batch_goes_from_a_sentence_to_a_cart()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/codes");
        // The batch of the demo shop is folded to a line.
        ledger.UntilEqual("200 codes, 31 used, 6 void", () => ledger.Text("[data-batch=b1] [data-testid=batch-counts]"));
        Assert.Empty(ListeningTests.Axe(ledger));

        ledger.ClickWord("make codes…");
        ledger.Type("How many", "300");
        ledger.Type("Characters", "4");
        ledger.Choose("Of what", "digits");
        ledger.Until(() => ledger.Text("[data-testid=hardness]").Contains("one guess in 33 hits", StringComparison.Ordinal));
        ledger.ClickWord("Make them");
        ledger.Until(() => ledger.Text("[data-testid=make-batch]").Contains("That is too easy", StringComparison.Ordinal));
        ledger.Type("Characters", "10");
        ledger.Choose("Of what", "letters and digits without look-alikes");
        ledger.Type("Prefix", "km-");
        ledger.Type("Group", "5");
        ledger.Type("Note", "bells for the fair");
        ledger.Until(() => ledger.Text("[data-testid=hardness]").Contains("trillion", StringComparison.Ordinal));
        Assert.Empty(ListeningTests.Axe(ledger));
        ledger.ClickWord("Make them");
        ledger.UntilEqual("300 codes, 0 used", () => ledger.Text("[data-batch=b2] [data-testid=batch-counts]"));
        ledger.Click("[data-batch=b2] button[aria-expanded]");
        var code = ledger.Text("[data-batch=b2] [data-testid=batch-code] button");
        Assert.Matches("^km-.{5}-.{5}$", code);

        // At the desk it is given to a promotion.
        ledger.Open("/promotions/new");
        ledger.Click("//button[contains(., 'Lift the basket')]");
        ledger.Find("[data-testid=read-back]");
        ledger.Choose("How it starts", "by any code of a batch");
        ledger.Click("button[aria-label^='Batches']");
        ledger.Click("//label[starts-with(normalize-space(.), 'b2')]/input");
        ledger.Press(Keys.Escape);
        ledger.Until(
            () => ledger.ReadBack.StartsWith("Starts by any code of the batch b2", StringComparison.Ordinal),
            () => ledger.ReadBack
        );
        ledger.Chord(Keys.Enter, Keys.Control);
        ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
        var id = ledger.Id;
        ledger.Find("#enter-code").SendKeys(code.Replace("-", "", StringComparison.Ordinal) + Keys.Enter);
        ledger.UntilEqual("−10.00", () => ledger.Entry(id));

        // Found without hyphens, its story told, made void: the tape says so.
        ledger.Open("/codes");
        ledger.Find("input[aria-label='Find a code']").SendKeys(code.Replace("-", "", StringComparison.Ordinal).ToLowerInvariant());
        ledger.Until(() => ledger.Count("[data-testid=batch-code]") == 1);
        ledger.Press(Keys.Enter);
        ledger.Until(() =>
            ledger.Text("[data-testid=story]").Contains("it starts “Lift the basket”; it is good", StringComparison.Ordinal)
        );
        Assert.Empty(ListeningTests.Axe(ledger));
        ledger.ClickWord("make void");
        ledger.Until(() => ledger.Text("[data-testid=story]").Contains("it is void", StringComparison.Ordinal));
        ledger.Until(
            () => ledger.Text("[data-testid=code]").Contains("was made void", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=code]")
        );

        // Several at once, and taken back.
        ledger.Open("/codes");
        ledger.Click("[data-batch=b2] button[aria-expanded]");
        ledger.Find("[data-batch=b2] [data-testid=batch-code]");
        ledger.Click("//*[@data-batch='b2']//li[not(contains(., 'void'))][1]/input");
        ledger.Click("//*[@data-batch='b2']//li[not(contains(., 'void'))][2]/input");
        ledger.Click("[data-testid=selected] button");
        ledger.UntilEqual("300 codes, 0 used, 3 void", () => ledger.Text("[data-batch=b2] [data-testid=batch-counts]"));
        ledger.Chord("z", Keys.Control);
        ledger.UntilEqual("300 codes, 0 used, 1 void", () => ledger.Text("[data-batch=b2] [data-testid=batch-counts]"));
    }

    [Fact]
    public async Task What_a_promotion_says_is_read_as_it_is_written_in_both_languages()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/promotions/light-pair");
        ledger.ClickWord("the usual sentences");
        ledger.UntilEqual("Add 1 more of Lights: The cheaper light at half price.", () =>
            ledger.Text("[data-testid=said] [data-situation='just short']")
        );
        ledger.Type("Says when something is missing", "{missing} more light and {saved} come off");
        ledger.UntilEqual("1 more light and €19.95 come off", () => ledger.Text("[data-testid=said] [data-situation='just short']"));
        ledger.Choose("Language", "German");
        ledger.Type("Says when something is missing", "Noch {missing} Lampe, dann sparen Sie {saved}");
        ledger.UntilEqual("Noch 1 Lampe, dann sparen Sie 19,95 €", () => ledger.Text("[data-testid=said] [data-situation='just short']"));
        Assert.Empty(ListeningTests.Axe(ledger));
        // A part that nobody knows is told at the clause.
        ledger.Type("Says when something is missing", "{mising}");
        ledger.Until(() => ledger.Text("[data-clause=Says]").Contains("is not a part that is filled in", StringComparison.Ordinal));
        ledger.Type("Says when something is missing", "Noch {missing}");
        ledger.Until(
            () =>
                ledger.ReadBack.Contains(
                    "“{missing} more light and {saved} come off” or “Noch {missing}” when near",
                    StringComparison.Ordinal
                ),
            () => ledger.ReadBack
        );
        ledger.UntilEqual("draft kept", () => ledger.Text("[data-testid=keeping]"));
        Assert.Equal("Noch {missing}", (string)(await server.Get("/api/promotions/light-pair"))["document"]!["says"]!["near"]!["de"]!);
    }
}
