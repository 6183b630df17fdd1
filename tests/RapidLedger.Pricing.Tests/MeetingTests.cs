using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>
/// Which promotions may stand in one cart, read once more from what they say of each other, and all sets of them gone through.
/// </summary>
public class MeetingTests
{
    private static readonly Instant At = Instant.FromUtc(2027, 3, 5, 9, 0);

    [Fact]
    public void Those_apply_that_take_most_among_all_sets_that_may_meet_and_the_others_are_told_by_whom_they_are_kept_out() =>
        Gen.ULong.Sample(
            seed =>
            {
                var shop = new Shop(new((int)(seed ^ (seed >> 32))));
                var priced = shop.Priced;
                var chosen = shop.Greatest();
                Assert.True(priced.Proved);
                Assert.Equal(
                    chosen.Select(promotion => promotion.Id),
                    Applied(priced).Where(promotion => promotion.Rewards[0] is not Credit).Select(promotion => promotion.Id)
                );
                Assert.Equal(chosen.Sum(promotion => shop.Takes[promotion.Id]), priced.Totals.Saving);
                foreach (var promotion in shop.Promotions.Except(chosen).Where(promotion => promotion.Rewards[0] is not Credit))
                {
                    // What takes something whatever stands beside it can only have been kept out.
                    var reason = Assert.IsType<Reason.CannotMeet>(Of(priced, promotion).Reason);
                    Assert.Equal(
                        chosen.Where(other => !shop.CanMeet(promotion, other)).Select(other => other.Id),
                        reason.By.Select(other => other.Id)
                    );
                }
            },
            iter: 3_000
        );

    [Fact]
    public void Credits_pay_one_after_the_other_what_is_still_due_and_may_be_met() =>
        Gen.ULong.Sample(
            seed =>
            {
                var shop = new Shop(new((int)(seed ^ (seed >> 32))));
                var priced = shop.Priced;
                var (before, due) = (shop.Greatest().ToList(), priced.Totals.Total);
                foreach (var credit in shop.Promotions.Where(promotion => promotion.Rewards[0] is Credit))
                {
                    var outcome = Of(priced, credit);
                    if (before.Where(other => !shop.CanMeet(credit, other)).Order(Promotion.Order).ToArray() is { Length: > 0 } by)
                    {
                        Assert.Equal(
                            by.Select(other => other.Id),
                            Assert.IsType<Reason.CannotMeet>(outcome.Reason).By.Select(other => other.Id)
                        );
                        continue;
                    }

                    var draws = Math.Min(shop.Takes[credit.Id], due);
                    Assert.Equal((draws > 0, draws), (outcome.Applied, outcome.Amount));
                    if (draws == 0)
                        Assert.IsType<Reason.NothingLeft>(outcome.Reason);
                    else
                        before.Add(credit);
                    due -= draws;
                }

                Assert.Equal((priced.Totals.Total - due, due), (priced.Totals.Credit, priced.Totals.Due));
            },
            iter: 3_000
        );

    [Theory]
    // Open while used < limit; of several that are reached the first in this order is told.
    [InlineData(null, null, null, null, 9, 9, 9, 9, true, null)]
    [InlineData(10L, null, null, null, 9, 0, 0, 0, true, null)]
    [InlineData(10L, null, null, null, 10, 0, 0, 0, true, Limit.Total)]
    [InlineData(10L, 2L, 5L, 700L, 10, 2, 5, 700, true, Limit.Total)]
    [InlineData(99L, 2L, 5L, 700L, 10, 2, 5, 700, true, Limit.PerShopper)]
    [InlineData(99L, 2L, 5L, 700L, 10, 2, 5, 700, false, Limit.PerDay)]
    [InlineData(99L, 2L, 5L, 700L, 10, 1, 5, 700, true, Limit.PerDay)]
    [InlineData(99L, 2L, 5L, 700L, 10, 1, 4, 700, true, Limit.Budget)]
    [InlineData(99L, 2L, 5L, 700L, 10, 1, 4, 699, true, null)]
    [InlineData(0L, null, null, null, 0, 0, 0, 0, true, Limit.Total)]
    public void A_limit_is_reached_at_exactly_its_number(
        long? total,
        long? perShopper,
        long? perDay,
        long? budget,
        long used,
        long byShopper,
        long today,
        long given,
        bool known,
        Limit? reached
    )
    {
        var promotion = new Promotion("p", [new Points(1)], Limits: new(total, perShopper, perDay, budget));
        var cart = new Cart(At, [new("A", 1)], Shopper: known ? new("s") : null);
        var usage = new Dictionary<string, Usage> { ["p"] = new(used, byShopper, today, given) };
        var outcome = Assert.Single(Rulebook.Compile(Shop.Store, Shop.Catalogue, [promotion]).Price(cart, usage).Outcomes);
        Assert.Equal(reached, (outcome.Reason as Reason.LimitReached)?.Limit);
        Assert.Equal(reached is null, outcome.Applied);
    }

