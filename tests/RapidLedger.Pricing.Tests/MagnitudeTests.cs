using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>What comes to too much to be counted with, at the bound: so much still counts, one more does not.</summary>
public class MagnitudeTests
{
    private const long Most = 1_000_000_000_000_000;
    private static readonly Currency Yen = Currency.Find("JPY")!;

    // A million units in two lines, at 1,000.00 or 160,000 yen; they cost 1,250.00.
    [Theory]
    [InlineData("points", Most, 0, true)]
    [InlineData("points", Most + 1, 0, false)]
    [InlineData("points each", Most / 1_000_000, 0, true)]
    [InlineData("points each", (Most / 1_000_000) + 1, 0, false)]
    [InlineData("points each in yen", Most / 1_000_000, 0, true)]
    [InlineData("points each in yen", (Most / 1_000_000) + 1, 0, false)]
    [InlineData("gift each unit", Most / 1_000_000, 0, true)]
    [InlineData("gift each unit", (Most / 1_000_000) + 1, 0, false)]
    [InlineData("gift each unit", (Most / 1_000_000) + 1, 999_999, true)]
    [InlineData("gift by spend", Most / 1_000_000, 0, true)]
    [InlineData("gift by spend", (Most / 1_000_000) + 1, 0, false)]
    [InlineData("the same again", 8_000, 0, true)]
    [InlineData("the same again", 8_001, 0, false)]
    public void As_much_as_can_be_counted_is_and_one_more_is_not(string what, long number, int atMost, bool counts)
    {
        var store = new Store(RandomCase.Eur, DateTimeZone.Utc, Rates: [new(Yen, new(160, 0))]);
        var catalogue = new Catalogue(
            [],
            [
                new(
                    "p",
                    "P",
                    [
                        new("A", RandomCase.Money(100_000), Cost: RandomCase.Money(125_000)),
                        new(
                            "GIFT",
                            Amount.In(RandomCase.Eur, 1),
                            Cost: Amount.In(RandomCase.Eur, what.StartsWith("gift", StringComparison.Ordinal) ? number : 1)
                        ),
                    ]
                ),
            ]
        );
        Reward reward = what switch
        {
            "points" => new Points(number),
            "points each" or "points each in yen" => new Points(number, RandomCase.Money(100_000)),
            "gift each unit" => new Gift(
                new Give.OneOf(["GIFT"]),
                new(Selection.Everything, Quantity: 1),
                AtMost: atMost == 0 ? null : atMost
            ),
            "gift by spend" => new Gift(new Give.OneOf(["GIFT"]), new(Selection.Everything, Spend: RandomCase.Money(100_000))),
            _ => new Gift(new Give.SameAs(Selection.Everything), new(Quantity: 1), number),
        };
        var cart = new Cart(
            default,
            [new("A", 500_000), new("A", 500_000)],
            Currency: what.EndsWith("yen", StringComparison.Ordinal) ? Yen : null
        );
        var found = Magnitudes.FirstIn(
            CatalogueIndex.Of(store, catalogue),
            cart,
            [new Promotion("other", [new Shipping(null, new Take.Percentage(Percent.Whole))]), new Promotion("p", [reward])]
        );
        Assert.Equal(counts ? null : new TooMuch(Magnitude.Given, Promotion: 1, Reward: 0), found);
    }
}
