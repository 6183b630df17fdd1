namespace RapidLedger.Pricing;

/// <summary>
/// Finds which eligible promotions apply: by depth-first search with bounds, over promotions in the order in which they act.
/// What a promotion takes depends only on those that act before it, so a branch in which one has no effect is dead at once.
/// The way it goes does not depend on how much work it may do: with more of it goes on from where it would have ended.
/// </summary>
internal sealed partial class Choice
{
    // A short search first: as a rule that is all.
    private const int FirstSteps = 150;

    // Up to here a choice is made better by single changes; then the search goes on. In work since the first step.
    private const long ForFirstSteps = Work.OfOneEffort / 16;
    private const long ForImproving = Work.OfOneEffort * 13 / 16;
    private const long ForImprovingFurther = Work.OfOneEffort * 4;

    // The work that each filling may put into being exact, unless there is only one promotion: as long as there was one that was not,
    // all is done again with more of it.
    private const long ForFirstFillings = Work.OfOneEffort / 8;
    private const int MoreForFillings = 8;

    // So many times in a row it told nothing which promotions are needed: then it is no longer asked.
    private const int OftenInVain = 8;

    /// <summary>The stages, in order.</summary>
    public static readonly Stage[] Stages = Enum.GetValues<Stage>();

    private readonly Outlook outlook = new();
    private readonly List<Step> steps = [];
    private readonly List<int> taken = [];
    private readonly List<int> needed = [];
    // The steps that stand on the sheet, each behind a state that was saved before it.
    private readonly List<int> done = [];
    private bool isDoneInHaste;
    private Sheet.State kept = new();
    private Sheet.State former = new();
    private Sheet.State inHaste = new();
    private Sheet sheet = null!;
    private CompiledPromotion[] eligible = [];
    private int count;
    private long shipping;
    private bool hasAfter;
    private bool[] meets = [];
    // By slot.
    private int[] lastStep = [];
    private Decision[] decisions = [];
    private bool[] isOpen = [];
    private int[] blocked = [];
    // What it could take alone.
    private long[] promises = [];
    private int[] best = [];
    private Tally bestTally;
    private bool isFilledInHaste;
    private int inVain;
    private int visited;
    private int mostVisited;
    private long until;
    private int level;
    private bool cutOff;
    private long frontier;

    /// <summary>Begins for a set of eligible promotions.</summary>
    /// <param name="on">The sheet, with nothing on it.</param>
    /// <param name="promotions">In order of application: their places are their slots.</param>
    /// <param name="charge">For delivery.</param>
    public void Open(Sheet on, CompiledPromotion[] promotions, long charge)
    {
        (sheet, eligible, count, shipping, best, bestTally) = (on, promotions, promotions.Length, charge, [], default);
        hasAfter = Array.Exists(promotions, promotion => promotion.After.Length > 0);
        if (decisions.Length < count)
        {
            (decisions, isOpen, blocked, lastStep) = (new Decision[2 * count], new bool[2 * count], new int[2 * count], new int[2 * count]);
            meets = new bool[4 * count * count];
        }

        decisions.AsSpan(0, count).Clear();
        blocked.AsSpan(0, count).Clear();
        taken.Clear();
        steps.Clear();
        done.Clear();
        var all = meets.AsSpan(0, count * count);
        all.Fill(true);
        if (!Array.TrueForAll(promotions, promotion => promotion.AllowsAny))
        {
            for (var x = 0; x < count; x++)
                for (var y = 0; y < x; y++) meets[(x * count) + y] = meets[(y * count) + x] = promotions[x].CanMeet(promotions[y]);
        }

        Excludes = all.Contains(false);

        var place = 0;
        foreach (var stage in Stages)
        {
            for (var slot = 0; slot < count; slot++)
            {
                var first = place;
                foreach (var reward in promotions[slot].Rewards) if (reward.Stage == stage) place++;
                if (place == first) continue;
                lastStep[slot] = steps.Count;
                steps.Add(new(slot, stage, first));
            }
        }
    }

    /// <summary>The greatest choice, as far as the work of the sheet reaches.</summary>
    public Chosen Best() => WithExactFillings(SearchForBest);

    /// <summary>The slots chosen by taking, in order of application, each promotion that makes the choice greater.</summary>
    public Chosen ByRank() => WithExactFillings(TakeByRank);

    /// <summary>Puts the choice that was found back on the sheet.</summary>
    public void Show() => sheet.Recall(kept);

    /// <summary>Whether any two of the promotions may not stand in one cart.</summary>
    public bool Excludes { get; private set; }

    /// <summary>Whether two promotions may stand in one cart.</summary>
    public bool CanMeet(int x, int y) => meets[(x * count) + y];

