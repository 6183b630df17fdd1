using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>Price curves: each point is a priced cart, and the marks say what the points do.</summary>
public class CurveTests
{
    private static readonly Wording Plain = new(new RandomCase(1).Rulebook.Catalogue, RandomCase.Eur);

    [Fact]
    public void Every_point_is_the_cart_priced_and_every_mark_a_place_of_it()
    {
        var marked = 0;
        RandomCase.Any.Sample(
            drawn =>
            {
                var (with, looked) = (drawn.Rulebook, drawn.Promotions[0]);
                var without = with.With([], [looked.Id]);
                var curve = PriceCurve.Of(with, without, drawn.Cart, "T1", 12, Plain);
                Assert.True(curve.IsWhole && curve.Points.Count == 12);
                Line[] others = [.. drawn.Lines.Where(line => line.Sku != "T1")];
                var at = drawn.Lines.TakeWhile(line => line.Sku != "T1").Count();
                foreach (var point in curve.Points)
                {
                    var cart = drawn.CartOf([.. others[..at], new("T1", point.Units), .. others[at..]]);
                    var (before, after) = (without.Price(cart), with.Price(cart));
                    Assert.Equal(
                        new CurvePoint(point.Units, after.Totals.Goods, before.Totals.Total, after.Totals.Total, after.Totals.Margin),
                        point
                    );
                }

                foreach (var mark in curve.Marks)
                foreach (var units in mark.Places)
                {
                    var (now, last) = (curve.Points[units - 1], units == 1 ? null : curve.Points[units - 2]);
                    marked++;
                    Assert.True(
                        mark.Kind switch
                        {
                            CurveMarkKind.Begins => now.After < now.Before,
                            CurveMarkKind.Cliff => now.After < last!.After,
                            CurveMarkKind.Flat => now.After == last!.After,
                            CurveMarkKind.Step => now.After > last!.After,
                            _ => now.Margin < 0,
                        }
                    );
                }

                // And no place of the kinds that matter most is left out.
                Assert.Equal(
                    curve.Points.Where(point => point.Margin < 0).Select(point => point.Units),
                    curve.Marks.Where(mark => mark.Kind == CurveMarkKind.BelowCost).SelectMany(mark => mark.Places)
                );
            },
            iter: 300
        );
        Assert.True(marked > 300, $"{marked}");
    }

    [Fact]
    public void A_cliff_is_told_with_its_figures()
    {
        // 20 % off from 50.00 on, tubes at 5.90 each: 8 cost 47.20, 9 cost 53.10 x 0.8 = 42.48, 4.72 less.
        var curve = CurveOf(new Discount(All, Percent(20), Per.Cart), new Spend(null, RandomCase.Money(5_000), null), 12);
        Assert.Equal([47_20, 42_48], curve.Points.Skip(7).Take(2).Select(point => point.After));
        var cliff = Assert.Single(curve.Marks, mark => mark.Kind == CurveMarkKind.Cliff);
        Assert.Equal("9 cost 42.48, 8 cost 47.20: with one more the order is 4.72 cheaper.", cliff.Sentence);
        Assert.Equal([9], cliff.Places);
        // 7.00 off from four on, 20.00 more from seven on: the deeper of the two is told.
        var two = Assert.Single(
            CurveOf(
                new Ladder(Measure.Quantity, All, StepsThatCount.All, [new(4, null, [Off(7_00)]), new(7, null, [Off(20_00)])]),
                null,
                9
            ).Marks,
            mark => mark.Kind == CurveMarkKind.Cliff
        );
        Assert.Equal([4, 7], two.Places);
        Assert.StartsWith("7 cost 14.30, 6 cost 28.40: with one more the order is 14.10 cheaper", two.Sentence, StringComparison.Ordinal);

        static Discount Off(long minor) => new(All, new Take.Off(RandomCase.Money(minor)), Per.Cart);
    }

    [Fact]
    public void Three_for_two_is_flat_at_every_third_and_a_deep_cut_is_below_cost()
    {
        var curve = CurveOf(new BuyGet(All, All, new Deal.ByQuantity(2, 1, Repetition.Every), Percent(100)), null, 9);
        Assert.Equal("One more costs nothing at 3, 6 and 9.", Assert.Single(curve.Marks, mark => mark.Kind == CurveMarkKind.Flat).Sentence);
        // A tube costs the shop 2.10: at 1.77 each 0.33 is lost.
        var deep = CurveOf(new Discount(All, Percent(70), Per.Unit), new Quantity(null, Comparison.AtLeast, 2), 3);
        Assert.Equal(
            "The order is sold below cost at 2 to 3: -0.99 at 3.",
            Assert.Single(deep.Marks, mark => mark.Kind == CurveMarkKind.BelowCost).Sentence
        );
    }

    [Theory]
    [InlineData(20_00, 12)]
    [InlineData(90_00, 24)]
    [InlineData(90_000_00, 200)]
    public void A_curve_goes_half_as_far_again_as_the_last_step(long from, int expected) =>
        Assert.Equal(
            expected,
            UnitSteps.Reach(
                new("p", [new Discount(All, Percent(10), Per.Cart)], When: new Spend(null, RandomCase.Money(from), null)),
                5_90,
                Tubes.Catalogue.Store
            )
        );

    private static readonly Selection All = new([new Term.All()]);

    private static readonly Rulebook Tubes = Rulebook.Compile(
        new(RandomCase.Eur, NodaTime.DateTimeZone.Utc),
        new([], [new("tube", "Tube", [new("TUBE", RandomCase.Money(5_90), Cost: RandomCase.Money(2_10))])]),
        []
    );

    private static Take Percent(int percent) => new Take.Percentage(Pricing.Percent.From(percent)!.Value);

    private static PriceCurve CurveOf(Reward reward, Condition? when, int most) =>
        PriceCurve.Of(
            Tubes.With(new Promotion("p", [reward], When: when)),
            Tubes,
            new(NodaTime.Instant.FromUtc(2027, 3, 5, 9, 0), []),
            "TUBE",
            most,
            new(Tubes.Catalogue, RandomCase.Eur)
        );
}
