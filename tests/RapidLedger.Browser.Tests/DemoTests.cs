using System.Globalization;
using System.Text.Json.Nodes;
using OpenQA.Selenium;
using RapidLedger.Tests;

namespace RapidLedger.Browser.Tests;

/// <summary>The demo shop as it is opened first: each of its carts on the tape, each of its promotions on the desk.</summary>
public class DemoTests
{
    [Fact]
    public async Task Each_cart_comes_to_what_is_worked_out_by_hand()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);

        // Two panniers at 64.90 less a quarter, 16.225 rounded each; of three tubes one free; delivery free from 150.00.
        Expect("long tour", "€155.84", ("moss-panniers", "−32.46"), ("tubes-3for2", "−6.90"), ("free-parcel", "−4.90"));

        // The cheaper light, 24.90, at half price, and for a guest a tenth of the 52.35 that are left; the set for 59.00 has not begun.
        Expect("front and rear", "€52.01", ("light-pair", "−12.45"), ("welcome10", "−5.24"));

        // In pounds: 75.65 and 49.30, 8.00 off from 80.00, delivery 4.17.
        Expect("united kingdom", "£121.12", ("uk-eight", "−8.00"));

        // A tenth off 149.00 and 42.00 to 35.00 are prices; 8.00 off what is left. What is picked up at the shop cannot go to the Canaries.
        Expect("canaries", "€161.10", ("rain-week", "−21.90"), ("island-rain", "−8.00"));

        void Expect(string cart, string due, params (string Promotion, string Amount)[] entries)
        {
            ledger.Press("/");
            ledger.Find("[aria-label=Command]");
            ledger.Press(cart, Keys.Enter);
            ledger.UntilEqual(due, () => ledger.Due);
            foreach (var (promotion, amount) in entries)
                Assert.Equal((promotion, amount), (promotion, ledger.Entry(promotion)));
            Assert.Equal(entries.Length, ledger.Count("[data-testid=entry]"));
        }
    }

    [Fact]
    public async Task Each_promotion_is_read_back_on_the_desk_and_the_tape_goes_on()
    {
        await using var server = await RunningServer.Start(clock: RunningServer.DemoDay);
        using var ledger = new Ledger(server);
        var promotions = Directory
            .EnumerateFiles(Path.Combine(RunningServer.Root, "demo", "promotions"))
            .Select(file => JsonNode.Parse(File.ReadAllText(file)));
        var kinds = new HashSet<string>();
        foreach (var promotion in promotions)
        {
            var rewards = promotion!["rewards"]!.AsArray();
            kinds.UnionWith(rewards.Select(reward => (string)reward!["kind"]!));
            ledger.Open($"/promotions/{promotion["id"]}");
            ledger.UntilEqual((string)promotion["name"]!, () => ledger.Find("[aria-label='Name, for yourselves']").GetAttribute("value"));
            ledger.Until(() => ledger.ReadBack.Contains("Gives ", StringComparison.Ordinal));
            // Each figure of a reward that is written as money is in its sentence.
            foreach (var amount in rewards.SelectMany(reward => Amounts(reward!)).Distinct())
                Assert.Contains(
                    decimal.Parse(amount, CultureInfo.InvariantCulture).ToString("0.00", CultureInfo.InvariantCulture),
                    ledger.ReadBack,
                    StringComparison.Ordinal
                );
            Assert.Equal("€155.84", ledger.Due);
        }

        Assert.Equal("buyGet bundle credit discount gift ladder markdown points shipping".Split(' ').Order(), kinds.Order());
    }

    // Amounts are texts of digits; a currency's own are in an object.
    private static IEnumerable<string> Amounts(JsonNode node) =>
        node switch
        {
            JsonObject members when members["EUR"] is { } euros => [(string)euros!],
            JsonObject members => members
                .Where(member => member.Key is not ("skus" or "methods"))
                .SelectMany(member => member.Value is null ? [] : Amounts(member.Value)),
            JsonArray items => items.SelectMany(item => Amounts(item!)),
            JsonValue value when value.TryGetValue<string>(out var text) && decimal.TryParse(text, CultureInfo.InvariantCulture, out _) =>
            [
                text,
            ],
            _ => [],
        };
}
