using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>Gifts given, picked, offered and run out, done again unit by unit as the contract tells it.</summary>
public class GiftTests
{
    [Fact]
    public void Gifts_are_those_of_handing_them_out_one_by_one() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed);
                var priced = Rulebook.Compile(drawn.Store, drawn.Catalogue, [drawn.Promotion]).Price(drawn.Cart);
                var (given, open, isShort) = drawn.HandOut();
                var outcome = priced.Outcomes[0];

                Assert.Equal(
                    given.GroupBy(sku => sku).OrderBy(group => group.Key).Select(group => (group.Key, (long)group.Count())),
                    priced.Gifts.OrderBy(gift => gift.Sku).Select(gift => (gift.Sku, gift.Quantity))
                );
                Assert.All(priced.Gifts, gift => Assert.Equal((drawn.Price(gift.Sku) * gift.Quantity, 0), (gift.Value, gift.Net)));
                Assert.Equal(open, outcome.ToPick?.Units ?? 0);
                Assert.Equal(given.Count > 0 || open > 0, outcome.Applied);
                if (!outcome.Applied)
                    Assert.Equal(isShort ? "giftOut" : "noMatchingItems", outcome.Reason!.Code);
                else
                    Assert.Equal(isShort, outcome.GiftOut);
                // What is not picked yet is worth what the cheapest picks would be.
                Assert.Equal(given.Sum(drawn.Price), priced.Totals.Saving);
                Assert.True(open > 0 ? priced.Worth >= priced.Totals.Saving : priced.Worth == priced.Totals.Saving);
            },
            iter: 6_000
        );

    [Fact]
    public void Of_gifts_that_come_to_the_same_the_one_is_chosen_that_leaves_more_to_earn_points()
    {
        var catalogue = new Catalogue(
            [],
            [new("p", "P", [new("S", RandomCase.Money(2_000)), new("G", RandomCase.Money(500)), new("H", RandomCase.Money(300))])]
        );
        var rulebook = Rulebook.Compile(
            new(RandomCase.Eur, DateTimeZone.Utc),
            catalogue,
            [
                new(
                    "a",
                    [
                        new Gift(new Give.OneOf(["H"]), Times.Once),
                        new Discount(Selection.Everything, new Take.Off(RandomCase.Money(200)), Per.Cart),
                    ],
                    Rank: 1
                ),
                new(
                    "b",
                    [new Gift(new Give.OneOf(["G"]), Times.Once)],
                    Rank: 2,
                    Stacking: new(Allow.Except, [new StackingEntry.OfPromotion("a")])
                ),
                new("c", [new Points(1, RandomCase.Money(100))], Rank: 3),
            ]
        );
        var priced = rulebook.Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("S", 1)]));
        Assert.Equal((500, 20, true), (priced.Totals.Saving, priced.Totals.Points, priced.Proved));
        Assert.Equal(["b", "c"], priced.Outcomes.Where(outcome => outcome.Applied).Select(outcome => outcome.Promotion.Id).Order());
    }

    [Fact]
    public void Of_two_promotions_the_second_gives_what_the_first_has_left()
    {
        var catalogue = new Catalogue([], [new("p", "P", [new("S", RandomCase.Money(1_000)), new("G", RandomCase.Money(300), Stock: 3)])]);
        Promotion Giving(string id, long units) => new(id, [new Gift(new Give.OneOf(["G"]), Times.Once, units)]);
        var rulebook = Rulebook.Compile(new(RandomCase.Eur, DateTimeZone.Utc), catalogue, [Giving("a", 2), Giving("b", 2), Giving("c", 2)]);
        // One of three in stock lies in the cart.
        var priced = rulebook.Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("S", 1), new("G", 1)]));
        Assert.Equal([("a", 2L)], priced.Gifts.Select(gift => (gift.Promotion.Id, gift.Quantity)));
        // "b" and "c" have an effect alone; beside "a" there is nothing left for them.
        Assert.Equal([null, "notBetter", "notBetter"], priced.Outcomes.Select(outcome => outcome.Reason?.Code));
    }

    [Fact]
    public void A_gift_is_worth_its_marked_down_price_though_it_is_not_in_the_cart()
    {
        var catalogue = new Catalogue([], [new("p", "P", [new("S", RandomCase.Money(1_000)), new("G", RandomCase.Money(300))])]);
        var rulebook = Rulebook.Compile(
            new(RandomCase.Eur, DateTimeZone.Utc),
            catalogue,
            [
                new("gift", [new Gift(new Give.OneOf(["G"]), Times.Once)]),
                new("down", [new Markdown([new(new([new Term.OfSku("G")]), new Take.Off(RandomCase.Money(50)))])]),
            ]
        );
        Assert.Equal(250, Assert.Single(rulebook.Price(new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("S", 1)])).Gifts).Value);
    }

    /// <summary>A cart, a promotion of one or two gifts, what is picked of them and what is in stock.</summary>
    private sealed class Draw
    {
        private static readonly string[] Skus = ["S0", "S1", "G0", "G1", "G2"];
        private readonly Dictionary<string, (long Price, long? Stock)> items;
        private readonly string[] picks;

        public Draw(ulong seed)
        {
            var random = new Random((int)(seed ^ (seed >> 32)));
            items = Skus.ToDictionary(sku => sku, sku => ((long)random.Next(1, 900), random.Next(3) == 0 ? (long?)random.Next(4) : null));
            Catalogue = new(
                [],
                [
                    .. Skus.Select(sku => new Product(
                        sku[..1] + sku[1],
                        sku,
                        [new(sku, RandomCase.Money(items[sku].Price), Stock: items[sku].Stock)],
                        Tags: [sku[0] == 'G' ? "gift" : "goods"]
                    )),
                ]
            );
            picks = [.. Enumerable.Range(0, random.Next(5)).Select(_ => Skus[random.Next(5)])];
            Lines = [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Line(Skus[random.Next(5)], random.Next(1, 6)))];
            Gift One() =>
                new(
                    random.Next(4) == 0
                        ? new Give.SameAs(Goods)
                        : new Give.OneOf([.. random.GetItems(Skus[2..], random.Next(1, 3)).Distinct()]),
                    random.Next(3) switch
                    {
                        0 => new(Goods, Quantity: random.Next(1, 4)),
                        1 => new(Goods, Spend: RandomCase.Money(random.Next(1, 1_500))),
                        _ => Times.Once,
                    },
                    random.Next(1, 3),
                    random.Next(3) == 0 ? random.Next(1, 3) : null,
                    random.Next(3) == 0
                );
            // The same item again goes by quantity only.
            Gift Sound(Gift gift) => gift.Give is Give.SameAs && gift.Times.Spend is not null ? gift with { Times = Times.Once } : gift;
            Promotion = new("p", random.Next(2) == 0 ? [Sound(One())] : [Sound(One()), Sound(One())]);
        }

        public Store Store { get; } = new(RandomCase.Eur, DateTimeZone.Utc);

        public Catalogue Catalogue { get; }

        public Promotion Promotion { get; }

        public Line[] Lines { get; }

        public Cart Cart => new(Instant.FromUtc(2027, 3, 5, 9, 0), [.. Lines], Picks: [new("p", [.. picks])]);

        private static Selection Goods => new([new Term.Tagged("goods")]);

        public long Price(string sku) => items[sku].Price;

        /// <summary>Every unit given, how many wait to be picked, and whether any ran out.</summary>
        public (List<string> Given, long Open, bool IsShort) HandOut()
        {
            var (given, unused) = (new List<string>(), picks.ToList());
            var (open, isShort) = (0L, false);
            var goods = Lines.Where(line => line.Sku[0] == 'S').ToArray();
            long Left(string sku) =>
                items[sku].Stock is { } stock
                    ? Math.Max(0, stock - Lines.Where(line => line.Sku == sku).Sum(line => line.Quantity) - given.Count(one => one == sku))
                    : long.MaxValue;
            foreach (var gift in Promotion.Rewards.Cast<Gift>())
            {
                if (gift.Give is Give.SameAs)
                {
                    var applications = gift.AtMost ?? long.MaxValue;
                    foreach (var sku in goods.Select(line => line.Sku).Distinct())
                    {
                        var times = Math.Min(
                            applications,
                            goods.Where(line => line.Sku == sku).Sum(line => line.Quantity) / (gift.Times.Quantity ?? 1)
                        );
                        applications -= times;
                        for (var unit = 0; unit < times * gift.Quantity; unit++)
                            Hand(sku);
                    }

                    continue;
                }

                var entitled = gift.Times switch
                {
                    { Quantity: { } quantity } => goods.Sum(line => line.Quantity) / quantity,
                    { Spend: { } spend } => goods.Sum(line => Price(line.Sku) * line.Quantity) / spend.For(RandomCase.Eur, Store)!.Value,
                    _ => 1,
                };
                var units = Math.Min(entitled, gift.AtMost ?? long.MaxValue) * gift.Quantity;
                var choices = ((Give.OneOf)gift.Give).Skus.ToArray();
                if (choices.Length == 1 && !gift.Picked)
                {
                    for (; units > 0; units--)
                        Hand(choices[0]);
                    continue;
                }

                // Of the picks that have served no other gift yet, in the order picked.
                foreach (var pick in unused.Where(choices.Contains).ToArray())
                {
                    if (units == 0)
                        break;
                    unused.Remove(pick);
                    if (Hand(pick))
                        units--;
                }

                // The rest waits, as far as there is anything left to pick from.
                var available = choices.Aggregate(0L, (sum, sku) => Left(sku) == long.MaxValue ? units : Math.Min(units, sum + Left(sku)));
                isShort |= available < units;
                open += available;
            }

            return (given, open, isShort);

            bool Hand(string sku)
            {
                if (Left(sku) == 0)
                {
                    isShort = true;
                    return false;
                }

                given.Add(sku);
                return true;
            }
        }
    }
}
