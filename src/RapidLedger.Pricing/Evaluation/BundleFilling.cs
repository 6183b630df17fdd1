using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>A way to fill so many sets.</summary>
/// <param name="Units">How many units of each run stand in them.</param>
/// <param name="BySlot">Slot after slot, how many of each run stand in it; none where that makes no difference.</param>
/// <param name="Sets">How many sets.</param>
internal sealed record FilledSets(int[] Units, long[]? BySlot, long Sets)
{
    public static FilledSets Of(long[] bySlot, long sets, int runs)
    {
        var units = new int[runs];
        for (var place = 0; place < bySlot.Length; place++) units[place % runs] += (int)bySlot[place];
        return new(units, bySlot, sets);
    }
}

/// <summary>The filling of one bundle on one sheet.</summary>
internal sealed class BundleFilling
{
    // Up to so many sets they are added one by one; above, the last that pays is searched for.
    private const int FewSets = 48;

    // How many partial choices the search for the least sum above a price may look at.
    private const int MostTried = 4_000;

    // A path through the slots adds up a few costs, each a reduction times more than the prices on such a path: up to here in 64 bits.
    private const long SmallPrice = 1L << 26;

    private readonly ReadySlot[] slots;
    private readonly CartTake? whole;
    private readonly Repetition repeat;
    private readonly Pick fill;
    private readonly Sheet sheet;
    private readonly bool anySlot;
    private long[]? capacity;
    private bool[] allowed = [];
    // Slot after slot, what is taken from a unit of each run.
    private long[] takes = [];

    /// <param name="slots">What is to be filled.</param>
    /// <param name="whole">What is taken from a whole set; none: the slots have their own.</param>
    /// <param name="repeat">How many sets at the most.</param>
    /// <param name="fill">Which filling is asked for.</param>
    /// <param name="sheet">The units.</param>
    public BundleFilling(ReadySlot[] slots, CartTake? whole, Repetition repeat, Pick fill, Sheet sheet)
    {
        (this.slots, this.whole, this.repeat, this.fill, this.sheet) = (slots, whole, repeat, fill, sheet);
        anySlot = whole is not null && slots.Length <= WholeSets.MostSlots;
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
            if (solved.BySlot is not { } bySlot) reduction += whole!.Value.From(price) * solved.Units[i];
            else for (var slot = 0; slot < slots.Length; slot++) reduction += TakeOf(slot).From(price) * bySlot[(slot * solved.Units.Length) + i];
        }

