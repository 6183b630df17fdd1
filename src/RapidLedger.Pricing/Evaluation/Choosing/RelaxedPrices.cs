using System.Runtime.CompilerServices;

namespace RapidLedger.Pricing;

/// <summary>
/// Computes prices that no choice of the parts committed so far leaves higher: the relaxation that bounds what further parts can take.
/// <para>In: the runs of a sheet; parts, probed one after the other, each committed or counted as a sum. Out: what each could take at the
/// most at these prices (<see cref="Probe"/>), and what all units come to (<see cref="Left"/>).</para>
/// <para>Why it holds: a part that lowers every selected unit leaves each at a price that is known. One that picks units by price may pick
/// others in another choice; then the units that it could have picked form a group, of which only the sorted prices are known: in any
/// choice,
/// sorted alike, the k-th of them costs no less. So a group must be selected whole or not at all, else nothing is said
/// (<see cref="Splits"/>). Units lowered by the same parts keep their order, which keeps groups small.</para>
/// <para>Cost: a part costs a pass over the runs, one that picks a sort of those selected.</para>
/// </summary>
internal sealed class RelaxedPrices
{
    // So many are found by looking for the next; more of them by sorting.
    private const int FewToPick = 4;

    private const int MostGroups = 62;

    // In the place of a group, while it is found out which units are of the next one.
    private const int Joining = 63;

    // In the place of parts by which a unit was lowered: nobody knows by how much, and behind which others that leaves it.
    private const ulong Unknown = 1UL << 63;

    private int[] lines = [];
    private long[] counts = [];
    private long[] prices = [];

    // At the most: what they were to begin with.
    private long[] highest = [];
    private int[] groups = [];

    // The parts that lowered it and not all others: units of the same ones stay in the order in which they were.
    private ulong[] parts = [];

    // By group: the lowest of its prices.
    private readonly long[] lowestOf = new long[MostGroups + 1];
    private long[] keys = [];

    // What the part that was probed last lowers: the runs and by how much.
    private (int Place, long By)[] lowered = [];
    private int loweredCount;
    private int count;
    private int groupCount;
    private long units;
    private bool[]? picked;

    // The dearest down to this price, or the cheapest up to it, could be picked.
    private Pick pickedFirst;
    private long pickedUntil;
    private int pickedCount;
    private bool isEach;
    private ulong nextPart;
    private bool hasCommittedSum;
    private long probed;
    private Sheet sheet = null!;

    /// <summary>Whether what was probed for last is what the part takes at these prices, not only more than that.</summary>
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
        (sheet, groupCount, hasCommittedSum, nextPart) = (on, 0, false, 1);
        count = runs.Length;
        if (lines.Length < count)
            MakeRoom(count * 2);

