namespace RapidLedger.Pricing;

/// <summary>The places of runs by running price, ties in cart order; sorted when asked for after prices have changed.</summary>
/// <param name="runs">The runs.</param>
/// <param name="sign">1: the cheapest first, -1: the dearest.</param>
internal sealed class PriceOrder(List<Run> runs, int sign)
{
    private int[] places = [];
    private long[] keys = [];
    private bool isSorted;

    /// <summary>The places; good until prices change.</summary>
    public ReadOnlySpan<int> Places(Work work)
    {
        if (!isSorted)
        {
            work.Count(8L * runs.Count);
            Sort();
        }

        return places.AsSpan(0, runs.Count);
    }

    /// <summary>Says that prices have changed.</summary>
    public void Changed() => isSorted = false;

    private void Sort()
    {
        if (places.Length < runs.Count) (places, keys) = (new int[runs.Count * 2], new long[runs.Count * 2]);
        var ordered = places.AsSpan(0, runs.Count);
        var packed = keys.AsSpan(0, runs.Count);
        var fits = runs.Count < PlacedKey.MostPlaces;
        for (var i = 0; i < runs.Count; i++)
        {
            packed[i] = PlacedKey.Of(sign * runs[i].Price, i);
            ordered[i] = i;
            fits &= runs[i].Price < PlacedKey.Limit;
        }

        if (fits)
        {
            packed.Sort();
            for (var i = 0; i < ordered.Length; i++) ordered[i] = PlacedKey.PlaceOf(packed[i]);
        }
        else
        {
            // The place breaks ties, so an unstable sort gives the stable order.
            ordered.Sort((x, y) => runs[x].Price != runs[y].Price ? sign * runs[x].Price.CompareTo(runs[y].Price) : x.CompareTo(y));
        }

        isSorted = true;
    }
}
