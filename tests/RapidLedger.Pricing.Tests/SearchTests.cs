using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>The search for the best choice, seen from inside: against all choices, and its bounds against what really comes.</summary>
public class SearchTests
{
    [Fact]
    public void Of_all_choices_among_ten_the_first_of_the_best_is_found() => Gen.ULong.Sample(
        seed =>
        {
            var drawn = new Draw(seed, 10);
            var found = drawn.Choice().Best();
            Assert.True(found.Proved);
            Assert.Equal(drawn.BestOfAll(), found.Slots);
        },
        iter: 400);

    [Fact]
    public void Taking_them_by_rank_keeps_each_that_makes_the_choice_greater() => Gen.ULong.Sample(
        seed =>
        {
            var drawn = new Draw(seed, 8);
            List<int> kept = [];
            var reached = default((long, long, long));
            for (var slot = 0; slot < 8; slot++)
            {
                int[] tried = [.. kept, slot];
                if (drawn.Rate(tried) is not { } rated || rated.CompareTo(reached) <= 0) continue;
                (kept, reached) = ([.. tried], rated);
            }

            Assert.Equal(kept, drawn.Choice().ByRank().Slots);
        },
        iter: 1_000);

    [Fact]
    public void What_a_part_takes_is_never_more_than_was_bounded_before() => Gen.ULong.Sample(
        seed =>
        {
            var drawn = new Draw(seed, 7, likeEachOther: false);
            var sheet = drawn.Sheet;
            drawn.Choice();
            var random = new Random((int)seed);
            var bounds = new List<(ReadyReward Part, long Bound, long Dearest, long OfGoods, long Goods)>();
            foreach (var stage in Pricing.Choice.Stages)
            {
                for (var slot = 0; slot < 7; slot++)
                {
                    foreach (var part in drawn.Eligible[slot].Rewards.Where(part => part.Stage == stage))
                    {
                        // Looked at on the way, and at any time before: what comes later only lowers prices.
                        bounds.AddRange(drawn.Eligible.SelectMany(promotion => promotion.Rewards).Where(other => other.Stage >= stage).Select(other =>
                            (other, other.Bound(sheet, out var dearest), dearest, other.BoundOf(sheet, sheet.Sum()), sheet.Sum())));
                        if (random.Next(3) == 0) continue;
                        var before = sheet.Runs.ToArray();
                        sheet.Begin(slot, stage);
                        var total = sheet.Total.Worth;
                        var goods = sheet.Sum();
                        part.Apply(sheet);
                        var came = sheet.Total.Worth - total;
                        foreach (var (_, bound, dearest, _, _) in bounds.Where(one => one.Part == part))
                        {
                            Assert.True(came <= bound, $"{part} gave {came}, bounded by {bound}");
                            AssertLowered(sheet, part, before, dearest);
                        }

                        if (stage is Stage.Item or Stage.Order) Assert.All(bounds.Where(one => one.Part == part && one.Goods >= goods), one => Assert.True(came <= one.OfGoods));
                    }
                }
            }
        },
        iter: 2_000);

    [Fact]
    public void What_is_lowered_at_the_most_from_a_price_grows_with_it_and_not_faster() => Gen.ULong.Sample(
        seed =>
        {
            var drawn = new Draw(seed, 6, likeEachOther: false);
            drawn.Choice();
            var random = new Random((int)seed);
            var count = drawn.Sheet.Runs.Length;
            foreach (var part in drawn.Eligible.SelectMany(promotion => promotion.Rewards).Where(part => part.Stage == Stage.Item))
            {
                part.Bound(drawn.Sheet, out var dearest);
                var high = Enumerable.Range(0, count).Select(_ => (long)random.Next(2_000)).ToArray();
                var low = high.Select(price => random.NextInt64(price + 1)).ToArray();
                var (fromHigh, fromLow) = ((long[])high.Clone(), (long[])low.Clone());
                Assert.Equal(part.LowerMost(drawn.Sheet, fromHigh, dearest), part.LowerMost(drawn.Sheet, fromLow, dearest));
                for (var run = 0; run < count; run++)
                {
                    Assert.InRange(fromLow[run], 0, fromHigh[run]);
                    Assert.True(low[run] - fromLow[run] <= high[run] - fromHigh[run]);
                }
            }
        },
        iter: 2_000);

    // No unit is lower than the most it could have been lowered to, by the prices before.
    private static void AssertLowered(Sheet sheet, ReadyReward part, Run[] before, long dearest)
    {
        var least = before.Select(run => run.Price).ToArray();
        // Asked on a sheet as it was: a part looks at lines only.
        var asked = new Sheet();
        asked.Work.Open(long.MaxValue, default);
        asked.Open(sheet.Cart, 0, 0);
        if (before.Length != asked.Runs.Length) return;
        if (!part.LowerMost(asked, least, dearest)) return;
        foreach (var run in sheet.Runs) Assert.True(run.Price >= least[Array.FindIndex(before, other => other.Line == run.Line)]);
    }

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
            Eligible = [.. Enumerable.Range(0, count).Select(number => CompiledPromotion.Of(
                new Promotion(
                    $"p{number:00}",
                    rewards[random.Next(rewards.Length)],
                    When: random.Next(8) == 0 ? new Spend(null, RandomCase.Money(random.Next(3_000)), null, Basis.After) : null,
                    Stacking: new(Allow.Except, [.. Enumerable.Range(0, number).Where(_ => random.NextDouble() < density).Select(other => (StackingEntry)new StackingEntry.OfPromotion($"p{other:00}"))], random.Next(9) == 0 ? "season" : null)),
                compiler))];
        }

        public Sheet Sheet { get; } = new();

        public CompiledPromotion[] Eligible { get; }

        public Choice Choice()
        {
            return Together.Open(Sheet, view, Eligible);
        }

        /// <summary>Worth, points and gift units of a choice; null if the promotions are none.</summary>
        public (long Worth, long Points, long Units)? Rate(int[] slots)
        {
            var choice = Choice();
            if (!choice.IsChoice(slots)) return null;
            return (Sheet.Total.Worth, Sheet.Total.Points, Sheet.Total.GiftUnits + Sheet.Total.OfferedUnits);
        }

        public int[] BestOfAll()
        {
            var (best, rated) = (Array.Empty<int>(), (Worth: 0L, Points: 0L, Units: 0L));
            for (var set = 1; set < 1 << Eligible.Length; set++)
            {
                int[] tried = [.. Enumerable.Range(0, Eligible.Length).Where(slot => (set >> slot & 1) != 0)];
                if (Rate(tried) is not { } found) continue;
                var compared = found.CompareTo(rated);
                if (compared == 0) compared = best.Length - tried.Length;
                if (compared == 0) compared = best.AsSpan().SequenceCompareTo(tried);
                if (compared > 0) (best, rated) = (tried, found);
            }

            return best;
        }

        private static EquatableArray<Reward> Plain(RandomCase drawn, string id)
        {
            for (var number = 0; ; number++)
                if (drawn.Promotion($"{id}{number}").Rewards is var rewards && rewards[0] is not (Markdown or Credit)) return rewards;
        }
    }
}
