using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>
/// Computes, of all ways to fill slots, the first of least sum above a price: a subset sum problem with slots (Bellman 1957; Kellerer,
/// Pferschy and Pisinger, Knapsack Problems, 2004, chapter 4).
/// <para>In: units and prices of each run, which runs may stand in which slot, the needs, the price. Out: units of each run; or that it is
/// too
/// large for a table (<see cref="TryFind"/>).</para>
/// <para>How: dynamic programming from the last run back over states of remaining needs, a bit for each sum, so that a run is a shift of
/// words. Only every so manieth table is kept, those between are worked out again when they are needed. Of the fillings of that sum the
/// first
/// is found by settling slot by slot the greatest number of units of each run in turn for which the tables still reach the sum.</para>
/// <para>Cost: states times words times units times slots, once for the sum and some three times for each slot.</para>
/// </summary>
internal sealed class SubsetSum
{
    // Sixteen megabytes.
    private const long MostWords = 1 << 21;

    // So many words are looked at in the time of a unit of work.
    private const int WordsAtOnce = 6;

    private readonly int[] capacity;
    private readonly bool[] allowed;
    private readonly int[] needs;
    private readonly int[] strides;
    private readonly int states;
    private readonly int words;
    private readonly int[] values;

    // Slot after slot, how many units of each run are settled to stand in it; -1: open.
    private readonly int[] settled;
    private readonly WorkBudget work;

    // By place: after the runs before it, for each state of remaining needs the sums that the others can fill it for. Of every first
    // place of a block, and of those of one block.
    private readonly int block;
    private readonly ulong[] kept;
    private readonly ulong[] within;
    private int loaded = -1;

    private SubsetSum(int[] capacity, bool[] allowed, int[] needs, int[] strides, int states, int words, int[] values, WorkBudget work)
    {
        (this.capacity, this.allowed, this.needs, this.strides, this.states, this.words, this.values, this.work) = (
            capacity,
            allowed,
            needs,
            strides,
            states,
            words,
            values,
            work
        );
        settled = new int[allowed.Length];
        Array.Fill(settled, -1);
        block = BlockOf(capacity.Length);
        kept = new ulong[(((capacity.Length + block - 1) / block) + 1) * Size];
        within = new ulong[(block + 1) * Size];
    }

    private int Size => states * words;

    private int Slots => needs.Length;

    private int Runs => capacity.Length;

    /// <summary>Finds the filling; null if no sum is above the price.</summary>
    /// <param name="capacity">Units of each run.</param>
    /// <param name="prices">Of each run.</param>
    /// <param name="allowed">Slot after slot, which runs may stand in it.</param>
    /// <param name="needs">How many units each slot needs; there is a filling of no more than the price.</param>
    /// <param name="price">What the sum must be above.</param>
    /// <param name="mostWork">The most work that this may be.</param>
    /// <param name="work">Counts it.</param>
    /// <param name="filling">How many units of each run stand in slots in the filling found.</param>
    /// <returns>Whether that is small enough to be worked out.</returns>
    public static bool TryFind(
        long[] capacity,
        long[] prices,
        bool[] allowed,
        long[] needs,
        long price,
        long mostWork,
        WorkBudget work,
        out int[]? filling
    )
    {
        filling = null;
        (allowed, needs) = Merged(allowed, needs, capacity.Length);
        var (slots, runs, units) = (needs.Length, capacity.Length, needs.Sum());
        // All sums differ by multiples of what prices differ by, from that of the cheapest price.
        var usable = Enumerable.Range(0, runs).Where(run => Enumerable.Range(0, slots).Any(slot => allowed[(slot * runs) + run])).ToArray();
        var (least, greatest) = (usable.Min(run => prices[run]), usable.Max(run => prices[run]));
        var unit = Differ(usable.Select(run => prices[run]));
        if (unit == 0)
            return true;
        // The least sum above the price is above it by less than two prices differ, for single exchanges lead from any filling to any.
        var first = Math.Max(0, ((price - (units * least)) / unit) + 1);
        var most = Math.Min(units * ((greatest - least) / unit), first + ((greatest - least) / unit));
        if (most < first)
            return true;
        Int128 states = 1;
        foreach (var need in needs)
            states = Int128.Min(MostWords + 1, states * (need + 1));
        var (words, copies) = ((most / 64) + 1, usable.Sum(run => Math.Min(units, capacity[run])));
        // The tables are filled once to find the sum, and for each slot some three times to settle its units.
        var tables = (2 * (runs / BlockOf(runs))) + BlockOf(runs) + 4;
        if (states * words * tables > MostWords || states * words * copies * slots * (1 + (3 * slots)) / WordsAtOnce > mostWork)
            return false;
        var strides = new int[slots];
        for (int slot = 0, stride = 1; slot < slots; stride *= (int)needs[slot++] + 1)
            strides[slot] = stride;
        var sums = new SubsetSum(
            [.. capacity.Select(count => (int)Math.Min(units, count))],
            allowed,
            [.. needs.Select(need => (int)need)],
            strides,
            (int)states,
            (int)words,
            [.. Enumerable.Range(0, runs).Select(run => usable.Contains(run) ? (int)((prices[run] - least) / unit) : 0)],
            work
        );
        if (!sums.Refill())
            return false;
        var wanted = sums.FirstFrom((int)first);
        if (wanted < 0)
            return true;
        filling = sums.FirstFilling(wanted);
        return filling is not null;
    }

