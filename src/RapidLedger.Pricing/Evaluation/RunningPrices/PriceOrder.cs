namespace RapidLedger.Pricing;

/// <summary>The places of runs by running price, ties in cart order; sorted when asked for after prices have changed.</summary>
/// <param name="runs">The runs.</param>
/// <param name="sign">1: the cheapest first, -1: the dearest.</param>
internal sealed class PriceOrder(List<Run> runs, int sign)
{
    // A sort costs about so many moves for each.
    private const int MovesEach = 4;

    private int[] places = [];
    private long[] keys = [];
    private bool isSorted;

    // How many stand in the places, in the order that they had last.
    private int sorted;

    /// <summary>The places; good until prices change.</summary>
    public ReadOnlySpan<int> Places(WorkBudget work)
    {
        if (!isSorted)
        {
            work.Count(3L * runs.Count);
            Sort();
        }

        return places.AsSpan(0, runs.Count);
    }

    /// <summary>Says that prices have changed.</summary>
    public void Changed() => isSorted = false;

    private void Sort()
    {
        if (places.Length < runs.Count)
            (places, keys) = (new int[runs.Count * 2], new long[runs.Count * 2]);
        var ordered = places.AsSpan(0, runs.Count);
        var packed = keys.AsSpan(0, runs.Count);
        var fits = runs.Count < PlacedKey.MostPlaces;
        // As they stood before, if they are as many: as a rule few have moved.
        if (sorted != runs.Count)
            for (var i = 0; i < ordered.Length; i++)
                ordered[i] = i;
        for (var i = 0; i < ordered.Length; i++)
        {
            var price = runs[ordered[i]].Price;
            packed[i] = PlacedKey.Of(sign * price, ordered[i]);
            fits &= price < PlacedKey.Limit;
        }

        if (fits)
        {
            if (!SortByInsertion(packed))
                packed.Sort();
            for (var i = 0; i < ordered.Length; i++)
                ordered[i] = PlacedKey.PlaceOf(packed[i]);
        }
        else
        {
            // The place breaks ties, so an unstable sort gives the stable order.
            ordered.Sort((x, y) => runs[x].Price != runs[y].Price ? sign * runs[x].Price.CompareTo(runs[y].Price) : x.CompareTo(y));
        }

        (isSorted, sorted) = (true, runs.Count);
    }

    // Given up, with the keys in any order, where too many have to move.
    private static bool SortByInsertion(Span<long> packed)
    {
        var moves = MovesEach * packed.Length;
        for (var i = 1; i < packed.Length; i++)
        {
            var (key, to) = (packed[i], i);
            for (; to > 0 && packed[to - 1] > key; to--)
                packed[to] = packed[to - 1];
            packed[to] = key;
            if ((moves -= i - to) < 0)
                return false;
        }

        return true;
    }
}
