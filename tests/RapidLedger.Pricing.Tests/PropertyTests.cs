using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>What must hold of every cart under any promotions.</summary>
public class PropertyTests
{
    private const int Cases = 3_000;

    [Fact]
    public void Amounts_add_up_at_every_level_and_nothing_is_below_zero() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var priced = drawn.Priced;
                var totals = priced.Totals;
                foreach (var line in priced.Lines)
                {
                    Assert.Equal(line.Goods - line.Net, line.Parts.Sum(part => part.Amount));
                    Assert.All(line.Parts, part => Assert.True(part.Amount > 0 && part.Units > 0 && part.Units <= line.Quantity));
                    Assert.True(line.Net >= 0 && line.Goods <= line.Regular);
                }

                Assert.Equal(totals.Goods - totals.Discount + priced.Gifts.Sum(gift => gift.Net), totals.Net);
                Assert.Equal(priced.Lines.Sum(line => line.Net) + priced.Gifts.Sum(gift => gift.Net), totals.Net);
                Assert.Equal(
                    totals.Net + totals.Shipping - totals.ShippingDiscount + (drawn.Store.Tax!.Mode == TaxMode.Exclusive ? totals.Tax : 0),
                    totals.Total
                );
                Assert.Equal(totals.Total - totals.Credit, totals.Due);
                Assert.Equal(
                    totals.Discount + totals.ShippingDiscount + totals.GiftValue - priced.Gifts.Sum(gift => gift.Net),
                    totals.Saving
                );
                var applied = priced.Outcomes.Where(outcome => outcome.Applied).ToArray();
                Assert.Equal(
                    totals.Saving,
                    applied.Where(outcome => outcome.Promotion.Rewards[0] is not (Markdown or Credit)).Sum(outcome => outcome.Amount)
                );
                Assert.Equal(
                    totals.Credit,
                    applied.Where(outcome => outcome.Promotion.Rewards[0] is Credit).Sum(outcome => outcome.Amount)
                );
                Assert.All(
                    [totals.Net, totals.Discount, totals.ShippingDiscount, totals.Due, totals.Tax, totals.Credit, totals.Points],
                    amount => Assert.True(amount >= 0)
                );
                Assert.All(priced.Gifts, gift => Assert.True(gift.Net >= 0 && gift.Net <= gift.Value && gift.Quantity > 0));
            },
            iter: Cases
        );

    [Fact]
    public void The_order_in_which_promotions_are_listed_changes_nothing() =>
        RandomCase.Any.Sample(
            drawn =>
                Assert.Equal(
                    RandomCase.Print(drawn.Priced),
                    RandomCase.Print(Rulebook.Compile(drawn.Store, drawn.Catalogue, drawn.Promotions.Reverse()).Price(drawn.Cart))
                ),
            iter: Cases
        );

    [Fact]
    public void How_a_quantity_is_split_into_adjacent_lines_changes_no_total() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var split = drawn.Lines.SelectMany(line =>
                    line.Quantity > 1 ? (Line[])[line with { Quantity = 1 }, line with { Quantity = line.Quantity - 1 }] : [line]
                );
                Assert.Equal(
                    RandomCase.Print(drawn.Priced, byLine: false),
                    RandomCase.Print(drawn.Rulebook.Price(drawn.CartOf(split)), byLine: false)
                );
            },
            iter: Cases
        );

    [Fact]
    public void The_best_choice_is_the_greatest_of_all_choices() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var best = drawn.Priced;
                Assert.True(best.Proved);
                var (worth, chosen) = ByTrying(drawn);
                Assert.Equal(worth, (Worth(best), best.Totals.Points));
                Assert.Equal(chosen, Chosen(best));
            },
            iter: Cases
        );

    [Fact]
    public void Best_is_at_least_rank() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var byRank = Rulebook
                    .Compile(drawn.Store with { Policy = Policy.Rank }, drawn.Catalogue, drawn.Promotions)
                    .Price(drawn.Cart);
                Assert.True(Worth(drawn.Priced) >= Worth(byRank));
            },
            iter: Cases
        );

    [Fact]
    public void Removing_a_promotion_that_was_not_chosen_changes_nothing_for_the_others() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var priced = drawn.Priced;
                foreach (
                    var outcome in priced.Outcomes.Where(outcome =>
                        !outcome.Applied && outcome.Promotion.Rewards[0] is not (Markdown or Credit)
                    )
                )
                {
                    var without = Rulebook
                        .Compile(drawn.Store, drawn.Catalogue, drawn.Promotions.Where(promotion => promotion.Id != outcome.Promotion.Id))
                        .Price(drawn.Cart);
                    Assert.Equal(priced.Totals, without.Totals);
                    Assert.Equal(Chosen(priced), Chosen(without));
                }
            },
            iter: Cases
        );

    [Fact]
    public void Adding_a_promotion_that_can_meet_all_others_never_lowers_the_worth() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var extra = drawn.Promotion("extra", meetsAll: true);
                for (var number = 0; extra.Rewards[0] is Markdown; number++)
                    extra = drawn.Promotion($"extra{number}", meetsAll: true);
                Assert.True(
                    Worth(Rulebook.Compile(drawn.Store, drawn.Catalogue, [.. drawn.Promotions, extra]).Price(drawn.Cart))
                        >= Worth(drawn.Priced)
                );
            },
            iter: Cases
        );

    [Fact]
    public void Every_reason_is_true_when_checked_on_its_own() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var priced = drawn.Priced;
                foreach (var outcome in priced.Outcomes.Where(outcome => !outcome.Applied))
                {
                    // Markdowns change what others see, so they stay.
                    var alone = Rulebook.Compile(
                        drawn.Store,
                        drawn.Catalogue,
                        drawn.Promotions.Where(promotion =>
                            promotion.Id == outcome.Promotion.Id
                            || (promotion.Rewards[0] is Markdown && outcome.Promotion.Rewards[0] is not Markdown)
                        )
                    );
                    var itself = alone.Price(drawn.Cart).Outcomes.Single(other => other.Promotion.Id == outcome.Promotion.Id);
                    switch (outcome.Reason)
                    {
                        case Reason.CannotMeet(var by, _, _):
                            Assert.True(itself.Applied);
                            Assert.All(by, other =>
                                Assert.Contains(
                                    other.Id,
                                    Chosen(priced).Concat(priced.Outcomes.Where(one => one.Applied).Select(one => one.Promotion.Id))
                                )
                            );
                            break;
                        case Reason.NotBetter or Reason.NothingLeft:
                            Assert.True(itself.Applied);
                            break;
                        default:
                            Assert.Equal(outcome.Reason!.Code, itself.Reason?.Code);
                            break;
                    }
                }
            },
            iter: Cases
        );

    [Fact]
    public void Raising_a_quantity_never_loses_an_application_of_every_time_it_fits() =>
        (
            from drawn in RandomCase.Any
            from buy in Gen.Int[1, 3]
            from get in Gen.Int[1, 3]
            from raised in Gen.Int[0, 3]
            select (drawn, buy, get, raised)
        ).Sample(
            entry =>
            {
                var (drawn, buy, get, raised) = entry;
                var reward = new BuyGet(
                    new([new Term.InCategory("tubes")]),
                    new([new Term.InCategory("all")]),
                    new Deal.ByQuantity(buy, get, Repetition.Every),
                    new Take.Off(RandomCase.Money(1))
                );
                // Nothing costs nothing, so that each unit got is a unit lowered.
                var catalogue = drawn.Catalogue with
                {
                    Products = drawn
                        .Catalogue.Products.Select(product =>
                            product with
                            {
                                Variants = product.Variants.Select(variant => variant with { Price = null }).ToEquatableArray(),
                            }
                        )
                        .ToEquatableArray(),
                };
                var rulebook = Rulebook.Compile(drawn.Store, catalogue, [new("p", [reward])]);
                long Units(IEnumerable<Line> lines) => rulebook.Price(drawn.CartOf(lines)).Outcomes[0].Units;
                var more = drawn.Lines.Select(
                    (line, place) => place == raised % drawn.Lines.Length ? line with { Quantity = line.Quantity + 1 } : line
                );
                Assert.True(Units(more) >= Units(drawn.Lines));
                Assert.Equal(0, Units(drawn.Lines) % get);
            },
            iter: Cases
        );

    [Fact]
    public void Rulebooks_agree_whenever_compiled_and_from_whichever_thread()
    {
        RandomCase
            .Any.Array[8]
            .Sample(
                drawn =>
                {
                    var rulebooks = drawn.Select(one => one.Rulebook).ToArray();
                    var alone = drawn.Select(one => RandomCase.Print(one.Priced)).ToArray();
                    Parallel.For(0, 64, number =>
                        Assert.Equal(alone[number % 8], RandomCase.Print(rulebooks[number % 8].Price(drawn[number % 8].Cart)))
                    );
                },
                iter: 100
            );
    }

    [Fact]
    public void A_line_of_a_hundred_thousand_units_is_priced_by_the_same_rules() =>
        RandomCase.Any.Sample(
            drawn =>
            {
                var priced = drawn.Rulebook.Price(
                    drawn.CartOf(drawn.Lines.Select(line => line with { Quantity = line.Quantity * 25_000 }))
                );
                Assert.All(priced.Lines, line => Assert.Equal(line.Goods - line.Net, line.Parts.Sum(part => part.Amount)));
            },
            iter: 300
        );

    internal static string[] Chosen(PricedCart priced) =>
        [
            .. priced
                .Outcomes.Where(outcome => outcome.Applied && outcome.Promotion.Rewards[0] is not (Markdown or Credit))
                .Select(outcome => outcome.Promotion.Id),
        ];

    // The saving, and of gifts that wait to be picked what those that take least would take off. Asked only where nothing runs out among
    // them,
    // no price of theirs is marked down, and it is told which of a promotion's gifts waits: else it is what was found.
    private static long Worth(PricedCart priced)
    {
        Outcome[] waiting = [.. priced.Outcomes.Where(outcome => outcome.ToPick is not null)];
        var units = waiting.Sum(outcome => outcome.ToPick!.Units) + priced.Gifts.Sum(gift => gift.Quantity);
        if (
            waiting.Any(outcome =>
                outcome.Promotion.Rewards.OfType<Gift>().Count() > 1
                || outcome.ToPick!.Skus.Any(sku => priced.Catalogue.Variant(priced.Catalogue.Find(sku)).Stock < units)
            )
            // Also one that touches nothing in the cart can mark down what is offered.
            || priced.Outcomes.Any(one => one.Promotion.Rewards[0] is Markdown)
        )
            return priced.Worth;
        var worth = priced.Totals.Saving;
        foreach (var outcome in waiting)
        {
            var take = outcome.Promotion.Rewards.OfType<Gift>().Single().Take;
            worth +=
                outcome.ToPick!.Units
                * outcome.ToPick.Skus.Min(sku => Off(take, priced.Catalogue.PricesIn(priced.Currency).Current(priced.Catalogue.Find(sku))));
        }

        return worth;

        long Off(Take? take, long price) =>
            take switch
            {
                null => price,
                Take.Percentage(var percent) => (long)
                    Math.Round(
                        price * percent.Value / 100,
                        priced.Catalogue.Store.Rounding == Rounding.HalfUp ? MidpointRounding.AwayFromZero : MidpointRounding.ToEven
                    ),
                Take.Off(var amount) => Math.Min(price, amount.Named[0].Minor),
                Take.To(var to) => Math.Max(0, price - to.Named[0].Minor),
                _ => throw new System.Diagnostics.UnreachableException(),
            };
    }

    // Every set of promotions priced alone under a policy that cannot choose: it is a choice if all of it applies.
    private static ((long Worth, long Points), string[] Ids) ByTrying(RandomCase drawn)
    {
        var fixedOnes = drawn.Promotions.Where(promotion => promotion.Rewards[0] is Markdown).ToArray();
        var free = drawn.Promotions.Where(promotion => promotion.Rewards[0] is not (Markdown or Credit)).Order(Promotion.Order).ToArray();
        var best = (Worth: 0L, Points: 0L, Gifts: 0L, Ids: Array.Empty<string>());
        for (var set = 1; set < 1 << free.Length; set++)
        {
            var tried = free.Where((_, place) => (set & (1 << place)) != 0).ToArray();
            if (Together.Price(drawn.Store, drawn.Catalogue, [.. fixedOnes, .. tried], drawn.Cart) is not { } tally)
                continue;
            var found = (tally.Worth, tally.Points, Gifts: tally.GiftUnits + tally.OfferedUnits);
            var compared = found.CompareTo((best.Worth, best.Points, best.Gifts));
            string[] ids = [.. tried.Select(promotion => promotion.Id)];
            if (
                compared > 0
                || (compared == 0 && (ids.Length < best.Ids.Length || (ids.Length == best.Ids.Length && IsBefore(tried, best.Ids, free))))
            )
                best = (found.Worth, found.Points, found.Gifts, ids);
        }

        return ((best.Worth, best.Points), best.Ids);
    }

    private static bool IsBefore(Promotion[] tried, string[] best, Promotion[] order)
    {
        int[] Places(IEnumerable<string> ids) => [.. ids.Select(id => Array.FindIndex(order, promotion => promotion.Id == id))];
        return Places(tried.Select(promotion => promotion.Id)).AsSpan().SequenceCompareTo(Places(best)) < 0;
    }
}
