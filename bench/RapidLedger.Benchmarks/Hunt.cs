using System.Diagnostics;
using System.Globalization;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>
/// Looks for carts that are hard to price: draws sets of twenty promotions that look alike, overlap and exclude each other, and
/// tells which took longest. A seed names a cart for good.
/// </summary>
internal static class Hunt
{
    private const int Lines = 20;

    /// <summary>Looks at so many seeds, or at one.</summary>
    public static void Run(IReadOnlyList<string> arguments)
    {
        if (arguments is ["seed", var one])
        {
            Tell(int.Parse(one, CultureInfo.InvariantCulture), times: 5);
            return;
        }

        var (first, count) = arguments is [var start, var many] ? (int.Parse(start, CultureInfo.InvariantCulture), int.Parse(many, CultureInfo.InvariantCulture)) : (0, 2_000);
        var found = new List<(double Milliseconds, int Seed)>();
        for (var seed = first; seed < first + count; seed++)
        {
            var (rulebook, cart) = Draw(seed);
            var watch = Stopwatch.StartNew();
            rulebook.Price(cart);
            // The first time pays for what is compiled on the way.
            if (watch.Elapsed.TotalMilliseconds is > 5 and < 2_000)
            {
                watch.Restart();
                rulebook.Price(cart);
            }

            found.Add((watch.Elapsed.TotalMilliseconds, seed));
            if (watch.Elapsed.TotalMilliseconds > 50) Console.WriteLine($"  seed {seed}: {watch.Elapsed.TotalMilliseconds:0} ms");
        }

        Console.WriteLine($"{count} carts, over 50 ms: {found.Count(cart => cart.Milliseconds > 50)}, over 10 ms: {found.Count(cart => cart.Milliseconds > 10)}");
        foreach (var (_, seed) in found.OrderByDescending(cart => cart.Milliseconds).Take(12)) Tell(seed, times: 1);
    }

    private static void Tell(int seed, int times)
    {
        var (rulebook, cart) = Draw(seed);
        for (var i = 0; i < times; i++)
        {
            var watch = Stopwatch.StartNew();
            var priced = rulebook.Price(cart);
            Console.WriteLine($"seed {seed,6} {watch.Elapsed.TotalMilliseconds,9:0.0} ms  proved {priced.Proved}  worth {priced.Totals.Saving}  of {priced.Totals.Goods}  applied {priced.Outcomes.Count(outcome => outcome.Applied)}  {Kinds(rulebook)}  {cart.Lines.Sum(line => line.Quantity)} units");
        }
    }

    private static string Kinds(Rulebook rulebook) => string.Join(
        ' ', rulebook.Promotions.SelectMany(promotion => promotion.Rewards).GroupBy(reward => reward.GetType().Name).Select(kind => $"{kind.Count()} {kind.Key}"));

    private static (Rulebook Rulebook, Cart Cart) Draw(int seed)
    {
        var draw = new Drawing(new Random(seed));
        return (WorstCases.Shop_(draw.Promotions()), WorstCases.Cart(draw.Lines, draw.Quantity));
    }

    /// <summary>One theme: which kinds, how alike, how much they overlap, how often they exclude each other.</summary>
    private sealed class Drawing
    {
        private static readonly double[] Densities = [0, 0, 0, 0.02, 0.05, 0.1, 0.2, 0.4, 0.7];
        private readonly Random random;
        private readonly int[] kinds;
        private readonly int takes;
        private readonly int wide;
        private readonly int spread;
        private readonly double density;
        private readonly bool twoRewards;
        private readonly bool families;

        public Drawing(Random random)
        {
            this.random = random;
            kinds = [.. Enumerable.Range(0, random.Next(3) == 0 ? 9 : random.Next(1, 3)).Select(_ => random.Next(9))];
            takes = random.Next(4);
            wide = random.Next(4);
            spread = Pick(0, 1, 20, 400);
            density = Densities[random.Next(Densities.Length)];
            twoRewards = random.Next(5) == 0;
            families = random.Next(6) == 0;
            Lines = random.Next(3, Hunt.Lines + 1);
            Quantity = Pick(1, 2, 3, 7);
        }

        public int Lines { get; }

        public int Quantity { get; }

