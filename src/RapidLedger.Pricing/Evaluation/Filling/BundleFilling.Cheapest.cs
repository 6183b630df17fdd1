namespace RapidLedger.Pricing;

/// <content>The cheapest fillings that take something off: harder than the dearest, since the cheapest of all may take nothing.</content>
internal sealed partial class BundleFilling
{
    private FilledSets? Cheapest(long most)
    {
        var sets = Last(most, k => GreatestReduction(k) > 0);
        if (sets == 0)
            return null;
        if (Filled(sets, Pick.Cheapest) is { } solved)
            return solved;
        if (IsHeuristic)
        {
            sheet.Fillings.MarkInexact(mayUndershoot: true);
            return null;
        }

        return whole is { Kind: Take.Kind.Price } ? LeastAbove(sets) : LeastWithOneLowered(sets);
    }

    /// <summary>
    /// The most that a cheapest filling takes, now or at lower prices: what the cheapest of all takes, which falls with prices; or, where
    /// that
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

        var dearest = sheet.Fillings.Sets.Dearest;
        switch (whole!.Value.Kind)
        {
            case Take.Kind.Percent:
                sheet.Fillings.Sets.Fill(most, Pick.Cheapest);
                return Math.Max(ReductionOf(sheet.Fillings.Sets.Taken, most), whole.Value.From(dearest));
            case Take.Kind.Amount:
                return OfSum(Math.Max(sheet.Fillings.Sets.Fill(most, Pick.Cheapest), dearest), most);
            default:
                // What the cheapest of k sets exceed their price by is convex in k: greatest at an end.
                var sets = Last(most, k => GreatestReduction(k) > 0);
                return sets == 0
                    ? 0
                    : Math.Max(
                        dearest,
                        Math.Max(
                            OfSum(sheet.Fillings.Sets.Fill(1, Pick.Cheapest), 1),
                            OfSum(sheet.Fillings.Sets.Fill(sets, Pick.Cheapest), sets)
                        )
                    );
        }

        long MostInSlot(int slot)
        {
            long taken = 0;
            for (var i = 0; i < capacity!.Length; i++)
                if (allowed[(slot * capacity.Length) + i])
                    taken = Math.Max(taken, takes[(slot * capacity.Length) + i]);
            return taken;
        }
    }

    /// <summary>
    /// Of the fillings that lower at least one unit, the one that takes least, then the one of least sum, then the first: each unit in
    /// turn, what is taken from it alone least first, is made to stand in a slot where it is lowered.
    /// </summary>
    private FilledSets? LeastWithOneLowered(long sets)
    {
        Ready();
        var (costs, runs) = (Costs<Int128>(Pick.Cheapest), capacity!.Length);
        var (best, least) = ((long[]?)null, (Taken: long.MaxValue, Sum: long.MaxValue));
        var end = sheet.Work.Spent + sheet.Fillings.MostWork;
        foreach (
            var place in Enumerable
                .Range(0, allowed.Length)
                .Where(place => allowed[place] && By(place) > 0)
                .OrderBy(By)
                .ThenBy(place => place)
        )
        {
            // All that stand beside it take something too, or nothing.
            if (By(place) > (ByWholeSum ? least.Sum : least.Taken))
                break;
            if (best is not null && sheet.Work.Spent > end)
            {
                sheet.Fillings.MarkInexact(mayUndershoot: false);
                break;
            }

            // One unit is set apart in a run of its own, which only this slot may take, at a cost that makes it be taken.
            sheet.Work.Count(12L * allowed.Length);
            var (slot, run) = (place / runs, place % runs);
            long[] apart = [.. capacity, 1];
            apart[run]--;
            var flow = new SlotFlow<Int128>(
                apart,
                WithOneMore(allowed, at => at == slot),
                WithOneMore(costs, at => at == slot ? costs[place] - ((Int128)1 << 112) : 0),
                sheet.Work
            );
            if (!flow.FillMore(Needs(sets)))
                continue;
            if (Rate(Folded(flow.BySlot, run), sets).CompareTo(least) > 0)
                continue;
            flow.PreferFirst();
            var folded = Folded(flow.BySlot, run);
            var rated = Rate(folded, sets);
            if (rated.CompareTo(least) < 0 || folded.AsSpan().SequenceCompareTo(best) > 0)
                (best, least) = (folded, rated);
        }

        return best is null ? null : FilledSets.Of(best, sets, runs);

        long By(int place) => ByWholeSum ? sheet.Runs[place % runs].Price : takes[place];
    }

    private (long Taken, long Sum) Rate(ReadOnlySpan<long> bySlot, long sets) => (ReductionOf(bySlot, sets), SumOf(bySlot));

    private T[] WithOneMore<T>(T[] bySlot, Func<int, T> last) =>
        [
            .. Enumerable
                .Range(0, slots.Length)
                .SelectMany(slot => bySlot.Skip(slot * capacity!.Length).Take(capacity.Length).Append(last(slot))),
        ];

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
    /// and bound, with the least and the greatest sum that a partial choice can still be filled to, as far as the work reaches.
    /// </summary>
    private FilledSets? LeastAbove(long sets)
    {
        Ready();
        var price = Times(whole!.Value.Minor, sets);
        if (
            SubsetSum.TryFind(
                capacity!,
                [.. Enumerable.Range(0, capacity!.Length).Select(i => sheet.Runs[i].Price)],
                allowed,
                Needs(sets),
                price,
                sheet.Fillings.MostWork,
                sheet.Work,
                out var filling
            )
        )
            return filling is null ? null : new(filling, null, sets);
        return new SubsetSumByBranching(this, sets, price).Find();
    }
}
