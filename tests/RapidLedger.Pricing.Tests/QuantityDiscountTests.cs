using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>Quantity discounts against the formulas of operations research, and facts of the trade.</summary>
public class QuantityDiscountTests
{
    [Fact]
    public void All_units_and_incremental_discounts_cost_what_the_textbook_says() =>
        // Source: Hadley and Whitin, Analysis of Inventory Systems (1963), the sections on quantity discounts (from memory). With unit
        // costs c(j) from break points q(j), all units cost c(j) Q; incrementally each unit costs what the step it stands on says.
        Gen.Select(Gen.Int[1, 60], Gen.Int[2, 15], Gen.Int[1, 20])
            .Sample(
                (quantity, firstBreak, between) =>
                {
                    long[] breaks = [1, firstBreak, firstBreak + between];
                    long[] costs = [1000, 900, 750];
                    var j = Array.FindLastIndex(breaks, from => quantity >= from);
                    var allUnits = costs[j] * quantity;
                    long incremental = 0;
                    for (var step = 0; step <= j; step++)
                        incremental += costs[step] * ((step == j ? quantity : breaks[step + 1] - 1) - breaks[step] + 1);

                    Assert.Equal(allUnits, Net(quantity, StepsThatCount.Highest, breaks, costs));
                    Assert.Equal(incremental, Net(quantity, StepsThatCount.Beyond, breaks, costs));
                }
            );

    [Theory]
    // Source: Heizer and Render, Operations Management, the quantity discount model, Wohl's Discount Store (from memory): 5,000 a year at
    // 5.00, from 1,000 at 4.80, from 2,000 at 4.75; 49.00 an order, holding a fifth of the price. Published: 25,700.00, 24,725.00,
    // 24,822.50.
    [InlineData(700, "25700.00")]
    [InlineData(1000, "24725.00")]
    [InlineData(2000, "24822.50")]
    public void A_year_of_orders_costs_what_the_handbook_publishes(int quantity, string published)
    {
        var goods = (decimal)Net(quantity, StepsThatCount.Highest, [1, 1_000, 2_000], [500, 480, 475]) / 100;
        var total = (goods * 5_000 / quantity) + (49m * 5_000 / quantity) + (goods / quantity * 0.2m * quantity / 2);
        Assert.Equal(decimal.Parse(published, System.Globalization.CultureInfo.InvariantCulture), decimal.Round(total, 2));
    }

    [Theory]
    // Common practice, no source.
    [InlineData(1000, 1000)]
    [InlineData(1000, 600)]
    public void Half_off_the_second_equals_a_quarter_off_both_only_for_equal_prices(long first, long second)
    {
        var half = Saving(
            [first, second],
            new Discount(Selection.Everything, new Take.Percentage(new(500_000)), Per.Unit, Pick.Cheapest, 1)
        );
        var quarter = Saving([first, second], new Discount(Selection.Everything, new Take.Percentage(new(250_000)), Per.Unit));
        Assert.Equal(first == second, half == quarter);
    }

    [Fact]
    public void Buy_three_get_one_free_at_9_99_with_a_cost_of_3_00_still_leaves_a_margin()
    {
        // Common practice, no source: four for the price of three is 29.97, less 12.00.
        var reward = new BuyGet(
            Selection.Everything,
            Selection.Everything,
            new Deal.ByQuantity(3, 1, Repetition.Every),
            new Take.Percentage(Percent.Whole)
        );
        var priced = Shop([999], 300, reward).Price(CartOf([4]));
        Assert.Equal((2997, 1797), (priced.Totals.Net, priced.Totals.Margin));
    }

    [Theory]
    // Common practice, no source: "more than 1" means two, "at least 1" means one.
    [InlineData(Comparison.MoreThan, 1, false)]
    [InlineData(Comparison.MoreThan, 2, true)]
    [InlineData(Comparison.AtLeast, 1, true)]
    public void More_than_one_means_two(Comparison comparison, int quantity, bool applies)
    {
        var promotion = new Promotion(
            "p",
            [new Discount(Selection.Everything, new Take.Off(RandomCase.Money(1)), Per.Cart)],
            When: new Quantity(null, comparison, 1)
        );
        Assert.Equal(applies, Shop([500], null, promotion).Price(CartOf([quantity])).Outcomes[0].Applied);
    }

    [Theory]
    // Common practice, no source: at exactly the minimum a shopper qualifies; a code stops earning when its item leaves the cart.
    [InlineData(5000, true)]
    [InlineData(4999, false)]
    public void At_exactly_the_minimum_a_shopper_qualifies(long price, bool applies)
    {
        var promotion = new Promotion(
            "p",
            [new Discount(Selection.Everything, new Take.Off(RandomCase.Money(500)), Per.Cart)],
            Trigger: new(["SAVE"]),
            When: new Spend(null, RandomCase.Money(5000), null)
        );
        var cart = CartOf([1]) with { Codes = ["save"] };
        var rulebook = Shop([price], null, promotion);
        Assert.Equal(applies ? "applied" : "conditionNotMet", rulebook.Price(cart).Codes[0].Status);
        Assert.Equal("conditionNotMet", rulebook.Price(cart with { Lines = [] }).Codes[0].Status);
    }

    private static long Net(int quantity, StepsThatCount apply, long[] breaks, long[] costs)
    {
        var steps = breaks
            .Skip(1)
            .Select(
                (from, step) =>
                    new LadderStep(
                        from,
                        null,
                        [new Discount(Selection.Everything, new Take.To(RandomCase.Money(costs[step + 1])), Per.Unit)]
                    )
            );
        return Shop([costs[0]], null, new Ladder(Measure.Quantity, Selection.Everything, apply, steps.ToEquatableArray()))
            .Price(CartOf([quantity]))
            .Totals.Net;
    }

    private static long Saving(long[] prices, Reward reward) =>
        Shop(prices, null, reward).Price(CartOf([.. prices.Select(_ => 1)])).Totals.Saving;

    private static Rulebook Shop(long[] prices, long? cost, Reward reward) => Shop(prices, cost, new Promotion("p", [reward]));

    private static Rulebook Shop(long[] prices, long? cost, Promotion promotion) =>
        Rulebook.Compile(
            new Store(RandomCase.Eur, DateTimeZone.Utc),
            new Catalogue(
                [],
                [
                    new(
                        "p",
                        "P",
                        prices
                            .Select(
                                (price, number) =>
                                    new Variant(
                                        $"S{number}",
                                        RandomCase.Money(price),
                                        Cost: cost is { } known ? RandomCase.Money(known) : null
                                    )
                            )
                            .ToEquatableArray()
                    ),
                ]
            ),
            [promotion]
        );

    private static Cart CartOf(int[] quantities) =>
        new(
            Instant.FromUtc(2027, 3, 5, 9, 0),
            quantities.Select((quantity, number) => new Line($"S{number}", quantity)).ToEquatableArray()
        );
}
