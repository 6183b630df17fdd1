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
        for (var place = 0; place < bySlot.Length; place++)
            units[place % runs] += (int)bySlot[place];
        return new(units, bySlot, sets);
    }
}

/// <summary>
/// Computes how one bundle fills its sets on one sheet, the filling that takes most, or the cheapest that takes something; and
/// an upper bound on what any filling takes.
/// <para>How: where it does not matter in which slot a unit stands, a greedy walk on a transversal matroid; else a minimum-cost flow; the
/// cheapest above a price by subset sums; without the work for these, greedily slot by slot. The number of sets is where one more stops
/// paying:
/// the reduction is concave in it, as the optimum of a linear programme in its right-hand side.</para>
/// <para>What is found at the prices of one version of the sheet is kept until prices change.</para>
/// </summary>
internal sealed partial class BundleFilling
{
    // Up to so many sets they are added one by one; above, the last that pays is searched for.
    private const int FewSets = 8;

    // A path through the slots adds up a few costs, each a reduction times more than the prices on such a path: up to here in 64 bits.
    private const long SmallPrice = 1L << 26;

    private readonly ReadySlot[] slots;
    private readonly CartTake? whole;
    private readonly Repetition repeat;
    private readonly Pick fill;
    private readonly Sheet sheet;
    private readonly bool anySlot;
    private readonly TransversalGreedy.Layout? layout;

    // What is known of the prices of this version.
    private long version = -1;
    private (long Sets, long Reduction)? best;
    private long? one;
    private long[]? capacity;

