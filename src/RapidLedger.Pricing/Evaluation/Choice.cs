namespace RapidLedger.Pricing;

/// <summary>
/// Finds which eligible promotions apply: by depth-first search with bounds, over promotions in the order in which they act.
/// What a promotion takes depends only on those that act before it, so a branch in which one has no effect is dead at once.
/// </summary>
internal sealed class Choice
{
    // About a fifth of a second on one core; far beyond what any cart of twenty promotions has needed.
    private const int Budget = 400_000;

    private static readonly Stage[] Stages = Enum.GetValues<Stage>();

    private readonly Sheet sheet;
    private readonly CompiledPromotion[] eligible;
    private readonly long shipping;
    private readonly List<Step> steps = [];
    private readonly int[] lastStep;
    private readonly bool[] meets;
    private readonly Decision[] decisions;
    private readonly List<int> taken = [];
    private readonly bool hasAfter;
    private int[]? best;
    private Tally bestTally;
    private int visited;

    public Choice(Sheet sheet, CompiledPromotion[] eligible, long shipping)
    {
        (this.sheet, this.eligible, this.shipping) = (sheet, eligible, shipping);
        decisions = new Decision[eligible.Length];
        hasAfter = Array.Exists(eligible, promotion => promotion.After.Length > 0);
        lastStep = new int[eligible.Length];
        foreach (var stage in Stages)
        {
            for (var slot = 0; slot < eligible.Length; slot++)
            {
                if (!eligible[slot].Stages.AsSpan().Contains(stage)) continue;
                lastStep[slot] = steps.Count;
                steps.Add(new(slot, stage));
            }
        }

        meets = new bool[eligible.Length * eligible.Length];
        for (var x = 0; x < eligible.Length; x++)
            for (var y = 0; y < x; y++)
                meets[(x * eligible.Length) + y] = meets[(y * eligible.Length) + x] = eligible[x].CanMeet(eligible[y]);
    }

    /// <summary>Whether the choice found is known to be the greatest.</summary>
    public bool Proved { get; private set; } = true;

    /// <summary>The slots of the greatest choice, ascending.</summary>
    public int[] Best()
    {
        (best, bestTally, visited) = ([], default, 0);
        sheet.Clear(shipping);
        Search(0, null, []);
        return best;
    }

    /// <summary>The slots chosen by taking, in order of application, each promotion that makes the choice greater.</summary>
    public int[] ByRank()
    {
        int[] chosen = [];
        var reached = default(Tally);
        for (var slot = 0; slot < eligible.Length; slot++)
        {
            int[] tried = [.. chosen, slot];
            if (chosen.All(other => CanMeet(other, slot)) && IsChoice(tried) && Compare(sheet.Total, reached) > 0) (chosen, reached) = (tried, sheet.Total);
        }

        return chosen;
    }

    public bool CanMeet(int x, int y) => meets[(x * eligible.Length) + y];

    /// <summary>Prices the cart with these slots, on the sheet; whether each has an effect and its after-conditions hold.</summary>
    public bool IsChoice(ReadOnlySpan<int> slots) => HasEffects(slots) && FirstUnmetAfter(slots, slots) is null;

    /// <summary>Prices the cart with these slots, on the sheet; whether each has an effect, whatever its after-conditions.</summary>
    public bool HasEffects(ReadOnlySpan<int> slots)
    {
        sheet.Clear(shipping);
        foreach (var (slot, stage) in steps)
            if (slots.Contains(slot)) Act(slot, stage);
        foreach (var slot in slots) if (sheet.Of(slot).IsNothing) return false;
        return true;
    }

    /// <summary>What is missing to the after-conditions of a slot beside chosen ones; null if they hold. Leaves the chosen on the sheet.</summary>
    public Gap? UnmetAfter(int slot, ReadOnlySpan<int> chosen) => FirstUnmetAfter([slot], chosen);

