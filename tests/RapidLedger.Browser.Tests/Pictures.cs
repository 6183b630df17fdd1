using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>Makes the pictures of the documentation, when it is asked for by name; it is no test.</summary>
public class Pictures
{
    private static readonly string Folder = Path.Combine(RunningServer.Root, "docs", "screenshots");

    [Fact(Explicit = true)]
    public async Task Of_each_main_view()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using (var ledger = new Ledger(server))
        {
            ledger.Find("[data-testid=row]");
            Take(ledger, "promotions");
            ledger.Open("/promotions/new");
            Take(ledger, "new-promotion");
            ledger.Click("//button[contains(., 'Second one at half price')]");
            ChoosePanniers(ledger, "[data-clause=When] button[aria-label^='Of what']");
            ledger.Click("[data-clause=Gives] button[aria-label^='On what']");
            ledger.Find("input[aria-label='Find items']").SendKeys("pann");
            ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith("Panniers", StringComparison.Ordinal));
            ledger.Press(OpenQA.Selenium.Keys.Enter);
            ledger.Find("[data-testid=selection-count]");
            Take(ledger, "chooser");
            ledger.Press(OpenQA.Selenium.Keys.Escape);
            ledger.Until(() => ledger.Entry(ledger.Id) is not null);
            Take(ledger, "desk");
            ledger.Open("/promotions/bell-gift");
            ledger.Find("[data-testid=read-back]");
            ledger.Press("/");
            ledger.Find("[aria-label=Command]");
            ledger.Press("rack, rain", OpenQA.Selenium.Keys.Enter);
            ledger.Until(() => ledger.Entry("socks-again") is not null);
            Take(ledger, "tape-every-kind");
            ledger.Open("/promotions/staff-30");
            ledger.Find("[data-testid=finding]");
            ledger.Script("document.querySelector('[data-testid=second-look]').scrollIntoView({ block: 'nearest' })");
            Take(ledger, "second-look");
            ledger.Open("/promotions/tubes-3for2");
            ledger.Click("[data-testid=curve]");
            ledger.Until(() => ledger.Text("[data-testid=curve-here]").StartsWith("With", StringComparison.Ordinal));
            ledger.Script("document.querySelector('[aria-label=\"Price curve\"]').scrollIntoView()");
            Take(ledger, "curve");
            ledger.Open("/codes");
            ledger.ClickWord("make codes…");
            ledger.Find("[data-testid=hardness]");
            ledger.Click("[data-testid=own-code] button");
            ledger.Find("[data-testid=story] img");
            Take(ledger, "codes");
            ledger.Open("/takings?p=welcome10&beside=before");
            ledger.Find("[data-testid=takings-by-item]");
            Take(ledger, "takings");
            ledger.Open("/stacking?p=trade-12");
            ledger.Until(() => ledger.Count("[data-testid=stacking-pair]") > 20 && ledger.Count("[data-testid=meets-open]") == 0);
            ledger.Click("//li[@data-testid='stacking-pair']//button[normalize-space(.)='Workshop volume']");
            ledger.Until(() => ledger.Entry("trade-12") is not null);
            Take(ledger, "stacking");
            ledger.Open("/counter");
            ledger.Click("//*[@data-testid='counter']//nav//button[starts-with(normalize-space(.), 'basket')]");
            ledger.Find("[data-testid=reductions]");
            Take(ledger, "counter");
            ledger.Open("/goods");
            ledger.Click("//*[@data-testid='goods-row'][3]//button");
            ledger.Find("[data-testid=item-page] li");
            Take(ledger, "goods");
            ledger.Find("input[type=file]").SendKeys(Path.Combine(RunningServer.Root, "examples", "goods.csv"));
            ledger.Find("[data-testid=import-look]");
            Take(ledger, "import");
            ledger.ClickWord("cancel");
            ledger.Open("/store");
            ledger.Type("What the key is for", "the web shop");
            ledger.ClickWord("make it");
            ledger.Find("[data-testid=key]");
            ledger.ClickWord("done");
            ledger.Find("[aria-label='Find an item of which to set the stock']").SendKeys("pannier");
            ledger.Find("[data-testid=stock-row]");
            Take(ledger, "store");
            ledger.Open("/orders");
            ledger.Type("Find an order", "second light");
            ledger.Find("//*[contains(., 'Looked for')]");
            ledger.Click("[data-testid=order] button");
            ledger.Find("[data-testid=order-rule]");
            Take(ledger, "orders");
            ledger.Open("/shoppers");
            ledger.Type("Find a shopper", "trade");
            ledger.Click("[data-testid=shopper] button");
            ledger.Find("[data-testid=open-promotion]");
            Take(ledger, "shoppers");
            ledger.Open("/promotions/free-parcel");
            ledger.ClickWord("pause");
            ledger.Until(() => ledger.Edition.StartsWith("edition 2", StringComparison.Ordinal));
            ledger.Open("/editions");
            ledger.Find("[data-testid=differences]");
            Take(ledger, "editions");
        }

        await using var empty = await RunningServer.Start(demo: false);
        using (var opening = new Ledger(empty))
        {
            opening.Find("[data-testid=opening]");
            Take(opening, "opening");
        }

        using var night = new Ledger(server, "night");
        night.Open("/promotions/letter15");
        night.Find("[data-testid=read-back]");
        night.Find("#enter-code").SendKeys("letter15" + OpenQA.Selenium.Keys.Enter);
        night.Until(() => night.Entry("letter15") is not null);
        Take(night, "desk-night");
    }

    private static void ChoosePanniers(Ledger ledger, string part)
    {
        ledger.Click(part);
        ledger.Find("input[aria-label='Find items']").SendKeys("pann");
        ledger.Until(() => ledger.Text("[role=dialog] [role=option]").StartsWith("Panniers", StringComparison.Ordinal));
        ledger.Press(OpenQA.Selenium.Keys.Enter, OpenQA.Selenium.Keys.Escape);
    }

    private static void Take(Ledger ledger, string name)
    {
        // Let the blink of what changed go by.
        Thread.Sleep(900);
        Directory.CreateDirectory(Folder);
        ledger.Driver.GetScreenshot().SaveAsFile(Path.Combine(Folder, $"{name}.png"));
    }
}
