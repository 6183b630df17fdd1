using System.Globalization;
using System.Text.Json.Nodes;
using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>At the counter: what they see beside why. Thresholds crossed up and down, codes refused, receipts that add up.</summary>
public class CounterTests
{
    [Fact]
    public async Task A_gift_comes_and_goes_a_code_brings_the_other_back_and_the_receipt_adds_up()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        await PutLive(
            server,
            """{"name": "Bell", "label": {"en": "A bell from 100.00", "de": "Eine Klingel ab 100,00"}, "when": {"spend": {"from": "100.00"}}, "rewards": [{"kind": "gift", "give": {"skus": ["FELL-TYRE-32-622"]}}]}"""
        );
        await PutLive(
            server,
            """{"label": "Solo, 80 % off", "trigger": {"codes": ["SOLO"]}, "stacking": {"allow": "none"}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 80}, "per": "cart"}]}"""
        );
        using var ledger = new Ledger(server, at: "/counter");
        ledger.Choose("Open a cart", "an empty cart");

        // Delivery is 4.90. From the shelf, by name: an item unfolds with what is offered on it.
        ledger.Find("input[aria-label='What do you need?']").SendKeys("inner tube");
        ledger.Click("//*[@data-testid='counter']//button[starts-with(normalize-space(.), 'Inner tube')]");
        ledger.Until(() => ledger.Text("[data-testid=item-offer]").Contains("3 for 2 on inner tubes", StringComparison.Ordinal));
        Assert.Contains("for 3 13.80", ledger.Text("[data-testid=item-offer]"));
        for (var i = 0; i < 3; i++)
            ledger.Click("button[aria-label='take one: Inner tube 32']");
        ledger.UntilEqual("€18.70", () => ledger.Text("[data-testid=counter-due]"));
        // The tape beside it says the same.
        ledger.UntilEqual("€18.70", () => ledger.Due);

        Words(ledger, "basket (3)");
        Assert.Contains("Bell from 100.00", ledger.Text("[data-testid=progress]"), StringComparison.OrdinalIgnoreCase);
        for (var i = 0; i < 13; i++)
            ledger.Click("button[aria-label='One more: Inner tube (32)']");
        ledger.Until(
            () => ledger.Text("[data-testid=reductions]").Contains("1 Fell tyre (32-622)", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=reductions]")
        );
        AddsUp(ledger);
        ledger.Click("button[aria-label='One less: Inner tube (32)']");
        ledger.Click("button[aria-label='One less: Inner tube (32)']");
        ledger.Until(() => !ledger.Text("[data-testid=reductions]").Contains("Fell tyre", StringComparison.Ordinal));
        ledger.Click("button[aria-label='One more: Inner tube (32)']");
        ledger.Until(() => ledger.Text("[data-testid=reductions]").Contains("Fell tyre", StringComparison.Ordinal));

        // Fifteen tubes at 6.90 less 80 % beat five free tubes and the tyre: the code takes their place, and gives it back.
        Enter(ledger, "solo");
        ledger.UntilEqual("applied", () => ledger.Find("[data-testid=counter-code]").GetAttribute("data-status"));
        ledger.Until(() => !ledger.Text("[data-testid=reductions]").Contains("3 for 2", StringComparison.Ordinal));
        ledger.UntilEqual("€25.60", () => ledger.Text("[data-testid=counter-due]"));
        ledger.Click("button[aria-label='without it: SOLO']");
        ledger.Until(() => ledger.Text("[data-testid=reductions]").Contains("3 for 2", StringComparison.Ordinal));

