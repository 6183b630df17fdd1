namespace RapidLedger.Pricing;

/// <content>
/// Depth-first branch and bound (Land and Doig 1960). A node decides one step: the promotion of the step is in, which is priced on the
/// sheet at once, or out. Children in that order, so that the first leaf is what taking everything that has an effect comes to. A node is
/// pruned where its upper bound does not go before the incumbent: by worth, then points, then gift units, then fewer promotions, then the
/// ones that come first. Where the budget ends, the bounds of the nodes left open tell how far from the best the incumbent can be.
/// </content>
internal sealed partial class ChoiceSearch
{
    private void SearchWithin(int mostSteps, long mostWork)
    {
        (nodes, mostNodes, workLimit, isTruncated, level, openBound, fruitless) = (0, mostSteps, mostWork, false, 0, 0, 0);
        Array.Fill(isOpen, true);
        sheet.Clear(shipping);
        bounds.Begin();
        Search(0, null, []);
    }

    private bool IsBudgetSpent => nodes > mostNodes || sheet.Work.Spent > workLimit || sheet.Work.IsOver;

    // The node before a step. start: the runs as they were when the stage began, kept only where some promotion asks for them.
    private void Search(int at, Stage? current, Run[] start)
    {
        while (at < steps.Count && decisions[steps[at].Slot] == Decision.Out)
            at++;
        nodes++;
        if (IsBudgetSpent)
        {
            LeaveOpen(at);
            return;
        }

        if (at == steps.Count)
        {
            TryReplaceIncumbent();
            return;
        }

        var (slot, stage, _) = steps[at];
        if (hasAfter && stage != current)
            start = sheet.Runs.ToArray();
        if (decisions[slot] == Decision.In)
        {
            Try(at, slot, stage, start);
            return;
        }

        if (isOpen[slot] && AfterHolds(slot, start))
        {
            Take(slot, true);
            Try(at, slot, stage, start);
            Take(slot, false);
        }

        decisions[slot] = Decision.Out;
        var wasOpen = isOpen[slot];
        isOpen[slot] = false;
        if (isTruncated)
            LeaveOpen(at + 1);
        else if (CouldImprove(at + 1))
            Search(at + 1, stage, start);
        isOpen[slot] = wasOpen;
        decisions[slot] = Decision.Open;
    }

    // A node left open: its upper bound counts toward the gap.
    private void LeaveOpen(int at)
    {
        isTruncated = true;
        openBound = Math.Max(
            openBound,
            sheet.Total.Worth + bounds.SumOfSoloBounds(level, at < steps.Count ? steps[at].Place : int.MaxValue, isOpen)
        );
    }

    // Puts a promotion in or takes it back; those that it excludes are closed while it is in.
    private void Take(int slot, bool isIn)
    {
        decisions[slot] = isIn ? Decision.In : Decision.Open;
        if (isIn)
            taken.Add(slot);
        else
            taken.RemoveAt(taken.Count - 1);
        for (var other = 0; other < count; other++)
        {
            if (other == slot || CanMeet(slot, other))
                continue;
            blocked[other] += isIn ? 1 : -1;
            isOpen[other] = blocked[other] == 0 && decisions[other] != Decision.Out;
        }
    }

    private void Try(int at, int slot, Stage stage, Run[] start)
    {
        var lowered = sheet.Reductions.Length;
        sheet.Begin(slot, stage);
        sheet.PushState();
        Act(slot, stage);
        bounds.Descend(++level, lowered);
        // What was worked out after the budget was spent need not be right: then the node counts as left open.
        var isOver = sheet.Work.IsOver;
        if (!isOver && !(at == lastStep[slot] && sheet.Of(slot).IsNothing) && CouldImprove(at + 1))
            Search(at + 1, stage, start);
        level--;
        sheet.PopState();
        if (isOver)
            LeaveOpen(at);
    }

    private bool AfterHolds(int slot, Run[] start)
    {
        foreach (var after in eligible[slot].After)
            if (!after.Holds(sheet, start))
                return false;
        return true;
    }

