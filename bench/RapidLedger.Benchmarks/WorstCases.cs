using NodaTime;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>The hardest carts that could be thought of for the choice among twenty eligible promotions, and for filling bundles.</summary>
internal static class WorstCases
{
    public static IEnumerable<(string Name, Rulebook Rulebook, Cart Cart)> All()
    {
        yield return (
            "20 amounts, half of the pairs excluded",
            Shop_(Excluding(0.5, 3, number => new Take.Off(Shop.Money(1000 + number)))),
            Cart(20)
        );
        yield return (
            "20 amounts, a fifth of the pairs excluded",
            Shop_(Excluding(0.2, 5, number => new Take.Off(Shop.Money(1000 + number)))),
            Cart(20)
        );
        yield return (
            "20 percentages, a fifth of the pairs excluded",
            Shop_(Excluding(0.2, 7, number => new Take.Percentage(new(50_000 + (number * 1000))))),
            Cart(20)
        );
        yield return ("20 percentages, all together", Shop_(Excluding(0, 1, number => new Take.Percentage(new(100_000)))), Cart(20));
        yield return ("20 of many kinds, a tenth excluded", Shop_(Mixed(0.1, 11)), Cart(20));
        yield return ("20 of many kinds, all together", Shop_(Mixed(0, 12)), Cart(20));
        yield return ("20 bundles over the same items", Shop_(Bundles()), Cart(12));
        yield return (
            "20 buy-gets on halves of the cart",
            Shop_(OnHalves(some => new BuyGet(some, some, new Deal.ByQuantity(2, 1, Repetition.Every), new Take.Percentage(new(200_000))))),
            Cart(20)
        );
        yield return (
            "20 discounts on the dearest of halves",
            Shop_(OnHalves(some => new Discount(some, new Take.Percentage(new(200_000)), Per.Unit, Pick.Dearest, 4))),
            Cart(20)
        );
        yield return (
            "20 bundles of halves at a price",
            Shop_(OnHalves(some => new Bundle([new(some, 3)], new Take.To(Shop.Money(2_000)), Repetition.Every))),
            Cart(20)
        );
        yield return ("a bundle of six overlapping slots", Shop_([new("b", [Overlapping()])]), Cart(20));
        yield return ("the same, 100,000 units in a line", Shop_([new("b", [Overlapping()])]), Cart(20, 100_000));
    }

    /// <summary>One promotion of each kind, on a cart of twenty lines of any quantity.</summary>
    public static IEnumerable<(string Kind, Rulebook Rulebook)> Kinds()
    {
        var half = new Selection(Enumerable.Range(0, 10).Select(line => (Term)new Term.OfProduct($"p{line}")).ToEquatableArray());
        var tenth = new Take.Percentage(new(100_000));
        LadderStep Step(long from) => new(from, null, [new Discount(half, tenth, Per.Unit)]);
        (string, Reward)[] kinds =
        [
            ("discount on each unit", new Discount(half, tenth, Per.Unit)),
            ("discount on the dearest five", new Discount(half, tenth, Per.Unit, Pick.Dearest, 5)),
            ("discount once on the cart", new Discount(half, new Take.Off(Shop.Money(777)), Per.Cart)),
            ("buy two get one, every time", new BuyGet(half, Selection.Everything, new Deal.ByQuantity(2, 1, Repetition.Every), tenth)),
            (
                "one more of the same, every time",
                new BuyGet(half, half, new Deal.ByQuantity(1, 1, Repetition.Every), tenth, Same: Same.Product)
            ),
            ("ladder, highest step", new Ladder(Measure.Quantity, half, StepsThatCount.Highest, [Step(2), Step(30_000)])),
            ("ladder, beyond each step", new Ladder(Measure.Quantity, half, StepsThatCount.Beyond, [Step(2), Step(30_000)])),
            (
                "bundle at a price, every time",
                new Bundle([new(half, 2), new(Selection.Everything, 1)], new Take.To(Shop.Money(900)), Repetition.Every)
            ),
            (
                "bundle with takes by slot",
                new Bundle([new(half, 2, tenth), new(Selection.Everything, 1, new Take.Off(Shop.Money(50)))], null, Repetition.Every)
            ),
            ("cheapest bundle", new Bundle([new(half, 2)], tenth, Repetition.Every, Pick.Cheapest)),
            ("gift for every ten", new Gift(new Give.OneOf(["p90-0"]), new(half, Quantity: 10))),
            ("the same again", new Gift(new Give.SameAs(half), new(Quantity: 2), AtMost: 3)),
            ("markdown", new Markdown([new(half, tenth)])),
            ("delivery", new Shipping(null, tenth)),
            ("credit", new Credit(Shop.Money(5_000), true)),
            ("points", new Points(1, Shop.Money(100))),
        ];
        return kinds.Select(kind => (kind.Item1, Shop_([new("k", [kind.Item2])])));
    }

