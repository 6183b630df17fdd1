namespace RapidLedger.Pricing;

/// <content>Good choices early, which make the search short: begun in haste and made better by single changes.</content>
internal sealed partial class Choice
{
    // So many promotions are weighed together, and so many steps of that looked at.
    private const int MostToWeigh = 128;
    private const int MostVisits = 200;

    /// <summary>
    /// Good choices with bundles filled in haste, which cost a fraction: one to begin with, whatever that costs, of those that promise most;
    /// then all that there is time for.
    /// </summary>
    private void LookInHaste(long end)
    {
        promises = outlook.AloneBySlot(0).ToArray();
        var begun = sheet.Work.Spent;
        InHaste(mayCountAsFound: true, () =>
        {
            var first = Weightiest(Enumerable.Range(0, count));
            if (MakeChoice(ref first, mayBreakOff: false)) Offer(first);
        });
        // As much as that took is left to rate what is found.
        end -= sheet.Work.Spent - begun;
        InHaste(mayCountAsFound: false, () =>
        {
            var byRank = Meeting(Enumerable.Range(0, count));
            if (MakeChoice(ref byRank, mayBreakOff: true)) Offer(byRank);
            Improve(end);
        });
    }

    // What is found is rated as any other. Where there is no work left for that it may count as it was found, or else it is let go.
    private void InHaste(bool mayCountAsFound, Action look)
    {
        var (rated, ratedTally) = (best, bestTally);
        (kept, inHaste) = (inHaste, kept);
        (best, bestTally) = ([], default);
        sheet.Fillings.IsHasty = true;
        var former = rated;
        if (MakeChoice(ref former, mayBreakOff: true)) Offer(former);
        look();
        sheet.Fillings.IsHasty = false;
        (kept, inHaste) = (inHaste, kept);
        var found = best;
        (best, bestTally) = (rated, ratedTally);
        if (found.Length == 0 || found.AsSpan().SequenceEqual(best)) return;
        var tried = found;
        if (MakeChoice(ref tried, mayBreakOff: true))
        {
            Offer(tried);
        }
        else if (sheet.Work.IsOver && mayCountAsFound)
        {
            sheet.Recall(inHaste);
            isFilledInHaste = Offer(found);
        }
    }

    // As many as may meet, the first first.
    private int[] Meeting(IEnumerable<int> inOrder)
    {
        List<int> slots = [];
        foreach (var slot in inOrder) if (slots.TrueForAll(other => CanMeet(other, slot))) slots.Add(slot);
        slots.Sort();
        return [.. slots];
    }

    // Of those among some that may meet the ones that promise most together, as far as a few steps tell.
    private int[] Weightiest(IEnumerable<int> among)
    {
        int[] ordered = [.. among.OrderByDescending(slot => promises[slot])];
        if (ordered.Length > MostToWeigh) return Meeting(ordered);
        var (found, most, visits, chosen) = (Array.Empty<int>(), -1L, 0, new Stack<int>());
        Go(ordered, 0);
        Array.Sort(found);
        return found;

        // The weightiest first; then without it, if it keeps others out.
        void Go(ReadOnlySpan<int> open, long sum)
        {
            sheet.Work.Count(4L * open.Length);
            var all = sum;
            foreach (var slot in open) all += promises[slot];
            if (all <= most || visits++ > MostVisits) return;
            if (open.IsEmpty)
            {
                (found, most) = ([.. chosen], sum);
                return;
            }

            var first = open[0];
            int[] rest = [.. open[1..].ToArray().Where(slot => CanMeet(slot, first))];
            chosen.Push(first);
            Go(rest, sum + promises[first]);
            chosen.Pop();
            if (rest.Length < open.Length - 1) Go(open[1..], sum);
        }
    }

    /// <summary>
    /// Makes the best choice found better by putting in one promotion or by leaving one out, while that helps: a good choice early makes the
    /// search short. What promises most is tried first.
    /// </summary>
    private void Improve(long end)
    {
        for (var better = true; better;)
        {
            better = false;
            foreach (var slot in ByPromise())
            {
                if (sheet.Work.Spent > end || sheet.Work.IsOver) return;
                var tried = Changed(slot);
                better |= MakeChoice(ref tried, mayBreakOff: true) && Offer(tried);
            }
        }
    }

    // What the change of one would come to, as far as is known; the most first.
    private int[] ByPromise()
    {
        long[] sums = [.. Enumerable.Range(0, count).Select(slot => sheet.Work.IsOver ? 0 : Changed(slot).Sum(other => best.Contains(other) ? kept.Of(other).Worth : promises[other]))];
        return [.. Enumerable.Range(0, count).OrderByDescending(slot => sums[slot])];
    }

    // One promotion put in, without those that it cannot meet, or left out; and of those that only these kept out the ones that promise most.
    private int[] Changed(int slot)
    {
        sheet.Work.Count(4L * count);
        int[] stay = best.Contains(slot) ? Array.FindAll(best, other => other != slot) : [.. Array.FindAll(best, other => CanMeet(other, slot)), slot];
        var gone = Array.FindAll(best, other => !stay.Contains(other));
        var freed = Enumerable.Range(0, count).Where(other => other != slot && !best.Contains(other) && !MeetsAll(other, gone) && MeetsAll(other, stay));
        return [.. stay.Concat(Weightiest(freed)).Order()];

        bool MeetsAll(int one, int[] others) => Array.TrueForAll(others, other => CanMeet(one, other));
    }

    // Leaves out what has no effect or whose after-condition does not hold, until what is left is a choice, which stands on the sheet then;
    // given up where that leads back to the best one.
    private bool MakeChoice(ref int[] slots, bool mayBreakOff)
    {
        while (slots.Length > 0)
        {
            var isMet = PriceFurther(slots, mayBreakOff, out var unmet);
            if (sheet.Work.IsOver && mayBreakOff) return false;
            if (isMet && FirstIdle(slots) < 0) return true;
            slots = isMet ? Array.FindAll(slots, slot => !sheet.Of(slot).IsNothing) : Array.FindAll(slots, slot => slot != unmet!.Value.Slot);
            if (slots.AsSpan().SequenceEqual(best)) return false;
        }

        return false;
    }
}
