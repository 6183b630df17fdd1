using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>What is said to be missing is put in the cart: it must come true, and what is said of promotions must be so.</summary>
public class NudgeTests
{
    [Fact]
    public void Every_nudge_comes_true()
    {
        var (told, carts) = (0, 0);
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new RandomCase(seed);
                var priced = drawn.Priced;
                Assert.True(priced.Nudges.Count <= Nudge.Most);
                Assert.Equal(priced.Nudges.Count, priced.Nudges.Select(nudge => nudge.Promotion.Id).Distinct().Count());
                foreach (var nudge in priced.Nudges)
                {
                    var before = priced.Outcomes.Single(outcome => outcome.Promotion.Id == nudge.Promotion.Id);
                    var after = drawn
                        .Rulebook.Price(drawn.CartOf([.. drawn.Lines, .. nudge.Add]))
                        .Outcomes.Single(outcome => outcome.Promotion.Id == nudge.Promotion.Id);
                    Assert.True(after.Applied);
                    Assert.Equal(nudge.Saves, after.Amount - before.Amount);
                    Assert.True(!before.Applied || nudge.Saves > 0);
                    Assert.True(nudge.Missing > 0 && nudge.Add.Count > 0);
                    if (nudge.Measure == Measure.Quantity)
                        Assert.Equal(nudge.Missing, nudge.Add.Sum(line => line.Quantity));
                }

                Interlocked.Add(ref told, priced.Nudges.Count);
                Interlocked.Increment(ref carts);
            },
            iter: 3_000
        );
        Assert.True(told > carts / 4, $"{told} nudges for {carts} carts");
    }

    [Theory]
    // One unit short of three for two, one short of the next three, a set one slot short, the next set, the next step, one more gift.
    [InlineData("buy 2 get 1", 2, 0, "T 1", 500)]
    [InlineData("buy 2 get 1", 3, 0, "T 3", 500)]
    [InlineData("buy 2 get 1", 5, 0, "T 1", 500)]
    [InlineData("set", 1, 0, "B 1", 300)]
    [InlineData("set", 2, 1, "B 1", 300)]
    [InlineData("ladder", 2, 0, "T 1", 150)]
    [InlineData("ladder", 3, 0, "T 2", 350)]
    [InlineData("same again", 1, 0, "T 1", 500)]
    [InlineData("same again", 2, 0, "T 2", 500)]
    [InlineData("schedule", 1, 0, "T 1", 500)]
    [InlineData("schedule", 3, 0, "T 3", 1_000)]
    [InlineData("schedule of one item", 2, 0, "T 4", 1_000)]
    [InlineData("schedule of others", 1, 2, "B 1 T 2", 1_400)]
    [InlineData("schedule of others", 1, 1, "B 2 T 2", 1_400)]
    [InlineData("same twice", 3, 0, "T 3", 500)]
    [InlineData("another", 1, 0, "B 1", 700)]
    // The nearest of several ways in, and other items one each.
    [InlineData("either", 2, 0, "T 1", 150)]
    [InlineData("different ones", 1, 0, "B 1 C 1", 210)]
    public void What_one_more_application_lacks_is_told(string kind, int tubes, int bags, string add, long saves)
    {
        var nudge = Assert.Single(Nudges(kind, tubes, bags));
        Assert.Equal((add, saves), (string.Join(' ', nudge.Add.Select(line => $"{line.Sku} {line.Quantity}")), nudge.Saves));
    }

    [Theory]
    [InlineData("schedule", 6, 0)]
    [InlineData("schedule of others", 3, 3)]
    [InlineData("same twice", 6, 0)]
    [InlineData("ladder", 5, 0)]
    [InlineData("prices from three on", 2, 0)]
    public void Nothing_is_told_where_nothing_more_is_to_come(string kind, int tubes, int bags) => Assert.Empty(Nudges(kind, tubes, bags));

    private static IReadOnlyList<Nudge> Nudges(string kind, int tubes, int bags)
    {
        var (t, b) = (new Selection([new Term.OfProduct("t")]), new Selection([new Term.OfProduct("b")]));
        Discount Off(int percent) => new(t, new Take.Percentage(Percent.From(percent)!.Value), Per.Cart);
        Reward reward = kind switch
        {
            "buy 2 get 1" => new BuyGet(t, t, new Deal.ByQuantity(2, 1, Repetition.Every), new Take.Percentage(Percent.Whole)),
            "schedule" => new BuyGet(t, t, new Deal.BySchedule([new(1, 1), new(2, 2)]), new Take.Percentage(Percent.Whole)),
            "schedule of one item" => new BuyGet(
                t,
                t,
                new Deal.BySchedule([new(1, 1), new(2, 2)]),
                new Take.Percentage(Percent.Whole),
                Same: Same.Sku
            ),
            "schedule of others" => new BuyGet(t, b, new Deal.BySchedule([new(1, 1), new(2, 2)]), new Take.Percentage(Percent.Whole)),
            "set" => new Bundle([new(t, 1), new(b, 1)], new Take.To(RandomCase.Money(900)), Repetition.Every),
            "ladder" => new Ladder(Measure.Quantity, t, StepsThatCount.Highest, [new(3, null, [Off(10)]), new(5, null, [Off(20)])]),
            "same twice" => new BuyGet(
                t,
                t,
                new Deal.ByQuantity(2, 1, new Repetition(2)),
                new Take.Percentage(Percent.Whole),
                Same: Same.Sku
            ),
            "either" or "different ones" => Off(10) with { On = Selection.Everything },
            "prices from three on" => new Markdown([new(t, new Take.Percentage(Percent.From(20)!.Value))]),
            "same again" => new Gift(new Give.SameAs(t), new(Quantity: 2)),
            _ => new BuyGet(t, b, new Deal.ByQuantity(1, 1, Repetition.Every), new Take.Percentage(Percent.Whole)),
        };
        Condition? when = kind switch
        {
            "either" => new AnyOf([new Spend(null, RandomCase.Money(9_000), null), new Quantity(t, Comparison.AtLeast, 3)]),
            "different ones" => new Distinct(null, Comparison.AtLeast, 3),
            "prices from three on" => new Quantity(t, Comparison.AtLeast, 3),
            _ => null,
        };
        var catalogue = new Catalogue(
            [],
            [
                new("t", "T", [new("T", RandomCase.Money(500))]),
                new("b", "B", [new("B", RandomCase.Money(700))]),
                new("c", "C", [new("C", RandomCase.Money(900))]),
            ]
        );
        Line[] lines = [new("T", tubes), .. bags > 0 ? [new Line("B", bags)] : Array.Empty<Line>()];
        return Rulebook
            .Compile(new(RandomCase.Eur, DateTimeZone.Utc), catalogue, [new("p", [reward], When: when)])
            .Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [.. lines]))
            .Nudges;
    }

    [Theory]
    // Two of a product and one for nothing: with one of each of its items one more makes three of the product, two more three of an item.
    [InlineData(Same.Product, "T 1")]
    [InlineData(Same.Sku, "T 2")]
    public void Of_the_same_product_or_item_as_many_more_are_asked_for_as_it_lacks(Same same, string add)
    {
        var t = new Selection([new Term.OfProduct("t")]);
        var catalogue = new Catalogue([], [new("t", "T", [new("T", RandomCase.Money(500)), new("U", RandomCase.Money(600))])]);
        var promotion = new Promotion(
            "p",
            [new BuyGet(t, t, new Deal.ByQuantity(2, 1, Repetition.Every), new Take.Percentage(Percent.Whole), Same: same)]
        );
        var nudge = Assert.Single(
            Rulebook
                .Compile(new(RandomCase.Eur, DateTimeZone.Utc), catalogue, [promotion])
                .Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("T", 1), new("U", 1)]))
                .Nudges
        );
        Assert.Equal((add, 500), (string.Join(' ', nudge.Add.Select(line => $"{line.Sku} {line.Quantity}")), nudge.Saves));
    }

    [Theory]
    // A pair of the same for 12.00: one is no pair, and two cost less than that.
    [InlineData(1, typeof(Idleness.SetNeedsMore))]
    [InlineData(2, typeof(Idleness.NothingToTake))]
    public void A_set_that_cannot_be_filled_is_told_from_one_that_takes_nothing(int tubes, Type why)
    {
        var slot = new Slot(new([new Term.OfProduct("t")]), 1);
        var rulebook = Rulebook.Compile(
            new(RandomCase.Eur, DateTimeZone.Utc),
            new([], [new("t", "T", [new("T", RandomCase.Money(500))])]),
            [new("p", [new Bundle([slot, slot], new Take.To(RandomCase.Money(1_200)), Repetition.Every)])]
        );
        var reason = Assert.IsType<Reason.NoMatchingItems>(
            rulebook.Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("T", tubes)])).Outcomes[0].Reason
        );
        Assert.IsType(why, reason.Why);
    }

    [Fact]
    public void A_promotion_with_which_the_cart_would_save_less_says_by_how_much()
    {
        // 5.00 off a third of the dearest pair, or half of it: the set price before the percentage leaves less for it.
        var catalogue = new Catalogue([], [new("p", "P", [new("A", RandomCase.Money(2_000)), new("B", RandomCase.Money(1_000))])]);
        Promotion On(string id, int rank, Take take) => new(id, [new Discount(new([new Term.OfSku("A")]), take, Per.Unit)], Rank: rank);
        var rulebook = Rulebook.Compile(
            new(RandomCase.Eur, DateTimeZone.Utc),
            catalogue,
            [
                On("first", 1, new Take.Off(RandomCase.Money(500))),
                new(
                    "second",
                    [
                        new Bundle(
                            [new(new([new Term.OfSku("A")]), 1), new(new([new Term.OfSku("B")]), 1)],
                            new Take.To(RandomCase.Money(2_000)),
                            Repetition.Once
                        ),
                    ],
                    Rank: 2
                ),
                new(
                    "third",
                    [new Discount(Selection.Everything, new Take.Percentage(Percent.From(50)!.Value), Per.Unit, Pick.Dearest, 1)],
                    Rank: 3
                ),
            ]
        );
        var priced = rulebook.Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("A", 1), new("B", 1)]));
        var told = priced
            .Outcomes.Where(outcome => outcome.Reason is Reason.NotBetter { Verdict: Verdict.Less })
            .Select(outcome => ((Reason.NotBetter)outcome.Reason!).SavesLess)
            .ToArray();
        Assert.Equal(priced.Totals.Saving, 3_000 - priced.Totals.Net);
        Assert.All(told, less => Assert.InRange(less, 1, priced.Totals.Saving));
        Assert.True(
            told.Length > 0,
            string.Join(' ', priced.Outcomes.Select(outcome => $"{outcome.Promotion.Id} {outcome.Amount} {outcome.Reason}"))
        );
    }

    [Fact]
    public void What_is_said_of_a_promotion_is_so()
    {
        var met = new HashSet<string>();
        Gen.Select(Gen.ULong, Gen.Bool)
            .Sample(
                (seed, byRank) =>
                {
                    var drawn = new RandomCase(seed);
                    if (byRank)
                        drawn = new RandomCase(seed) { Store = drawn.Store with { Policy = Policy.Rank } };
                    var priced = drawn.Priced;
                    foreach (var outcome in priced.Outcomes)
                        AssertTrue(drawn, priced, outcome, byRank, met);
                },
                iter: 4_000,
                threads: 1
            );
        foreach (var one in (string[])["LeftNothing", "saves more", "NothingOfIt", "TooFew", "NothingToTake"])
            Assert.Contains(one, met);
    }

    private static void AssertTrue(RandomCase drawn, PricedCart priced, Outcome outcome, bool byRank, HashSet<string> met)
    {
        long WorthOf(IEnumerable<Promotion> promotions) =>
            Rulebook.Compile(
                drawn.Store,
                drawn.Catalogue,
                drawn.Promotions.Where(promotion => promotion.Rewards[0] is Markdown).Concat(promotions)
            )
                is var rulebook
            && Together.Price(drawn.Store, drawn.Catalogue, rulebook.Promotions, drawn.Cart) is { } tally
                ? tally.Worth
                : -1;
        Promotion[] chosen =
        [
            .. priced
                .Outcomes.Where(one => one.Applied && one.Promotion.Rewards[0] is not (Markdown or Credit))
                .Select(one => one.Promotion),
        ];
        var view = priced.View;
        switch (outcome.Reason)
        {
            case Reason.NotBetter { Verdict: Verdict.OtherMarkdown }:
                met.Add("OtherMarkdown");
                break;
            case Reason.NotBetter(var verdict, var beside, var less, _):
                met.Add(verdict.ToString());
                var others = byRank ? chosen.Where(other => Promotion.Order.Compare(other, outcome.Promotion) < 0) : chosen;
                var with = WorthOf(others.Append(outcome.Promotion));
                if (verdict is Verdict.Same or Verdict.Less)
                    Assert.Equal(WorthOf(others) - with, less);
                else
                    Assert.Equal(-1, with);
                Assert.NotEmpty(beside);
                break;
            case Reason.CannotMeet(var by, { } more, _):
                met.Add("saves more");
                Assert.True(more >= 0);
                Assert.Equal(priced.Worth - WorthOf(chosen.Except(by).Append(outcome.Promotion)), more);
                break;
            case Reason.NoMatchingItems(var why):
                met.Add(why.GetType().Name);
                var index = priced.Catalogue;
                // Markdowns look at the prices before them.
                var seen = outcome.Promotion.Rewards[0] is Markdown ? new CartView(priced.Cart, index) : view;
                long Units(Selection of) => new Compiler(index).Selection(of).Units(seen);
                if (why is Idleness.NothingOfIt(var none))
                    Assert.Equal(0, Units(none));
                if (why is Idleness.TooFew(var few, var have, var need, _, false))
                    Assert.Equal((Units(few), true), (have, have < need));
                if (why is Idleness.NothingToTake({ } idle))
                    Assert.True(Units(idle) > 0);
                break;
        }
    }
}
