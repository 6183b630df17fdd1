namespace RapidLedger.Pricing;

/// <summary>
/// Finds which eligible promotions apply: by depth-first search with bounds, over promotions in the order in which they act.
/// What a promotion takes depends only on those that act before it, so a branch in which one has no effect is dead at once.
/// </summary>
internal sealed class Choice
{
    // Up to so many eligible promotions the search always ends.
    private const int AlwaysProved = 20;

    // Steps of the search beyond that number, counted so that the same case has the same result on any machine.
    private const int Budget = 20_000;

    // After so many steps without an end the best found is made better before going on.
    private const int FirstSteps = 150;

    /// <summary>The stages, in order.</summary>
    public static readonly Stage[] Stages = Enum.GetValues<Stage>();

    private readonly List<Step> steps = [];
    private readonly List<int> taken = [];
    private Sheet sheet = null!;
    private CompiledPromotion[] eligible = [];
    private long shipping;
    private bool hasAfter;
    private bool[] meets = [];
    // By slot.
    private int[] lastStep = [];
    private Decision[] decisions = [];
    private bool[] isOpen = [];
    private int[] blocked = [];
    private int[]? best;
    private Tally bestTally;
    private int visited;
    private int limit;
    private int level;
    private bool cutOff;

    /// <summary>Begins for a set of eligible promotions.</summary>
    /// <param name="on">The sheet, with nothing on it.</param>
    /// <param name="promotions">In order of application: their places are their slots.</param>
    /// <param name="charge">For delivery.</param>
    public void Open(Sheet on, CompiledPromotion[] promotions, long charge)
    {
        (sheet, eligible, shipping, best, Proved) = (on, promotions, charge, null, true);
        var count = promotions.Length;
        hasAfter = Array.Exists(promotions, promotion => promotion.After.Length > 0);
        if (decisions.Length < count)
        {
            (decisions, isOpen, blocked, lastStep) = (new Decision[2 * count], new bool[2 * count], new int[2 * count], new int[2 * count]);
            meets = new bool[4 * count * count];
        }

        Array.Clear(decisions);
        Array.Clear(blocked);
        taken.Clear();
        steps.Clear();
        for (var x = 0; x < count; x++)
            for (var y = 0; y < x; y++)
                meets[(x * count) + y] = meets[(y * count) + x] = promotions[x].CanMeet(promotions[y]);

        var place = 0;
        foreach (var stage in Stages)
        {
            for (var slot = 0; slot < count; slot++)
            {
                if (!promotions[slot].Stages.AsSpan().Contains(stage)) continue;
                lastStep[slot] = steps.Count;
                steps.Add(new(slot, stage, place));
                foreach (var reward in promotions[slot].Rewards) if (reward.Stage == stage) place++;
            }
        }
    }

    /// <summary>Whether the choice found is known to be the greatest.</summary>
    public bool Proved { get; private set; }

    /// <summary>The slots of the greatest choice, ascending.</summary>
    public int[] Best()
    {
        (best, bestTally) = ([], default);
        sheet.Keep();
        sheet.Outlook.Open(sheet, eligible, this);
        SearchWithin(FirstSteps);
        Proved = sheet.IsExact;
        if (!cutOff) return best;
        Improve();
        sheet.Outlook.LookAtLines();
        SearchWithin(eligible.Length <= AlwaysProved ? int.MaxValue : Budget);
        Proved = !cutOff && sheet.IsExact;
        return best;
    }

