using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>Sums and orders that are worked out many at a time, against the plain way.</summary>
public class SumTests
{
    [Fact]
    public void The_least_sum_above_a_price_is_that_of_all_sums_there_are() =>
        Gen.ULong.Sample(
            seed =>
            {
                // Prices far apart make tables of many words, so that each shift has whole words, a rest, and both.
                var random = new Random((int)(seed ^ (seed >> 32)));
                var runs = random.Next(1, 8);
                var slots = random.Next(1, 4);
                var (from, spread) = (random.Next(1, 3_000), random.GetItems([1, 40, 3_000, 20_000], 1)[0]);
                // Prices that differ by whole steps make sums that do.
                var step = random.GetItems([1, 1, 50], 1)[0];
                var prices = Enumerable.Range(0, runs).Select(_ => (long)from + (random.Next(spread) * step)).ToArray();
                var capacity = Enumerable.Range(0, runs).Select(_ => (long)random.Next(1, 5)).ToArray();
                var needs = Enumerable.Range(0, slots).Select(_ => (long)random.Next(1, 4)).ToArray();
                var allowed = Enumerable.Range(0, slots * runs).Select(_ => random.Next(3) > 0).ToArray();
                var sums = Sums(capacity, prices, allowed, needs);
                if (sums.Count == 0)
                    return;
                // Asked for only where some filling costs no more.
                var price = sums.Min() + random.NextInt64(sums.Max() - sums.Min() + 3);

                Assert.True(
                    SubsetSum.TryFind(capacity, prices, allowed, needs, price, long.MaxValue, Together.Unbounded(), out var filling)
                );
                var above = sums.Where(sum => sum > price).ToArray();
                Assert.Equal(above.Length == 0 ? null : above.Min(), filling?.Select((units, run) => units * prices[run]).Sum());
                if (filling is null)
                    return;
                Assert.Equal(needs.Sum(), filling.Sum());
                Assert.All(filling.Zip(capacity), run => Assert.InRange(run.First, 0, run.Second));
            },
            iter: 3_000
        );

    [Fact]
    public void Runs_are_in_the_order_of_their_prices_and_of_equal_ones_in_that_of_the_cart_however_large_prices_are() =>
        Gen.ULong.Sample(
            seed =>
            {
                var random = new Random((int)(seed ^ (seed >> 32)));
                var greatest = random.GetItems([3, 5_000, 1L << 40, (1L << 40) + 3, Currency.Greatest], 1)[0];
                var runs = new List<Run>();
                var (cheapest, dearest) = (new PriceOrder(runs, 1), new PriceOrder(runs, -1));
                for (var turn = 0; turn < 3; turn++)
                {
                    runs.Clear();
                    runs.AddRange(
                        Enumerable
                            .Range(0, random.Next(40))
                            .Select(line => new Run(line, 0, 1, random.Next(3) == 0 ? greatest : random.NextInt64(greatest)))
                    );
                    cheapest.Changed();
                    dearest.Changed();
                    var places = Enumerable.Range(0, runs.Count).ToArray();
                    Assert.Equal(places.OrderBy(place => runs[place].Price), cheapest.Places(Together.Unbounded()).ToArray());
                    Assert.Equal(places.OrderByDescending(place => runs[place].Price), dearest.Places(Together.Unbounded()).ToArray());
                }
            },
            iter: 2_000
        );

    // Run after run, what has been filled of each slot and for how much.
    private static HashSet<long> Sums(long[] capacity, long[] prices, bool[] allowed, long[] needs)
    {
        var reached = new HashSet<(string Left, long Sum)> { (string.Join(' ', needs), 0) };
        for (var run = 0; run < capacity.Length; run++)
        {
            for (var unit = 0; unit < capacity[run]; unit++)
            {
                foreach (var (left, sum) in reached.ToArray())
                {
                    var open = left.Split(' ').Select(long.Parse).ToArray();
                    for (var slot = 0; slot < needs.Length; slot++)
                    {
                        if (open[slot] == 0 || !allowed[(slot * capacity.Length) + run])
                            continue;
                        open[slot]--;
                        reached.Add((string.Join(' ', open), sum + prices[run]));
                        open[slot]++;
                    }
                }
            }
        }

        return [.. reached.Where(state => state.Left.Split(' ').All(left => left == "0")).Select(state => state.Sum)];
    }
}