        return ByWholeSum ? Math.Max(0, OfSum(sum, solved.Sets)) : reduction;
    }

    /// <summary>
    /// The most that any filling takes, whatever is asked for; never less than the truth, and no more than that where the slots have
    /// no takes of their own. Falls with prices.
    /// </summary>
    /// <param name="dearest">The most that the units of one set come to, where a price is asked for them; 0 if none can be filled.</param>
    public long Most(out long dearest)
    {
        dearest = 0;
        var most = MostSets();
        if (most == 0) return 0;
        if (!anySlot && !ByWholeSum) return MostBySlots(most);
        if (whole is { Kind: Take.Kind.Price } price)
        {
            dearest = anySlot ? sheet.Sets.Fill(1, Pick.Dearest) : SumOf(FlowOf(1, Pick.Dearest)!.BySlot);
            if (dearest <= price.Minor) return 0;
        }

        return Math.Max(0, Reached(BestNumber(most)));
    }

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
        if (anySlot) return Filled(BestNumber(most), Pick.Dearest);
        var (flow, sets) = WhileItPays(most);
        if (Reached(flow, sets) <= 0) return null;
        flow.PreferFirst();
        return FilledSets.Of(flow.BySlot, sets, capacity!.Length);
    }

    // The greatest reduction of k sets is concave in k (a linear programme in its right-hand side), so the first step down is the end.
    private long BestNumber(long most)
    {
        // What is taken from each unit or a fixed amount only grows with the sets, unless slots compete for units.
        if (whole is { Kind: not Take.Kind.Price }) return most;
        if (!anySlot) return WhileItPays(most).Sets;
        if (most == 1 || Reached(most) >= Reached(most - 1)) return most;
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

    /// <summary>
    /// The greatest number of sets at which one more never takes less than those before it, and the dearest filling of so many. Sets are
    /// added to the flow of those that pay; how many at once is found between the ends, by halving and by where the lines through them cross.
    /// </summary>
    private (ISlotFilling Flow, long Sets) WhileItPays(long most)
    {
        var flow = NewFlow(Pick.Dearest);
        var one = Needs(1);
        flow.FillMore(one);
        // At the low end a further set pays as far as is known; at the high end one less is known to take more.
        var (low, high) = (1L, most + 1);
        var reachedLow = Reached(flow, 1);
        var (slopeLow, reachedHigh, slopeHigh) = (reachedLow, 0L, 0L);
        for (var turn = 0; high - low > 1; turn++)
        {
            flow.Save();
            var tried = most <= FewSets ? low + 1 : high > most ? most : turn % 3 == 0 ? low + ((high - low) / 2) : Crossing();
            flow.FillMore(Needs(tried - 1 - low));
            var before = Reached(flow, tried - 1);
            flow.FillMore(one);
            var reached = Reached(flow, tried);
            if (reached >= before) (low, reachedLow, slopeLow) = (tried, reached, reached - before);
            else
            {
                (high, reachedHigh, slopeHigh) = (tried, before, reached - before);
                flow.Restore();
            }
        }

        return (flow, low);

        // Both lines lie above the curve, whose pieces are few: where they cross is close to its top.
        long Crossing() => Math.Clamp(
            high - 1 + (long)((reachedLow - reachedHigh + ((Int128)slopeLow * (high - 1 - low))) / (slopeHigh - slopeLow)),
            low + 1,
            high - 1);
    }

    private FilledSets? Cheapest(long most)
    {
        var sets = Last(most, k => Reached(k) > 0);
        if (sets == 0) return null;
        if (Filled(sets, Pick.Cheapest) is { } solved) return solved;
        return whole is { Kind: Take.Kind.Price } ? LeastAbove(sets) : LeastWithOneLowered(sets);
    }

    /// <summary>The greatest reduction of so many sets, or what they exceed their price by, below zero if they do not.</summary>
    private long Reached(long sets)
    {
        if (!anySlot) return Reached(FlowOf(sets, Pick.Dearest)!, sets);
        var filled = sheet.Sets.Fill(sets, Pick.Dearest);
        if (ByWholeSum) return OfSum(filled, sets);
        long sum = 0;
        for (var i = 0; i < sheet.Sets.Taken.Length; i++) if (sheet.Sets.Taken[i] > 0) sum += whole!.Value.From(sheet.Runs[i].Price) * sheet.Sets.Taken[i];
        return sum;
    }

    private long Reached(ISlotFilling flow, long sets) => ByWholeSum ? OfSum(SumOf(flow.BySlot), sets) : TakenBy(flow.BySlot);

    private long TakenBy(ReadOnlySpan<long> bySlot)
    {
        long sum = 0;
        for (var place = 0; place < bySlot.Length; place++) sum += bySlot[place] * takes[place];
        return sum;
    }

    private long SumOf(ReadOnlySpan<long> bySlot)
    {
        long sum = 0;
        for (var place = 0; place < bySlot.Length; place++) sum += bySlot[place] * sheet.Runs[place % capacity!.Length].Price;
        return sum;
    }

    private long MostSets()
    {
        if (slots.Length <= WholeSets.MostSlots) return Math.Min(repeat.Of(long.MaxValue), sheet.Sets.Most());
        Ready();
        var most = repeat.Of(capacity!.Sum() / slots.Sum(slot => slot.Quantity));
        for (var slot = 0; slot < slots.Length; slot++) most = Math.Min(most, Units(slot) / slots[slot].Quantity);
        var flow = NewFlow(Pick.Dearest);
        return Last(most, k =>
        {
            flow.Empty();
            return flow.FillMore(Needs(k));
        });
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
            var equal = NewFlow(pick);
            if (!equal.FillWith(greedy.Units, Needs(sets))) equal.FillMore(Needs(sets));
            equal.PreferFirst();
            return FilledSets.Of(equal.BySlot, sets, capacity!.Length);
        }

        var flow = FlowOf(sets, pick)!;
        if (Reached(flow, sets) <= 0) return null;
        flow.PreferFirst();
        return FilledSets.Of(flow.BySlot, sets, capacity!.Length);
    }

    private ISlotFilling? FlowOf(long sets, Pick pick)
    {
        var flow = NewFlow(pick);
        return flow.FillMore(Needs(sets)) ? flow : null;
    }

    private ISlotFilling NewFlow(Pick pick)
    {
        Ready();
        return DearestPrice() < SmallPrice && slots.Length <= 8 ? new SlotFlow<long>(capacity!, allowed, Costs<long>(pick)) : new SlotFlow<Int128>(capacity!, allowed, Costs<Int128>(pick));
    }

    private void Ready()
    {
        if (capacity is not null) return;
        capacity = new long[sheet.Runs.Length];
        allowed = new bool[slots.Length * capacity.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        {
            var selected = sheet.Selected(slots[slot].Of);
            for (var i = 0; i < capacity.Length; i++) allowed[(slot * capacity.Length) + i] = selected[sheet.Runs[i].Line];
        }

        for (var i = 0; i < capacity.Length; i++) capacity[i] = sheet.Runs[i].Count;
        takes = new long[allowed.Length];
        if (ByWholeSum) return;
        for (var slot = 0; slot < slots.Length; slot++) for (var i = 0; i < capacity.Length; i++) takes[(slot * capacity.Length) + i] = TakeOf(slot).From(sheet.Runs[i].Price);
    }

    private long DearestPrice()
    {
        long dearest = 0;
        foreach (var run in sheet.Runs) dearest = Math.Max(dearest, run.Price);
        return dearest;
    }

    // Whole sums go by prices alone; others by what is taken from each unit, and then by prices, of which a path adds up two for each slot.
    private TCost[] Costs<TCost>(Pick pick)
        where TCost : INumber<TCost>
    {
        var (step, sign) = (TCost.CreateChecked((2 * (slots.Length + 2) * DearestPrice()) + 1), pick == Pick.Dearest ? -TCost.One : TCost.One);
        var costs = new TCost[slots.Length * capacity!.Length];
        for (var i = 0; i < costs.Length; i++) costs[i] = sign * ((TCost.CreateChecked(takes[i]) * step) + TCost.CreateChecked(sheet.Runs[i % capacity.Length].Price));
        return costs;
    }

    /// <summary>
    /// Of the fillings that lower at least one unit, the one that takes least, then the one of least sum, then the first: each unit in
    /// turn is made to stand in each slot where it is lowered.
    /// </summary>
    private FilledSets? LeastWithOneLowered(long sets)
    {
        Ready();
        var (costs, runs) = (Costs<Int128>(Pick.Cheapest), capacity!.Length);
        var (best, least) = ((long[]?)null, (Taken: long.MaxValue, Sum: long.MaxValue));
        for (var place = 0; place < allowed.Length; place++)
        {
            var (slot, run) = (place / runs, place % runs);
            if (!allowed[place] || (ByWholeSum ? sheet.Runs[run].Price : takes[place]) == 0) continue;
            // One unit is set apart in a run of its own, which only this slot may take, at a cost that makes it be taken.
            long[] apart = [.. capacity, 1];
            apart[run]--;
            var flow = new SlotFlow<Int128>(apart, WithOneMore(allowed, at => at == slot), WithOneMore(costs, at => at == slot ? costs[place] - ((Int128)1 << 112) : 0));
            if (!flow.FillMore(Needs(sets))) continue;
            if (Rate(Folded(flow.BySlot, run), sets).CompareTo(least) > 0) continue;
            flow.PreferFirst();
            var folded = Folded(flow.BySlot, run);
            var rated = Rate(folded, sets);
            if (rated.CompareTo(least) < 0 || folded.AsSpan().SequenceCompareTo(best) > 0) (best, least) = (folded, rated);
        }

        return best is null ? null : FilledSets.Of(best, sets, runs);
    }

    private (long Taken, long Sum) Rate(ReadOnlySpan<long> bySlot, long sets)
    {
        var sum = SumOf(bySlot);
        return (ByWholeSum ? OfSum(sum, sets) : TakenBy(bySlot), sum);
    }

    private T[] WithOneMore<T>(T[] bySlot, Func<int, T> last) =>
        [.. Enumerable.Range(0, slots.Length).SelectMany(slot => bySlot.Skip(slot * capacity!.Length).Take(capacity.Length).Append(last(slot)))];

    private long[] Folded(long[] wide, int run)
    {
        var (runs, folded) = (capacity!.Length, new long[allowed.Length]);
        for (var place = 0; place < wide.Length; place++)
        {
            var (slot, at) = (place / (runs + 1), place % (runs + 1));
            folded[(slot * runs) + (at == runs ? run : at)] += wide[place];
        }

        return folded;
    }

    /// <summary>
    /// The filling of least sum that exceeds the price of so many sets. Where there are too many sums to go through them all: by branch
    /// and bound, with the least and the greatest sum that a partial choice can still be filled to.
    /// </summary>
    private FilledSets? LeastAbove(long sets)
    {
        Ready();
        var price = whole!.Value.Minor * sets;
        if (LeastSum.TryFind(capacity!, [.. Enumerable.Range(0, capacity!.Length).Select(i => sheet.Runs[i].Price)], allowed, Needs(sets), price, out var filling))
            return filling is null ? null : new(filling, null, sets);
        var order = Enumerable.Range(0, capacity!.Length).Where(i => Enumerable.Range(0, slots.Length).Any(slot => allowed[(slot * capacity.Length) + i]))
            .OrderByDescending(i => sheet.Runs[i].Price).ToArray();
        var left = (long[])capacity.Clone();
        var (best, bestSum, tried) = ((long[]?)null, long.MaxValue, 0);
        var least = NextSum(price, Needs(sets).Sum(), order);
        Branch(0);
        if (tried > MostTried) sheet.CameClose();
        if (best is null) return null;
        var flow = new SlotFlow<long>(best, allowed, Costs<long>(Pick.Cheapest));
        flow.FillMore(Needs(sets));
        flow.PreferFirst();
        return FilledSets.Of(flow.BySlot, sets, capacity.Length);

        // Below the place all units are open; above it at most as many as are left.
        void Branch(int place)
        {
            if (++tried > MostTried || bestSum == least) return;
            var cheapest = Extreme(Pick.Cheapest);
            if (cheapest < 0 || cheapest >= bestSum) return;
            if (cheapest > price)
            {
                (best, bestSum) = ((long[])left.Clone(), cheapest);
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
            return flow.FillMore(Needs(sets)) ? SumOf(flow.BySlot) : -1;
        }
    }

    // Above a price, the least that the sum of so many units could be: all such sums differ by multiples of what prices differ by.
    private long NextSum(long price, long units, int[] among)
    {
        var first = sheet.Runs[among[0]].Price;
        var by = BigInteger.Zero;
        foreach (var i in among) by = BigInteger.GreatestCommonDivisor(by, first - sheet.Runs[i].Price);
        if (by.IsZero) return units * first;
        var above = price + 1 - (units * first);
        return price + 1 + (long)(((-above % by) + by) % by);
    }

    private long[] Needs(long sets) => [.. slots.Select(slot => sets * slot.Quantity)];

    private long Units(int slot)
    {
        long units = 0;
        for (var i = 0; i < capacity!.Length; i++) if (allowed[(slot * capacity.Length) + i]) units += capacity[i];
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
