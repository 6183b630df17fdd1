using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>A way to fill so many sets.</summary>
/// <param name="Units">How many units of each run stand in them.</param>
/// <param name="Flow">In which slots; none where that makes no difference.</param>
/// <param name="Sets">How many sets.</param>
internal sealed record FilledSets(int[] Units, ISlotFilling? Flow, long Sets)
{
    public static FilledSets Of(ISlotFilling flow, long sets, int slots, int runs)
    {
        var units = new int[runs];
        for (var slot = 0; slot < slots; slot++) for (var i = 0; i < runs; i++) units[i] += (int)flow[slot, i];
        return new(units, flow, sets);
    }
}

/// <summary>The filling of one bundle on one sheet.</summary>
internal sealed class BundleFilling
{
    // Up to so many sets they are added one by one; above, the last that pays is searched for.
    private const int FewSets = 48;

    // How many partial choices the search for the least sum above a price may look at.
    private const int MostTried = 4_000;

    // Costs hold a reduction times such a sum of prices: below it they fit in 64 bits, with room for a path through all slots.
    private const long SmallSum = 1L << 28;

    private readonly ReadySlot[] slots;
    private readonly CartTake? whole;
    private readonly Repetition repeat;
    private readonly Pick fill;
    private readonly Sheet sheet;
    private readonly bool anySlot;
    private readonly long goods;
    private long[]? capacity;
    private bool[,] allowed = null!;

    /// <param name="slots">What is to be filled.</param>
    /// <param name="whole">What is taken from a whole set; none: the slots have their own.</param>
    /// <param name="repeat">How many sets at the most.</param>
    /// <param name="fill">Which filling is asked for.</param>
    /// <param name="sheet">The units.</param>
    public BundleFilling(ReadySlot[] slots, CartTake? whole, Repetition repeat, Pick fill, Sheet sheet)
    {
        (this.slots, this.whole, this.repeat, this.fill, this.sheet) = (slots, whole, repeat, fill, sheet);
        anySlot = whole is not null && slots.Length <= WholeSets.MostSlots;
        goods = sheet.Sum();
        if (slots.Length <= WholeSets.MostSlots) sheet.Sets.Open(sheet, slots);
    }

    // A slot without a take is paid in full.
    public CartTake TakeOf(int slot) => whole ?? slots[slot].Takes?[sheet.Cart.CurrencyNumber] ?? default;

    /// <summary>Whether what is taken depends on the sum of the sets, not on each unit.</summary>
    public bool ByWholeSum => whole is { Kind: not Take.Kind.Percent };

    /// <summary>The filling that the bundle asks for, or null if none takes anything off.</summary>
    public FilledSets? Solve()
    {
        var most = MostSets();
        if (most == 0) return null;
        return fill == Pick.Dearest ? Dearest(most) : Cheapest(most);
    }

    public long Reduction(FilledSets solved)
    {
        long sum = 0, reduction = 0;
        for (var i = 0; i < solved.Units.Length; i++)
        {
            if (solved.Units[i] == 0) continue;
            var price = sheet.Runs[i].Price;
            sum += price * solved.Units[i];
            if (ByWholeSum) continue;
            if (solved.Flow is null) reduction += whole!.Value.From(price) * solved.Units[i];
            else for (var slot = 0; slot < slots.Length; slot++) reduction += TakeOf(slot).From(price) * solved.Flow[slot, i];
        }

        return ByWholeSum ? Math.Max(0, OfSum(sum, solved.Sets)) : reduction;
    }

    /// <summary>
    /// The most that any filling takes, whatever is asked for; never less than the truth, and no more than that where the slots have
    /// no takes of their own. Falls with prices.
    /// </summary>
    public long Most()
    {
        var most = MostSets();
        if (most == 0) return 0;
        if (!anySlot) return MostBySlots(most);
        if (ByWholeSum) return Math.Max(0, Reached(BestNumber(most)));
        sheet.Sets.Fill(most, Pick.Dearest);
        long sum = 0;
        for (var i = 0; i < sheet.Sets.Taken.Length; i++) if (sheet.Sets.Taken[i] > 0) sum += whole!.Value.From(sheet.Runs[i].Price) * sheet.Sets.Taken[i];
        return sum;
    }

