using System.Collections.Concurrent;
using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>What the tape proposes is done to the cart: it must remove what stood in the way, and nothing less must do.</summary>
public class RemedyTests
{
    [Fact]
    public void A_remedy_removes_what_stood_in_the_way()
    {
        var met = new ConcurrentDictionary<string, int>();
        Gen.ULong.Sample(
            seed =>
            {
                var (drawn, random) = (new RandomCase(seed), new Random((int)(seed % 999_983)));
                var from = new LocalDateTime(2027, 3, random.Next(1, 9), 9, 0);
                var promotion = new Promotion(
                    "asked",
                    [new Shipping(null, new Take.Percentage(Percent.Whole))],
                    Trigger: random.Next(4) == 0 ? new(["First", "second"]) : null,
                    When: Condition(random),
                    Window: random.Next(3) switch
                    {
                        0 => new(from),
                        1 => new(null, from),
                        _ => null,
                    }
                );
                var priced = Price(drawn, promotion, drawn.Cart);
                var outcome = priced.Outcomes[0];
                if (outcome.Reason is null or Reason.NoMatchingItems)
                    return;
                // For all that this test draws there is a remedy.
                var remedy = Remedy.For(outcome, priced);
                Assert.NotNull(remedy);
                met.AddOrUpdate(outcome.Reason.Code, 1, (_, times) => times + 1);

                var mended = Price(drawn, promotion, Done(remedy, drawn.Cart)).Outcomes[0].Reason;
                if (outcome.Reason is Reason.ConditionNotMet(var gaps))
                {
                    // The first thing that was missing is there; the others are as they were.
                    var left = mended is Reason.ConditionNotMet(var still) ? still : [];
                    Assert.DoesNotContain(gaps[0], left);
                    Assert.True(left.Count < gaps.Count);
                    Assert.True(Remedy.Distance(mended ?? new Reason.NothingLeft()) < Remedy.Distance(outcome.Reason));
                }
                else
                    Assert.NotEqual(outcome.Reason!.Code, mended?.Code);
            },
            iter: 5_000
        );
        Assert.Equal(["codeNotEntered", "conditionNotMet", "ended", "notStarted"], met.Keys.Order());
        Assert.All(met.Values, times => Assert.True(times > 100));
    }

    [Fact]
    public void A_nudge_says_how_much_is_missing_not_one_less() =>
        Gen.ULong.Sample(
            seed =>
            {
                var (drawn, random) = (new RandomCase(seed), new Random((int)(seed % 999_983)));
                var of = new Selection([new Term.OfSku("T1"), new Term.OfSku("X")]);
                Condition when = random.Next(3) switch
                {
                    0 => new Spend(of, RandomCase.Money(random.Next(1, 9_000)), null),
                    1 => new Quantity(of, Comparison.AtLeast, random.Next(1, 9)),
                    _ => new Quantity(of, Comparison.MoreThan, random.Next(9)),
                };
                var promotion = new Promotion("asked", [new Shipping(null, new Take.Percentage(Percent.Whole))], When: when);
                // An item of one minor unit, so that any sum can be made up exactly.
                var catalogue = drawn.Catalogue with
                {
                    Products = [.. drawn.Catalogue.Products, new("x", "X", [new("X", RandomCase.Money(1))])],
                };
                var rulebook = Rulebook.Compile(drawn.Store, catalogue, [promotion]);
                var priced = rulebook.Price(drawn.Cart);
                if (priced.Outcomes[0].Applied)
                {
                    Assert.Empty(priced.Nudges);
                    return;
                }

                var nudge = Assert.Single(priced.Nudges);
                Assert.Equal(when is Spend ? Measure.Spend : Measure.Quantity, nudge.Measure);
                PricedCart With(long more) =>
                    rulebook.Price(more == 0 ? drawn.Cart : drawn.CartOf([.. drawn.Lines, new Line("X", (int)more)]));
                Assert.True(With(nudge.Missing).Outcomes[0].Applied);
                Assert.Equal(1, Assert.Single(With(nudge.Missing - 1).Nudges).Missing);
            },
            iter: 2_000
        );

    [Fact]
    public void The_next_step_of_a_ladder_is_reached_by_what_is_said_to_be_missing() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new RandomCase(seed);
                var steps = Enumerable
                    .Range(1, 3)
                    .Select(number => new LadderStep(
                        (4 * number) + (long)(seed % 3),
                        null,
                        [new Shipping(null, new Take.Off(RandomCase.Money(100 * number)))]
                    ))
                    .ToEquatableArray();
                var promotion = new Promotion(
                    "ladder",
                    [new Ladder(Measure.Quantity, Selection.Everything, StepsThatCount.Highest, steps)]
                );
                var units = drawn.Lines.Sum(line => line.Quantity);
                var reached = steps.Count(step => step.Quantity <= units);
                var nudges = Price(drawn, promotion, drawn.Cart).Nudges;
                if (reached == steps.Count)
                {
                    Assert.Empty(nudges);
                    return;
                }

                var nudge = Assert.Single(nudges);
                Assert.Equal(steps[reached].Quantity - units, nudge.Missing);
                Assert.Equal(steps[reached].Rewards, nudge.Brings);
                var more = Price(drawn, promotion, drawn.CartOf([.. drawn.Lines, new Line("T1", (int)nudge.Missing)]));
                Assert.NotEqual(nudge.Brings, more.Nudges.SingleOrDefault()?.Brings);
            },
            iter: 1_000
        );

    private static Condition Condition(Random random)
    {
        Condition[] some =
        [
            new Spend(new([new Term.InCategory("tubes")]), RandomCase.Money(random.Next(1, 9_000)), null),
            new Quantity(null, Comparison.AtLeast, random.Next(1, 20)),
            new Quantity(new([new Term.OfBrand("Stoat")]), Comparison.MoreThan, random.Next(6)),
            new Destination(new([new("AT"), new("FR")])),
            new Channel(["shop", "phone"]),
        ];
        var count = random.Next(3);
        return new AllOf([.. random.GetItems(some, count).Distinct()]);
    }

    private static PricedCart Price(RandomCase drawn, Promotion promotion, Cart cart) =>
        Rulebook.Compile(drawn.Store, drawn.Catalogue, [promotion]).Price(cart);

    private static Cart Done(Remedy remedy, Cart cart) =>
        remedy switch
        {
            Remedy.EnterCode(var code) => cart with { Codes = [.. cart.Codes, code] },
            Remedy.SetClock(var at) => cart with { At = at },
            Remedy.Add(var sku, var units) => cart with { Lines = [.. cart.Lines, new Line(sku, units)] },
            Remedy.SendTo(var place) => cart with { Destination = place },
            Remedy.BuyOn(var channel) => cart with { Channel = channel },
            Remedy.PayIn(var currency) => cart with { Currency = currency },
            _ => throw new InvalidOperationException($"{remedy} was not asked for."),
        };
}
