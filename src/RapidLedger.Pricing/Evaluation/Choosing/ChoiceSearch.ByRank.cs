namespace RapidLedger.Pricing;

/// <content>Taking promotions one after the other, in order of application.</content>
internal sealed partial class ChoiceSearch
{
    private Chosen TakeByRank()
    {
        (incumbent, incumbentValue) = ([], default);
        sheet.Clear(shipping);
        sheet.CopyTo(incumbentState);
        isTruncated = !TakeInOrder(_ => true);
        if (!isTruncated && sheet.Fillings.IsExact)
            return new(incumbent, true, 0);
        bounds.Open(sheet, eligible, this);
        return new(incumbent, false, Math.Max(0, RootBound() - incumbentValue.Worth));
    }

    /// <summary>
    /// Takes, in order of application, each promotion that makes the choice greater: each is tried behind what stands on the sheet for the
    /// item stage, and the later stages, which cost little, are done anew.
    /// </summary>
    /// <returns>Whether all were tried before the work was over.</returns>
    private bool TakeInOrder(Func<int, bool> may)
    {
        sheet.Clear(shipping);
        var (found, reached) = (Array.Empty<int>(), default(Tally));
        // What the item stage begins with is the same for all.
        var isUnmet = hasAfter
            ? [.. Enumerable.Range(0, count).Select(slot => FirstUnmet([slot], Stage.Item) is not null)]
            : new bool[count];
        for (var slot = 0; slot < count; slot++)
        {
            if (isUnmet[slot] || !may(slot) || !Array.TrueForAll(found, other => CanMeet(other, slot)))
                continue;
            if (sheet.Work.IsOver)
                return false;
            int[] tried = [.. found, slot];
            // For the promotion of the slot, so that it is taken back if it does not help.
            sheet.Begin(slot, Stage.Item);
            sheet.PushState();
            Act(slot, Stage.Item);
            if (Complete(tried, reached) is { } tally)
            {
                (found, reached) = (tried, tally);
                sheet.CommitState();
            }
            else
            {
                sheet.PopState();
            }
        }

        return !sheet.Work.IsOver;
    }

    // What slots come to whose item stage stands on the sheet, and stands there again afterwards; null if they are no choice, or none that
    // is greater than what was reached before. On the way it may become the incumbent.
    private Tally? Complete(int[] slots, Tally reached)
    {
        var depth = 0;
        var holds = true;
        Stage? current = Stage.Item;
        foreach (var (slot, stage, _) in steps)
        {
            if (stage == Stage.Item)
                continue;
            if (hasAfter && stage != current)
                holds &= FirstUnmet(slots, stage) is null;
            current = stage;
            if (!holds)
                break;
            if (!slots.Contains(slot))
                continue;
            sheet.Begin(slot, stage);
            sheet.PushState();
            depth++;
            Act(slot, stage);
        }

        Tally? tally = holds && FirstIdle(slots) < 0 && !sheet.Work.IsOver && Compare(sheet.Total, reached) > 0 ? sheet.Total : null;
        if (tally is not null)
            TryReplaceIncumbent(slots);
        for (; depth > 0; depth--)
            sheet.PopState();
        return tally;
    }
}
