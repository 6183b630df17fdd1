namespace RapidLedger.Pricing;

/// <summary>
/// Of the fillings of slots that come to one sum, the first: slot by slot in the order written, as many as can be of the runs that come
/// first. Depth-first search in that order: the greatest number of units is tried at each place first, so the first filling reached is
/// the one asked for. A branch is left if the sum is not between those of the cheapest and of the dearest completion (minimum-cost
/// flows). A filling that is known to agree with what is settled so far saves the search of its own branch.
/// </summary>
/// <remarks>
/// Cost: two flows for each number of units tried; in the worst case exponentially many, so it ends with its work budget.
/// </remarks>
internal sealed class FirstFillingOfSum
{
    private readonly int slots;
    private readonly int runs;
    private readonly long[] prices;
    private readonly bool[] isOpen;
    private readonly long[] left;
    private readonly long[] needs;
    private readonly long[][] costs;
    private readonly WorkBudget work;
    private readonly long end;

    // Slot after slot, how many units of each run are settled to stand in it; of the known filling, how many do.
    private readonly long[] settled;
    private long[] known;
    private long missing;
    private bool isCut;

    private FirstFillingOfSum(long[] prices, bool[] allowed, long[] capacity, long[] needs, long[] known, WorkBudget work, long end)
    {
        (slots, runs, this.prices, this.known, this.work, this.end) = (needs.Length, prices.Length, prices, known, work, end);
        (isOpen, left, this.needs, settled) = ([.. allowed], [.. capacity], [.. needs], new long[allowed.Length]);
        costs =
        [
            [.. allowed.Select((_, place) => prices[place % runs])],
            [.. allowed.Select((_, place) => -prices[place % runs])],
        ];
        for (var place = 0; place < known.Length; place++)
            missing += known[place] * prices[place % runs];
    }

    /// <summary>Finds the units of the first filling of the same sum as that of the units given.</summary>
    /// <param name="units">Of each run, what a filling of that sum takes.</param>
    /// <param name="prices">Of each run.</param>
    /// <param name="allowed">Slot after slot, which runs may stand in it.</param>
    /// <param name="capacity">Units of each run.</param>
    /// <param name="needs">How many units each slot needs.</param>
    /// <param name="work">Counts what is done.</param>
    /// <param name="end">Ends the search when so much work is spent.</param>
    /// <param name="isCut">Whether it ended before it was certain that this is the first.</param>
    /// <returns>How many units of each run it takes.</returns>
    public static int[] Find(
        long[] units,
        long[] prices,
        bool[] allowed,
        long[] capacity,
        long[] needs,
        WorkBudget work,
        long end,
        out bool isCut
    )
    {
        (allowed, needs) = SubsetSum.Merged(allowed, needs, prices.Length);
        var flow = new SlotFlow<long>(units, allowed, new long[allowed.Length], work);
        flow.FillMore(needs);
        var search = new FirstFillingOfSum(prices, allowed, capacity, needs, flow.BySlot, work, end);
        search.Reach(0, isKnown: true);
        isCut = search.isCut;
        return FilledSets.Of(search.known, 0, prices.Length).Units;
    }

    // Whether what is settled before the place can be completed, so that the known filling does it: it is known to from the start, or it
    // is found by the bounds, which are a filling themselves where they meet the sum, as they do once everything is settled.
    private bool Reach(int place, bool isKnown)
    {
        while (place < settled.Length && !isOpen[place])
            place++;
        if (place == settled.Length)
            return true;
        isOpen[place] = false;
        var most = Math.Min(left[place % runs], needs[place / runs]);
        for (var count = most; count >= 0; count--)
        {
            var agrees = isKnown && known[place] == count;
            Settle(place, count);
            if ((agrees || CouldReach(ref agrees)) && Reach(place + 1, agrees))
                return true;
            Settle(place, -count);
            if (isCut)
                break;
        }

        isOpen[place] = true;
        return false;
    }

    private void Settle(int place, long count)
    {
        settled[place] += count;
        left[place % runs] -= count;
        needs[place / runs] -= count;
        missing -= count * prices[place % runs];
    }

    private bool CouldReach(ref bool agrees)
    {
        isCut |= work.Spent > end || work.IsOver;
        if (isCut)
            return false;
        foreach (var cost in costs)
        {
            var flow = new SlotFlow<long>(left, isOpen, cost, work);
            if (!flow.FillMore(needs))
                return false;
            var rest = flow.BySlot;
            long sum = 0;
            for (var place = 0; place < rest.Length; place++)
                sum += rest[place] * prices[place % runs];
            if (cost == costs[0] ? sum > missing : sum < missing)
                return false;
            if (sum != missing)
                continue;
            for (var place = 0; place < rest.Length; place++)
                known[place] = settled[place] + rest[place];
            agrees = true;
            return true;
        }

        return true;
    }
}
