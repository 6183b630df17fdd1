namespace RapidLedger.Pricing;

/// <summary>
/// Computes the dearest or the cheapest units that fill so many sets, where it does not matter in which slot a unit stands.
/// <para>Why a greedy walk finds them: units that can stand in slots together are the independent sets of a transversal matroid (Edmonds
/// and
/// Fulkerson 1965), on which greedy is optimal (Edmonds 1971). Whether a unit still fits is told by Hall's theorem (1935) over the subsets
/// of the slots.</para>
/// <para>Cost: runs times subsets of at most <see cref="MostSlots"/> slots. Used by one sheet at a time.</para>
/// </summary>
internal sealed class TransversalGreedy
{
    /// <summary>Up to so many slots; their subsets are walked through.</summary>
    public const int MostSlots = 6;

    private readonly List<int> order = [];
    private readonly long[] used = new long[1 << MostSlots];
    private int[] taken = [];
    private Sheet sheet = null!;
    private Layout layout = null!;

    /// <summary>
    /// Whether the latest filling could have taken no other units for the same sum: none of another run at the price of those left.
    /// </summary>
    public bool IsUnique
    {
        get
        {
            sheet.Work.Count(4L * order.Count);
            var runs = sheet.Runs;
            for (var at = 0; at < order.Count; at++)
            {
                // Equal prices stand beside each other.
                var run = runs[order[at]];
                if (taken[order[at]] == run.Count)
                    continue;
                if (at > 0 && runs[order[at - 1]].Price == run.Price)
                    return false;
                if (at + 1 < order.Count && runs[order[at + 1]].Price == run.Price)
                    return false;
            }

            return true;
        }
    }

    /// <summary>The price of the dearest unit that could stand in a slot; 0 if there is none.</summary>
    public long Dearest => order.Count > 0 ? sheet.Runs[order[0]].Price : 0;

    /// <summary>How many units of each run the latest filling took.</summary>
    public ReadOnlySpan<int> Taken => taken.AsSpan(0, sheet.Runs.Length);

    /// <summary>Begins with slots on the sheet as it stands.</summary>
    public void Open(Sheet on, Layout slots)
    {
        (sheet, layout) = (on, slots);
        var runs = sheet.Runs;
        if (taken.Length < runs.Length)
            taken = new int[runs.Length * 2];
        order.Clear();
        sheet.Work.Count(runs.Length);
        foreach (var i in sheet.ByPrice(Pick.Dearest))
            if (layout.Types[runs[i].Line] != 0)
                order.Add(i);
    }

    /// <summary>Fills so many sets with the dearest or the cheapest units; what they come to.</summary>
    /// <param name="sets">How many.</param>
    /// <param name="pick">Which units go first.</param>
    /// <param name="capacity">How many units of each run may be used; empty: all.</param>
    /// <returns>The sum, or -1 if so many sets cannot be filled.</returns>
    public long Fill(long sets, Pick pick, ReadOnlySpan<long> capacity = default)
    {
        var (needs, subsets) = (layout.Needs, layout.Needs.Length);
        sheet.Work.Count(order.Count + (subsets / 8 * order.Count));
        used.AsSpan(0, subsets).Clear();
        taken.AsSpan(0, sheet.Runs.Length).Clear();
        var runs = sheet.Runs;
        var (sum, missing) = (0L, sets * needs[subsets - 1]);
        for (var at = 0; at < order.Count && missing > 0; at++)
        {
            var i = order[pick == Pick.Dearest ? at : order.Count - 1 - at];
            var room = capacity.IsEmpty ? runs[i].Count : capacity[i];
            var type = layout.Types[runs[i].Line];
            for (var subset = type; subset < subsets; subset = (subset + 1) | type)
                room = Math.Min(room, (sets * needs[subset]) - used[subset]);
            if (room == 0)
                continue;
            for (var subset = type; subset < subsets; subset = (subset + 1) | type)
                used[subset] += room;
            taken[i] = (int)room;
            sum += runs[i].Price * room;
            missing -= room;
        }

        return missing == 0 ? sum : -1;
    }

    /// <summary>What does not change with prices, for one cart.</summary>
    /// <param name="Types">By line the slots that its units may stand in, as bits.</param>
    /// <param name="Needs">By subset of the slots the units that one set needs.</param>
    /// <param name="Most">The most sets that can be filled.</param>
    public sealed record Layout(int[] Types, int[] Needs, long Most)
    {
        /// <summary>Of at most <see cref="MostSlots"/> slots.</summary>
        public static Layout Of(Sheet sheet, ReadySlot[] slots)
        {
            var (types, needs) = (new int[sheet.Cart.Lines], new int[1 << slots.Length]);
            var supply = new long[needs.Length];
            for (var slot = 0; slot < slots.Length; slot++)
            {
                var selected = sheet.Selected(slots[slot].Of);
                for (var line = 0; line < types.Length; line++)
                    if (selected[line])
                        types[line] |= 1 << slot;
                for (var subset = 0; subset < needs.Length; subset++)
                    if ((subset >> slot & 1) != 0)
                        needs[subset] = (int)Math.Min(int.MaxValue, needs[subset] + slots[slot].Quantity);
            }

            sheet.Work.Count((long)slots.Length * types.Length);
            var units = new long[needs.Length];
            for (var line = 0; line < types.Length; line++)
                units[types[line]] += sheet.Cart.Quantity(line);
            for (var subset = 1; subset < needs.Length; subset++)
            for (var type = 1; type < units.Length; type++)
                if ((subset & type) != 0)
                    supply[subset] += units[type];
            // Hall: as many as the slots of each subset have units for.
            var most = long.MaxValue;
            for (var subset = 1; subset < needs.Length; subset++)
                most = Math.Min(most, supply[subset] / needs[subset]);
            return new(types, needs, most);
        }
    }
}