    [Theory]
    // Both bounds are included.
    [InlineData(99, false)]
    [InlineData(100, true)]
    [InlineData(200, true)]
    [InlineData(201, false)]
    public void Lifetime_spend_counts_at_exactly_its_bounds(long spent, bool applies)
    {
        var promotion = new Promotion("p", [new Points(1)], When: new Buyer.Spent(100, 200));
        Assert.Equal(
            applies,
            Rulebook
                .Compile(Shop.Store, Shop.Catalogue, [promotion])
                .Price(new(At, [new("A", 1)], Shopper: new("s", Spent: spent)))
                .Outcomes[0]
                .Applied
        );
    }

    [Fact]
    public void Of_promotions_that_share_a_code_the_one_that_applied_tells_its_status()
    {
        Promotion With(string id, Take take, Allow allow) =>
            new(id, [new Discount(Selection.Everything, take, Per.Cart)], Trigger: new(["X"]), Stacking: new(allow));
        var rulebook = Rulebook.Compile(
            Shop.Store,
            Shop.Catalogue,
            [With("a", new Take.Off(RandomCase.Money(1)), Allow.None), With("b", new Take.Off(RandomCase.Money(5)), Allow.None)]
        );
        var status = Assert.Single(rulebook.Price(new(At, [new("A", 1)], Codes: ["x"])).Codes);
        Assert.Equal(("applied", "b"), (status.Status, status.Promotion!.Id));
    }

    [Theory]
    // What a card holds in another currency is its amount there times the share not yet drawn, rounded down.
    [InlineData("50.00 45.00", 0, 4_500)]
    [InlineData("50.00 45.00", 1_001, 3_599)]
    [InlineData("50.00 45.00", 5_000, 0)]
    [InlineData("- 45.00", 1, 4_499)]
    [InlineData("50.00 -", 2_500, 2_125)]
    public void A_card_holds_abroad_what_is_left_of_its_amount_there(string amounts, long drawn, long held)
    {
        var gbp = Currency.Find("GBP")!;
        NamedAmount[] named =
        [
            .. amounts
                .Split(' ')
                .Zip([RandomCase.Eur, gbp])
                .Where(one => one.First != "-")
                .Select(one => new NamedAmount(
                    one.Second,
                    long.Parse(one.First.Replace(".", "", StringComparison.Ordinal), System.Globalization.CultureInfo.InvariantCulture)
                )),
        ];
        Assert.Equal(held, new Credit(new([.. named]), true).Held(gbp, Shop.Store with { Rates = [new(gbp, new(85, 2))] }, drawn));
        Assert.Equal(
            drawn == 0 ? held : 0,
            new Credit(new([.. named]), false).Held(gbp, Shop.Store with { Rates = [new(gbp, new(85, 2))] }, drawn)
        );
    }