    private static int BlockOf(int runs)
    {
        var block = 1;
        while (block * block < runs)
            block++;
        return block;
    }

    /// <summary>What all differences between prices are multiples of; 0 if there are none.</summary>
    public static long Differ(IEnumerable<long> prices)
    {
        var (first, common) = (prices.First(), BigInteger.Zero);
        foreach (var price in prices)
            common = BigInteger.GreatestCommonDivisor(common, price - first);
        return (long)common;
    }

    /// <summary>
    /// Slots one after the other that the same units may stand in are one: its first units are those of the first of them, then of the
    /// next.
    /// </summary>
    public static (bool[] Allowed, long[] Needs) Merged(bool[] allowed, long[] needs, int runs)
    {
        var (rows, sums) = (new List<bool>(), new List<long>());
        for (var slot = 0; slot < needs.Length; slot++)
        {
            var row = allowed.AsSpan(slot * runs, runs);
            if (slot > 0 && row.SequenceEqual(allowed.AsSpan((slot - 1) * runs, runs)))
            {
                sums[^1] += needs[slot];
                continue;
            }

            rows.AddRange(row);
            sums.Add(needs[slot]);
        }

        return ([.. rows], [.. sums]);
    }

    private Span<ulong> At(Span<ulong> tables, int place, int state) => tables.Slice(((place * states) + state) * words, words);

    // The place of the first sum that all needs can be filled for, from some sum on; -1 if none.
    private int FirstFrom(int sum)
    {
        var all = At(kept, 0, states - 1);
        for (var at = sum; at < words * 64; at++)
            if ((all[at >> 6] >> (at & 63) & 1) != 0)
                return at;
        return -1;
    }

    // False: there is no work left for it.
    private bool Refill()
    {
        loaded = -1;
        var last = (Runs + block - 1) / block;
        var table = new ulong[Size];
        At(table, 0, 0)[0] = 1;
        table.CopyTo(kept, last * Size);
        for (var run = Runs - 1; run >= 0; run--)
        {
            if (work.IsOver)
                return false;
            Distribute(table, run, forward: false);
            if (run % block == 0)
                table.CopyTo(kept, run / block * Size);
        }

        return true;
    }

    /// <summary>The table of the runs from a place on.</summary>
    private Span<ulong> After(int place)
    {
        var (number, first) = (place / block, place / block * block);
        if (place % block == 0)
            return kept.AsSpan(number * Size, Size);
        if (loaded != number)
        {
            var end = Math.Min(first + block, Runs);
            kept.AsSpan(((end + block - 1) / block) * Size, Size).CopyTo(within.AsSpan((end - first) * Size));
            for (var run = end - 1; run > first; run--)
            {
                within.AsSpan((run + 1 - first) * Size, Size).CopyTo(within.AsSpan((run - first) * Size));
                Distribute(within.AsSpan((run - first) * Size, Size), run, forward: false);
            }

            loaded = number;
        }

        return within.AsSpan((place - first) * Size, Size);
    }

