namespace RapidLedger.Pricing;

/// <content>What given promotions come to on the sheet, whoever chose them.</content>
internal sealed partial class ChoiceSearch
{
    /// <summary>Whether slots are a choice; they stand on the sheet then.</summary>
    public bool IsChoice(ReadOnlySpan<int> slots)
    {
        foreach (var x in slots)
        foreach (var y in slots)
            if (x != y && !CanMeet(x, y))
                return false;
        return Price(slots, out _) && FirstIdle(slots) < 0;
    }

    /// <summary>Prices the cart with some slots, on the sheet, whether or not they are a choice.</summary>
    /// <param name="slots">The slots.</param>
    /// <param name="unmet">The first whose after-condition does not hold, with what is missing.</param>
    /// <returns>Whether all after-conditions hold.</returns>
    public bool Price(ReadOnlySpan<int> slots, out (int Slot, Gap Gap)? unmet) => Price(slots, mayBreakOff: false, out unmet);

    // Broken off where the work is over: then nobody uses what is on the sheet.
    private bool Price(ReadOnlySpan<int> slots, bool mayBreakOff, out (int Slot, Gap Gap)? unmet)
    {
        unmet = null;
        sheet.Clear(shipping);
        Stage? current = null;
        foreach (var (slot, stage, _) in steps)
        {
            // Nothing of this stage has acted yet: the running prices are those at its start.
            if (hasAfter && stage != current)
                unmet ??= FirstUnmet(slots, stage);
            current = stage;
            if (mayBreakOff && sheet.Work.IsOver)
                return false;
            if (slots.Contains(slot))
                Act(slot, stage);
        }

        return unmet is null;
    }

    // As Price, but the steps that it did last are not done again, up to the first that is another one now.
    private bool PriceFurther(ReadOnlySpan<int> slots, bool mayBreakOff, out (int Slot, Gap Gap)? unmet)
    {
        // What an after-condition looks at is the beginning of a stage.
        if (hasAfter)
            return Price(slots, mayBreakOff, out unmet);
        unmet = null;
        if (done.Count == 0 || sheet.StateDepth != done.Count || isDoneHeuristically != sheet.Fillings.IsHeuristic)
        {
            sheet.Clear(shipping);
            done.Clear();
            isDoneHeuristically = sheet.Fillings.IsHeuristic;
        }

        var (at, common) = (0, 0);
        for (; at < steps.Count; at++)
        {
            if (!slots.Contains(steps[at].Slot))
                continue;
            if (common == done.Count || done[common] != at)
                break;
            common++;
        }

        for (; done.Count > common; done.RemoveAt(done.Count - 1))
            sheet.PopState();
        for (; at < steps.Count; at++)
        {
            var (slot, stage, _) = steps[at];
            if (mayBreakOff && sheet.Work.IsOver)
                return false;
            if (!slots.Contains(slot))
                continue;
            sheet.Begin(slot, stage);
            sheet.PushState();
            done.Add(at);
            Act(slot, stage);
        }

        return true;
    }

    /// <summary>The first of the slots that has no effect in what stands on the sheet; -1 if all have.</summary>
    public int FirstIdle(ReadOnlySpan<int> slots)
    {
        foreach (var slot in slots)
            if (sheet.Of(slot).IsNothing)
                return slot;
        return -1;
    }

    /// <summary>What is missing to the after-conditions of a slot beside chosen ones; null if they hold.</summary>
    public Gap? UnmetAfter(int slot, ReadOnlySpan<int> chosen)
    {
        if (eligible[slot].After.Length == 0)
            return null;
        sheet.Clear(shipping);
        Stage? current = null;
        foreach (var (other, stage, _) in steps)
        {
            if (stage != current && FirstUnmet([slot], stage) is { } unmet)
                return unmet.Gap;
            current = stage;
            if (chosen.Contains(other))
                Act(other, stage);
        }

        return null;
    }

    private (int Slot, Gap Gap)? FirstUnmet(ReadOnlySpan<int> asked, Stage stage)
    {
        foreach (var slot in asked)
            if (eligible[slot].Stages is [var first, ..] && first == stage)
                foreach (var after in eligible[slot].After)
                    if (after.Gap(sheet, sheet.Runs) is { } gap)
                        return (slot, gap);
        return null;
    }

    private void Act(int slot, Stage stage)
    {
        sheet.Begin(slot, stage);
        foreach (var reward in eligible[slot].Rewards)
            if (reward.Stage == stage)
                reward.Apply(sheet);
    }
}
