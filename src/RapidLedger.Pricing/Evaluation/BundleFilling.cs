namespace RapidLedger.Pricing;

/// <summary>A way to fill so many sets.</summary>
internal sealed record FilledSets(SlotFlow Flow, long Sets, int Slots)
{
    public long UnitsOf(int run)
    {
        long units = 0;
        for (var slot = 0; slot < Slots; slot++) units += Flow[slot, run];
        return units;
    }
}

/// <summary>The filling of one bundle on one sheet.</summary>
internal sealed class BundleFilling
{
    // A reduction and a sum of prices in one number, to be compared in that order: sums stay below this.
    private static readonly Int128 Step = (Int128)1 << 56;

    // Up to so many sets they are added one by one; above, the last that pays is searched for.
    private const int FewSets = 48;

    // How many partial choices the search for the least sum above a price may look at.
    private const int MostTried = 4_000;

    private readonly ReadySlot[] slots;
    private readonly CartTake? whole;
    private readonly Repetition repeat;
    private readonly Pick fill;
    private readonly Sheet sheet;
    private readonly long[] capacity;
    private readonly bool[,] allowed;

    /// <param name="slots">What is to be filled.</param>
    /// <param name="whole">What is taken from a whole set; none: the slots have their own.</param>
    /// <param name="repeat">How many sets at the most.</param>
    /// <param name="fill">Which filling is asked for.</param>
    /// <param name="sheet">The units.</param>
    public BundleFilling(ReadySlot[] slots, CartTake? whole, Repetition repeat, Pick fill, Sheet sheet)
    {
        (this.slots, this.whole, this.repeat, this.fill, this.sheet) = (slots, whole, repeat, fill, sheet);
        capacity = new long[sheet.Runs.Length];
        allowed = new bool[slots.Length, sheet.Runs.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        {
            var selected = sheet.Selected(slots[slot].Of);
            for (var i = 0; i < capacity.Length; i++) allowed[slot, i] = selected[sheet.Runs[i].Line];
        }

        for (var i = 0; i < capacity.Length; i++) capacity[i] = sheet.Runs[i].Count;
    }

    // A slot without a take is paid in full.
    public CartTake TakeOf(int slot) => whole ?? slots[slot].Takes?[sheet.Cart.CurrencyNumber] ?? default;

    /// <summary>Whether what is taken depends on the sum of the sets, not on each unit.</summary>
    public bool ByWholeSum => whole is { Kind: not Take.Kind.Percent };

    /// <summary>The filling that the bundle asks for, or null if none takes anything off.</summary>
    public FilledSets? Solve()
    {
        var fitting = SetsThatCouldFit();
        if (fitting == 0) return null;
        if (fill == Pick.Dearest && fitting <= FewSets) return OneByOne(fitting);
        var most = MostSets(fitting);
        if (most == 0) return null;
        return fill == Pick.Dearest ? Dearest(most) : Cheapest(most);
    }

    public long Reduction(FilledSets solved)
    {
        long sum = 0, reduction = 0;
        for (var i = 0; i < capacity.Length; i++)
        {
            sum += sheet.Runs[i].Price * solved.UnitsOf(i);
            if (ByWholeSum) continue;
            for (var slot = 0; slot < slots.Length; slot++) reduction += TakeOf(slot).From(sheet.Runs[i].Price) * solved.Flow[slot, i];
        }

        if (!ByWholeSum) return reduction;
        return whole!.Value.Kind == Take.Kind.Amount ? Math.Min(sum, whole!.Value.Minor * solved.Sets) : Math.Max(0, sum - (whole!.Value.Minor * solved.Sets));
    }

    // Sets are added while they pay: the greatest reduction is concave in their number, so the first that does not is the end.
    private FilledSets? OneByOne(long most)
    {
        var flow = new SlotFlow(capacity, allowed, Costs(-1));
        var one = Needs(1);
        Int128 before = 0;
        long sets = 0;
        while (sets < most && flow.FillMore(one))
        {
            var reached = Reached(new(flow, sets + 1, slots.Length));
            if (reached < before)
            {
                flow.Fill(Needs(sets));
                break;
            }

            (before, sets) = (reached, sets + 1);
        }

        if (sets == 0) return null;
        // A set that could not be filled leaves units in slots.
        if (sets < most && !IsFull(flow, sets)) flow.Fill(Needs(sets));
        var solved = new FilledSets(flow, sets, slots.Length);
        if (Reduction(solved) == 0) return null;
        flow.PreferFirst();
        return solved;
    }

    private bool IsFull(SlotFlow flow, long sets)
    {
        for (var slot = 0; slot < slots.Length; slot++)
        {
            long units = 0;
            for (var i = 0; i < capacity.Length; i++) units += flow[slot, i];
            if (units != sets * slots[slot].Quantity) return false;
        }

        return true;
    }

    private FilledSets? Dearest(long most)
    {
        // The greatest reduction of k sets is concave in k (a linear programme in its right-hand side), so steps are told by their sign.
        var sets = !ByWholeSum || whole!.Value.Kind == Take.Kind.Price
            ? Last(most, k => Greatest(k) >= (k == 1 ? 0 : Greatest(k - 1)))
            : most;
        if (sets == 0 || Filled(sets, -1) is not { } solved || Reduction(solved) == 0) return null;
        solved.Flow.PreferFirst();
        return solved;
    }

    private FilledSets? Cheapest(long most)
    {
        var sets = Last(most, k => Greatest(k) > 0);
        if (sets == 0) return null;
        var solved = Filled(sets, 1)!;
        if (Reduction(solved) == 0)
            solved = ByWholeSum && whole!.Value.Kind == Take.Kind.Price ? LeastAbove(sets) : LeastWithOneLowered(sets);
        solved?.Flow.PreferFirst();
        return solved;
    }

    /// <summary>The greatest reduction of so many sets, or what they exceed their price by, below zero if they do not.</summary>
    private Int128 Greatest(long sets) => Reached(Filled(sets, -1)!);

    private Int128 Reached(FilledSets solved)
    {
        if (!ByWholeSum) return Reduction(solved);
        long sum = 0;
        for (var i = 0; i < capacity.Length; i++) sum += sheet.Runs[i].Price * solved.UnitsOf(i);
        return whole!.Value.Kind == Take.Kind.Amount ? Math.Min(sum, whole!.Value.Minor * solved.Sets) : sum - (whole!.Value.Minor * solved.Sets);
    }

    // By each slot for itself, and by all units together.
    private long SetsThatCouldFit()
    {
        var most = repeat.Of(capacity.Sum() / slots.Sum(slot => slot.Quantity));
        for (var slot = 0; slot < slots.Length; slot++) most = Math.Min(most, Units(slot) / slots[slot].Quantity);
        return most;
    }

    private long MostSets(long most)
    {
        var free = new Int128[slots.Length, capacity.Length];
        var flow = new SlotFlow(capacity, allowed, free);
        return flow.Fill(Needs(most)) ? most : Last(most, k => flow.Fill(Needs(k)));
    }

    private FilledSets? Filled(long sets, int sign)
    {
        var flow = new SlotFlow(capacity, allowed, Costs(sign));
        return flow.Fill(Needs(sets)) ? new(flow, sets, slots.Length) : null;
    }

    // Whole sums go by prices alone; others by what is taken from each unit, and then by prices.
    private Int128[,] Costs(int sign)
    {
        var costs = new Int128[slots.Length, capacity.Length];
        for (var slot = 0; slot < slots.Length; slot++)
            for (var i = 0; i < capacity.Length; i++)
                costs[slot, i] = sign * ((ByWholeSum ? 0 : TakeOf(slot).From(sheet.Runs[i].Price) * Step) + sheet.Runs[i].Price);
        return costs;
    }

    /// <summary>Of the fillings that lower at least one unit, the one that takes least: each unit in turn is made to be in.</summary>
    private FilledSets? LeastWithOneLowered(long sets)
    {
        FilledSets? best = null;
        var costs = Costs(1);
        for (var slot = 0; slot < slots.Length; slot++)
        {
            for (var i = 0; i < capacity.Length; i++)
            {
                var lowers = ByWholeSum ? sheet.Runs[i].Price : TakeOf(slot).From(sheet.Runs[i].Price);
                if (!allowed[slot, i] || lowers == 0) continue;
                long[] apart = [.. capacity, 1];
                apart[i]--;
                var flow = new SlotFlow(apart, Widened(slot), Widened(costs, slot, i));
                if (!flow.Fill(Needs(sets))) continue;
                var folded = Folded(flow, i);
                var solved = new FilledSets(folded, sets, slots.Length);
                if (Reduction(solved) > 0 && (best is null || folded.Cost < best.Flow.Cost)) best = solved;
            }
        }

        return best;
    }

    // One unit of a run set apart, which only one slot may take, at a cost that makes it be taken.
    private bool[,] Widened(int slot)
    {
        var wide = new bool[slots.Length, capacity.Length + 1];
        for (var s = 0; s < slots.Length; s++) for (var i = 0; i < capacity.Length; i++) wide[s, i] = allowed[s, i];
        wide[slot, capacity.Length] = true;
        return wide;
    }

    private Int128[,] Widened(Int128[,] costs, int slot, int run)
    {
        var wide = new Int128[slots.Length, capacity.Length + 1];
        for (var s = 0; s < slots.Length; s++) for (var i = 0; i < capacity.Length; i++) wide[s, i] = costs[s, i];
        wide[slot, capacity.Length] = costs[slot, run] - (Step * Step);
        return wide;
    }

    private SlotFlow Folded(SlotFlow wide, int run)
    {
        var needs = Needs(0);
        var fixedCapacity = new long[capacity.Length];
        var only = new bool[slots.Length, capacity.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        {
            for (var i = 0; i < capacity.Length; i++)
            {
                var count = wide[slot, i] + (i == run ? wide[slot, capacity.Length] : 0);
                needs[slot] += count;
                fixedCapacity[i] += count;
                only[slot, i] = allowed[slot, i];
            }
        }

        var flow = new SlotFlow(fixedCapacity, only, Costs(1));
        flow.Fill(needs);
        return flow;
    }

    /// <summary>
    /// The filling of least sum that exceeds the price of so many sets: a covering knapsack over the units, by branch and bound with
    /// the least and the greatest sum that a partial choice can still be filled to.
    /// </summary>
    private FilledSets? LeastAbove(long sets)
    {
        var price = whole!.Value.Minor * sets;
        var order = Enumerable.Range(0, capacity.Length).Where(i => Enumerable.Range(0, slots.Length).Any(slot => allowed[slot, i]))
            .OrderByDescending(i => sheet.Runs[i].Price).ToArray();
        var (best, bestSum, tried) = ((SlotFlow?)null, Int128.MaxValue, 0);
        Branch(0, [.. capacity]);
        return best is null ? null : new(best, sets, slots.Length);

        // Below the place all units are open; above it exactly as many as left in the capacity may be used.
        void Branch(int place, long[] left)
        {
            if (++tried > MostTried) return;
            var least = Fill(left, 1);
            var greatest = least is null ? null : Fill(left, -1);
            if (least is null || greatest is null || -greatest.Cost <= price || least.Cost >= bestSum) return;
            if (least.Cost > price)
            {
                (best, bestSum) = (least, least.Cost);
                return;
            }

            if (place == order.Length) return;
            // Fewest of the dearest first: what is left out can never come back below.
            for (long count = 0; count <= capacity[order[place]]; count++)
            {
                var next = (long[])left.Clone();
                next[order[place]] = count;
                Branch(place + 1, next);
            }
        }

        SlotFlow? Fill(long[] left, int sign)
        {
            var flow = new SlotFlow(left, allowed, Costs(sign));
            return flow.Fill(Needs(sets)) ? flow : null;
        }
    }

    private long[] Needs(long sets) => [.. slots.Select(slot => sets * slot.Quantity)];

    private long Units(int slot)
    {
        long units = 0;
        for (var i = 0; i < capacity.Length; i++) if (allowed[slot, i]) units += capacity[i];
        return units;
    }

    /// <summary>The last number from 1 to some most for which something holds that holds for all before it; 0 if for none.</summary>
    private static long Last(long most, Func<long, bool> holds)
    {
        long low = 0, high = most;
        while (low < high)
        {
            var middle = low + ((high - low + 1) / 2);
            if (holds(middle)) low = middle;
            else high = middle - 1;
        }

        return low;
    }
}