        (Left, units) = (0, 0);
        parts.AsSpan(0, count).Clear();
        groups.AsSpan(0, count).Clear();
        for (var i = 0; i < runs.Length; i++)
        {
            (lines[i], counts[i], prices[i], highest[i]) = (runs[i].Line, runs[i].Count, runs[i].Price, runs[i].Price);
            units += runs[i].Count;
            Left += runs[i].Price * runs[i].Count;
        }
    }

    /// <summary>Goes on from where another one stands.</summary>
    public void Copy(RelaxedPrices other)
    {
        (sheet, count, units, Left, groupCount, hasCommittedSum, nextPart) = (
            other.sheet,
            other.count,
            other.units,
            other.Left,
            other.groupCount,
            other.hasCommittedSum,
            other.nextPart
        );
        if (lines.Length < count)
            MakeRoom(count * 2);
        other.lines.AsSpan(0, count).CopyTo(lines);
        other.counts.AsSpan(0, count).CopyTo(counts);
        other.prices.AsSpan(0, count).CopyTo(prices);
        other.highest.AsSpan(0, count).CopyTo(highest);
        other.groups.AsSpan(0, count).CopyTo(groups);
        other.parts.AsSpan(0, count).CopyTo(parts);
    }

    /// <summary>Asks a part what it could take at the most.</summary>
    /// <returns>The sum; null if nothing can be said unit by unit.</returns>
    public long? Probe(ReadyReward part, long dearest)
    {
        (picked, IsExact, isEach, probed, loweredCount) = (null, false, false, 0, 0);
        return part.LowerToBound(sheet, this, dearest) ? probed : null;
    }

    /// <summary>From here on prices are lowered by what was probed for last.</summary>
    public void Commit()
    {
        Left -= probed;
        if (picked is not null)
            Group();
        else if (!isEach || loweredCount < count)
            Mark();
        foreach (var (place, by) in lowered.AsSpan(0, loweredCount))
            prices[place] -= by;
    }

    /// <summary>From here on so much is taken, nobody knows from which units.</summary>
    public void CommitSum(long sum)
    {
        Left -= sum;
        hasCommittedSum = true;
    }

    /// <summary>Lowers what all units come to by a take, but by no more than is said.</summary>
    /// <returns>False where not all of them are selected.</returns>
    public bool LowerSum(SelectionTest selection, CartTake take, long most)
    {
        if (!SelectsAll(selection))
            return false;
        (IsExact, probed) = (true, Math.Min(most, take.From(Left)));
        return true;
    }

    /// <summary>Lowers the units of a run; each run once for a part.</summary>
    /// <param name="place">Which, of those whose <see cref="Lines"/> and <see cref="Prices"/> are told.</param>
    /// <param name="by">Each of them.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Lower(int place, long by)
    {
        lowered[loweredCount++] = (place, by);
        probed += by * counts[place];
    }

    /// <summary>Lowers each of the selected units by a take.</summary>
    /// <returns>False: nothing can be said of them, see <see cref="Splits"/>.</returns>
    public bool LowerEach(SelectionTest selection, CartTake take) => isEach = IsExact = LowerAny(selection, take);

    /// <summary>Lowers each of the selected units by a take, though it may be taken from only some of them.</summary>
    /// <returns>As with <see cref="LowerEach"/>.</returns>
    public bool LowerAny(SelectionTest selection, CartTake take)
    {
        var (selected, isAll) = (sheet.Selected(selection), SelectsAll(selection));
        if (!isAll && Splits(selected))
            return false;
        for (var i = 0; i < count; i++)
            if (isAll || selected[lines[i]])
                Lower(i, take.From(prices[i]));
        return true;
    }

    /// <summary>Lowers so many of the selected units, the cheapest or the dearest, by a take.</summary>
    /// <param name="selection">Which.</param>
    /// <param name="pick">Which of them first.</param>
    /// <param name="units">How many.</param>
    /// <param name="take">What is taken from each.</param>
    /// <param name="isHeld">Whether less may be taken from each, as what is taken from all is held to a most and spread.</param>
    /// <returns>As with <see cref="LowerEach"/>.</returns>
    public bool LowerFew(SelectionTest selection, Pick pick, long units, CartTake take, bool isHeld = false)
    {
        if (units >= sheet.Holds(selection).Units)
            return isHeld ? LowerAny(selection, take) : LowerEach(selection, take);
        if (units <= 0)
            return IsExact = true;
        var selected = sheet.Selected(selection);
        if (groupCount == MostGroups || Splits(selected))
            return false;
        var found = 0;
        var sign = pick == Pick.Cheapest ? 1 : -1;
        for (var i = 0; i < count; i++)
        {
            if (!selected[lines[i]])
                continue;
            if (prices[i] >= PlacedKey.Limit)
                return false;
            keys[found++] = PlacedKey.Of(sign * prices[i], i);
        }

        FindLowestOfGroups();
        (picked, pickedFirst, pickedCount, IsExact) = (selected, pick, 0, !isHeld);
        // So many units stand at that price or beyond it for certain.
        pickedUntil = pick == Pick.Cheapest ? long.MinValue : long.MaxValue;
        for (var next = 0; units > 0; next++)
        {
            if (next < FewToPick)
            {
                sheet.Work.Count((found - next) / 2);
                var least = next;
                for (var i = next + 1; i < found; i++)
                    if (keys[i] < keys[least])
                        least = i;
                (keys[next], keys[least]) = (keys[least], keys[next]);
            }
            else if (next == FewToPick)
            {
                sheet.Work.Count(8L * found);
                keys.AsSpan(next, found - next).Sort();
            }

            var place = PlacedKey.PlaceOf(keys[next]);
            if (counts[place] > units)
                Split(place, units);
            Lower(place, take.From(prices[place]));
            units -= counts[place];
            pickedUntil = pick == Pick.Cheapest ? Math.Max(pickedUntil, highest[place]) : Math.Min(pickedUntil, LowestOf(place));
            pickedCount = next + 1;
        }

        return true;
    }

    /// <summary>
    /// Whether of units of which only the order is known some are selected and others not: then nothing can be said of those that are.
    /// </summary>
    /// <param name="selected">By line.</param>
    public bool Splits(ReadOnlySpan<bool> selected)
    {
        if (groupCount == 0)
            return false;
        ulong some = 0,
            others = 0;
        for (var i = 0; i < count; i++)
        {
            if (selected[lines[i]])
                some |= 1UL << groups[i];
            else
                others |= 1UL << groups[i];
        }

        return (some & others & ~1UL) != 0;
    }

    // Of all that could be picked, and of those whose order alone was known with one of them, only the order is known from here on.
    private void Group()
    {
        sheet.Work.Count(3L * count);
        var found = keys.AsSpan(0, pickedCount);
        var (every, any, line, price) = (ulong.MaxValue, 0UL, 0, highest[PlacedKey.PlaceOf(found[0])]);
        foreach (var key in found)
        {
            var place = PlacedKey.PlaceOf(key);
            (every, any, line) = (every & parts[place], any | parts[place], Math.Max(line, lines[place]));
            price = pickedFirst == Pick.Cheapest ? Math.Max(price, highest[place]) : Math.Min(price, highest[place]);
        }

        every &= ~Unknown;
        ulong joining = 0;
        for (var i = 0; i < count; i++)
            if (picked![lines[i]] && CouldBe(i))
                joining |= Join(i);
        foreach (var key in found)
            joining |= Join(PlacedKey.PlaceOf(key));
        groupCount++;
        for (var i = 0; i < count; i++)
            if ((joining & (1UL << groups[i])) != 0)
                (groups[i], parts[i]) = (groupCount, parts[i] | Unknown);

        // Not where its price cannot come up to theirs; nor where it stood behind all that were found and they were lowered by all that
        // lowered
        // it, or it by all that lowered them. Where nobody knows from which units some was taken, any could be.
        bool CouldBe(int i) =>
            hasCommittedSum
            || (
                pickedFirst == Pick.Cheapest
                    ? LowestOf(i) <= pickedUntil && (lines[i] < line || highest[i] < price || (parts[i] & ~every) != 0)
                    : highest[i] >= pickedUntil && (lines[i] < line || highest[i] > price || (any & (~parts[i] | Unknown)) != 0)
            );
    }

    // Those of a group with all of it.
    private ulong Join(int place)
    {
        if (groups[place] == 0)
            groups[place] = Joining;
        return 1UL << groups[place];
    }

    private long LowestOf(int place) => groups[place] == 0 ? prices[place] : lowestOf[groups[place]];

    private void FindLowestOfGroups()
    {
        if (groupCount == 0)
            return;
        sheet.Work.Count(count);
        lowestOf.AsSpan(0, groupCount + 1).Fill(long.MaxValue);
        for (var i = 0; i < count; i++)
            lowestOf[groups[i]] = Math.Min(lowestOf[groups[i]], prices[i]);
    }

    // What was lowered, and not all of them alike.
    private void Mark()
    {
        var mark = isEach && nextPart < Unknown ? nextPart : Unknown;
        nextPart = mark == Unknown ? nextPart : nextPart << 1;
        foreach (var (place, _) in lowered.AsSpan(0, loweredCount))
            parts[place] |= mark;
    }

    private bool SelectsAll(SelectionTest selection) => sheet.Holds(selection).Units == units;

    // The first units of a run apart from its others.
    private void Split(int place, long units)
    {
        if (count == lines.Length)
            MakeRoom(count * 2);
        (lines[count], counts[count], prices[count], highest[count]) = (lines[place], counts[place] - units, prices[place], highest[place]);
        (groups[count], parts[count]) = (groups[place], parts[place]);
        counts[place] = units;
        count++;
    }

    private void MakeRoom(int room)
    {
        Array.Resize(ref lines, room);
        Array.Resize(ref counts, room);
        Array.Resize(ref prices, room);
        Array.Resize(ref highest, room);
        Array.Resize(ref lowered, room);
        Array.Resize(ref groups, room);
        Array.Resize(ref parts, room);
        Array.Resize(ref keys, room);
    }
}