    public static Rulebook Shop_(IEnumerable<Promotion> promotions) => Rulebook.Compile(Shop.Store, Shop.Catalogue(10_000), promotions);

    public static Cart Cart(int lines, int quantity = 2) =>
        new(
            Instant.FromUtc(2027, 3, 5, 9, 0),
            Enumerable.Range(0, lines).Select(line => new Line($"p{line}-0", quantity)).ToEquatableArray(),
            Method: "parcel",
            Destination: new("DE")
        );

    /// <summary>A cart of many lines, half of them of the first ten products.</summary>
    public static Cart Wide(int lines) =>
        new(
            Instant.FromUtc(2027, 3, 5, 9, 0),
            Enumerable
                .Range(0, lines)
                .Select(line => new Line(line % 2 == 0 ? $"p{line % 10}-{line / 10 % 5}" : $"p{line % 2000}-{line % 5}", 1 + (line % 3)))
                .ToEquatableArray(),
            Method: "parcel",
            Destination: new("DE")
        );

    // Amounts of about the same size that exclude each other at random: many sets come close to the best one.
    private static IEnumerable<Promotion> Excluding(double density, int seed, Func<int, Take> take)
    {
        var random = new Random(seed);
        return Enumerable
            .Range(0, 20)
            .Select(number => new Promotion(
                $"p{number:00}",
                [new Discount(Selection.Everything, take(number), Per.Cart)],
                Rank: number,
                Stacking: Beside(number, density, random)
            ))
            .ToArray();
    }

    private static IEnumerable<Promotion> Mixed(double density, int seed)
    {
        var random = new Random(seed);
        return Enumerable
            .Range(0, 20)
            .Select(number =>
            {
                var some = new Selection([
                    .. Enumerable.Range(0, 20).Where(_ => random.Next(2) == 0).Select(line => (Term)new Term.OfSku($"p{line}-0")),
                    new Term.OfSku("p0-0"),
                ]);
                Reward reward = (number % 6) switch
                {
                    0 => new Discount(some, new Take.Percentage(new(100_000)), Per.Unit, MaxDiscount: Shop.Money(1500)),
                    1 => new Discount(some, new Take.To(Shop.Money(2000)), Per.Unit, Pick.Cheapest, 6),
                    2 => new BuyGet(some, some, new Deal.ByQuantity(2, 1, Repetition.Every), new Take.Percentage(new(500_000))),
                    3 => new Bundle([new(some, 2), new(Selection.Everything, 1)], new Take.Percentage(new(150_000)), Repetition.Every),
                    4 => new Discount(some, new Take.Off(Shop.Money(1200)), Per.Cart),
                    _ => new Discount(Selection.Everything, new Take.Percentage(new(70_000)), Per.Cart),
                };
                return new Promotion($"p{number:00}", [reward], Rank: number, Stacking: Beside(number, density, random));
            })
            .ToArray();
    }

    private static IEnumerable<Promotion> Bundles() =>
        Enumerable
            .Range(0, 20)
            .Select(number => new Promotion(
                $"b{number:00}",
                [
                    new Bundle(
                        [
                            new(new([new Term.OfProduct($"p{number % 12}"), new Term.OfProduct($"p{(number + 1) % 12}")]), 1),
                            new(Selection.Everything, 1),
                        ],
                        new Take.To(Shop.Money(900 + number)),
                        Repetition.Every
                    ),
                ],
                Rank: number
            ))
            .ToArray();

    private static IEnumerable<Promotion> OnHalves(Func<Selection, Reward> reward)
    {
        var random = new Random(23);
        return Enumerable
            .Range(0, 20)
            .Select(number => new Promotion(
                $"h{number:00}",
                [
                    reward(
                        new(
                            Enumerable
                                .Range(0, 20)
                                .Where(_ => random.Next(2) == 0)
                                .Select(line => (Term)new Term.OfSku($"p{line}-0"))
                                .ToEquatableArray()
                        )
                    ),
                ],
                Rank: number
            ))
            .ToArray();
    }

    private static Bundle Overlapping() =>
        new(
            Enumerable
                .Range(0, 6)
                .Select(slot => new Slot(
                    new(
                        Enumerable
                            .Range(0, 20)
                            .Where(line => (line * (slot + 3)) % 7 < 4)
                            .Select(line => (Term)new Term.OfSku($"p{line}-0"))
                            .ToEquatableArray()
                    ),
                    1 + (slot % 2),
                    new Take.Percentage(new(100_000 * (slot + 1)))
                ))
                .ToEquatableArray(),
            null,
            Repetition.Every
        );

    private static Stacking Beside(int number, double density, Random random) =>
        new(
            Allow.Except,
            Enumerable
                .Range(0, number)
                .Where(_ => random.NextDouble() < density)
                .Select(other => (StackingEntry)new StackingEntry.OfPromotion($"p{other:00}"))
                .ToEquatableArray()
        );
}
