namespace RapidLedger.Pricing;

/// <summary>Carts in which promotions of a rulebook were seen to apply together, kept for the pairs asked for next.</summary>
internal sealed class SeenCarts
{
    private readonly Dictionary<(string, string), Witness> smallest = [];
    private readonly Dictionary<string, Witness> widest = new(StringComparer.Ordinal);

    /// <summary>Of each pair seen together, the cart with fewest units.</summary>
    public IReadOnlyCollection<Witness> Smallest => smallest.Values;

    /// <summary>Of a pair, the cart with fewest units; null: it was not seen together.</summary>
    public Witness? SmallestOf(string one, string other) => smallest.GetValueOrDefault(Meeting.KeyOf(one, other));

    /// <summary>The cart in which most apply beside a promotion, of several that with fewest units; null: it was seen with none.</summary>
    public Witness? WidestOf(string id) => widest.GetValueOrDefault(id);

    /// <summary>Keeps what is smaller or wider than what is known.</summary>
    public void Add(Witness witness)
    {
        var applied = witness.Priced.Applied;
        if (applied.Count < 2)
            return;
        for (var one = 0; one < applied.Count; one++)
        {
            var id = applied[one].Promotion.Id;
            if (
                !widest.TryGetValue(id, out var wide)
                || (wide.Priced.Applied.Count, -wide.Units).CompareTo((applied.Count, -witness.Units)) < 0
            )
                widest[id] = witness;
            for (var other = one + 1; other < applied.Count; other++)
            {
                var key = Meeting.KeyOf(id, applied[other].Promotion.Id);
                if (!smallest.TryGetValue(key, out var known) || known.Units > witness.Units)
                    smallest[key] = witness;
            }
        }
    }
}
