namespace RapidLedger.Pricing;

/// <content>The cheapest fillings that take something off: harder than the dearest, since the cheapest of all may take nothing.</content>
internal sealed partial class BundleFilling
{
    // How many partial choices each search for the least sum above a price may look at; more only as long as the sheet has some left for all of them.
    private const int MostTried = 4_000;

    private FilledSets? Cheapest(long most)
    {
        var sets = Last(most, k => Reached(k) > 0);
        if (sets == 0) return null;
        if (Filled(sets, Pick.Cheapest) is { } solved) return solved;
        return whole is { Kind: Take.Kind.Price } ? LeastAbove(sets) : LeastWithOneLowered(sets);
    }

    /// <summary>
    /// The most that a cheapest filling takes, now or at lower prices: what the cheapest of all takes, which falls with prices; or, where that
    /// is nothing, what one that is a single exchange away from it does, for such exchanges lead from any filling to any.
    /// </summary>
    private long MostOfCheapest(long most)
    {
        if (!anySlot)
        {
            // An exchange puts one more unit into each slot at the most.
            var flow = FlowOf(most, Pick.Cheapest)!;
            return Math.Max(TakenBy(flow.BySlot), Enumerable.Range(0, slots.Length).Sum(MostInSlot));
        }

        var dearest = sheet.Sets.Dearest;
        switch (whole!.Value.Kind)
        {
            case Take.Kind.Percent:
                sheet.Sets.Fill(most, Pick.Cheapest);
                return Math.Max(Reached(sheet.Sets.Taken, most), whole.Value.From(dearest));
            case Take.Kind.Amount:
                return OfSum(Math.Max(sheet.Sets.Fill(most, Pick.Cheapest), dearest), most);
            default:
                // What the cheapest of k sets exceed their price by is convex in k: greatest at an end.
                var sets = Last(most, k => Reached(k) > 0);
                return sets == 0 ? 0 : Math.Max(dearest, Math.Max(OfSum(sheet.Sets.Fill(1, Pick.Cheapest), 1), OfSum(sheet.Sets.Fill(sets, Pick.Cheapest), sets)));
        }

        long MostInSlot(int slot)
        {
            long taken = 0;
            for (var i = 0; i < capacity!.Length; i++) if (allowed[(slot * capacity.Length) + i]) taken = Math.Max(taken, takes[(slot * capacity.Length) + i]);
            return taken;
        }
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

    private (long Taken, long Sum) Rate(ReadOnlySpan<long> bySlot, long sets) => (Reached(bySlot, sets), SumOf(bySlot));

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
        var (best, bestSum, tried, isCut) = ((long[]?)null, long.MaxValue, 0, false);
        var least = NextSum(price, Needs(sets).Sum(), order);
        Branch(0);
        if (isCut) sheet.CameClose();
        if (best is null) return null;
        var flow = new SlotFlow<long>(best, allowed, Costs<long>(Pick.Cheapest));
        flow.FillMore(Needs(sets));
        flow.PreferFirst();
        return FilledSets.Of(flow.BySlot, sets, capacity.Length);

        // Below the place all units are open; above it at most as many as are left.
        void Branch(int place)
        {
            if (bestSum == least) return;
            isCut |= ++tried > MostTried && !sheet.MayTryMore();
            if (isCut) return;
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
        var by = LeastSum.Differ(among.Select(i => sheet.Runs[i].Price));
        if (by == 0) return units * first;
        var above = price + 1 - (units * first);
        return price + 1 + (((-above % by) + by) % by);
    }
}
