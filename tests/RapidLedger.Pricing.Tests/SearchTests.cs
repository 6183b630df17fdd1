using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>The search for the best choice, seen from inside: against all choices, and its bounds against what really comes.</summary>
public class SearchTests
{
    [Fact]
    public void Of_all_choices_among_ten_the_first_of_the_best_is_found() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, 10);
                var found = drawn.Choice().Best();
                Assert.True(found.Proved);
                Assert.Equal(drawn.BestOfAll(), found.Slots);
            },
            iter: 400
        );

    [Fact]
    public void Taking_them_by_rank_keeps_each_that_makes_the_choice_greater() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, 8);
                List<int> kept = [];
                var reached = default((long, long, long));
                for (var slot = 0; slot < 8; slot++)
                {
                    int[] tried = [.. kept, slot];
                    if (drawn.Rate(tried) is not { } rated || rated.CompareTo(reached) <= 0)
                        continue;
                    (kept, reached) = ([.. tried], rated);
                }

                Assert.Equal(kept, drawn.Choice().ByRank().Slots);
            },
            iter: 1_000
        );

    [Fact]
    public void What_a_part_takes_is_never_more_than_was_bounded_before() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, 7, likeEachOther: false);
                var sheet = drawn.Sheet;
                drawn.Choice();
                var random = new Random((int)seed);
                var bounds = new List<(ReadyReward Part, long Bound, long Dearest, long OfGoods, long Goods)>();
                foreach (var stage in Pricing.ChoiceSearch.Stages)
                {
                    for (var slot = 0; slot < 7; slot++)
                    {
                        foreach (var part in drawn.Eligible[slot].Rewards.Where(part => part.Stage == stage))
                        {
                            // Looked at on the way, and at any time before: what comes later only lowers prices.
                            bounds.AddRange(
                                drawn
                                    .Eligible.SelectMany(promotion => promotion.Rewards)
                                    .Where(other => other.Stage >= stage)
                                    .Select(other =>
                                        (
                                            other,
                                            other.Bound(sheet, out var dearest),
                                            dearest,
                                            other.BoundOf(sheet, sheet.Sum()),
                                            sheet.Sum()
                                        )
                                    )
                            );
                            if (random.Next(3) == 0)
                                continue;
                            var before = sheet.Runs.ToArray();
                            sheet.Begin(slot, stage);
                            var total = sheet.Total.Worth;
                            var goods = sheet.Sum();
                            part.Apply(sheet);
                            var came = sheet.Total.Worth - total;
                            foreach (var (_, bound, dearest, _, _) in bounds.Where(one => one.Part == part))
                            {
                                Assert.True(came <= bound, $"{part} gave {came}, bounded by {bound}");
                                if (stage == Stage.Item)
                                    AssertLowered(sheet, part, before, dearest);
                            }

                            if (stage is Stage.Item or Stage.Order)
                                Assert.All(bounds.Where(one => one.Part == part && one.Goods >= goods), one =>
                                    Assert.True(came <= one.OfGoods)
                                );
                        }
                    }
                }
            },
            iter: 2_000
        );

    [Fact]
    public void What_is_lowered_at_the_most_from_prices_grows_with_them() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, 6, likeEachOther: false);
                drawn.Choice();
                var random = new Random((int)seed);
                var runs = ByUnit(drawn.Sheet.Runs);
                foreach (var part in drawn.Eligible.SelectMany(promotion => promotion.Rewards).Where(part => part.Stage == Stage.Item))
                {
                    part.Bound(drawn.Sheet, out var dearest);
                    Run[] high = [.. runs.Select(run => run with { Price = random.Next(2_000) })];
                    Run[] low = [.. high.Select(run => run with { Price = random.NextInt64(run.Price + 1) })];
                    var (fromHigh, fromLow) = (new RelaxedPrices(), new RelaxedPrices());
                    fromHigh.Open(drawn.Sheet, high);
                    fromLow.Open(drawn.Sheet, low);
                    var (most, less) = (fromHigh.Probe(part, dearest), fromLow.Probe(part, dearest));
                    Assert.Equal(most is null, less is null);
                    Assert.Equal(fromHigh.IsExact, fromLow.IsExact);
                    if (most is null)
                        continue;
                    Assert.InRange(less!.Value, 0, most.Value);
                    fromHigh.Commit();
                    fromLow.Commit();
                    AssertNotAbove(fromLow.Prices.ToArray(), fromHigh.Prices.ToArray());
                }
            },
            iter: 2_000
        );

    [Fact]
    public void No_choice_takes_more_than_the_lowest_prices_tell()
    {
        var (picked, apart) = (0, 0);
        Gen.Int.Sample(
            seed =>
            {
                // Prices near to each other and parts that pick among them: which units come first turns with what was taken before.
                var random = new Random(seed);
                var lines = random.Next(2, 6);
                var isSmall = random.Next(2) == 0;
                // Of a few cents each, what is spread turns them round.
                Amount Money(int minor) => RandomCase.Money(isSmall ? Math.Max(1, minor / 75) : minor);
                var catalogue = new Catalogue(
                    [],
                    [
                        .. Enumerable
                            .Range(0, lines)
                            .GroupBy(line => line / 2)
                            .Select(pair => new Product(
                                $"p{pair.Key}",
                                "P",
                                [.. pair.Select(line => new Variant($"S{line}", Money(random.Next(3) == 0 ? 500 : random.Next(400, 700))))]
                            )),
                    ]
                );
                Selection Some() =>
                    random.Next(3) == 0
                        ? Selection.Everything
                        : new([
                            .. Enumerable
                                .Range(0, lines)
                                .Where(_ => random.Next(2) == 0)
                                .Append(random.Next(lines))
                                .Distinct()
                                .Select(line => (Term)new Term.OfSku($"S{line}")),
                        ]);
                Take Take() =>
                    random.Next(3) switch
                    {
                        0 => new Take.Percentage(Percent.From(random.Next(1, 5) * 25)!.Value),
                        1 => new Take.Off(Money(random.Next(20, 400))),
                        _ => new Take.To(Money(random.Next(100, 500))),
                    };
                Pick Pick() => (Pick)random.Next(2);
                Reward Reward()
                {
                    var some = Some();
                    return random.Next(7) switch
                    {
                        0 => new Discount(some, Take(), Per.Unit, MaxDiscount: random.Next(4) == 0 ? Money(200) : null),
                        1 => new Discount(some, Take(), Per.Unit, Pick(), random.Next(1, 4), random.Next(4) == 0 ? Money(200) : null),
                        2 => new BuyGet(
                            Some(),
                            some,
                            new Deal.ByQuantity(
                                random.Next(1, 3),
                                random.Next(1, 3),
                                random.Next(2) == 0 ? Repetition.Once : Repetition.Every
                            ),
                            Take(),
                            Pick()
                        ),
                        3 => new BuyGet(
                            some,
                            some,
                            new Deal.ByQuantity(1, 1, random.Next(2) == 0 ? Repetition.Once : Repetition.Every),
                            Take(),
                            Pick(),
                            (Same)random.Next(2)
                        ),
                        4 => new Discount(
                            Selection.Everything,
                            random.Next(2) == 0
                                ? new Take.Percentage(Percent.From(random.Next(1, 5) * 25)!.Value)
                                : new Take.Off(Money(random.Next(100, 900))),
                            Per.Cart,
                            MaxDiscount: random.Next(2) == 0 ? Money(300) : null
                        ),
                        5 => new Ladder(
                            Measure.Quantity,
                            some,
                            StepsThatCount.Beyond,
                            [new(1, null, [new Discount(some, Take(), Per.Unit)]), new(3, null, [new Discount(some, Take(), Per.Unit)])]
                        ),
                        _ => new Bundle([new(some, 1, Take()), new(Some(), 1)], null, Repetition.Every),
                    };
                }

                var index = CatalogueIndex.Of(new Store(RandomCase.Eur, NodaTime.DateTimeZone.Utc), catalogue);
                // In the order in which they act: what is taken off the whole cart comes after what is taken unit by unit.
                CompiledPromotion[] promotions =
                [
                    .. Enumerable
                        .Range(0, 5)
                        .Select(number => CompiledPromotion.Of(new Promotion($"p{number}", [Reward()]), new(index)))
                        .OrderBy(promotion => promotion.Rewards[0].Stage),
                ];
                var view = new CartView(
                    new Cart(default, [.. Enumerable.Range(0, lines).Select(line => new Line($"S{line}", random.Next(1, 4)))]),
                    index
                );
                var (sheet, lowest) = (new Sheet(), new RelaxedPrices());
                Together.Open(sheet, view, promotions);
                var bounds = promotions
                    .Select(promotion =>
                        (Part: promotion.Rewards[0], Most: promotion.Rewards[0].Bound(sheet, out var dearest), Dearest: dearest)
                    )
                    .ToArray();
                for (var subset = 0; subset < 1 << bounds.Length; subset++)
                {
                    sheet.Clear(0);
                    lowest.Open(sheet, sheet.Runs);
                    var (goods, most, isExact) = (sheet.Sum(), 0L, true);
                    for (var slot = 0; slot < bounds.Length; slot++)
                    {
                        var (part, alone, dearest) = bounds[slot];
                        if (lowest.Probe(part, dearest) is { } byUnit && byUnit <= alone)
                        {
                            lowest.Commit();
                            most += byUnit;
                            Interlocked.Increment(ref picked);
                        }
                        else
                        {
                            lowest.CommitSum(alone);
                            most += alone;
                            Interlocked.Increment(ref apart);
                        }

                        isExact &= lowest.IsExact && (subset >> slot & 1) != 0;
                        if ((subset >> slot & 1) == 0)
                            continue;
                        sheet.Begin(slot, part.Stage);
                        part.Apply(sheet);
                        Assert.InRange(goods - sheet.Sum(), 0, most);
                        // Where all before it are in and known exactly, it takes just that. From which units a whole cart is lowered is not
                        // known.
                        if (isExact)
                            Assert.Equal(most, goods - sheet.Sum());
                        isExact &= part.Stage == Stage.Item;
                    }
                }
            },
            iter: 6_000
        );
        Assert.True(picked > apart / 2 && apart > picked / 10, $"told by unit {picked} times, apart {apart} times");
    }

    // No unit is lower than the most it could have been lowered to, by the prices before; or than another for which it stands.
    private static void AssertLowered(Sheet sheet, ReadyReward part, Run[] before, long dearest)
    {
        var lowest = new RelaxedPrices();
        lowest.Open(sheet, ByUnit(before));
        if (lowest.Probe(part, dearest) is null)
            return;
        lowest.Commit();
        AssertNotAbove(lowest.Prices.ToArray(), [.. ByUnit(sheet.Runs).Select(run => run.Price)]);
    }

    // In order of price each unit of the one stands not above that of the other.
    private static void AssertNotAbove(long[] low, long[] high)
    {
        Assert.Equal(high.Length, low.Length);
        Array.Sort(low);
        Array.Sort(high);
        for (var unit = 0; unit < low.Length; unit++)
            Assert.InRange(low[unit], 0, high[unit]);
    }

    private static Run[] ByUnit(ReadOnlySpan<Run> runs) =>
        [
            .. runs.ToArray()
                .SelectMany(run => Enumerable.Range(0, run.Count).Select(unit => run with { Start = run.Start + unit, Count = 1 })),
        ];

    /// <summary>A cart and promotions all of which are eligible for it, ready to be chosen among.</summary>
    private sealed class Draw
    {
        private readonly CartView view;

        public Draw(ulong seed, int count, bool likeEachOther = true)
        {
            var drawn = new RandomCase(seed);
            var random = new Random((int)(seed % 1_000_003));
            var compiler = new Compiler(CatalogueIndex.Of(drawn.Store, drawn.Catalogue));
            view = new CartView(drawn.Cart, compiler.Catalogue);
            // Alike: few different ones, so that many choices come to the same.
            var rewards = Enumerable.Range(0, likeEachOther ? 3 : count).Select(number => Plain(drawn, $"q{number}")).ToArray();
            var density = random.Next(5) * 0.12;
            Eligible =
            [
                .. Enumerable
                    .Range(0, count)
                    .Select(number =>
                        CompiledPromotion.Of(
                            new Promotion(
                                $"p{number:00}",
                                rewards[random.Next(rewards.Length)],
                                When: random.Next(8) == 0 ? new Spend(null, RandomCase.Money(random.Next(3_000)), null, Basis.After) : null,
                                Stacking: new(
                                    Allow.Except,
                                    [
                                        .. Enumerable
                                            .Range(0, number)
                                            .Where(_ => random.NextDouble() < density)
                                            .Select(other => (StackingEntry)new StackingEntry.OfPromotion($"p{other:00}")),
                                    ],
                                    random.Next(9) == 0 ? "season" : null
                                )
                            ),
                            compiler
                        )
                    ),
            ];
        }

        public Sheet Sheet { get; } = new();

        public CompiledPromotion[] Eligible { get; }

        public ChoiceSearch Choice()
        {
            return Together.Open(Sheet, view, Eligible);
        }

        /// <summary>Worth, points and gift units of a choice; null if the promotions are none.</summary>
        public (long Worth, long Points, long Units)? Rate(int[] slots)
        {
            var choice = Choice();
            if (!choice.IsChoice(slots))
                return null;
            return (Sheet.Total.Worth, Sheet.Total.Points, Sheet.Total.GiftUnits + Sheet.Total.OfferedUnits);
        }

        public int[] BestOfAll()
        {
            var (best, rated) = (Array.Empty<int>(), (Worth: 0L, Points: 0L, Units: 0L));
            for (var set = 1; set < 1 << Eligible.Length; set++)
            {
                int[] tried = [.. Enumerable.Range(0, Eligible.Length).Where(slot => (set >> slot & 1) != 0)];
                if (Rate(tried) is not { } found)
                    continue;
                var compared = found.CompareTo(rated);
                if (compared == 0)
                    compared = best.Length - tried.Length;
                if (compared == 0)
                    compared = best.AsSpan().SequenceCompareTo(tried);
                if (compared > 0)
                    (best, rated) = (tried, found);
            }

            return best;
        }

        private static EquatableArray<Reward> Plain(RandomCase drawn, string id)
        {
            for (var number = 0; ; number++)
                if (drawn.Promotion($"{id}{number}").Rewards is var rewards && rewards[0] is not (Markdown or Credit))
                    return rewards;
        }
    }
}