    /// <summary>
    /// Whether a leaf below the node could go before the incumbent: by upper bounds on each part of the objective in turn.
    /// </summary>
    private bool CouldImprove(int from)
    {
        var place = from < steps.Count ? steps[from].Place : int.MaxValue;
        var total = sheet.Total;
        var missing = new Missing(
            incumbentValue.Worth - total.Worth,
            incumbentValue.Points - total.Points,
            incumbentValue.Units - total.Units
        );
        if (!bounds.CouldReach(level, place, isOpen, missing.Worth, out var most))
            return false;
        if (most > missing.Worth)
            return true;
        // As much worth at best: then points, gifts, the number of promotions and their order decide.
        if (bounds.Points(level, place, isOpen, missing.Worth) is var points && points != missing.Points)
            return points > missing.Points;
        if (bounds.GiftUnits(place, isOpen) is var units && units != missing.Units)
            return units > missing.Units;
        return CouldTieWithFewer(place, missing);
    }

    /// <summary>
    /// Whether a choice that comes to just as much could have fewer promotions than the incumbent, or as many that stand before its.
    /// </summary>
    private bool CouldTieWithFewer(int place, Missing missing)
    {
        // Solo bounds may be enough to tell.
        needed.Clear();
        var fewest = taken.Count + bounds.FewestPromotions(level, place, isOpen, taken, missing);
        if (!GoesBeforeIncumbent(fewest))
            return false;
        if (fruitless >= SearchSettings.MostFruitlessNeeds)
            return true;
        fruitless++;
        // Else which promotions are needed: without them it would come to less. Asked of all but so few that the others would be fewer than
        // the incumbent's.
        var others = 0;
        for (var slot = 0; slot < count; slot++)
            if (isOpen[slot] && !taken.Contains(slot))
                others++;
        if (!bounds.FindNeeded(level, place, isOpen, taken, missing, needed, taken.Count + others + 1 - incumbent.Length))
            return true;
        fewest = taken.Count + needed.Count;
        // If they do not reach, it takes one more at the least.
        if (GoesBeforeIncumbent(fewest) && !NeededReach(place, missing))
            fewest++;
        if (GoesBeforeIncumbent(fewest))
            return true;
        fruitless = 0;
        return false;
    }

    private bool NeededReach(int place, Missing missing)
    {
        Span<bool> wasOpen = count <= 128 ? stackalloc bool[count] : new bool[count];
        isOpen.AsSpan(0, count).CopyTo(wasOpen);
        for (var slot = 0; slot < count; slot++)
            isOpen[slot] &= taken.Contains(slot) || needed.Contains(slot);
        var reach = bounds.Reaches(level, place, isOpen, missing);
        wasOpen.CopyTo(isOpen);
        return reach;
    }

    // Whether the first so many promotions in order, those that are in and those that are needed among them, stand before the incumbent's.
    private bool GoesBeforeIncumbent(int fewest)
    {
        if (fewest != incumbent.Length)
            return fewest < incumbent.Length;
        Span<int> slots = count <= 128 ? stackalloc int[count] : new int[count];
        taken.CopyTo(slots);
        needed.CopyTo(slots[taken.Count..]);
        var filled = taken.Count + needed.Count;
        for (var slot = 0; slot < count && filled < fewest; slot++)
            if (isOpen[slot] && !taken.Contains(slot) && !needed.Contains(slot))
                slots[filled++] = slot;
        slots[..filled].Sort();
        return slots[..filled].SequenceCompareTo(incumbent) < 0;
    }

    private void TryReplaceIncumbent()
    {
        int[] slots = [.. taken];
        Array.Sort(slots);
        TryReplaceIncumbent(slots);
    }

    // The slots stand on the sheet.
    private bool TryReplaceIncumbent(int[] slots)
    {
        var compared = Compare(sheet.Total, incumbentValue);
        if (compared == 0)
            compared = incumbent.Length - slots.Length;
        if (compared == 0)
            compared = incumbent.AsSpan().SequenceCompareTo(slots);
        if (compared <= 0)
            return false;
        (incumbent, incumbentValue) = (slots, sheet.Total);
        sheet.CopyTo(incumbentState);
        return true;
    }

    private static int Compare(Tally left, Tally right)
    {
        if (left.Worth != right.Worth)
            return left.Worth.CompareTo(right.Worth);
        if (left.Points != right.Points)
            return left.Points.CompareTo(right.Points);
        return left.Units.CompareTo(right.Units);
    }
}