    private void SearchWithin(int most)
    {
        (visited, limit, cutOff, level) = (0, most, false, 0);
        Array.Fill(isOpen, true);
        sheet.Clear(shipping);
        sheet.Outlook.Descend(0);
        Search(0, null, []);
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

    /// <summary>Puts a choice that was found back on the sheet.</summary>
    public void Show(int[] chosen)
    {
        if (chosen == best) sheet.Recall();
        else HasEffects(chosen);
    }

    public bool CanMeet(int x, int y) => meets[(x * eligible.Length) + y];

    /// <summary>Prices the cart with these slots, on the sheet; whether each has an effect and its after-conditions hold.</summary>
    public bool IsChoice(ReadOnlySpan<int> slots) => HasEffects(slots) && FirstUnmetAfter(slots, slots) is null;

    /// <summary>Prices the cart with these slots, on the sheet; whether each has an effect, whatever its after-conditions.</summary>
    public bool HasEffects(ReadOnlySpan<int> slots)
    {
        sheet.Clear(shipping);
        foreach (var (slot, stage, _) in steps)
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

        if (++visited > limit)
        {
            cutOff = true;
            return;
        }

        var (slot, stage, _) = steps[at];
        if (hasAfter && stage != current) start = sheet.Runs.ToArray();
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
        if (!cutOff && CanBeat(at + 1)) Search(at + 1, stage, start);
        isOpen[slot] = wasOpen;
        decisions[slot] = Decision.Open;
    }

    // Those that cannot meet it are closed while it is in.
    private void Take(int slot, bool isIn)
    {
        decisions[slot] = isIn ? Decision.In : Decision.Open;
        if (isIn) taken.Add(slot);
        else taken.RemoveAt(taken.Count - 1);
        for (var other = 0; other < eligible.Length; other++)
        {
            if (other == slot || CanMeet(slot, other)) continue;
            blocked[other] += isIn ? 1 : -1;
            isOpen[other] = blocked[other] == 0 && decisions[other] != Decision.Out;
        }
    }

    private void Try(int at, int slot, Stage stage, Run[] start)
    {
        var lowered = sheet.Reductions.Length;
        sheet.Begin(slot);
        sheet.Save();
        Act(slot, stage);
        sheet.Outlook.Descend(++level, lowered);
        if (!(at == lastStep[slot] && sheet.Of(slot).IsNothing) && CanBeat(at + 1)) Search(at + 1, stage, start);
        level--;
        sheet.Restore();
    }

    private bool AfterHolds(int slot, Run[] start)
    {
        foreach (var after in eligible[slot].After) if (!after.Holds(sheet, start)) return false;
        return true;
    }

    /// <summary>Whether what is still to come could make a choice that goes before the best one found.</summary>
    private bool CanBeat(int from)
    {
        var place = from < steps.Count ? steps[from].Place : int.MaxValue;
        var (outlook, total) = (sheet.Outlook, sheet.Total);
        var wanted = bestTally.Worth - total.Worth;
        if (!outlook.CouldAdd(level, place, isOpen, wanted, out var most)) return false;
        if (most > wanted) return true;
        // At best as much: then points, gifts, the number of promotions and their order decide.
        var (points, units) = (bestTally.Points - total.Points, UnitsOf(bestTally) - UnitsOf(total));
        if (outlook.Points(place, isOpen) is var morePoints && morePoints != points) return morePoints > points;
        if (outlook.GiftUnits(place, isOpen) is var moreUnits && moreUnits != units) return moreUnits > units;
        var fewest = taken.Count + outlook.Fewest(level, place, isOpen, taken, wanted, points > 0 || units > 0);
        return fewest < best!.Length || (fewest == best.Length && FirstPossible(fewest).AsSpan().SequenceCompareTo(best) < 0);
    }

    // The first in order that so many promotions can be, with those that are in.
    private int[] FirstPossible(int count)
    {
        List<int> slots = [.. taken];
        for (var slot = 0; slot < eligible.Length && slots.Count < count; slot++) if (isOpen[slot] && !taken.Contains(slot)) slots.Add(slot);
        slots.Sort();
        return [.. slots];
    }

    private void Offer()
    {
        int[] slots = [.. taken];
        Array.Sort(slots);
        Offer(slots);
    }

    // The slots stand on the sheet.
    private bool Offer(int[] slots)
    {
        var compared = Compare(sheet.Total, bestTally);
        if (compared == 0) compared = best!.Length - slots.Length;
        if (compared == 0) compared = best!.AsSpan().SequenceCompareTo(slots);
        if (compared <= 0) return false;
        (best, bestTally) = (slots, sheet.Total);
        sheet.Keep();
        return true;
    }

    /// <summary>
    /// Makes the best choice found better by adding or leaving out one promotion, while that helps: a good choice early makes the search short.
    /// </summary>
    private void Improve()
    {
        for (var better = true; better;)
        {
            better = false;
            for (var slot = 0; slot < eligible.Length; slot++)
            {
                var tried = best!.Contains(slot) ? Array.FindAll(best!, other => other != slot) : [.. Array.FindAll(best!, other => CanMeet(other, slot)).Append(slot).Order()];
                better |= IsChoiceWithoutIdle(ref tried) && Offer(tried);
            }
        }
    }

    private bool IsChoiceWithoutIdle(ref int[] slots)
    {
        while (!HasEffects(slots)) slots = Array.FindAll(slots, slot => !sheet.Of(slot).IsNothing);
        return FirstUnmetAfter(slots, slots) is null;
    }

    private static long UnitsOf(Tally tally) => tally.GiftUnits + tally.OfferedUnits;

    private static int Compare(Tally left, Tally right)
    {
        if (left.Worth != right.Worth) return left.Worth.CompareTo(right.Worth);
        if (left.Points != right.Points) return left.Points.CompareTo(right.Points);
        return UnitsOf(left).CompareTo(UnitsOf(right));
    }

    private enum Decision : byte
    {
        Open,
        In,
        Out,
    }

    // Place: that of its first part in the outlook.
    private readonly record struct Step(int Slot, Stage Stage, int Place);
}