        Words(ledger, "Deutsch");
        ledger.Until(() => ledger.Text("[data-testid=reductions]").Contains("Eine Klingel ab 100,00", StringComparison.Ordinal));
        Words(ledger, "English");
        ledger.Until(() => ledger.Text("[data-testid=reductions]").Contains("A bell from 100.00", StringComparison.Ordinal));
        var due = ledger.Find("[data-testid=to-pay]").GetAttribute("data-due");
        ledger.Click("//button[contains(., 'Order and pay')]");
        ledger.Until(() => ledger.Text("[data-testid=receipt]").Contains("Thank you", StringComparison.Ordinal));
        // The receipt has the focus: who cannot see it is told.
        ledger.Until(() => Equals(ledger.Script("return document.activeElement.closest('[data-testid=receipt]') !== null"), true));
        Assert.Equal(due, ledger.Find("[data-testid=to-pay]").GetAttribute("data-due"));
        AddsUp(ledger);
        Words(ledger, "take the order back");
        ledger.Until(() => ledger.Text("[data-testid=receipt]").Contains("taken back", StringComparison.Ordinal));
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task Each_code_is_refused_with_its_reason_and_the_last_gift_goes_to_whoever_orders_first()
    {
        await using var server = await RunningServer.StartShipped(clock: RunningServer.DemoDay);
        var csv = await server.Http.PostAsync(
            new Uri("/api/batches/bring?note=counter", UriKind.Relative),
            new StringContent("code\nGOOD-1\nVOID-1\n", null, "text/csv")
        );
        var batch = (string)JsonNode.Parse(await csv.Content.ReadAsStringAsync())!["id"]!;
        await server.Http.PostAsync(new Uri("/api/codes/void?code=void1&isVoid=true", UriKind.Relative), null);
        await PutLive(
            server,
            $$"""{"label": "Card", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "points", "fixed": 7}]}"""
        );
        await PutLive(
            server,
            """{"label": "Past", "trigger": {"codes": ["PAST"]}, "window": {"start": "2027-02-01T00:00", "end": "2027-03-05T10:01"}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        await PutLive(
            server,
            """{"label": "Full", "trigger": {"codes": ["FULL"]}, "limits": {"total": 0}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        await PutLive(
            server,
            """{"label": "Far", "trigger": {"codes": ["FAR"]}, "when": {"spend": {"from": "500.00"}}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        await PutLive(
            server,
            """{"label": "A tyre from 10.00", "when": {"spend": {"from": "10.00"}}, "rewards": [{"kind": "gift", "give": {"skus": ["MOOR-TYRE-32-622"]}}]}"""
        );
        server.Kill();
        await server.StartAgain("2027-03-05T10:30:00+01:00");

        using var ledger = new Ledger(server);
        // A link with a code opens it with the code in.
        ledger.Open("/counter?code=GOOD-1");
        ledger.Choose("Open a cart", "an empty cart");
        ledger.Find("input[aria-label='What do you need?']").SendKeys("drove tyre");
        ledger.Click("//*[@data-testid='counter']//button[starts-with(normalize-space(.), 'Drove tyre')]");
        ledger.Click("button[aria-label='take one: Drove tyre 28-622']");
        Words(ledger, "basket (1)");
        foreach (
            var (code, said) in new[]
            {
                ("nobody", "We do not know this code."),
                ("past", "This offer has ended."),
                ("full", "This offer is used up."),
                ("void1", "This code is no longer valid."),
                ("far", "Add €470.10 more."),
                ("good1", "Card"),
            }
        )
        {
            Enter(ledger, code);
            ledger.Until(
                () =>
                    ledger
                        .Driver.FindElements(By.CssSelector("[data-testid=counter-code]"))
                        .Any(one => one.Text.Contains(said, StringComparison.Ordinal)),
                () => $"{code}: {ledger.Text("[data-testid=counter]")}"
            );
        }

        // Three Moor tyres are in stock. Others order them while this shopper looks on.
        ledger.Until(() => ledger.Text("[data-testid=reductions]").Contains("1 Moor tyre (32-622)", StringComparison.Ordinal));
        var key = (string)(await server.Get("/api/counter"))["key"]!;
        for (var i = 0; i < 3; i++)
        {
            var cart = JsonNode.Parse("""{"lines": [{"sku": "DROVE-TYRE-28-622", "quantity": 1}]}""");
            var quote = await Store(server, key, "quote", new { cart });
            await Store(
                server,
                key,
                "orders",
                new
                {
                    cart,
                    shown = quote["shown"]!.DeepClone(),
                    take = true,
                }
            );
        }

        ledger.Click("//button[contains(., 'Order and pay')]");
        // Either the page had seen it, or the order is refused and says so; in no case is a fourth tyre given.
        ledger.Until(() => !ledger.Text("[data-testid=reductions]").Contains("Moor tyre", StringComparison.Ordinal));
        using var asking = new HttpRequestMessage(HttpMethod.Get, "/store/v1/orders?after=2000")
        {
            Headers = { Authorization = new("Bearer", key) },
        };
        using var answer = await server.Http.SendAsync(asking);
        var orders = JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["orders"]!.AsArray();
        Assert.Equal(3, orders.SelectMany(order => order!["result"]!["gifts"]!.AsArray()).Sum(gift => (int)gift!["quantity"]!));
        Assert.True(
            ledger.Count("[data-testid=receipt]") == 1
                || ledger.Text("[data-testid=counter] [role=alert]").Contains("no longer as shown", StringComparison.Ordinal)
        );
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    [Fact]
    public async Task A_page_being_written_is_walked_through_as_if_it_were_live_and_next_weeks_sale_today()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        ledger.ClickWord("New");
        ledger.Click("//button[contains(., 'Lift the basket')]");
        ledger.Find("[data-testid=read-back]");
        ledger.UntilEqual("−10.00", () => ledger.Entry(ledger.Id));
        ledger.Choose("Go to: shop", "Counter");
        Words(ledger, "basket (7)");
        // What is not live is not seen, until the switch is turned; then both pages have it, and it cannot be ordered.
        ledger.UntilEqual("€155.84", () => ledger.Text("[data-testid=counter-due]"));
        ledger.Click("//label[contains(., 'with “Lift the basket” as it is being written')]/input");
        ledger.Until(
            () => ledger.Text("[data-testid=reductions]").Contains("10.00 off from 100.00", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=reductions]")
        );
        ledger.UntilEqual(ledger.Due, () => ledger.Text("[data-testid=counter-due]"));
        Assert.Equal("true", ledger.Find("//button[contains(., 'Order and pay')]").GetAttribute("aria-disabled"));
        ledger.Click("//label[contains(., 'with “Lift the basket” as it is being written')]/input");
        ledger.UntilEqual("€155.84", () => ledger.Text("[data-testid=counter-due]"));

        // By the bench clock of a week on, the letter's code among what has begun: the order is a rehearsal and uses nothing up.
        Enter(ledger, "letter15");
        ledger.UntilEqual("applied", () => ledger.Find("[data-testid=counter-code]").GetAttribute("data-status"));
        var used = await UsedOf(server, "letter15");
        ledger.Click("button[aria-label^='Price the cart at']");
        ledger.Find("[role=dialog] input").SendKeys(Keys.Control + "a");
        ledger.Find("[role=dialog] input").SendKeys("12.3.2027 10:00" + Keys.Enter);
        ledger.Until(
            () => ledger.Text("[data-testid=counter]").Contains("12 Mar", StringComparison.Ordinal),
            () => ledger.Text("[data-testid=counter]")
        );
        ledger.Click("//button[contains(., 'Order and pay')]");
        ledger.Until(() => ledger.Text("[data-testid=receipt]").Contains("A rehearsal at another time", StringComparison.Ordinal));
        AddsUp(ledger);
        Assert.Equal(used, await UsedOf(server, "letter15"));

        static async Task<string> UsedOf(RunningServer server, string id) =>
            (await server.Get($"/api/promotions?id={id}"))["rows"]![0]!["used"]!["used"]!.ToString();
    }

    [Fact]
    public async Task Shelf_basket_and_codes_can_be_used_by_everybody()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server, at: "/counter");
        ledger.Click("//*[@data-testid='counter']//button[starts-with(normalize-space(.), 'Inner tube')]");
        ledger.Find("[data-testid=item-offer]");
        AtAnyWidth();
        Words(ledger, "basket (7)");
        ledger.Find("[data-testid=reductions]");
        AtAnyWidth();

        void AtAnyWidth()
        {
            foreach (var width in (int?[])[390, null])
            {
                ledger.Widen(width);
                Assert.Empty(ListeningTests.Axe(ledger));
                // Nothing is wider than the window.
                Assert.Equal(
                    0L,
                    ledger.Script(
                        "return Math.max(0, document.querySelector('[data-testid=counter]').scrollWidth - document.querySelector('[data-testid=counter]').clientWidth)"
                    )
                );
            }
        }
    }

    private static void Words(Ledger ledger, string words) =>
        ledger.Click($"//*[@data-testid='counter']//button[normalize-space(.)='{words}']");

    private static void Enter(Ledger ledger, string code) =>
        ledger.Find("input[aria-label='Do you have a code?']").SendKeys(code + Keys.Enter);

    [Fact]
    public async Task On_the_machines_clock_an_order_counts_and_the_last_use_is_gone()
    {
        // As a stranger starts it; whatever else is open today, the tape and the counter say the same.
        await using var server = await RunningServer.Start();
        await PutLive(
            server,
            """{"name": "Once", "label": "3.00 off, once", "trigger": {"codes": ["ONCE"]}, "limits": {"total": 1}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"amount": "3.00"}, "per": "cart"}]}"""
        );
        using var ledger = new Ledger(server, at: "/counter");
        Buy();
        ledger.UntilEqual("applied", () => ledger.Find("[data-testid=counter-code]").GetAttribute("data-status"));
        ledger.UntilEqual(ledger.Text("[data-testid=counter-due]"), () => ledger.Due);
        var due = ledger.Find("[data-testid=to-pay]").GetAttribute("data-due");
        ledger.Click("//button[contains(., 'Order and pay')]");
        ledger.Until(() => ledger.Text("[data-testid=receipt]").Contains("Thank you", StringComparison.Ordinal));
        Assert.Equal(due, ledger.Find("[data-testid=to-pay]").GetAttribute("data-due"));
        Assert.DoesNotContain("rehearsal", ledger.Text("[data-testid=receipt]"), StringComparison.OrdinalIgnoreCase);
        Words(ledger, "back to the price list");
        Buy();
        ledger.UntilEqual("limitReached", () => ledger.Find("[data-testid=counter-code]").GetAttribute("data-status"));
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        void Buy()
        {
            ledger.Choose("Open a cart", "an empty cart");
            ledger.Click("//*[@data-testid='counter']//nav//button[starts-with(normalize-space(.), 'price list')]");
            ledger.Find("input[aria-label='What do you need?']").SendKeys("saddle bag");
            ledger.Click("//*[@data-testid='counter']//button[starts-with(normalize-space(.), 'Saddle bag')]");
            ledger.Click("button[aria-label^='take one: Saddle bag']");
            ledger.Click("//*[@data-testid='counter']//nav//button[starts-with(normalize-space(.), 'basket')]");
            Enter(ledger, "once");
        }
    }

    // Every amount on the way from the goods to what is to pay, to the cent.
    private static void AddsUp(Ledger ledger)
    {
        ledger.Until(
            () =>
            {
                var cents = ledger
                    .Driver.FindElements(By.CssSelector("[data-testid=reductions] [data-amount]"))
                    .Sum(row => Cents(row.GetAttribute("data-amount")!));
                return cents == Cents(ledger.Find("[data-testid=to-pay]").GetAttribute("data-due")!);
            },
            () => ledger.Text("[data-testid=reductions]")
        );
    }

    private static long Cents(string amount) => (long)(decimal.Parse(amount, CultureInfo.InvariantCulture) * 100);

    private static async Task PutLive(RunningServer server, string document)
    {
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document = JsonNode.Parse(document) });
        var (status, answer) = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{(string)begun!["id"]!}/live",
            new { revision = (long)begun["revision"]!, document = begun["document"] }
        );
        Assert.True(status == 200, answer?.ToJsonString());
    }

    private static async Task<JsonNode> Store(RunningServer server, string key, string path, object body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/store/v1/{path}")
        {
            Content = System.Net.Http.Json.JsonContent.Create(body),
        };
        request.Headers.Authorization = new("Bearer", key);
        request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
        using var response = await server.Http.SendAsync(request);
        return JsonNode.Parse(await response.Content.ReadAsStringAsync())!;
    }
}