    [Fact]
    public void In_an_empty_cart_nothing_has_an_effect() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new RandomCase(seed);
                var priced = drawn.Rulebook.Price(drawn.CartOf([]));
                Assert.Equal((0, 0, 0), (priced.Totals.Total, priced.Totals.Points, priced.Gifts.Count));
                Assert.All(priced.Outcomes, outcome => Assert.False(outcome.Applied));
                Assert.Empty(priced.Nudges);
            },
            iter: 500
        );

    private static IEnumerable<Promotion> Applied(PricedCart priced) =>
        priced.Outcomes.Where(outcome => outcome.Applied).Select(outcome => outcome.Promotion).Order(Promotion.Order);

    private static Outcome Of(PricedCart priced, Promotion promotion) =>
        priced.Outcomes.Single(outcome => outcome.Promotion.Id == promotion.Id);

    /// <summary>Promotions that each take an amount of their own whatever stands beside them, and say whom they may meet.</summary>
    private sealed class Shop
    {
        public static readonly Store Store = new(
            RandomCase.Eur,
            DateTimeZone.Utc,
            Families: [new("season", true), new("free")],
            Shipping: [new("parcel", "Parcel", null, null, [new(null, RandomCase.Money(490))])]
        );

        public static readonly Catalogue Catalogue = new([], [new("a", "A", [new("A", RandomCase.Money(1_000))])]);

        private readonly Random random;

        public Shop(Random random)
        {
            this.random = random;
            Promotions = [.. Enumerable.Range(0, random.Next(3, 9)).Select(Promotion).Order(Pricing.Promotion.Order)];
        }

        /// <summary>By rank and id.</summary>
        public Promotion[] Promotions { get; }

        public Dictionary<string, long> Takes { get; } = [];

        public PricedCart Priced =>
            Rulebook.Compile(Store, Catalogue, Promotions.Reverse()).Price(new(At, [new("A", 1)], Method: "parcel"));

        /// <summary>
        /// Of all sets whose members may meet the one that takes most, then that of most points, then of the fewest, then the first.
        /// </summary>
        public Promotion[] Greatest()
        {
            var free = Promotions.Where(promotion => promotion.Rewards[0] is not Credit).ToArray();
            return Enumerable
                .Range(0, 1 << free.Length)
                .Select(set => free.Where((_, place) => (set >> place & 1) != 0).ToArray())
                .Where(set => set.All(one => set.All(other => one == other || CanMeet(one, other))))
                .OrderByDescending(set => set.Sum(promotion => Takes[promotion.Id]))
                .ThenByDescending(set => set.Count(promotion => promotion.Rewards.Any(reward => reward is Points)))
                .ThenBy(set => set.Length)
                .ThenBy(set => string.Join(' ', set.Select(promotion => $"{Array.IndexOf(free, promotion):00}")), StringComparer.Ordinal)
                .First();
        }

        public bool CanMeet(Promotion one, Promotion other) =>
            Allows(one, other) && Allows(other, one) && !(one.Stacking!.Family == "season" && other.Stacking!.Family == "season");

        private bool Allows(Promotion one, Promotion other)
        {
            string[] names =
            [
                $"promotion {other.Id}",
                $"family {other.Stacking!.Family}",
                .. other.Rewards.Select(reward =>
                    reward switch
                    {
                        Credit => "pass Credit",
                        Shipping => "pass Shipping",
                        Discount { Per: Per.Cart } => "pass Order",
                        _ => "pass Item",
                    }
                ),
            ];
            var named = one.Stacking!.With.Select(entry =>
                    entry switch
                    {
                        StackingEntry.OfPromotion(var id) => $"promotion {id}",
                        StackingEntry.OfFamily(var name) => $"family {name}",
                        StackingEntry.InPass(var pass) => $"pass {pass}",
                        _ => "",
                    }
                )
                .Intersect(names)
                .Any();
            return one.Stacking.Allow switch
            {
                Allow.Any => true,
                Allow.Except => !named,
                // A shopper's own means of payment.
                _ when other.Rewards[0] is Credit => true,
                Allow.Only => named,
                _ => false,
            };
        }

        private Promotion Promotion(int number)
        {
            var take = random.Next(1, 40);
            var id = $"p{number}";
            Takes[id] = take;
            var off = new Take.Off(RandomCase.Money(take));
            EquatableArray<Reward> rewards = random.Next(5) switch
            {
                0 => [new Shipping(null, off)],
                1 => [new Discount(Selection.Everything, off, Per.Unit)],
                2 => [new Discount(Selection.Everything, off, Per.Cart)],
                3 => [new Credit(RandomCase.Money(Takes[id] = random.Next(3) == 0 ? 2_000 : take), true)],
                _ => [new Discount(Selection.Everything, off, Per.Cart), new Points(1)],
            };
            StackingEntry Entry() =>
                random.Next(3) switch
                {
                    0 => new StackingEntry.OfPromotion($"p{random.Next(9)}"),
                    1 => new StackingEntry.OfFamily(random.Next(2) == 0 ? "season" : "free"),
                    _ => new StackingEntry.InPass((Pass)random.Next(1, 5)),
                };
            var allow = random.GetItems([Allow.Any, Allow.Any, Allow.None, Allow.Only, Allow.Except, Allow.Except], 1)[0];
            return new(
                id,
                rewards,
                Rank: random.Next(3),
                Stacking: new(
                    allow,
                    allow is Allow.Only or Allow.Except ? [Entry(), Entry(), Entry()] : [],
                    random.GetItems(["season", "free", null!, null!], 1)[0]
                )
            );
        }
    }
}
