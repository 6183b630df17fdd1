namespace RapidLedger.Pricing;

/// <content>Good choices early, which make the search short: begun from several sides and made better by single changes.</content>
internal sealed partial class Choice
{
    // So many promotions are weighed together.
    private const int MostToWeigh = 128;

    // More than it takes to the first that are found.
    private const int MostVisits = 200;

    // A choice to begin with, whatever it costs: of those that may meet, in order of what each could take alone, without what takes long to
    // fill. It is rated as any other; only where there is no work left for that it counts as it was found in haste.
    private void Begin()
    {
        promises = outlook.AloneBySlot(0).ToArray();
        int[] hasty = Meeting(slot => promises[slot]);
        sheet.Fillings.IsHasty = true;
        var isChoice = MakeChoice(ref hasty);
        sheet.Fillings.IsHasty = false;
        if (!isChoice) return;
        sheet.Keep(inHaste);
        var tried = hasty;
        if (MakeChoice(ref tried))
        {
            Offer(tried);
        }
        else if (sheet.Work.IsOver)
        {
            sheet.Recall(inHaste);
            Offer(hasty);
        }
    }

    // As many as may meet, the weightiest first.
    private int[] Meeting(Func<int, long> weight)
    {
        List<int> slots = [];
        foreach (var slot in Enumerable.Range(0, count).OrderByDescending(weight)) if (slots.TrueForAll(other => CanMeet(other, slot))) slots.Add(slot);
        slots.Sort();
        return [.. slots];
    }

    /// <summary>
    /// Choices to go on from: as many as may meet, by what each takes or by rank; and those of them that in order of application make the
    /// choice greater.
    /// </summary>
    private void Construct(long end)
    {
        if (Excludes && count <= MostToWeigh) Learn(end);
        var byRank = Meeting(_ => 0);
        if (!sheet.Work.IsOver && MakeChoice(ref byRank)) Offer(byRank);
        var among = best;
        if (!sheet.Work.IsOver) TakeInOrder(among.Contains);
        if (!sheet.Work.IsOver) TakeInOrder(_ => true);
    }

    /// <summary>
    /// Tries those that together promise most, until they are the same again: what promised more than it brings beside others is known
    /// better each time.
    /// </summary>
    private void Learn(long end)
    {
        var before = new List<int[]>();
        while (sheet.Work.Spent < end && !sheet.Work.IsOver)
        {
            var tried = Weightiest(promises);
            if (before.Exists(other => other.AsSpan().SequenceEqual(tried))) return;
            before.Add(tried);
            var asked = tried;
            if (MakeChoice(ref tried)) Offer(tried);
            foreach (var slot in asked) promises[slot] = sheet.Of(slot).Worth;
        }
    }

    /// <summary>Of all that may meet those that weigh most together, as far as a few steps tell.</summary>
    private int[] Weightiest(long[] weights)
    {
        var (found, most, visits, chosen) = (Array.Empty<int>(), -1L, 0, new Stack<int>());
        Go([.. Enumerable.Range(0, count).OrderByDescending(slot => weights[slot])], 0);
        Array.Sort(found);
        return found;

        // The weightiest first; then without it, if it keeps others out.
        void Go(ReadOnlySpan<int> open, long sum)
        {
            sheet.Work.Count(open.Length);
            var all = sum;
            foreach (var slot in open) all += weights[slot];
            if (all <= most || visits++ > MostVisits) return;
            if (open.IsEmpty)
            {
                (found, most) = ([.. chosen], sum);
                return;
            }

            var first = open[0];
            int[] rest = [.. open[1..].ToArray().Where(slot => CanMeet(slot, first))];
            chosen.Push(first);
            Go(rest, sum + weights[first]);
            chosen.Pop();
            if (rest.Length < open.Length - 1) Go(open[1..], sum);
        }
    }

    // What each takes alone, if that costs little; else what it could take.
    private void FindAlone()
    {
        if ((long)count * sheet.Cart.Lines > FewToTryAlone) return;
        for (var slot = 0; slot < count && !sheet.Work.IsOver; slot++)
        {
            Price([slot], out _);
            if (!sheet.Work.IsOver) promises[slot] = Math.Min(promises[slot], sheet.Total.Worth);
        }
    }

    /// <summary>
    /// Makes the best choice found better by putting in one promotion, without those that it cannot meet, or by leaving one out, while that
    /// helps: a good choice early makes the search short. What promises most is tried first.
    /// </summary>
    private void Improve(long end)
    {
        for (var better = true; better;)
        {
            better = false;
            var gains = Enumerable.Range(0, count).Select(Gain).ToArray();
            foreach (var slot in Enumerable.Range(0, count).OrderByDescending(slot => gains[slot]))
            {
                if (sheet.Work.Spent > end || sheet.Work.IsOver) return;
                var tried = best.Contains(slot) ? Array.FindAll(best, other => other != slot) : [.. Array.FindAll(best, other => CanMeet(other, slot)).Append(slot).Order()];
                better |= MakeChoice(ref tried) && Offer(tried);
            }
        }

        long Gain(int slot) => best.Contains(slot)
            ? -kept.Of(slot).Worth
            : promises[slot] - best.Where(other => !CanMeet(other, slot)).Sum(other => kept.Of(other).Worth);
    }

    // Leaves out what has no effect or whose after-condition does not hold, until what is left is a choice, which stands on the sheet then.
    private bool MakeChoice(ref int[] slots)
    {
        while (slots.Length > 0)
        {
            var isMet = Price(slots, mayBreakOff: !sheet.Fillings.IsHasty, out var unmet);
            if (sheet.Work.IsOver && !sheet.Fillings.IsHasty) return false;
            if (!isMet) slots = Array.FindAll(slots, slot => slot != unmet!.Value.Slot);
            else if (FirstIdle(slots) < 0) return true;
            else slots = Array.FindAll(slots, slot => !sheet.Of(slot).IsNothing);
        }

        return false;
    }
}
