namespace RapidLedger.Pricing;

/// <summary>
/// What running prices can come down to, whatever is chosen: unit by unit; or, among units of which a part has picked some by price, one for
/// one in some order, for which of them it picks depends on what was chosen before it. Every choice leaves the units, so paired, at no less.
/// </summary>
internal sealed class LowestPrices
{
    // So many are found by looking for the next; more of them by sorting.
    private const int FewToPick = 4;

    private const int MostGroups = 63;

    private int[] lines = [];
    private long[] counts = [];
    private long[] prices = [];
    private int[] groups = [];
    private long[] keys = [];
    // What the part that was asked last lowers: the runs and by how much.
    private (int Place, long By)[] lowered = [];
    private int loweredCount;
    private int count;
    private int groupCount;
    private long units;
    private bool[]? picked;
    private long asked;
    private Sheet sheet = null!;

    /// <summary>Whether what was asked for last is what the part takes at these prices, not only more than that.</summary>
    public bool IsExact { get; private set; }

    /// <summary>What all units come to at the lowest.</summary>
    public long Left { get; private set; }

    /// <summary>Of each run, or part of one, the line.</summary>
    public ReadOnlySpan<int> Lines => lines.AsSpan(0, count);

    /// <summary>Of each, the lowest price.</summary>
    public ReadOnlySpan<long> Prices => prices.AsSpan(0, count);

    /// <summary>Begins with runs as they stand.</summary>
    public void Open(Sheet on, ReadOnlySpan<Run> runs)
    {
        (sheet, groupCount) = (on, 0);
        count = runs.Length;
        if (lines.Length < count) MakeRoom(count * 2);

        (Left, units) = (0, 0);
        for (var i = 0; i < runs.Length; i++)
        {
            (lines[i], counts[i], prices[i]) = (runs[i].Line, runs[i].Count, runs[i].Price);
            units += runs[i].Count;
            Left += runs[i].Price * runs[i].Count;
        }
    }

    /// <summary>Asks a part what it could take at the most.</summary>
    /// <returns>The sum; null if nothing can be said unit by unit.</returns>
    public long? Ask(ReadyReward part, long dearest)
    {
        (picked, IsExact, asked, loweredCount) = (null, false, 0, 0);
        return part.LowerMost(sheet, this, dearest) ? asked : null;
    }

    /// <summary>From here on prices are lowered by what was asked for last.</summary>
    public void Accept()
    {
        Left -= asked;
        foreach (var (place, by) in lowered.AsSpan(0, loweredCount)) prices[place] -= by;
        if (picked is null) return;
        if (groupCount == 0) groups.AsSpan(0, count).Clear();
        groupCount++;
        for (var i = 0; i < count; i++) if (picked[lines[i]]) groups[i] = groupCount;
    }

    /// <summary>From here on so much is taken, nobody knows from which units.</summary>
    public void Apart(long sum) => Left -= sum;

    /// <summary>Lowers what all units come to by a take, but by no more than is said.</summary>
    /// <returns>False where not all of them are selected.</returns>
    public bool LowerSum(SelectionTest selection, CartTake take, long most)
    {
        if (!SelectsAll(selection)) return false;
        (IsExact, asked) = (true, Math.Min(most, take.From(Left)));
        return true;
    }

    /// <summary>Lowers the units of a run; each run once for a part.</summary>
    /// <param name="place">Which, of those whose <see cref="Lines"/> and <see cref="Prices"/> are told.</param>
    /// <param name="by">Each of them.</param>
    public void Lower(int place, long by)
    {
        lowered[loweredCount++] = (place, by);
        asked += by * counts[place];
    }

    /// <summary>Lowers each of the selected units by a take.</summary>
    /// <returns>False: nothing can be said of them, see <see cref="Splits"/>.</returns>
    public bool LowerEach(SelectionTest selection, CartTake take) => IsExact = LowerAny(selection, take);

    /// <summary>Lowers each of the selected units by a take, though it may be taken from only some of them.</summary>
    /// <returns>As with <see cref="LowerEach"/>.</returns>
    public bool LowerAny(SelectionTest selection, CartTake take)
    {
        var selected = sheet.Selected(selection);
        if (!SelectsAll(selection) && Splits(selected)) return false;
        for (var i = 0; i < count; i++) if (selected[lines[i]]) Lower(i, take.From(prices[i]));
        return true;
    }

    /// <summary>Lowers so many of the selected units, the cheapest or the dearest, by a take.</summary>
    /// <returns>As with <see cref="LowerEach"/>.</returns>
    public bool LowerFew(SelectionTest selection, Pick pick, long units, CartTake take)
    {
        if (units >= sheet.Holds(selection).Units) return LowerEach(selection, take);
        var selected = sheet.Selected(selection);
        if (groupCount == MostGroups || Splits(selected)) return false;
        var found = 0;
        var sign = pick == Pick.Cheapest ? 1 : -1;
        for (var i = 0; i < count; i++)
        {
            if (!selected[lines[i]]) continue;
            if (prices[i] >= PlacedKey.Limit) return false;
            keys[found++] = PlacedKey.Of(sign * prices[i], i);
        }

        (picked, IsExact) = (selected, true);
        for (var next = 0; units > 0; next++)
        {
            if (next < FewToPick)
            {
                sheet.Work.Count((found - next) / 2);
                var least = next;
                for (var i = next + 1; i < found; i++) if (keys[i] < keys[least]) least = i;
                (keys[next], keys[least]) = (keys[least], keys[next]);
            }
            else if (next == FewToPick)
            {
                sheet.Work.Count(8L * found);
                keys.AsSpan(next, found - next).Sort();
            }

            var place = PlacedKey.PlaceOf(keys[next]);
            if (counts[place] > units) Split(place, units);
            Lower(place, take.From(prices[place]));
            units -= counts[place];
        }

        return true;
    }

    /// <summary>
    /// Whether of units of which only the order is known some are selected and others not: then nothing can be said of those that are.
    /// </summary>
    /// <param name="selected">By line.</param>
    public bool Splits(ReadOnlySpan<bool> selected)
    {
        if (groupCount == 0) return false;
        ulong some = 0, others = 0;
        for (var i = 0; i < count; i++)
        {
            if (selected[lines[i]]) some |= 1UL << groups[i];
            else others |= 1UL << groups[i];
        }

        return (some & others & ~1UL) != 0;
    }

    private bool SelectsAll(SelectionTest selection) => sheet.Holds(selection).Units == units;

    // The first units of a run apart from its others.
    private void Split(int place, long units)
    {
        if (count == lines.Length) MakeRoom(count * 2);
        (lines[count], counts[count], prices[count], groups[count]) = (lines[place], counts[place] - units, prices[place], groups[place]);
        counts[place] = units;
        count++;
    }

    private void MakeRoom(int room)
    {
        Array.Resize(ref lines, room);
        Array.Resize(ref counts, room);
        Array.Resize(ref prices, room);
        Array.Resize(ref lowered, room);
        Array.Resize(ref groups, room);
        Array.Resize(ref keys, room);
    }
}
