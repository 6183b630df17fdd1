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

    private static readonly int[] Efforts = [1, 10, 100];

    /// <summary>Looks at so many seeds from one on, or at one; from -1 - N on only at wide carts, from N on.</summary>
    public static void Run(IReadOnlyList<string> arguments)
    {
        if (arguments is [("seed" or "wide") and var kind, var one])
        {
            Tell(Number(one), kind == "seed" ? Draw : DrawWide);
            return;
        }

        var (first, count, most) = arguments switch
        {
            [var start, var many, var effort] => (Number(start), Number(many), Number(effort)),
            [var start, var many] => (Number(start), Number(many), 100),
            _ => (0, 1_000, 100),
        };
        int[] efforts = [.. Efforts.Where(effort => effort <= most)];
        if (first >= 0)
            Survey("hard on purpose, 20 promotions", Enumerable.Range(first, count).Select(Draw), efforts);
        Survey(
            "10 to 1,000 lines, 5 to 80 promotions of all kinds",
            Enumerable.Range(first < 0 ? -1 - first : first, count / 4).Select(DrawWide),
            efforts
        );

        static int Number(string text) => int.Parse(text, CultureInfo.InvariantCulture);
    }

    private static void Survey(string name, IEnumerable<(Rulebook Rulebook, Cart Cart)> drawn, int[] efforts)
    {
        var found = new List<(PricedCart[] Priced, double[] Milliseconds)>();
        foreach (var (rulebook, cart) in drawn)
        {
            var (priced, times) = (new PricedCart[efforts.Length], new double[efforts.Length]);
            for (var i = 0; i < efforts.Length; i++)
            {
                // What one effort proves, more of it does too.
                if (i > 0 && priced[i - 1].Proved)
                {
                    (priced[i], times[i]) = (priced[i - 1], times[i - 1]);
                    continue;
                }

                times[i] = double.MaxValue;
                // The first time pays for what is compiled on the way, and a shared machine only makes it slower.
                for (var round = 0; round < (i == 0 ? 4 : 1); round++)
                {
                    var watch = Stopwatch.StartNew();
                    priced[i] = rulebook.Price(cart, effort: efforts[i]);
                    times[i] = Math.Min(times[i], watch.Elapsed.TotalMilliseconds);
                }
            }

            found.Add((priced, times));
        }

        Console.WriteLine($"{name}: {found.Count} carts");
        for (var i = 0; i < efforts.Length; i++)
        {
            var effort = i;
            double[] times = [.. found.Select(cart => cart.Milliseconds[effort]).Order()];
            double[] gaps =
            [
                .. found.Select(cart => (double)(cart.Priced[effort].Gap ?? 0) / Math.Max(1, cart.Priced[effort].Worth)).Order(),
            ];
            double[] savings = [.. found.Select(cart => Share(cart.Priced[effort], cart.Priced)).Order()];
            Console.WriteLine(
                $"  effort {efforts[i], 3}: ms median {At(times, 0.5):0.00}, 99 of 100 {At(times, 0.99):0.0}, worst {times[^1]:0.0}; proved {found.Count(cart => cart.Priced[effort].Proved) * 100.0 / found.Count:0.0} %; "
                    + $"gap median {At(gaps, 0.5):P1}, 9 of 10 {At(gaps, 0.9):P1}, worst {gaps[^1]:P0}; of the best known median {At(savings, 0.5):P2}, 1 of 100 {At(savings, 0.01):P2}, worst {savings[0]:P2}; ns a unit {found.Sum(cart => cart.Milliseconds[effort]) * 1e6 / found.Sum(cart => cart.Priced[effort].Work):0.0}"
            );
        }

        foreach (
            var (cart, place) in found.Select((cart, place) => (cart, place)).OrderByDescending(entry => entry.cart.Milliseconds[0]).Take(5)
        )
            Console.WriteLine(
                $"    slowest: {place, 4} {cart.Milliseconds[0], 8:0.0} ms {cart.Milliseconds[0] * 1e6 / cart.Priced[0].Work, 6:0.0} ns a unit  {Kinds(cart.Priced[0])}"
            );
        foreach (
            var (cart, place) in found
                .Select((cart, place) => (cart, place))
                .Where(entry => entry.cart.Milliseconds[0] > 2)
                .OrderByDescending(entry => entry.cart.Milliseconds[0] / entry.cart.Priced[0].Work)
                .Take(8)
        )
            Console.WriteLine(
                $"    most for a unit: {place, 4} {cart.Milliseconds[0], 8:0.0} ms {cart.Milliseconds[0] * 1e6 / cart.Priced[0].Work, 6:0.0} ns a unit  {Kinds(cart.Priced[0])}"
            );
        foreach (
            var (cart, place) in found
                .Select((cart, place) => (cart, place))
                .OrderBy(entry => Share(entry.cart.Priced[0], entry.cart.Priced))
                .Take(5)
        )
            Console.WriteLine($"    farthest: {place, 4} {Share(cart.Priced[0], cart.Priced):P2}  {Kinds(cart.Priced[0])}");

        static double Share(PricedCart priced, PricedCart[] all) =>
            all.Max(one => one.Worth) is > 0 and var best ? (double)priced.Worth / best : 1;

        static double At(double[] sorted, double share) => sorted[(int)Math.Min(sorted.Length - 1, share * sorted.Length)];
    }

    private static void Tell(int seed, Func<int, (Rulebook Rulebook, Cart Cart)> draw)
    {
        var (rulebook, cart) = draw(seed);
        foreach (var effort in Efforts)
        {
            var watch = Stopwatch.StartNew();
            var priced = rulebook.Price(cart, effort: effort);
            Console.WriteLine(
                $"seed {seed, 6} {watch.Elapsed.TotalMilliseconds, 9:0.0} ms  proved {priced.Proved} gap {priced.Gap}  worth {priced.Totals.Saving}  of {priced.Totals.Goods}  applied {priced.Outcomes.Count(outcome => outcome.Applied)}  {Kinds(rulebook)}  {cart.Lines.Sum(line => line.Quantity)} units"
            );
        }
    }

    private static (Rulebook Rulebook, Cart Cart) DrawWide(int seed)
    {
        var random = new Random(seed);
        var draw = new Drawing(random, random.GetItems([10, 20, 50, 100, 300, 1_000], 1)[0], random.GetItems([5, 10, 20, 40, 80], 1)[0]);
        return (WorstCases.Shop_(draw.Promotions()), WorstCases.Cart(draw.Lines, draw.Quantity));
    }

    private static string Kinds(PricedCart priced) =>
        $"{priced.Cart.Lines.Count} lines "
        + string.Join(
            ' ',
            priced
                .Outcomes.SelectMany(outcome => outcome.Promotion.Rewards)
                .GroupBy(reward =>
                    reward is Bundle bundle
                        ? $"Bundle {bundle.Fill} {(bundle.Take is null ? "slots" : bundle.Take.GetType().Name)}"
                        : reward.GetType().Name
                )
                .Select(kind => $"{kind.Count()} {kind.Key}")
        );

    private static string Kinds(Rulebook rulebook) =>
        string.Join(
            ' ',
            rulebook
                .Promotions.SelectMany(promotion => promotion.Rewards)
                .GroupBy(reward => reward.GetType().Name)
                .Select(kind => $"{kind.Count()} {kind.Key}")
        );

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
        private readonly int count;

        /// <param name="random">What is drawn from.</param>
        /// <param name="lines">Of the cart; none: a few, and promotions of one or two kinds as a rule.</param>
        /// <param name="count">How many promotions.</param>
        public Drawing(Random random, int? lines = null, int count = 20)
        {
            this.random = random;
            this.count = count;
            kinds = lines is not null
                ? [.. Enumerable.Range(0, 9)]
                : [.. Enumerable.Range(0, random.Next(3) == 0 ? 9 : random.Next(1, 3)).Select(_ => random.Next(9))];
            takes = random.Next(4);
            wide = random.Next(4);
            spread = Pick(0, 1, 20, 400);
            density = Densities[random.Next(Densities.Length)];
            twoRewards = random.Next(5) == 0;
            families = random.Next(6) == 0;
            Lines = lines ?? random.Next(3, Hunt.Lines + 1);
            Quantity = Pick(1, 2, 3, 7);
        }

        public int Lines { get; }

        public int Quantity { get; }

        public Promotion[] Promotions() =>
            [
                .. Enumerable
                    .Range(0, count)
                    .Select(number => new Promotion(
                        $"p{number:00}",
                        twoRewards ? [Reward(Pick(kinds)), Reward(Pick(kinds))] : [Reward(Pick(kinds))],
                        Rank: number,
                        Stacking: families && random.Next(3) == 0
                            ? new(Family: $"f{random.Next(4)}")
                            : new(
                                Allow.Except,
                                Enumerable
                                    .Range(0, number)
                                    .Where(_ => random.NextDouble() < density)
                                    .Select(other => (StackingEntry)new StackingEntry.OfPromotion($"p{other:00}"))
                                    .ToEquatableArray()
                            )
                    )),
            ];

        private Reward Reward(int kind) =>
            kind switch
            {
                0 => new Discount(Some(), Take(), Per.Unit),
                1 => new Discount(
                    Some(),
                    Take(),
                    Per.Unit,
                    Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest),
                    random.Next(1, 5),
                    random.Next(2) == 0 ? Shop.Money(Near(900)) : null
                ),
                2 => new Discount(
                    Some(),
                    random.Next(2) == 0 ? new Take.Off(Shop.Money(Near(1_500))) : new Take.Percentage(Share()),
                    Per.Cart,
                    MaxDiscount: random.Next(2) == 0 ? Shop.Money(Near(1_500)) : null
                ),
                3 => new BuyGet(
                    Some(),
                    Some(),
                    random.Next(4) == 0
                        ? new Deal.BySpend(Shop.Money(Near(5_000)), 1, Repeat())
                        : new Deal.ByQuantity(random.Next(1, 4), random.Next(1, 3), Repeat()),
                    Take(),
                    Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest)
                ),
                4 => Same(),
                5 => new Ladder(
                    Measure.Quantity,
                    Some(),
                    StepsThatCount.Beyond,
                    [
                        new(2, null, [new Discount(Selection.Everything, Take(), Per.Unit)]),
                        new(4, null, [new Discount(Selection.Everything, Take(), Per.Unit)]),
                    ]
                ),
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
            return new(
                some,
                some,
                new Deal.ByQuantity(1, 1, Repeat()),
                Take(),
                Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest),
                Pricing.Same.Product
            );
        }

        private Bundle Bundle()
        {
            var slots = Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Slot(Some(), random.Next(1, 3))).ToArray();
            var whole = random.Next(3) != 0;
            Take take = random.Next(2) == 0 ? new Take.To(Shop.Money(Near(1_200))) : Take();
            return new(
                slots.Select(slot => whole ? slot : slot with { Take = Take() }).ToEquatableArray(),
                whole ? take : null,
                Repeat(),
                random.Next(6) == 0 ? Pricing.Pick.Cheapest : Pricing.Pick.Dearest
            );
        }

        private Take Take() =>
            (takes == 3 ? random.Next(3) : takes) switch
            {
                0 => new Take.Percentage(Share()),
                1 => new Take.Off(Shop.Money(Near(300))),
                _ => new Take.To(Shop.Money(Near(1_000))),
            };

        private Percent Share() => new((int)Near(200_000));

        private long Near(long middle) =>
            spread == 0 ? middle : Math.Max(1, middle + random.NextInt64(-middle * spread / 500, (middle * spread / 500) + 1));

        // How much of the cart: all of it, a run of neighbours, any half, a product or two.
        private Selection Some() =>
            wide switch
            {
                0 => Selection.Everything,
                1 => Of(Enumerable.Range(random.Next(Lines), Math.Max(2, Lines / 3)).Select(line => line % Lines)),
                2 => Of(Enumerable.Range(0, Lines).Where(_ => random.Next(2) == 0).Append(random.Next(Lines))),
                _ => random.Next(2) == 0 ? Selection.Everything : Of([random.Next(Lines), random.Next(Lines)]),
            };

        private static Selection Of(IEnumerable<int> lines) =>
            new(lines.Distinct().Select(line => (Term)new Term.OfProduct($"p{line}")).ToEquatableArray());

        private Repetition Repeat() => Pick(Repetition.Every, Repetition.Every, Repetition.Once, new(2));

        private T Pick<T>(params ReadOnlySpan<T> of) => of[random.Next(of.Length)];
    }
}