    /// <summary>The most that the units of one set come to; 0 if none can be filled.</summary>
    public long DearestSet() => MostSets() == 0 ? 0 : anySlot ? sheet.Sets.Fill(1, Pick.Dearest) : SumOf(FlowOf(1, Pick.Dearest)!);

    private long OfSum(long sum, long sets) =>
        whole!.Value.Kind == Take.Kind.Amount ? Math.Min(sum, whole!.Value.Minor * sets) : sum - (whole!.Value.Minor * sets);

    // Each slot for itself, as if units could stand in several.
    private long MostBySlots(long most)
    {
        long bound = 0;
        for (var slot = 0; slot < slots.Length; slot++)
        {
            var (take, left) = (TakeOf(slot), most * slots[slot].Quantity);
            foreach (var i in sheet.ByPrice(slots[slot].Of, Pick.Dearest))
            {
                var count = Math.Min(left, sheet.Runs[i].Count);
                bound += take.From(sheet.Runs[i].Price) * count;
                left -= count;
                if (left == 0) break;
            }
        }

        return bound;
    }

    private FilledSets? Dearest(long most)
    {
        if (!anySlot && most <= FewSets) return OneByOne(most);
        return Filled(BestNumber(most), Pick.Dearest);
    }

    // The greatest reduction of k sets is concave in k (a linear programme in its right-hand side), so the first step down is the end.
    private long BestNumber(long most)
    {
        // What is taken from each unit or a fixed amount only grows with the sets, unless slots compete for units.
        if (whole is { Kind: not Take.Kind.Price }) return most;
        if (most > FewSets) return Last(most, k => k == 1 || Reached(k) >= Reached(k - 1));
        var (sets, before) = (1L, Reached(1));
        for (; sets < most; sets++)
        {
            var next = Reached(sets + 1);
            if (next < before) break;
            before = next;
        }

        return sets;
    }

    private FilledSets? Cheapest(long most)
    {
        var sets = Last(most, k => Reached(k) > 0);
        if (sets == 0) return null;
        if (Filled(sets, Pick.Cheapest) is { } solved) return solved;
        var found = ByWholeSum && whole!.Value.Kind == Take.Kind.Price ? LeastAbove(sets) : LeastWithOneLowered(sets);
        found?.PreferFirst();
        return found is null ? null : FilledSets.Of(found, sets, slots.Length, capacity!.Length);
    }

    // Sets are added while they pay, each to the flow of those before it.
    private FilledSets? OneByOne(long most)
    {
        var flow = NewFlow(Pick.Dearest);
        var one = Needs(1);
        long before = 0, sets = 0;
        while (sets < most && flow.FillMore(one))
        {
            var reached = Reduction(FilledSets.Of(flow, sets + 1, slots.Length, capacity!.Length));
            if (reached < before)
            {
                flow.Fill(Needs(sets));
                break;
            }

            (before, sets) = (reached, sets + 1);
        }

        if (sets == 0 || before == 0) return null;
        flow.PreferFirst();
        return FilledSets.Of(flow, sets, slots.Length, capacity!.Length);
    }

    /// <summary>The greatest reduction of so many sets, or what they exceed their price by, below zero if they do not.</summary>
    private long Reached(long sets)
    {
        if (anySlot && ByWholeSum) return OfSum(sheet.Sets.Fill(sets, Pick.Dearest), sets);
        if (ByWholeSum) return OfSum(SumOf(FlowOf(sets, Pick.Dearest)!), sets);
        return Reduction(FilledSets.Of(FlowOf(sets, Pick.Dearest)!, sets, slots.Length, capacity!.Length));
    }

    private long SumOf(ISlotFilling flow)
    {
        long sum = 0;
        for (var slot = 0; slot < slots.Length; slot++) for (var i = 0; i < capacity!.Length; i++) sum += flow[slot, i] * sheet.Runs[i].Price;
        return sum;
    }

