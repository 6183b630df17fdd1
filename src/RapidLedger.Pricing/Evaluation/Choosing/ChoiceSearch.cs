namespace RapidLedger.Pricing;

/// <summary>
/// Computes which of the eligible promotions apply to a cart: a choice of greatest objective value (worth, then points, then gift units,
/// then fewer promotions, then those that come first), or the one that taking them by rank leads to.
/// <para>In: a sheet with nothing on it, the promotions in order of application, the delivery charge. Out: the slots chosen, whether that
/// is
/// proved, and the gap to the upper bound if it is not; <see cref="Show"/> puts the cart so priced on the sheet.</para>
/// <para>How: a short dive by branch and bound, which as a rule is all. Else an incumbent by a heuristic (bundles filled greedily), local
/// search around it, and branch and bound again with what is known. What a promotion takes depends only on those that act before it, so a
/// node in which one has no effect is dead at once, and what stands before a change need not be priced again.</para>
/// <para>Cost: exponential at the worst (weighted independent set is a special case), so all work is counted and ends with the budget. The
/// order of what is done does not depend on the budget: with more of it the search goes on from where it would have ended, so more work
/// never finds less.</para>
/// </summary>
internal sealed partial class ChoiceSearch
{
    /// <summary>The stages, in order.</summary>
    public static readonly Stage[] Stages = Enum.GetValues<Stage>();

    private readonly UpperBounds bounds = new();
    private readonly List<Step> steps = [];
    private readonly List<int> taken = [];
    private readonly List<int> needed = [];

    // The steps priced last on the sheet, each behind a state that was pushed before it, so that only those that differ are priced again.
    private readonly List<int> done = [];
    private bool isDoneHeuristically;
    private Sheet.Snapshot incumbentState = new();
    private Sheet.Snapshot formerState = new();
    private Sheet.Snapshot heuristicState = new();
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

    // By slot, what each could bring alone at the most.
    private long[] soloBounds = [];
    private int[] incumbent = [];
    private Tally incumbentValue;
    private bool isIncumbentHeuristic;
    private int fruitless;
    private int nodes;
    private int mostNodes;
    private long workLimit;
    private int level;
    private bool isTruncated;
    private long openBound;

    /// <summary>Begins for a set of eligible promotions.</summary>
    /// <param name="on">The sheet, with nothing on it.</param>
    /// <param name="promotions">In order of application: their places are their slots.</param>
    /// <param name="charge">For delivery.</param>
    public void Open(Sheet on, CompiledPromotion[] promotions, long charge)
    {
        (sheet, eligible, count, shipping, incumbent, incumbentValue) = (on, promotions, promotions.Length, charge, [], default);
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
            for (var y = 0; y < x; y++)
                meets[(x * count) + y] = meets[(y * count) + x] = promotions[x].CanMeet(promotions[y]);
        }

        Excludes = all.Contains(false);

        var place = 0;
        foreach (var stage in Stages)
        {
            for (var slot = 0; slot < count; slot++)
            {
                var first = place;
                foreach (var reward in promotions[slot].Rewards)
                    if (reward.Stage == stage)
                        place++;
                if (place == first)
                    continue;
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
    public void Show() => sheet.CopyFrom(incumbentState);

    /// <summary>Whether any two of the promotions may not stand in one cart.</summary>
    public bool Excludes { get; private set; }

    /// <summary>Whether two promotions may stand in one cart.</summary>
    public bool CanMeet(int x, int y) => meets[(x * count) + y];

    // As long as some filling was inexact, the search is made again with more work for each; the last one counts, unless it was cut off.
    private Chosen WithExactFillings(Func<Chosen> choose)
    {
        // Of one alone half an effort, so that what it came to is still priced.
        var forFillings = count == 1 ? WorkBudget.OfOneEffort / 2 : SearchSettings.ForFirstFillings / Math.Max(1, count);
        sheet.Fillings.Begin(forFillings);
        var found = Found();
        while (!sheet.Fillings.IsExact && !sheet.Work.IsOver)
        {
            var worth = incumbentValue.Worth;
            (incumbentState, formerState) = (formerState, incumbentState);
            forFillings *= SearchSettings.MoreForFillings;
            sheet.Fillings.Begin(forFillings);
            var again = Found();
            if (!sheet.Work.IsOver || incumbentValue.Worth >= worth)
                found = again;
            else
                (incumbentState, formerState) = (formerState, incumbentState);
        }

        return found;

        Chosen Found()
        {
            isIncumbentHeuristic = false;
            var chosen = choose();
            return chosen with { ExactFillings = sheet.Fillings.IsExact && !isIncumbentHeuristic };
        }
    }

    private Chosen SearchForBest()
    {
        (incumbent, incumbentValue) = ([], default);
        sheet.Clear(shipping);
        sheet.CopyTo(incumbentState);
        bounds.Open(sheet, eligible, this);
        var begun = sheet.Work.Spent;
        // One alone is either in or not: there is nothing to begin with instead.
        SearchWithin(SearchSettings.NodesOfFirstDive + steps.Count, count == 1 ? long.MaxValue : begun + SearchSettings.UntilFirstDive);
        if (!isTruncated && sheet.Fillings.IsExact)
            return new(incumbent, true, 0);

        var most = RootBound();
        if (isTruncated)
        {
            bounds.FindLines();
            FindFirstIncumbent(begun + SearchSettings.UntilLocalSearch);
            // Without bundles there is nothing that a heuristic fills.
            if (!sheet.Fillings.IsEmpty)
                LocalSearch(begun + SearchSettings.UntilLocalSearch);
            SearchWithin(int.MaxValue, begun + WorkBudget.OfOneEffort);
            if (isTruncated && !sheet.Work.IsOver)
            {
                // There is more than one effort: first what is near, then all.
                LocalSearch(begun + SearchSettings.UntilSecondLocalSearch);
                SearchWithin(int.MaxValue, long.MaxValue);
            }

            if (isTruncated)
                most = Math.Min(most, openBound);
            else if (sheet.Fillings.IsExact)
                return new(incumbent, true, 0);
            else
                most = RootBound();
        }

        return new(incumbent, false, Math.Max(0, most - incumbentValue.Worth));
    }

    // An upper bound on the worth of any choice.
    private long RootBound()
    {
        Array.Fill(isOpen, true);
        sheet.Clear(shipping);
        bounds.Begin();
        // Inexact cheapest sets of one alone take no less than is asked for, unless there was no time for any.
        return count == 1 && !isTruncated && !sheet.Fillings.MayUndershoot ? incumbentValue.Worth : bounds.AtRoot(isOpen);
    }

    private enum Decision : byte
    {
        Open,
        In,
        Out,
    }

    // Place: that of its first part in the bounds.
    private readonly record struct Step(int Slot, Stage Stage, int Place);
}

/// <summary>The promotions that were chosen.</summary>
/// <param name="Slots">Ascending.</param>
/// <param name="Proved">Whether this is known to be what was asked for.</param>
/// <param name="Gap">If not: by how much at most another choice could be worth more.</param>
/// <param name="ExactFillings">Whether every set was filled as asked for; else some came only close to it, and the worth may be a little
/// more or less.</param>
internal sealed record Chosen(int[] Slots, bool Proved, long Gap, bool ExactFillings = false);
