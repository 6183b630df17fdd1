using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>The deepest cart, against every cart of small shops priced one by one.</summary>
public class DeepestTests
{
    private const int Shops = 16;
    private const int Units = 3;

    private static readonly Instant Now = Instant.FromUtc(2027, 3, 5, 9, 0);
    private static readonly string[] Skus = ["T1", "T2", "T3", "B1", "B2", "G1", "G2"];

    // As much as a second look puts into it: too little to price every cart.
    private const long WorkOfASecondLook = 1_500_000;

    [Fact]
    public void Of_a_small_shop_the_deepest_cart_is_found_and_proved_and_mostly_without_pricing_all()
    {
        var (climbed, missed) = (0, 0);
        foreach (var seed in Enumerable.Range(1, Shops))
        {
            var drawn = new RandomCase((ulong)seed);
            var rulebook = drawn.Rulebook;
            var meetings = new Meetings(rulebook, Now);
            var (all, sold) = PriceAll(drawn, rulebook);
            foreach (var by in Enum.GetValues<DeepestBy>())
            {
                var least = all.Select(priced => Depth.Of(priced, by)).Min();
                var found = Deepest.Of(meetings, by, new(Units), work: long.MaxValue);
                Assert.Equal((seed, by, least), (seed, by, found?.Depth));
                if (found is null)
                    continue;
                Assert.True(found.Proved);
                Assert.Equal(Skus.Length - sold, found.LeftOut);
                // It is what it says, priced once more.
                var again = rulebook.Price(found.Found.Cart, batchCodes: found.Found.BatchCodes);
                Assert.Equal(RandomCase.Print(found.Found.Priced), RandomCase.Print(again));
                var best = Deepest.Of(meetings, by, new(Units), work: WorkOfASecondLook);
                if (best?.Proved != true)
                    (climbed, missed) = (climbed + 1, missed + (best?.Depth == least ? 0 : 1));
                // Holding one promotion, it applies there.
                if (drawn.Promotions[0].Rewards is [Points])
                    continue;
                var holding = Deepest.Of(meetings, by, new(Units), [drawn.Promotions[0].Id], long.MaxValue);
                var with = all.Where(priced => priced.Applied.Any(outcome => outcome.Promotion.Id == drawn.Promotions[0].Id));
                Assert.Equal((seed, by, with.Select(priced => Depth.Of(priced, by)).Min()), (seed, by, holding?.Depth));
            }
        }

        Assert.True(climbed > Shops * 2 && missed * 10 <= climbed, $"{missed} of {climbed} were not found by climbing.");
    }

    [Fact]
    public void What_costs_more_than_it_brings_is_left_out_unless_losses_are_asked_for()
    {
        var drawn = new RandomCase(1);
        Variant[] variants = [Of("GOOD", 1_000, 500), Of("LOSS", 1_000, 1_100), Of("UNKNOWN", 1_000, null)];
        var rulebook = Rulebook.Compile(
            drawn.Store with
            {
                Tax = null,
            },
            new([], [new("one", "One", variants.ToEquatableArray())]),
            [new("p", [new Discount(Selection.Everything, new Take.Percentage(Percent.From(60)!.Value), Per.Unit)])]
        );
        var meetings = new Meetings(rulebook, Now);
        // 4.00 are paid for what costs 5.00, and for what costs 11.00.
        var usual = Deepest.Of(meetings)!;
        Assert.Equal(("GOOD", 2, -25m), (usual.Found.Cart.Lines[0].Sku, usual.LeftOut, usual.Depth.Value));
        var all = Deepest.Of(meetings, bounds: new(WithLosses: true))!;
        Assert.Equal(("LOSS", 1, -175m), (all.Found.Cart.Lines[0].Sku, all.LeftOut, all.Depth.Value));
        // Money grows with units: 5 fit, and of what costs 10.00 four into 40.00.
        Assert.Equal(-5 * 100m, Deepest.Of(meetings, DeepestBy.Margin, new(5))!.Depth.Value);
        Assert.Equal(-4 * 600m, Deepest.Of(meetings, DeepestBy.Reduction, new(5, 4_000))!.Depth.Value);
        // Nothing is paid: lower than any percent, and the margin decides.
        var given = new Meetings(
            rulebook.With(new Promotion("q", [new Discount(Selection.Everything, new Take.To(RandomCase.Money(0)), Per.Unit)], Rank: 9)),
            Now
        );
        Assert.Equal((true, -500m * 3), (Deepest.Of(given, bounds: new(3))!.Depth is var depth && depth.NothingPaid, depth.Value));

        static Variant Of(string sku, long price, long? cost) =>
            new(sku, RandomCase.Money(price), Cost: cost is { } known ? RandomCase.Money(known) : null);
    }

    // Written another way than the search: circumstances by hand, lines by counting.
    private static (List<PricedCart> All, int Sold) PriceAll(RandomCase drawn, Rulebook rulebook)
    {
        string[] sold =
        [
            .. Skus.Where(sku =>
            {
                var item = rulebook.Catalogue.Find(sku);
                var price = rulebook.Catalogue.PricesIn(RandomCase.Eur).Current(item);
                return price > 0 && rulebook.Catalogue.MarginShare(item, price, RandomCase.Eur) >= 0;
            }),
        ];
        Shopper?[] shoppers = [null, new(), new(Groups: ["trade"])];
        Place?[] places = [null, new("DE"), new("FR")];
        string[][] codes =
        [
            [],
            ["TEN"],
        ];
        var all = new List<PricedCart>();
        foreach (var shopper in shoppers)
        foreach (var place in places)
        foreach (var code in codes)
        foreach (var method in (string?[])[null, "parcel"])
            for (var number = 1; number < Math.Pow(Units + 1, sold.Length); number++)
            {
                Line[] lines =
                [
                    .. sold.Select((sku, at) => new Line(sku, number / (int)Math.Pow(Units + 1, at) % (Units + 1)))
                        .Where(line => line.Quantity > 0),
                ];
                if (lines.Sum(line => line.Quantity) <= Units)
                    all.Add(rulebook.Price(new(Now, lines.ToEquatableArray(), null, Cart.Web, method, place, shopper, [.. code])));
            }

        return (all, sold.Length);
    }
}
