namespace RapidLedger.Pricing;

/// <content>Good choices early, which make the search short: begun from several sides and made better by single changes.</content>
internal sealed partial class Choice
{
    // A choice to begin with, whatever it costs: of those that may meet, in order of what each could take alone, without what takes long to
    // fill. It is rated as any other; only where there is no work left for that it counts as it was found in haste.
    private void Begin()
    {
        alone = outlook.AloneBySlot(0).ToArray();
        int[] hasty = Meeting(slot => alone[slot]);
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
    private int[] Meeting(Func<int, decimal> weight)
    {
        List<int> slots = [];
        foreach (var slot in Enumerable.Range(0, count).OrderByDescending(weight)) if (slots.TrueForAll(other => CanMeet(other, slot))) slots.Add(slot);
        slots.Sort();
        return [.. slots];
    }

    /// <summary>
    /// Choices to go on from: as many as may meet, by what each takes alone for each promotion that it keeps out, by that
    /// alone, or by rank; and those of them that in order of application make the choice greater.
    /// </summary>
    private void Construct()
    {
        var degrees = Enumerable.Range(0, count).Select(slot => Enumerable.Range(0, count).Count(other => other != slot && !CanMeet(slot, other))).ToArray();
        Func<int, decimal>[] weights = Excludes ? [slot => (decimal)alone[slot] / (1 + degrees[slot]), slot => alone[slot], _ => 0] : [_ => 0];
        foreach (var weight in weights)
        {
            if (sheet.Work.IsOver) return;
            var tried = Meeting(weight);
            if (MakeChoice(ref tried)) Offer(tried);
        }

        foreach (var may in (Func<int, bool>?[])[null, _ => true])
        {
            if (sheet.Work.IsOver) return;
            var among = best;
            TakeInOrder(may ?? among.Contains);
        }
    }

    // What each takes alone, if that costs little; else what it could take.
    private void FindAlone()
    {
        if ((long)count * sheet.Cart.Lines > FewToTryAlone) return;
        for (var slot = 0; slot < count && !sheet.Work.IsOver; slot++)
        {
            Price([slot], out _);
            if (!sheet.Work.IsOver) alone[slot] = Math.Min(alone[slot], sheet.Total.Worth);
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
            : alone[slot] - best.Where(other => !CanMeet(other, slot)).Sum(other => kept.Of(other).Worth);
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