    // As long as some filling came only close, all is done again with more work for each; what came last counts, unless it was broken off.
    private Chosen WithExactFillings(Func<Chosen> choose)
    {
        // Of one alone half an effort, so that what it came to is still priced.
        var forFillings = count == 1 ? Work.OfOneEffort / 2 : ForFirstFillings / Math.Max(1, count);
        sheet.Fillings.Begin(forFillings);
        var found = Found();
        while (!sheet.Fillings.IsExact && !sheet.Work.IsOver)
        {
            var worth = bestTally.Worth;
            (kept, former) = (former, kept);
            forFillings *= MoreForFillings;
            sheet.Fillings.Begin(forFillings);
            var again = Found();
            if (!sheet.Work.IsOver || bestTally.Worth >= worth) found = again;
            else (kept, former) = (former, kept);
        }

        return found;

        Chosen Found()
        {
            isFilledInHaste = false;
            var chosen = choose();
            return chosen with { ExactFillings = sheet.Fillings.IsExact && !isFilledInHaste };
        }
    }

    private Chosen SearchForBest()
    {
        (best, bestTally) = ([], default);
        sheet.Clear(shipping);
        sheet.Keep(kept);
        outlook.Open(sheet, eligible, this);
        var begun = sheet.Work.Spent;
        // One alone is either in or not: there is nothing to begin with instead.
        SearchWithin(FirstSteps + steps.Count, count == 1 ? long.MaxValue : begun + ForFirstSteps);
        if (!cutOff && sheet.Fillings.IsExact) return new(best, true, 0);

        var most = AtMost();
        if (cutOff)
        {
            outlook.LookAtLines();
            LookInHaste(begun + ForImproving);
            // Without bundles nothing was done in haste.
            if (!sheet.Fillings.IsEmpty) Improve(begun + ForImproving);
            SearchWithin(int.MaxValue, begun + Work.OfOneEffort);
            if (cutOff && !sheet.Work.IsOver)
            {
                // There is more than one effort: first what is near, then all.
                Improve(begun + ForImprovingFurther);
                SearchWithin(int.MaxValue, long.MaxValue);
            }

            if (cutOff) most = Math.Min(most, frontier);
            else if (sheet.Fillings.IsExact) return new(best, true, 0);
            else most = AtMost();
        }

        return new(best, false, Math.Max(0, most - bestTally.Worth));
    }

    // No choice is worth more.
    private long AtMost()
    {
        Array.Fill(isOpen, true);
        sheet.Clear(shipping);
        outlook.Begin();
        // The cheapest sets of one alone that came only close take no less than is asked for, unless there was no time for any.
        return count == 1 && !cutOff && !sheet.Fillings.FellShort ? bestTally.Worth : outlook.AtMost(isOpen);
    }

    private void SearchWithin(int mostSteps, long mostWork)
    {
        (visited, mostVisited, until, cutOff, level, frontier, inVain) = (0, mostSteps, mostWork, false, 0, 0, 0);
        Array.Fill(isOpen, true);
        sheet.Clear(shipping);
        outlook.Begin();
        Search(0, null, []);
    }

    private bool IsToStop => visited > mostVisited || sheet.Work.Spent > until || sheet.Work.IsOver;

