namespace RapidLedger.Pricing;

/// <content>
/// Incumbents: a heuristic solution with bundles filled greedily, and local search (hill climbing over single insertions and removals, with
/// repair of what excludes each other), first with heuristic fillings, then with exact ones. A good incumbent early prunes most of the
/// tree.
/// </content>
internal sealed partial class ChoiceSearch
{
    /// <summary>
    /// Finds a first incumbent with heuristic fillings, which cost a fraction of exact ones: the heaviest promotions that may meet,
    /// whatever that
    /// costs; then by rank and by local search as far as the work reaches.
    /// </summary>
    private void FindFirstIncumbent(long end)
    {
        soloBounds = bounds.SoloBoundBySlot(0).ToArray();
        var begun = sheet.Work.Spent;
        WithHeuristicFillings(mayCountAsFound: true, () =>
        {
            var first = HeaviestCompatible(Enumerable.Range(0, count));
            if (MakeChoice(ref first, mayBreakOff: false))
                TryReplaceIncumbent(first);
        });
        // As much as that took is left to price what is found with exact fillings.
        end -= sheet.Work.Spent - begun;
        WithHeuristicFillings(mayCountAsFound: false, () =>
        {
            var byRank = Meeting(Enumerable.Range(0, count));
            if (MakeChoice(ref byRank, mayBreakOff: true))
                TryReplaceIncumbent(byRank);
            LocalSearch(end);
        });
    }

    // What is found is priced again with exact fillings before it counts. Where there is no work left for that it may count as it was
    // found, or else it is let go.
    private void WithHeuristicFillings(bool mayCountAsFound, Action look)
    {
        var (rated, ratedTally) = (incumbent, incumbentValue);
        (incumbentState, heuristicState) = (heuristicState, incumbentState);
        (incumbent, incumbentValue) = ([], default);
        sheet.Fillings.IsHeuristic = true;
        var formerState = rated;
        if (MakeChoice(ref formerState, mayBreakOff: true))
            TryReplaceIncumbent(formerState);
        look();
        sheet.Fillings.IsHeuristic = false;
        (incumbentState, heuristicState) = (heuristicState, incumbentState);
        var found = incumbent;
        (incumbent, incumbentValue) = (rated, ratedTally);
        if (found.Length == 0 || found.AsSpan().SequenceEqual(incumbent))
            return;
        var tried = found;
        if (MakeChoice(ref tried, mayBreakOff: true))
        {
            TryReplaceIncumbent(tried);
        }
        else if (sheet.Work.IsOver && mayCountAsFound)
        {
            sheet.CopyFrom(heuristicState);
            isIncumbentHeuristic = TryReplaceIncumbent(found);
        }
    }

    // A maximal set of promotions that may meet, the first first.
    private int[] Meeting(IEnumerable<int> inOrder)
    {
        List<int> slots = [];
        foreach (var slot in inOrder)
            if (slots.TrueForAll(other => CanMeet(other, slot)))
                slots.Add(slot);
        slots.Sort();
        return [.. slots];
    }

    // The heaviest set of promotions that may meet, by solo bounds: a weighted independent set, by branch and bound of a few nodes.
    private int[] HeaviestCompatible(IEnumerable<int> among)
    {
        int[] ordered = [.. among.OrderByDescending(slot => soloBounds[slot])];
        if (ordered.Length > SearchSettings.MostToPack)
            return Meeting(ordered);
        var (found, most, visits, chosen) = (Array.Empty<int>(), -1L, 0, new Stack<int>());
        Go(ordered, 0);
        Array.Sort(found);
        return found;

        // With the heaviest first; then without it, if it keeps others out.
        void Go(ReadOnlySpan<int> open, long sum)
        {
            sheet.Work.Count(4L * open.Length);
            var all = sum;
            foreach (var slot in open)
                all += soloBounds[slot];
            if (all <= most || visits++ > SearchSettings.MostPackingNodes)
                return;
            if (open.IsEmpty)
            {
                (found, most) = ([.. chosen], sum);
                return;
            }

            var first = open[0];
            int[] rest = [.. open[1..].ToArray().Where(slot => CanMeet(slot, first))];
            chosen.Push(first);
            Go(rest, sum + soloBounds[first]);
            chosen.Pop();
            if (rest.Length < open.Length - 1)
                Go(open[1..], sum);
        }
    }

    /// <summary>
    /// Hill climbing from the incumbent: puts in one promotion or leaves one out, while that helps. What is estimated to bring most is
    /// tried first.
    /// </summary>
    private void LocalSearch(long end)
    {
        for (var better = true; better; )
        {
            better = false;
            foreach (var slot in ByEstimate())
            {
                if (sheet.Work.Spent > end || sheet.Work.IsOver)
                    return;
                var tried = Neighbour(slot);
                better |= MakeChoice(ref tried, mayBreakOff: true) && TryReplaceIncumbent(tried);
            }
        }
    }

    // The neighbours by what they would come to as far as is known, the most first.
    private int[] ByEstimate()
    {
        long[] sums =
        [
            .. Enumerable
                .Range(0, count)
                .Select(slot =>
                    sheet.Work.IsOver
                        ? 0
                        : Neighbour(slot).Sum(other => incumbent.Contains(other) ? incumbentState.Of(other).Worth : soloBounds[other])
                ),
        ];
        return [.. Enumerable.Range(0, count).OrderByDescending(slot => sums[slot])];
    }

    // A neighbour: one promotion put in, without those that it cannot meet, or left out; and of those that only these kept out the heaviest
    // that may meet.
    private int[] Neighbour(int slot)
    {
        sheet.Work.Count(4L * count);
        int[] stay = incumbent.Contains(slot)
            ? Array.FindAll(incumbent, other => other != slot)
            : [.. Array.FindAll(incumbent, other => CanMeet(other, slot)), slot];
        var gone = Array.FindAll(incumbent, other => !stay.Contains(other));
        var freed = Enumerable
            .Range(0, count)
            .Where(other => other != slot && !incumbent.Contains(other) && !MeetsAll(other, gone) && MeetsAll(other, stay));
        return [.. stay.Concat(HeaviestCompatible(freed)).Order()];

        bool MeetsAll(int one, int[] others) => Array.TrueForAll(others, other => CanMeet(one, other));
    }

    // Repairs a set of slots: leaves out what has no effect or whose after-condition does not hold, until what is left is a choice, which
    // stands on
    // the sheet then; given up where that leads back to the incumbent.
    private bool MakeChoice(ref int[] slots, bool mayBreakOff)
    {
        while (slots.Length > 0)
        {
            var isMet = PriceFurther(slots, mayBreakOff, out var unmet);
            if (sheet.Work.IsOver && mayBreakOff)
                return false;
            if (isMet && FirstIdle(slots) < 0)
                return true;
            slots = isMet
                ? Array.FindAll(slots, slot => !sheet.Of(slot).IsNothing)
                : Array.FindAll(slots, slot => slot != unmet!.Value.Slot);
            if (slots.AsSpan().SequenceEqual(incumbent))
                return false;
        }

        return false;
    }
}
