using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>The places of runs by running price, ties in cart order; sorted when asked for after prices have changed.</summary>
/// <param name="runs">The runs.</param>
/// <param name="sign">1: the cheapest first, -1: the dearest.</param>
internal sealed class PriceOrder(List<Run> runs, int sign) : IComparer<int>
{
    private readonly List<int> places = [];
    private bool isSorted;

    /// <summary>The places; good until prices change.</summary>
    public ReadOnlySpan<int> Places
    {
        get
        {
            if (!isSorted)
            {
                places.Clear();
                for (var i = 0; i < runs.Count; i++) places.Add(i);
                places.Sort(this);
                isSorted = true;
            }

            return CollectionsMarshal.AsSpan(places);
        }
    }

    /// <summary>Says that prices have changed.</summary>
    public void Changed() => isSorted = false;

    /// <inheritdoc/>
    // The place breaks ties, so an unstable sort gives the stable order.
    public int Compare(int x, int y) => runs[x].Price != runs[y].Price ? sign * runs[x].Price.CompareTo(runs[y].Price) : x.CompareTo(y);
}