    // start: the runs as they were when the stage began, kept only where some promotion asks for them.
    private void Search(int at, Stage? current, Run[] start)
    {
        while (at < steps.Count && decisions[steps[at].Slot] == Decision.Out) at++;
        visited++;
        if (IsToStop)
        {
            GiveUp(at);
            return;
        }

        if (at == steps.Count)
        {
            Offer();
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
        if (cutOff) GiveUp(at + 1);
        else if (CanBeat(at + 1)) Search(at + 1, stage, start);
        isOpen[slot] = wasOpen;
        decisions[slot] = Decision.Open;
    }

    // What is left unlooked at could come to this.
    private void GiveUp(int at)
    {
        cutOff = true;
        frontier = Math.Max(frontier, sheet.Total.Worth + outlook.AtMostAlone(level, at < steps.Count ? steps[at].Place : int.MaxValue, isOpen));
    }

    // Those that cannot meet it are closed while it is in.
    private void Take(int slot, bool isIn)
    {
        decisions[slot] = isIn ? Decision.In : Decision.Open;
        if (isIn) taken.Add(slot);
        else taken.RemoveAt(taken.Count - 1);
        for (var other = 0; other < count; other++)
        {
            if (other == slot || CanMeet(slot, other)) continue;
            blocked[other] += isIn ? 1 : -1;
            isOpen[other] = blocked[other] == 0 && decisions[other] != Decision.Out;
        }
    }

    private void Try(int at, int slot, Stage stage, Run[] start)
    {
        var lowered = sheet.Reductions.Length;
        sheet.Begin(slot, stage);
        sheet.Save();
        Act(slot, stage);
        outlook.Descend(++level, lowered);
        // What was worked out when the work was over need not be right: then it counts as not looked at.
        var isOver = sheet.Work.IsOver;
        if (!isOver && !(at == lastStep[slot] && sheet.Of(slot).IsNothing) && CanBeat(at + 1)) Search(at + 1, stage, start);
        level--;
        sheet.Restore();
        if (isOver) GiveUp(at);
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
        var total = sheet.Total;
        var wanted = new Wanted(bestTally.Worth - total.Worth, bestTally.Points - total.Points, bestTally.Units - total.Units);
        if (!outlook.CouldAdd(level, place, isOpen, wanted.Worth, out var most)) return false;
        if (most > wanted.Worth) return true;
        // At best as much: then points, gifts, the number of promotions and their order decide.
        if (outlook.Points(level, place, isOpen, wanted.Worth) is var points && points != wanted.Points) return points > wanted.Points;
        if (outlook.GiftUnits(place, isOpen) is var units && units != wanted.Units) return units > wanted.Units;
        return CouldBeFewer(place, wanted);
    }

    /// <summary>
    /// Whether a choice that comes to just as much could be one of fewer promotions than the best one found, or of as many that stand before its.
    /// </summary>
    private bool CouldBeFewer(int place, Wanted wanted)
    {
        // What each could bring alone may be enough to tell.
        needed.Clear();
        var fewest = taken.Count + outlook.Fewest(level, place, isOpen, taken, wanted);
        if (!IsBeforeTheBest(fewest)) return false;
        if (inVain >= OftenInVain) return true;
        inVain++;
        // Else those without which it would come to less: all but so few that the others would be fewer than the best ones.
        var others = 0;
        for (var slot = 0; slot < count; slot++) if (isOpen[slot] && !taken.Contains(slot)) others++;
        if (!outlook.FindNeeded(level, place, isOpen, taken, wanted, needed, taken.Count + others + 1 - best.Length)) return true;
        fewest = taken.Count + needed.Count;
        // If they do not reach, it takes one more at the least.
        if (IsBeforeTheBest(fewest) && !NeededReach(place, wanted)) fewest++;
        if (IsBeforeTheBest(fewest)) return true;
        inVain = 0;
        return false;
    }

    private bool NeededReach(int place, Wanted wanted)
    {
        Span<bool> wasOpen = count <= 128 ? stackalloc bool[count] : new bool[count];
        isOpen.AsSpan(0, count).CopyTo(wasOpen);
        for (var slot = 0; slot < count; slot++) isOpen[slot] &= taken.Contains(slot) || needed.Contains(slot);
        var reach = outlook.Reaches(level, place, isOpen, wanted);
        wasOpen.CopyTo(isOpen);
        return reach;
    }

    // Whether the first in order that so many promotions can be, with those that are in and those that are needed, stand before the best ones found.
    private bool IsBeforeTheBest(int fewest)
    {
        if (fewest != best.Length) return fewest < best.Length;
        Span<int> slots = count <= 128 ? stackalloc int[count] : new int[count];
        taken.CopyTo(slots);
        needed.CopyTo(slots[taken.Count..]);
        var filled = taken.Count + needed.Count;
        for (var slot = 0; slot < count && filled < fewest; slot++) if (isOpen[slot] && !taken.Contains(slot) && !needed.Contains(slot)) slots[filled++] = slot;
        slots[..filled].Sort();
        return slots[..filled].SequenceCompareTo(best) < 0;
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
        if (compared == 0) compared = best.Length - slots.Length;
        if (compared == 0) compared = best.AsSpan().SequenceCompareTo(slots);
        if (compared <= 0) return false;
        (best, bestTally) = (slots, sheet.Total);
        sheet.Keep(kept);
        return true;
    }

    private static int Compare(Tally left, Tally right)
    {
        if (left.Worth != right.Worth) return left.Worth.CompareTo(right.Worth);
        if (left.Points != right.Points) return left.Points.CompareTo(right.Points);
        return left.Units.CompareTo(right.Units);
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

/// <summary>The promotions that were chosen.</summary>
/// <param name="Slots">Ascending.</param>
/// <param name="Proved">Whether this is known to be what was asked for.</param>
/// <param name="Gap">If not: by how much at most another choice could be worth more.</param>
/// <param name="ExactFillings">Whether every set was filled as asked for; else some came only close to it, and the worth may be a little more or less.</param>
internal sealed record Chosen(int[] Slots, bool Proved, long Gap, bool ExactFillings = false);