    private long MostSets()
    {
        if (slots.Length <= WholeSets.MostSlots) return Math.Min(repeat.Of(long.MaxValue), sheet.Sets.Most());
        Ready();
        var most = repeat.Of(capacity!.Sum() / slots.Sum(slot => slot.Quantity));
        for (var slot = 0; slot < slots.Length; slot++) most = Math.Min(most, Units(slot) / slots[slot].Quantity);
        var flow = NewFlow(Pick.Dearest);
        return flow.Fill(Needs(most)) ? most : Last(most, k => flow.Fill(Needs(k)));
    }

    /// <summary>The dearest or cheapest filling of so many sets, the first of equal ones; null if it takes nothing off.</summary>
    private FilledSets? Filled(long sets, Pick pick)
    {
        if (anySlot)
        {
            sheet.Sets.Fill(sets, pick);
            var greedy = new FilledSets(sheet.Sets.Taken.ToArray(), null, sets);
            if (Reduction(greedy) == 0) return null;
            if (sheet.Sets.IsUnique) return greedy;
        }

        var flow = FlowOf(sets, pick)!;
        if (Reduction(FilledSets.Of(flow, sets, slots.Length, capacity!.Length)) == 0) return null;
        flow.PreferFirst();
        return FilledSets.Of(flow, sets, slots.Length, capacity!.Length);
    }

    private ISlotFilling? FlowOf(long sets, Pick pick)
    {
        var flow = NewFlow(pick);
        return flow.Fill(Needs(sets)) ? flow : null;
    }

    private ISlotFilling NewFlow(Pick pick)
    {
        Ready();
        return goods < SmallSum ? new SlotFlow<long>(capacity!, allowed, Costs<long>(pick)) : new SlotFlow<Int128>(capacity!, allowed, Costs<Int128>(pick));
    }