    // A number that stands for all sets that fit, found once where there is no layout to tell it.
    private long? fitting;
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
        layout = slots.Length <= TransversalGreedy.MostSlots ? TransversalGreedy.Layout.Of(sheet, slots) : null;
        anySlot = whole is not null && layout is not null;
    }

    /// <summary>Begins on the sheet as it stands; what was found at the same prices is still known.</summary>
    public void Open()
    {
        if (layout is not null)
            sheet.Fillings.Sets.Open(sheet, layout);
        if (version == sheet.Version)
            return;
        (version, capacity, best, one) = (sheet.Version, null, null, null);
    }

    // A slot without a take is paid in full.
    public CartTake TakeOf(int slot) => whole ?? slots[slot].Takes?[sheet.Cart.CurrencyNumber] ?? default;

    private bool IsHeuristic => sheet.Fillings.IsHeuristic || sheet.Work.IsOver;

    /// <summary>Whether any set can be filled.</summary>
    public bool HasSets => MostSets() > 0;

    /// <summary>Whether what is taken depends on the sum of the sets, not on each unit.</summary>
    public bool ByWholeSum => whole is { Kind: not Take.Kind.Percent };

    /// <summary>
    /// The filling that the bundle asks for, or null if none takes anything off. Where the budget is spent, or a heuristic is enough, flows
    /// are
    /// left out: then the filling is marked as inexact.
    /// </summary>
    public FilledSets? Solve()
    {
        var most = MostSets();
        if (most == 0)
            return null;
        if (!anySlot && IsHeuristic)
        {
            sheet.Fillings.MarkInexact(mayUndershoot: true);
            return FillHeuristically();
        }

        return fill == Pick.Dearest ? Dearest(most) : Cheapest(most);
    }

    /// <summary>
    /// What so many sets of these units are lowered by, where it does not matter in which slot a unit stands; below zero if they cost less
    /// than asked.
    /// </summary>
    public long ReductionOf(ReadOnlySpan<int> units, long sets)
    {
        long sum = 0,
            taken = 0;
        for (var i = 0; i < units.Length; i++)
        {
            if (units[i] == 0)
                continue;
            var price = sheet.Runs[i].Price;
            sum += price * units[i];
            if (!ByWholeSum)
                taken += whole!.Value.From(price) * units[i];
        }

        return ByWholeSum ? OfSum(sum, sets) : taken;
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
        if (most == 0)
            return 0;
        if (layout is null && IsHeuristic)
            return BoundBySlots(most, out dearest);
        if (!anySlot && !ByWholeSum)
            return fill == Pick.Dearest ? ReductionBySlots(most) : Math.Min(ReductionBySlots(most), MostOfCheapest(most));
        if (whole is { Kind: Take.Kind.Price } price)
        {
            dearest = ReductionOfOneSet + price.Minor;
            if (ReductionOfOneSet <= 0)
                return 0;
        }

        var reached = Math.Max(0, BestNumber(most).Reduction);
        return fill == Pick.Dearest || !anySlot ? reached : Math.Min(reached, MostOfCheapest(most));
    }

    private long OfSum(long sum, long sets) =>
        whole!.Value.Kind == Take.Kind.Amount ? Math.Min(sum, Times(whole!.Value.Minor, sets)) : sum - Times(whole!.Value.Minor, sets);

    // More than any cart comes to is as good as the number itself.
    private static long Times(long minor, long sets) => (long)Int128.Min(Pricing.Rate.TooMuch, (Int128)minor * sets);

    // Each slot for itself, as if units could stand in several.
    private long ReductionBySlots(long most) => SlotwiseBound(most, TakeOf);

    private long SumBySlots(long most) => SlotwiseBound(most, _ => new(Take.Kind.Price, default, 0, default));

    private long SlotwiseBound(long most, Func<int, CartTake> takeOf)
    {
        sheet.Work.Count(8L * slots.Length);
        long bound = 0;
        for (var slot = 0; slot < slots.Length; slot++)
        {
            var (take, left) = (takeOf(slot), most * slots[slot].Quantity);
            foreach (var i in sheet.ByPrice(slots[slot].Of, Pick.Dearest))
            {
                var count = Math.Min(left, sheet.Runs[i].Count);
                bound += take.From(sheet.Runs[i].Price) * count;
                left -= count;
                if (left == 0)
                    break;
            }
        }

        return bound;
    }

    private FilledSets? Dearest(long most)
    {
        if (anySlot)
            return Filled(BestNumber(most).Sets, Pick.Dearest);
        var (flow, sets) = WhileItPays(most);
        if (ReductionOf(flow.BySlot, sets) <= 0)
            return null;
        flow.PreferFirst();
        return FilledSets.Of(flow.BySlot, sets, capacity!.Length);
    }

    private long ReductionOfOneSet => one ??= GreatestReduction(1);

    private (long Sets, long Reduction) BestNumber(long most) => best ??= FindBestNumber(most);

    // The greatest reduction of k sets is concave in k (a linear programme in its right-hand side), so the first step down is the end.
    private (long Sets, long Reduction) FindBestNumber(long most)
    {
        // What is taken from each unit or a fixed amount only grows with the sets, unless slots compete for units.
        if (whole is { Kind: not Take.Kind.Price })
            return (most, GreatestReduction(most));
        if (!anySlot)
        {
            var (flow, found) = WhileItPays(most);
            return (found, ReductionOf(flow.BySlot, found));
        }

        var (sets, reached) = (most, GreatestReduction(most));
        if (most == 1 || reached >= GreatestReduction(most - 1))
            return (most, reached);
        if (most > FewSets)
        {
            sets = Last(most, k => k == 1 || GreatestReduction(k) >= GreatestReduction(k - 1));
            return (sets, GreatestReduction(sets));
        }

        (sets, reached) = (1, ReductionOfOneSet);
        while (GreatestReduction(sets + 1) is var next && next >= reached)
            (sets, reached) = (sets + 1, next);
        return (sets, reached);
    }

    /// <summary>
    /// The greatest number of sets at which one more never takes less than those before it, and the dearest filling of so many. Sets are
    /// added to the flow of those that pay; how many at once is found between the ends, by halving and by where the lines through them
    /// cross.
    /// </summary>
    private (ISlotFilling Flow, long Sets) WhileItPays(long most)
    {
        var flow = NewFlow(Pick.Dearest);
        var one = Needs(1);
        flow.FillMore(one);
        // At the low end a further set pays as far as is known; at the high end one less is known to take more.
        var (low, high) = (1L, most + 1);
        var reductionLow = ReductionOf(flow.BySlot, 1);
        var (slopeLow, reductionHigh, slopeHigh) = (reductionLow, 0L, 0L);
        for (var turn = 0; high - low > 1; turn++)
        {
            flow.Save();
            var tried =
                most <= FewSets ? low + 1
                : high > most ? most
                : turn % 3 == 0 ? low + ((high - low) / 2)
                : Crossing();
            flow.FillMore(Needs(tried - 1 - low));
            var before = ReductionOf(flow.BySlot, tried - 1);
            flow.FillMore(one);
            var reached = ReductionOf(flow.BySlot, tried);
            if (reached >= before)
                (low, reductionLow, slopeLow) = (tried, reached, reached - before);
            else
            {
                (high, reductionHigh, slopeHigh) = (tried, before, reached - before);
                flow.Restore();
            }
        }

        return (flow, low);

        // Both lines lie above the curve, whose pieces are few: where they cross is close to its top.
        long Crossing() =>
            Math.Clamp(
                high - 1 + (long)((reductionLow - reductionHigh + ((Int128)slopeLow * (high - 1 - low))) / (slopeHigh - slopeLow)),
                low + 1,
                high - 1
            );
    }

    /// <summary>The greatest reduction of so many sets, or what they exceed their price by, below zero if they do not.</summary>
    private long GreatestReduction(long sets)
    {
        if (!anySlot)
            return ReductionOf(FlowOf(sets, Pick.Dearest)!.BySlot, sets);
        var sum = sheet.Fillings.Sets.Fill(sets, Pick.Dearest);
        return ByWholeSum ? OfSum(sum, sets) : ReductionOf(sheet.Fillings.Sets.Taken, sets);
    }

    private long ReductionOf(ReadOnlySpan<long> bySlot, long sets) => ByWholeSum ? OfSum(SumOf(bySlot), sets) : TakenBy(bySlot);

    private long TakenBy(ReadOnlySpan<long> bySlot)
    {
        long sum = 0;
        for (var place = 0; place < bySlot.Length; place++)
            sum += bySlot[place] * takes[place];
        return sum;
    }

    private long SumOf(ReadOnlySpan<long> bySlot)
    {
        long sum = 0;
        for (var place = 0; place < bySlot.Length; place++)
            sum += bySlot[place] * sheet.Runs[place % capacity!.Length].Price;
        return sum;
    }

    private long MostSets()
    {
        if (layout is not null)
            return repeat.Of(layout.Most);
        if (fitting is { } known)
            return known;
        // How many units there are of what does not change with prices.
        var most = MostByUnits();
        if (IsHeuristic)
            return most;
        var flow = NewFlow(Pick.Dearest);
        var found = Last(most, k =>
        {
            flow.Empty();
            return !sheet.Work.IsOver && flow.FillMore(Needs(k));
        });
        // Broken off it is no more than a bound.
        return sheet.Work.IsOver ? most : (fitting = found).Value;
    }

    // No more sets than there are units for, all together and slot by slot.
    private long MostByUnits()
    {
        Ready();
        var most = repeat.Of(capacity!.Sum() / slots.Sum(slot => slot.Quantity));
        for (var slot = 0; slot < slots.Length; slot++)
            most = Math.Min(most, Units(slot) / slots[slot].Quantity);
        return most;
    }

    /// <summary>The dearest or cheapest filling of so many sets, the first of equal ones; null if it takes nothing off.</summary>
    private FilledSets? Filled(long sets, Pick pick)
    {
        if (anySlot)
        {
            sheet.Fillings.Sets.Fill(sets, pick);
            var greedy = new FilledSets(sheet.Fillings.Sets.Taken.ToArray(), null, sets);
            if (ReductionOf(greedy.Units, sets) <= 0)
                return null;
            if (sheet.Fillings.Sets.IsUnique || IsHeuristic)
                return greedy;
            var equal = NewFlow(pick);
            if (!equal.FillWith(greedy.Units, Needs(sets)))
                equal.FillMore(Needs(sets));
            equal.PreferFirst();
            return FilledSets.Of(equal.BySlot, sets, capacity!.Length);
        }

        var flow = FlowOf(sets, pick)!;
        if (ReductionOf(flow.BySlot, sets) <= 0)
            return null;
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
        return DearestPrice() < SmallPrice && slots.Length <= 8
            ? new SlotFlow<long>(capacity!, allowed, Costs<long>(pick), sheet.Work)
            : new SlotFlow<Int128>(capacity!, allowed, Costs<Int128>(pick), sheet.Work);
    }

    private void Ready()
    {
        if (capacity is not null)
            return;
        sheet.Work.Count(2L * slots.Length * sheet.Runs.Length);
        capacity = new long[sheet.Runs.Length];
        allowed = new bool[slots.Length * capacity.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        {
            var selected = sheet.Selected(slots[slot].Of);
            for (var i = 0; i < capacity.Length; i++)
                allowed[(slot * capacity.Length) + i] = selected[sheet.Runs[i].Line];
        }

        for (var i = 0; i < capacity.Length; i++)
            capacity[i] = sheet.Runs[i].Count;
        takes = new long[allowed.Length];
        if (ByWholeSum)
            return;
        for (var slot = 0; slot < slots.Length; slot++)
        for (var i = 0; i < capacity.Length; i++)
            takes[(slot * capacity.Length) + i] = TakeOf(slot).From(sheet.Runs[i].Price);
    }

    private long DearestPrice()
    {
        long dearest = 0;
        foreach (var run in sheet.Runs)
            dearest = Math.Max(dearest, run.Price);
        return dearest;
    }

    // Whole sums go by prices alone; others by what is taken from each unit, and then by prices, of which a path adds up two for each slot.
    private TCost[] Costs<TCost>(Pick pick)
        where TCost : INumber<TCost>
    {
        sheet.Work.Count(2L * allowed.Length);
        var (step, sign) = (
            TCost.CreateChecked((2 * (slots.Length + 2) * DearestPrice()) + 1),
            pick == Pick.Dearest ? -TCost.One : TCost.One
        );
        var costs = new TCost[slots.Length * capacity!.Length];
        for (var i = 0; i < costs.Length; i++)
            costs[i] = sign * ((TCost.CreateChecked(takes[i]) * step) + TCost.CreateChecked(sheet.Runs[i % capacity.Length].Price));
        return costs;
    }

    private long[] Needs(long sets) => [.. slots.Select(slot => sets * slot.Quantity)];

    private long Units(int slot)
    {
        long units = 0;
        for (var i = 0; i < capacity!.Length; i++)
            if (allowed[(slot * capacity.Length) + i])
                units += capacity[i];
        return units;
    }

    /// <summary>The last number from 1 to some most for which something holds that holds for all before it; 0 if for none.</summary>
    private static long Last(long most, Func<long, bool> holds)
    {
        long low = 0,
            high = most;
        while (low < high)
        {
            var middle = low + ((high - low + 1) / 2);
            if (holds(middle))
                low = middle;
            else
                high = middle - 1;
        }

        return low;
    }
}
