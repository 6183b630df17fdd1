using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// Empty carts in which two promotions may both apply, as far as it depends on when and where they are bought, by whom and how: the
/// plainest
/// first, then those that differ from it in one thing, then in two and three.
/// </summary>
internal sealed class Settings
{
    private const int Most = 60;
    private const int MostMoments = 6;
    private const int MostOfEach = 4;
    private const int MostDifferences = 3;

    private readonly IReadOnlyList<Demand> way;
    private readonly Pair pair;
    private readonly EquatableArray<string> codes;
    private readonly Lazy<Cart[]> all;

    /// <summary>Of one of the ways in which both can hold.</summary>
    public Settings(IReadOnlyList<Demand> way, Pair pair)
    {
        (this.way, this.pair) = (way, pair);
        codes = [.. CodesOf(pair.One).Concat(CodesOf(pair.Other)).Distinct()];
        all = new(() => [.. Of(pair.Around.Leaves, MostOfEach)]);
    }

    /// <summary>The first of them; the plainest does not look at what others ask.</summary>
    public IEnumerable<Cart> First(int most) => most == 1 ? Of([], 1) : all.Value.Take(most);

    private IEnumerable<Cart> Of(IReadOnlyList<Demand> others, int most)
    {
        Instant[] moments = [.. Moments(pair, most == 1 ? 1 : MostMoments)];
        string[] channels = [.. ConditionGround.OfChannel.Left(way, pair, others).Take(most)];
        Currency[] currencies = [.. ConditionGround.OfCurrency.Left(way, pair).Take(most)];
        string?[] methods = [.. ConditionGround.OfMethod.Left(way, pair).Take(most)];
        Place?[] places = [.. ConditionGround.OfPlace.Left(way, pair, others).Take(most)];
        Shopper?[] shoppers = [.. ConditionGround.OfSpent.Left(way, pair, others).Take(most)];
        int[] counts = [moments.Length, channels.Length, currencies.Length, methods.Length, places.Length, shoppers.Length];
        if (counts.Contains(0))
            yield break;
        var given = 0;
        for (var differences = 0; differences <= MostDifferences; differences++)
            foreach (var at in Steps(counts, differences))
            {
                if (++given > Most)
                    yield break;
                yield return new(
                    moments[at[0]],
                    [],
                    currencies[at[2]] == pair.Around.Catalogue.Store.Currency ? null : currencies[at[2]],
                    channels[at[1]],
                    methods[at[3]],
                    places[at[4]],
                    shoppers[at[5]],
                    codes
                );
            }
    }

    /// <summary>One code that starts a promotion: its own, else one of a batch that is invented.</summary>
    private static IEnumerable<string> CodesOf(Side side)
    {
        var trigger = side.Promotion.Trigger ?? Trigger.Automatic;
        return trigger.IsAutomatic ? []
            : trigger.Codes.Count > 0 ? [trigger.Codes[0]]
            : side.Around.BatchCodes.Where(code => trigger.Batches.Contains(code.Value.Batch)).Select(code => code.Key).Take(1);
    }

    // The first at which both are open, and the first after another opens or closes: that may be out of the way then.
    private static IEnumerable<Instant> Moments(Pair pair, int most)
    {
        var around = pair.Around;
        var first = around.Openings.Common(pair.One, pair.Other, around.Now).At;
        var later = around.Turns.Take(most * 2).Select(turn => around.Openings.Common(pair.One, pair.Other, turn).At);
        return later.Prepend(first).OfType<Instant>().Distinct().Take(most);
    }

    // Places in lists of some lengths that lie so many steps in all from the first of each.
    private static IEnumerable<int[]> Steps(int[] counts, int steps, int from = 0)
    {
        if (from == counts.Length)
        {
            if (steps == 0)
                yield return new int[counts.Length];
            yield break;
        }

        for (var here = Math.Min(steps, counts[from] - 1); here >= 0; here--)
            foreach (var rest in Steps(counts, steps - here, from + 1))
            {
                rest[from] = here;
                yield return rest;
            }
    }
}