    private void Ready()
    {
        if (capacity is not null) return;
        capacity = new long[sheet.Runs.Length];
        allowed = new bool[slots.Length, capacity.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        {
            var selected = sheet.Selected(slots[slot].Of);
            for (var i = 0; i < capacity.Length; i++) allowed[slot, i] = selected[sheet.Runs[i].Line];
        }

        for (var i = 0; i < capacity.Length; i++) capacity[i] = sheet.Runs[i].Count;
    }

    // Whole sums go by prices alone; others by what is taken from each unit, and then by prices.
    private TCost[,] Costs<TCost>(Pick pick)
        where TCost : INumber<TCost>
    {
        var (step, sign) = (TCost.CreateChecked(goods + 1), pick == Pick.Dearest ? -TCost.One : TCost.One);
        var costs = new TCost[slots.Length, capacity!.Length];
        for (var slot = 0; slot < slots.Length; slot++)
            for (var i = 0; i < capacity.Length; i++)
                costs[slot, i] = sign * ((ByWholeSum ? TCost.Zero : TCost.CreateChecked(TakeOf(slot).From(sheet.Runs[i].Price)) * step) + TCost.CreateChecked(sheet.Runs[i].Price));
        return costs;
    }

    /// <summary>Of the fillings that lower at least one unit, the one that takes least: each unit in turn is made to be in.</summary>
    private SlotFlow<Int128>? LeastWithOneLowered(long sets)
    {
        SlotFlow<Int128>? best = null;
        Ready();
        var costs = Costs<Int128>(Pick.Cheapest);
        for (var slot = 0; slot < slots.Length; slot++)
        {
            for (var i = 0; i < capacity!.Length; i++)
            {
                var lowers = ByWholeSum ? sheet.Runs[i].Price : TakeOf(slot).From(sheet.Runs[i].Price);
                if (!allowed[slot, i] || lowers == 0) continue;
                long[] apart = [.. capacity!, 1];
                apart[i]--;
                var flow = new SlotFlow<Int128>(apart, Widened(slot), Widened(costs, slot, i));
                if (!flow.Fill(Needs(sets))) continue;
                var folded = Folded(flow, i);
                if (Reduction(FilledSets.Of(folded, sets, slots.Length, capacity!.Length)) > 0 && (best is null || folded.Cost < best.Cost)) best = folded;
            }
        }

        return best;
    }

    // One unit of a run set apart, which only one slot may take, at a cost that makes it be taken.
    private bool[,] Widened(int slot)
    {
        var wide = new bool[slots.Length, capacity!.Length + 1];
        for (var s = 0; s < slots.Length; s++) for (var i = 0; i < capacity!.Length; i++) wide[s, i] = allowed[s, i];
        wide[slot, capacity!.Length] = true;
        return wide;
    }

    private Int128[,] Widened(Int128[,] costs, int slot, int run)
    {
        var wide = new Int128[slots.Length, capacity!.Length + 1];
        for (var s = 0; s < slots.Length; s++) for (var i = 0; i < capacity!.Length; i++) wide[s, i] = costs[s, i];
        wide[slot, capacity!.Length] = costs[slot, run] - ((Int128)1 << 112);
        return wide;
    }

    private SlotFlow<Int128> Folded(SlotFlow<Int128> wide, int run)
    {
        var needs = Needs(0);
        var fixedCapacity = new long[capacity!.Length];
        var only = new bool[slots.Length, capacity!.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        {
            for (var i = 0; i < capacity!.Length; i++)
            {
                var count = wide[slot, i] + (i == run ? wide[slot, capacity!.Length] : 0);
                needs[slot] += count;
                fixedCapacity[i] += count;
                only[slot, i] = allowed[slot, i];
            }
        }

        var flow = new SlotFlow<Int128>(fixedCapacity, only, Costs<Int128>(Pick.Cheapest));
        flow.Fill(needs);
        return flow;
    }

    /// <summary>
    /// The filling of least sum that exceeds the price of so many sets: a covering knapsack over the units, by branch and bound with
    /// the least and the greatest sum that a partial choice can still be filled to.
    /// </summary>
    private ISlotFilling? LeastAbove(long sets)
    {
        Ready();
        var price = whole!.Value.Minor * sets;
        var order = Enumerable.Range(0, capacity!.Length).Where(i => Enumerable.Range(0, slots.Length).Any(slot => allowed[slot, i]))
            .OrderByDescending(i => sheet.Runs[i].Price).ToArray();
        var left = (long[])capacity.Clone();
        var (best, bestSum, tried) = ((long[]?)null, long.MaxValue, 0);
        Branch(0);
        if (best is null) return null;
        var flow = new SlotFlow<long>(best, allowed, Costs<long>(Pick.Cheapest));
        flow.Fill(Needs(sets));
        return flow;

        // Below the place all units are open; above it at most as many as are left.
        void Branch(int place)
        {
            // One above the price is as little as can be.
            if (++tried > MostTried || bestSum == price + 1) return;
            var least = Extreme(Pick.Cheapest);
            if (least < 0 || least >= bestSum) return;
            if (least > price)
            {
                (best, bestSum) = ((long[])left.Clone(), least);
                return;
            }

            if (place == order.Length || Extreme(Pick.Dearest) <= price) return;
            // Fewest of the dearest first: what is left out can never come back below.
            for (long count = 0; count <= capacity[order[place]]; count++)
            {
                left[order[place]] = count;
                Branch(place + 1);
            }

            left[order[place]] = capacity[order[place]];
        }

        long Extreme(Pick pick)
        {
            if (anySlot) return sheet.Sets.Fill(sets, pick, left);
            var flow = new SlotFlow<long>(left, allowed, Costs<long>(pick));
            return flow.Fill(Needs(sets)) ? SumOf(flow) : -1;
        }
    }

    private long[] Needs(long sets) => [.. slots.Select(slot => sets * slot.Quantity)];

    private long Units(int slot)
    {
        long units = 0;
        for (var i = 0; i < capacity!.Length; i++) if (allowed[slot, i]) units += capacity![i];
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