        public Promotion[] Promotions() => [.. Enumerable.Range(0, 20).Select(number => new Promotion(
            $"p{number:00}",
            twoRewards ? [Reward(Pick(kinds)), Reward(Pick(kinds))] : [Reward(Pick(kinds))],
            Rank: number,
            Stacking: families && random.Next(3) == 0
                ? new(Family: $"f{random.Next(4)}")
                : new(Allow.Except, Enumerable.Range(0, number).Where(_ => random.NextDouble() < density).Select(other => (StackingEntry)new StackingEntry.OfPromotion($"p{other:00}")).ToEquatableArray())))];

        private Reward Reward(int kind) => kind switch
        {
            0 => new Discount(Some(), Take(), Per.Unit),
            1 => new Discount(Some(), Take(), Per.Unit, Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest), random.Next(1, 5), random.Next(2) == 0 ? Shop.Money(Near(900)) : null),
            2 => new Discount(Some(), random.Next(2) == 0 ? new Take.Off(Shop.Money(Near(1_500))) : new Take.Percentage(Share()), Per.Cart, MaxDiscount: random.Next(2) == 0 ? Shop.Money(Near(1_500)) : null),
            3 => new BuyGet(Some(), Some(), random.Next(4) == 0 ? new Deal.BySpend(Shop.Money(Near(5_000)), 1, Repeat()) : new Deal.ByQuantity(random.Next(1, 4), random.Next(1, 3), Repeat()), Take(), Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest)),
            4 => Same(),
            5 => new Ladder(Measure.Quantity, Some(), StepsThatCount.Beyond, [new(2, null, [new Discount(Selection.Everything, Take(), Per.Unit)]), new(4, null, [new Discount(Selection.Everything, Take(), Per.Unit)])]),
            6 or 7 => Bundle(),
            _ => random.Next(3) switch
            {
                0 => new Gift(new Give.OneOf([$"p{random.Next(3)}-1"]), Times.Once, random.Next(1, 90)),
                1 => new Points(random.Next(1, 4)),
                _ => new Shipping(null, new Take.Off(Shop.Money(Near(90)))),
            },
        };

        private BuyGet Same()
        {
            var some = Some();
            return new(some, some, new Deal.ByQuantity(1, 1, Repeat()), Take(), Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest), Pricing.Same.Product);
        }

        private Bundle Bundle()
        {
            var slots = Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Slot(Some(), random.Next(1, 3))).ToArray();
            var whole = random.Next(3) != 0;
            Take take = random.Next(2) == 0 ? new Take.To(Shop.Money(Near(1_200))) : Take();
            return new(slots.Select(slot => whole ? slot : slot with { Take = Take() }).ToEquatableArray(), whole ? take : null, Repeat(), random.Next(6) == 0 ? Pricing.Pick.Cheapest : Pricing.Pick.Dearest);
        }

        private Take Take() => (takes == 3 ? random.Next(3) : takes) switch
        {
            0 => new Take.Percentage(Share()),
            1 => new Take.Off(Shop.Money(Near(300))),
            _ => new Take.To(Shop.Money(Near(1_000))),
        };

        private Percent Share() => new((int)Near(200_000));

        private long Near(long middle) => spread == 0 ? middle : Math.Max(1, middle + random.NextInt64(-middle * spread / 500, (middle * spread / 500) + 1));

        // How much of the cart: all of it, a run of neighbours, any half, a product or two.
        private Selection Some() => wide switch
        {
            0 => Selection.Everything,
            1 => Of(Enumerable.Range(random.Next(Lines), Math.Max(2, Lines / 3)).Select(line => line % Lines)),
            2 => Of(Enumerable.Range(0, Lines).Where(_ => random.Next(2) == 0).Append(random.Next(Lines))),
            _ => random.Next(2) == 0 ? Selection.Everything : Of([random.Next(Lines), random.Next(Lines)]),
        };

        private static Selection Of(IEnumerable<int> lines) => new(lines.Distinct().Select(line => (Term)new Term.OfProduct($"p{line}")).ToEquatableArray());

        private Repetition Repeat() => Pick(Repetition.Every, Repetition.Every, Repetition.Once, new(2));

        private T Pick<T>(params ReadOnlySpan<T> of) => of[random.Next(of.Length)];
    }
}
