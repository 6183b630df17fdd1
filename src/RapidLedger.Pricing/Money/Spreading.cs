namespace RapidLedger.Pricing;

/// <summary>Units in a row that weigh the same when an amount is spread.</summary>
/// <param name="Weight">The weight of one unit, not below zero.</param>
/// <param name="Count">How many units, above zero.</param>
public readonly record struct SpreadRun(long Weight, int Count);

/// <summary>Units in a row that get the same share.</summary>
/// <param name="Run">Which of the runs they belong to; the pieces of a run follow each other in unit order.</param>
/// <param name="Count">How many units.</param>
/// <param name="Share">Minor units for each.</param>
public readonly record struct SpreadShare(int Run, int Count, long Share);

/// <summary>
/// Spreads an amount over units by largest remainder (Hamilton's method): each gets the floor of its exact share,
/// then those with the largest remainders one minor unit more, ties to the earlier.
/// </summary>
/// <remarks>Works on runs of equal units, so that a hundred thousand units cost no more than one.</remarks>
public static class Spreading
{
    /// <summary>The shares in unit order. They add up to the amount, unless nothing weighs anything: then each is zero.</summary>
    /// <param name="amount">Minor units to spread, not below zero and not above the sum of the weights.</param>
    /// <param name="runs">The units, in order.</param>
    public static IReadOnlyList<SpreadShare> Spread(long amount, ReadOnlySpan<SpreadRun> runs)
    {
        var shares = new List<SpreadShare>(runs.Length + 1);
        Spread(amount, runs, shares);
        return shares;
    }

    /// <summary>The share of each of some weights, in their order; each is zero if nothing weighs anything.</summary>
    /// <param name="amount">Minor units to spread, not below zero; of another currency than the weights it may be above their sum.</param>
    /// <param name="weights">The weights, none below zero.</param>
    public static long[] Over(long amount, IReadOnlyList<long> weights)
    {
        var shares = new long[weights.Count];
        foreach (var share in Spread(amount, [.. weights.Select(weight => new SpreadRun(weight, 1))]))
            shares[share.Run] += share.Share;
        return shares;
    }

    internal static void Spread(long amount, ReadOnlySpan<SpreadRun> runs, List<SpreadShare> shares)
    {
        long total = 0;
        foreach (var run in runs)
            total += run.Weight * run.Count;
        if (total == 0 || amount == 0)
        {
            for (var i = 0; i < runs.Length; i++)
                shares.Add(new(i, runs[i].Count, 0));
            return;
        }

        Span<long> floors = runs.Length <= 128 ? stackalloc long[runs.Length] : new long[runs.Length];
        Span<long> rests = runs.Length <= 128 ? stackalloc long[runs.Length] : new long[runs.Length];
        var left = amount;
        for (var i = 0; i < runs.Length; i++)
        {
            (floors[i], rests[i]) = Divide(amount, runs[i].Weight, total);
            left -= floors[i] * runs[i].Count;
        }

        Span<int> extra = runs.Length <= 128 ? stackalloc int[runs.Length] : new int[runs.Length];
        extra.Clear();
        GiveRests(left, runs, rests, extra);

        for (var i = 0; i < runs.Length; i++)
        {
            if (extra[i] > 0)
                shares.Add(new(i, extra[i], floors[i] + 1));
            if (extra[i] < runs[i].Count)
                shares.Add(new(i, runs[i].Count - extra[i], floors[i]));
        }
    }

    private static void GiveRests(long left, ReadOnlySpan<SpreadRun> runs, ReadOnlySpan<long> rests, Span<int> extra)
    {
        if (left == 0)
            return;
        Span<int> order = runs.Length <= 128 ? stackalloc int[runs.Length] : new int[runs.Length];
        Sort(rests, order);
        foreach (var i in order)
        {
            if (left == 0)
                return;
            extra[i] = (int)Math.Min(left, runs[i].Count);
            left -= extra[i];
        }
    }

    // The largest first, of equal ones the earlier. There is nothing to allocate for a cart as they are.
    private static void Sort(ReadOnlySpan<long> rests, Span<int> order)
    {
        Span<long> keys = rests.Length <= 128 ? stackalloc long[rests.Length] : new long[rests.Length];
        var fits = rests.Length < PlacedKey.MostPlaces;
        for (var i = 0; i < rests.Length; i++)
        {
            order[i] = i;
            keys[i] = PlacedKey.Of(-rests[i], i);
            fits &= rests[i] < PlacedKey.Limit;
        }

        if (!fits)
        {
            order.Sort(new ByRest(rests.ToArray()));
            return;
        }

        keys.Sort();
        for (var i = 0; i < keys.Length; i++)
            order[i] = PlacedKey.PlaceOf(keys[i]);
    }

    private static (long Floor, long Remainder) Divide(long amount, long weight, long total)
    {
        if (Math.BigMul(amount, weight, out var product) == 0 && product >= 0)
            return Math.DivRem(product, total);
        var (floor, rest) = Int128.DivRem((Int128)amount * weight, total);
        return ((long)floor, (long)rest);
    }

    private readonly struct ByRest(long[] rests) : IComparer<int>
    {
        public int Compare(int x, int y) => rests[x] != rests[y] ? rests[y].CompareTo(rests[x]) : x.CompareTo(y);
    }
}