    private int[]? FirstFilling(int wanted)
    {
        var (now, next) = (new ulong[states * words], new ulong[states * words]);
        for (var slot = 0; slot < Slots; slot++)
        {
            // What is settled for the slots before it narrows what the others can still be.
            if (slot > 0 && !Refill())
                return null;
            Array.Clear(now);
            At(now, 0, states - 1)[wanted >> 6] = 1UL << (wanted & 63);
            for (var run = 0; run < Runs; run++)
            {
                var place = (slot * Runs) + run;
                for (settled[place] = allowed[place] ? Math.Min(capacity[run], needs[slot]) : 0; settled[place] >= 0; settled[place]--)
                {
                    now.CopyTo(next, 0);
                    if (capacity[run] < Settled(run))
                        continue;
                    Distribute(next, run, forward: true);
                    if (Keep(next, After(run + 1)))
                        break;
                }

                (now, next) = (next, now);
            }
        }

        return [.. Enumerable.Range(0, Runs).Select(Settled)];
    }

    private int Settled(int run)
    {
        var units = 0;
        for (var slot = 0; slot < Slots; slot++)
            units += Math.Max(0, settled[(slot * Runs) + run]);
        return units;
    }

    private static bool Keep(Span<ulong> table, ReadOnlySpan<ulong> possible)
    {
        ulong any = 0;
        for (var i = 0; i < table.Length; i++)
            any |= table[i] &= possible[i];
        return any != 0;
    }

    /// <summary>
    /// Units of a run go to slots: as many as are settled, and of the rest any number to those that are open. Forward: needs and sums
    /// that remain become smaller by them. Else those that can be filled become larger.
    /// </summary>
    private void Distribute(Span<ulong> table, int run, bool forward)
    {
        var open = capacity[run] - Settled(run);
        work.Count((long)states * words * Math.Max(1, open) / WordsAtOnce);
        for (var slot = 0; slot < Slots; slot++)
        for (var unit = 0; unit < settled[(slot * Runs) + run]; unit++)
            Move(table, run, [slot], forward, keep: false);
        Span<int> slots = stackalloc int[Slots];
        var count = 0;
        for (var slot = 0; slot < Slots; slot++)
            if (allowed[(slot * Runs) + run] && settled[(slot * Runs) + run] < 0)
                slots[count++] = slot;
        for (var unit = 0; unit < open && count > 0; unit++)
            Move(table, run, slots[..count], forward, keep: true);
    }

    // One unit goes to one of the slots, or where that is kept to none. In an order in which no state is read after it was written.
    private void Move(Span<ulong> table, int run, ReadOnlySpan<int> slots, bool forward, bool keep)
    {
        for (var at = 0; at < states; at++)
        {
            var state = forward ? at : states - 1 - at;
            var to = At(table, 0, state);
            if (!keep)
                to.Clear();
            foreach (var slot in slots)
            {
                var need = state / strides[slot] % (needs[slot] + 1);
                if (forward ? need == needs[slot] : need == 0)
                    continue;
                var from = At(table, 0, forward ? state + strides[slot] : state - strides[slot]);
                if (forward)
                    ShiftDown(from, to, values[run]);
                else
                    ShiftUp(from, to, values[run]);
            }
        }
    }

    private static void ShiftUp(ReadOnlySpan<ulong> from, Span<ulong> to, int by)
    {
        var (whole, part) = (by >> 6, by & 63);
        if (whole >= to.Length)
            return;
        var moved = from[..^whole];
        var into = to[whole..];
        if (part == 0)
        {
            Add(moved, 0, moved, 0, into);
            return;
        }

        // Each word gets the rest of one and what runs over from the one before it.
        into[0] |= moved[0] << part;
        Add(moved[1..], part, moved[..^1], 64 - part, into[1..]);
    }

    private static void ShiftDown(ReadOnlySpan<ulong> from, Span<ulong> to, int by)
    {
        var (whole, part) = (by >> 6, by & 63);
        if (whole >= to.Length)
            return;
        var moved = from[whole..];
        var into = to[..^whole];
        if (part == 0)
        {
            Add(moved, 0, moved, 0, into);
            return;
        }

        into[^1] |= moved[^1] >> part;
        Add(moved[1..], 64 - part, moved[..^1], part, into[..^1]);
    }

    // Word by word: one shifted up and another shifted down are added to what is there, a vector at a time.
    private static void Add(ReadOnlySpan<ulong> up, int byUp, ReadOnlySpan<ulong> down, int byDown, Span<ulong> to)
    {
        var i = 0;
        for (; i <= to.Length - Vector<ulong>.Count; i += Vector<ulong>.Count)
            (new Vector<ulong>(to[i..]) | (new Vector<ulong>(up[i..]) << byUp) | (new Vector<ulong>(down[i..]) >>> byDown)).CopyTo(to[i..]);
        for (; i < to.Length; i++)
            to[i] |= (up[i] << byUp) | (down[i] >> byDown);
    }
}
