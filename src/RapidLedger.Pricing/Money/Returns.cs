namespace RapidLedger.Pricing;

/// <summary>What comes back with units that are given back: each its even share of what its line cost.</summary>
public static class Returns
{
    /// <summary>The share of some units of a line, by the largest remainder: the earlier units have one minor unit more.</summary>
    /// <param name="net">What the line cost, in minor units.</param>
    /// <param name="quantity">Its units, at least one.</param>
    /// <param name="from">How many were given back before.</param>
    /// <param name="count">How many are given back now.</param>
    public static long Share(long net, long quantity, long from, long count)
    {
        var (even, rest) = Math.DivRem(net, quantity);
        return (even * count) + Math.Clamp(rest - from, 0, count);
    }

    /// <summary>
    /// Of what has come back so far, the part that goes back to credits: as these had paid, rounded down until all is back.
    /// </summary>
    /// <param name="returned">What has come back in all.</param>
    /// <param name="total">What the order came to.</param>
    /// <param name="credit">What credits paid of it.</param>
    public static long ToCredit(long returned, long total, long credit) => total == 0 ? 0 : (long)((Int128)returned * credit / total);

    /// <summary>Of that, the part of one card: what paid last comes back first.</summary>
    /// <param name="returned">What has come back in all.</param>
    /// <param name="total">What the order came to.</param>
    /// <param name="credit">What credits paid of it.</param>
    /// <param name="paid">What each card paid, in the order in which they did.</param>
    /// <param name="place">Which of them.</param>
    public static long ToCard(long returned, long total, long credit, IReadOnlyList<long> paid, int place)
    {
        var toCards = ToCredit(returned, total, credit);
        for (var later = paid.Count - 1; later > place; later--)
            toCards -= Math.Min(toCards, paid[later]);
        return Math.Min(toCards, paid[place]);
    }
}