    private Gap? FirstUnmetAfter(ReadOnlySpan<int> asked, ReadOnlySpan<int> chosen)
    {
        if (!hasAfter) return null;
        Gap? unmet = null;
        sheet.Clear(shipping);
        foreach (var stage in Stages)
        {
            // Nothing of this stage has acted yet: the running prices are those at its start.
            foreach (var slot in asked)
                if (eligible[slot].Stages is [var first, ..] && first == stage)
                    foreach (var after in eligible[slot].After) unmet ??= after.Gap(sheet, sheet.Runs);
            foreach (var step in steps) if (step.Stage == stage && chosen.Contains(step.Slot)) Act(step.Slot, stage);
        }

        return unmet;
    }

    private void Act(int slot, Stage stage)
    {
        sheet.Begin(slot);
        foreach (var reward in eligible[slot].Rewards) if (reward.Stage == stage) reward.Apply(sheet);
    }

    // start: the runs as they were when the stage began, kept only where some promotion asks for them.
    private void Search(int at, Stage? current, Run[] start)
    {
        while (at < steps.Count && decisions[steps[at].Slot] == Decision.Out) at++;
        if (at == steps.Count)
        {
            Offer();
            return;
        }

        if (++visited > Budget)
        {
            Proved = false;
            return;
        }

        var (slot, stage) = steps[at];
        if (hasAfter && stage != current) start = sheet.Runs.ToArray();
        if (decisions[slot] == Decision.In)
        {
            Try(at, slot, stage, start);
            return;
        }

        if (CanJoin(slot) && AfterHolds(slot, start))
        {
            decisions[slot] = Decision.In;
            taken.Add(slot);
            Try(at, slot, stage, start);
            taken.RemoveAt(taken.Count - 1);
        }

        decisions[slot] = Decision.Out;
        if (CanBeat(at + 1)) Search(at + 1, stage, start);
        decisions[slot] = Decision.Open;
    }

    private void Try(int at, int slot, Stage stage, Run[] start)
    {
        sheet.Begin(slot);
        sheet.Save();
        Act(slot, stage);
        if (!(at == lastStep[slot] && sheet.Of(slot).IsNothing) && CanBeat(at + 1)) Search(at + 1, stage, start);
        sheet.Restore();
    }

    private bool CanJoin(int slot)
    {
        foreach (var other in taken) if (!CanMeet(other, slot)) return false;
        return true;
    }

    private bool AfterHolds(int slot, Run[] start)
    {
        foreach (var after in eligible[slot].After) if (!after.Holds(sheet, start)) return false;
        return true;
    }

    /// <summary>Whether what is still to come could reach the best choice found.</summary>
    private bool CanBeat(int from)
    {
        var needed = bestTally.Worth - sheet.Total.Worth;
        if (needed <= 0) return true;
        // Each bound is taken at what those before it must leave at the least; see ReadyReward.Bound.
        var goods = sheet.Sum();
        long bound = 0;
        for (var at = from; at < steps.Count; at++)
        {
            var (slot, stage) = steps[at];
            if (decisions[slot] == Decision.Out || (decisions[slot] == Decision.Open && !CanJoin(slot))) continue;
            foreach (var reward in eligible[slot].Rewards)
            {
                if (reward.Stage != stage) continue;
                var most = reward.Bound(sheet, goods);
                bound += most;
                if (reward.LowersGoods) goods -= most;
            }

            if (bound >= needed) return true;
        }

        return bound >= needed;
    }

    private void Offer()
    {
        var compared = Compare(sheet.Total, bestTally);
        if (compared < 0) return;
        int[] slots = [.. taken];
        Array.Sort(slots);
        if (compared > 0 || slots.Length < best!.Length || (slots.Length == best.Length && slots.AsSpan().SequenceCompareTo(best) < 0))
            (best, bestTally) = (slots, sheet.Total);
    }

    private static int Compare(Tally left, Tally right)
    {
        if (left.Worth != right.Worth) return left.Worth.CompareTo(right.Worth);
        if (left.Points != right.Points) return left.Points.CompareTo(right.Points);
        return (left.GiftUnits + left.OfferedUnits).CompareTo(right.GiftUnits + right.OfferedUnits);
    }

    private enum Decision : byte
    {
        Open,
        In,
        Out,
    }

    private readonly record struct Step(int Slot, Stage Stage);
}
