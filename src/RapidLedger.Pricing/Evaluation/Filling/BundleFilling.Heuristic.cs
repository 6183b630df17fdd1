namespace RapidLedger.Pricing;

/// <content>Where there is no time for flows: a filling that will do, and a bound for all of them.</content>
internal sealed partial class BundleFilling
{
    /// <summary>
    /// Slot after slot, those first that the fewest units may stand in, what is dearest or cheapest of the units that are left: so many
    /// sets as there
    /// are units for, or half as many and so on where that does not come out. The most sets that take something if the cheapest are asked
    /// for, else what takes most.
    /// </summary>
    private FilledSets? FillHeuristically()
    {
        // Not how many there may be at the most, if that is known by now: with more work no other sets are tried.
        var most = MostByUnits();
        int[] order = [.. Enumerable.Range(0, slots.Length).OrderBy(slot => Units(slot) / slots[slot].Quantity)];
        var (best, reached) = ((FilledSets?)null, 0L);
        for (var sets = most; sets > 0 && (best is null || fill == Pick.Dearest); sets /= 2)
        {
            if (Greedy(sets, order) is not { } bySlot)
                continue;
            var found = ReductionOf(bySlot, sets);
            if (found > reached)
                (best, reached) = (FilledSets.Of(bySlot, sets, capacity!.Length), found);
        }

        return best;
    }

    private long[]? Greedy(long sets, int[] order)
    {
        sheet.Work.Count(2L * allowed.Length);
        var (left, bySlot) = ((long[])capacity!.Clone(), new long[allowed.Length]);
        foreach (var slot in order)
        {
            var need = sets * slots[slot].Quantity;
            foreach (var i in sheet.ByPrice(slots[slot].Of, fill))
            {
                var count = Math.Min(need, left[i]);
                (bySlot[(slot * left.Length) + i], left[i], need) = (count, left[i] - count, need - count);
                if (need == 0)
                    break;
            }

            if (need > 0)
                return null;
        }

        return bySlot;
    }

    // Each slot for itself, as if units could stand in several.
    private long BoundBySlots(long most, out long dearest)
    {
        dearest = 0;
        if (!ByWholeSum)
            return ReductionBySlots(most);
        var price = whole!.Value;
        if (price.Kind == Take.Kind.Amount)
            return Math.Min(SumBySlots(most), Times(price.Minor, most));
        dearest = SumBySlots(1);
        return dearest <= price.Minor ? 0 : Math.Max(0, SumBySlots(most) - price.Minor);
    }
}
