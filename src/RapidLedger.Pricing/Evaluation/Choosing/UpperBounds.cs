using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>
/// Computes how much the promotions that have not acted yet could still add to a choice at the most: the upper bounds of branch and bound.
/// <para>In: the sheet at a node, which promotions are still open there. Out: bounds on worth, points, gift units, and on how few
/// promotions
/// could bring what is missing.</para>
/// <para>Why they hold: running prices only come down, and what a part of a promotion takes falls with them, so what it takes alone at the
/// prices of a node bounds what it takes at any node below (its solo bound). Together the parts are bounded in two ways, and the smaller
/// counts: a relaxation in which each takes from units at the lowest prices that the others could leave (<see cref="RelaxedPrices"/>); and
/// a clique cover of the promotions that exclude each other, of each of which only one applies, as for weighted independent sets (Babel
/// 1994).</para>
/// <para>Cost: a solo bound fills a bundle at the worst, so it is kept from the level above, where it still holds, and worked out anew only
/// where that could prune. The sums cost parts times runs.</para>
/// </summary>
internal sealed partial class UpperBounds
{
    // More than anything comes to, and small enough to be added up.
    private const long Unknown = 1L << 56;

    private readonly List<Part> parts = [];
    private readonly RelaxedPrices lowest = new();
    private readonly RelaxedPrices without = new();
    private long[] solo = [];
    private long[] dearest = [];
    private bool[] isFresh = [];
    private long[] worths = [];
    private ulong[] excluded = [];

    // By part.
    private int[] fruitless = [];
    private long[] costs = [];
    private Sheet sheet = null!;
    private CompiledPromotion[] eligible = [];
    private bool hasRootBounds;
    private bool excludes;
    private bool usedStale;
    private long giftNet;

    /// <summary>Begins for a set of eligible promotions.</summary>
    /// <param name="on">Their sheet.</param>
    /// <param name="promotions">In order of application.</param>
    /// <param name="choice">Says which of them can meet.</param>
    public void Open(Sheet on, CompiledPromotion[] promotions, ChoiceSearch choice)
    {
        (sheet, eligible, giftNet, hasRootBounds) = (on, promotions, 0, false);
        parts.Clear();
        if (worths.Length < promotions.Length)
            (worths, excluded) = (new long[promotions.Length * 2], new ulong[promotions.Length * 2]);
        foreach (var stage in ChoiceSearch.Stages)
            for (var slot = 0; slot < promotions.Length; slot++)
                foreach (var reward in promotions[slot].Rewards)
                    if (reward.Stage == stage)
                        parts.Add(new(slot, stage, reward, ulong.MaxValue));
        excludes = choice.Excludes && promotions.Length <= SearchSettings.MostForCliqueCover;
        for (var x = 0; x < promotions.Length && excludes; x++)
        {
            excluded[x] = 0;
            for (var y = 0; y < promotions.Length; y++)
                if (!choice.CanMeet(x, y))
                    excluded[x] |= 1UL << y;
        }

        if (costs.Length < parts.Count)
            costs = new long[parts.Count * 2];
        foreach (var part in parts)
        {
            sheet.Active = part.Slot;
            giftNet += part.Reward.BoundOfGifts(sheet).Net;
        }
    }

    /// <summary>Finds out which lines each part looks at, so that a bound is worked out anew only when one of them has come down.</summary>
    public void FindLines()
    {
        for (var at = 0; at < parts.Count; at++)
        {
            ulong lines = 0;
            sheet.Active = parts[at].Slot;
            sheet.Work.Count(4L * sheet.Cart.Lines);
            for (var line = 0; line < sheet.Cart.Lines; line++)
                if (parts[at].Reward.LooksAt(sheet.Cart, line))
                    lines |= Bit(line);
            parts[at] = parts[at] with { Lines = lines };
        }
    }

    /// <summary>Begins the search, or begins it anew, with nothing on the sheet.</summary>
    public void Begin()
    {
        sheet.Work.Count(parts.Count);
        if (fruitless.Length < parts.Count)
            fruitless = new int[parts.Count * 2];
        Array.Clear(fruitless);
        // Once the work is over all are bounded alike, so that they compare, and the first incumbent does not depend on how far it came.
        if (hasRootBounds && !sheet.Work.IsOver)
            return;
        hasRootBounds = true;
        MakeRoom(0);
        isFresh.AsSpan(0, parts.Count).Clear();
        solo.AsSpan(0, parts.Count).Fill(Unknown);
        // Known once at the start, the bounds are often enough further down.
        for (var at = 0; at < parts.Count; at++)
        {
            var spent = sheet.Work.Spent;
            Refresh(at, parts[at]);
            costs[at] = sheet.Work.Spent - spent;
        }
    }

    /// <summary>
    /// Begins a level of the search: prices have come down since the level above, whose bounds still hold but may be loose.
    /// </summary>
    /// <param name="level">From 1.</param>
    /// <param name="lowered">How many reductions stood on the sheet at the level above.</param>
    public void Descend(int level, int lowered)
    {
        sheet.Work.Count(parts.Count);
        MakeRoom(level);
        var (above, row) = ((level - 1) * parts.Count, level * parts.Count);
        ulong lines = 0;
        foreach (var reduction in sheet.Reductions[lowered..])
            lines |= Bit(reduction.Line);
        for (var at = 0; at < parts.Count; at++)
            isFresh[row + at] = isFresh[above + at] && (parts[at].Lines & lines) == 0;
        solo.AsSpan(above, parts.Count).CopyTo(solo.AsSpan(row));
        dearest.AsSpan(above, parts.Count).CopyTo(dearest.AsSpan(row));
    }

    /// <summary>What all promotions could add at the most from the very beginning, where nothing stands on the sheet.</summary>
    public long AtRoot(ReadOnlySpan<bool> isOpen)
    {
        var most = Relaxation(0, 0, isOpen, long.MaxValue / 2, anew: true);
        return excludes ? Math.Min(most, CliqueCover(0, 0, isOpen)) : most;
    }

    /// <summary>What those that are open could add at the most, each for itself.</summary>
    public long SumOfSoloBounds(int level, int from, ReadOnlySpan<bool> isOpen)
    {
        long sum = 0;
        for (var at = from; at < parts.Count; at++)
            if (isOpen[parts[at].Slot])
                sum += solo[(level * parts.Count) + at];
        return sum;
    }

    /// <summary>By slot, what each could add at the most solo.</summary>
    public ReadOnlySpan<long> SoloBoundBySlot(int level)
    {
        var worth = worths.AsSpan(0, eligible.Length);
        worth.Clear();
        for (var at = 0; at < parts.Count; at++)
            worth[parts[at].Slot] += solo[(level * parts.Count) + at];
        return worth;
    }

    /// <summary>Whether what is still to come from a place on could make the choice as good as missing.</summary>
    /// <param name="level">The level of the search.</param>
    /// <param name="from">The place of the first part still to come.</param>
    /// <param name="isOpen">Whether a promotion is in, or could still come in.</param>
    /// <param name="missing">The worth that is missing, above zero.</param>
    /// <param name="most">What could come at the most, if that is less than is missing or as much; else any larger number.</param>
    public bool CouldReach(int level, int from, ReadOnlySpan<bool> isOpen, long missing, out long most)
    {
        most = 0;
        if (missing < 0)
            return true;
        most = ByKnownBounds(level, from, isOpen, missing);
        if (most < missing)
            return false;
        if (usedStale)
            most = Relaxation(level, from, isOpen, missing, anew: true);
        if (!excludes || most < missing)
            return most >= missing;
        Refresh(level, from, isOpen);
        most = Math.Min(most, CliqueCover(level, from, isOpen));
        return most >= missing;
    }

    /// <summary>The most points that can still come beside what is to be added: what is taken for it brings none.</summary>
    public long Points(int level, int from, ReadOnlySpan<bool> isOpen, long missing)
    {
        long points = 0;
        var net = sheet.Net + giftNet;
        // Only what delivery and gifts could not add is taken from the goods for certain.
        var taken = missing - sheet.Shipping;
        for (var at = from; at < parts.Count && taken > 0; at++)
            if (isOpen[parts[at].Slot] && parts[at].Stage == Stage.Gift)
                taken -= solo[(level * parts.Count) + at];
        net -= Math.Max(0, taken);
        for (var at = from; at < parts.Count; at++)
            if (isOpen[parts[at].Slot] && parts[at].Stage == Stage.Points)
                points += parts[at].Reward.BoundOfPoints(sheet, net);
        return points;
    }

    /// <summary>The most gift units that can still come.</summary>
    public long GiftUnits(int from, ReadOnlySpan<bool> isOpen)
    {
        long units = 0;
        for (var at = from; at < parts.Count; at++)
            if (isOpen[parts[at].Slot] && parts[at].Stage == Stage.Gift)
                units += parts[at].Reward.BoundOfGifts(sheet).Units;
        return units;
    }

    // Each for itself, or what was known a level above, may be enough to tell.
    private long ByKnownBounds(int level, int from, ReadOnlySpan<bool> isOpen, long missing)
    {
        sheet.Work.Count(parts.Count / 4);
        var most = SumOfSoloBounds(level, from, isOpen);
        if (most < missing)
            return most;
        most = Relaxation(level, from, isOpen, missing, anew: false);
        return excludes ? Math.Min(most, CliqueCover(level, from, isOpen)) : most;
    }

    private void MakeRoom(int level)
    {
        if (solo.Length >= (level + 1) * parts.Count)
            return;
        Array.Resize(ref solo, (level + 8) * parts.Count);
        Array.Resize(ref dearest, (level + 8) * parts.Count);
        Array.Resize(ref isFresh, (level + 8) * parts.Count);
    }

    private void Refresh(int level, int from, ReadOnlySpan<bool> isOpen)
    {
        var row = level * parts.Count;
        for (var at = from; at < parts.Count; at++)
        {
            if (!isOpen[parts[at].Slot])
                continue;
            Refresh(row + at, parts[at]);
        }
    }

    private void Refresh(int place, Part part)
    {
        var reward = part.Reward;
        sheet.Active = part.Slot;
        // Bounds only fall with prices: nothing stays nothing.
        if (isFresh[place] || solo[place] == 0)
            return;
        if (sheet.Work.IsOver && reward.Stage <= Stage.Order && (long)parts.Count * sheet.Cart.Lines > SearchSettings.FewToBound)
        {
            // Whatever its units come to.
            (solo[place], dearest[place]) = (Math.Min(solo[place], reward.BoundOf(sheet, sheet.Sum())), Unknown);
            return;
        }

        (solo[place], isFresh[place]) = (reward.Bound(sheet, out dearest[place]), true);
    }

    /// <summary>
    /// All that are open, whether or not they exclude each other. Stops when it reaches more than is missing. Bounds that may be loose
    /// and take long are worked out anew on the way only if that is asked for.
    /// </summary>
    private long Relaxation(int level, int from, ReadOnlySpan<bool> isOpen, long missing, bool anew)
    {
        sheet.Work.Count(parts.Count);
        lowest.Open(sheet, sheet.Runs);
        usedStale = false;
        var sum = default(BoundSum);
        for (var at = from; at < parts.Count && sum.Most(sheet) <= missing; at++)
            if (isOpen[parts[at].Slot])
                Add(ref sum, lowest, level, at, anew);
        return sum.Most(sheet);
    }

    // One more of those that come.
    private void Add(ref BoundSum sum, RelaxedPrices prices, int level, int at, bool anew)
    {
        var (_, stage, reward, _) = parts[at];
        var place = (level * parts.Count) + at;
        if (solo[place] == 0)
            return;
        long? byUnit = null;
        if (stage <= Stage.Order && fruitless[at]++ < SearchSettings.MostFruitlessPrices)
        {
            sheet.Work.Count(stage == Stage.Item ? prices.Lines.Length : 0);
            byUnit = prices.Probe(reward, dearest[place]);
        }

        // What it takes of prices that only come down it takes solo too, or more.
        if (byUnit is null || !prices.IsExact || byUnit > solo[place])
        {
            if (anew || costs[at] <= SearchSettings.CheapPerRun * sheet.Runs.Length)
                Refresh(place, parts[at]);
            else
                usedStale |= !isFresh[place];
        }

        var most = solo[place];
        if (stage > Stage.Order)
        {
            if (stage == Stage.Shipping)
                sum.Shipping += most;
            else
                sum.Others += most;
            return;
        }

        // The part counts for what it can take at the most, or for what it and those counted so before it leave of each unit.
        most = Math.Min(most, reward.BoundOf(sheet, prices.Left));
        if (byUnit <= most)
        {
            (most, fruitless[at]) = (byUnit.Value, 0);
            prices.Commit();
        }
        else
            prices.CommitSum(most);

        sum.Others += most;
    }

    /// <summary>Of promotions that exclude each other only the one that could add most: a cover of the open ones by such groups.</summary>
    private long CliqueCover(int level, int from, ReadOnlySpan<bool> isOpen)
    {
        var worth = worths.AsSpan(0, eligible.Length);
        worth.Clear();
        ulong open = 0;
        for (var at = from; at < parts.Count; at++)
        {
            if (!isOpen[parts[at].Slot])
                continue;
            worth[parts[at].Slot] += solo[(level * parts.Count) + at];
            open |= 1UL << parts[at].Slot;
        }

        sheet.Work.Count(2L * eligible.Length);
        long sum = 0;
        while (open != 0)
        {
            var dearest = -1;
            for (var left = open; left != 0; left &= left - 1)
                if (BitOperations.TrailingZeroCount(left) is var slot && (dearest < 0 || worth[slot] > worth[dearest]))
                    dearest = slot;
            sum += worth[dearest];
            open &= ~(1UL << dearest);
            // Whoever is excluded by all of the group so far joins it, the one that could add most first.
            for (var joins = open & excluded[dearest]; joins != 0; )
            {
                var next = -1;
                for (var left = joins; left != 0; left &= left - 1)
                    if (BitOperations.TrailingZeroCount(left) is var slot && (next < 0 || worth[slot] > worth[next]))
                        next = slot;
                open &= ~(1UL << next);
                joins &= excluded[next];
            }
        }

        return sum;
    }

    // What comes at the most: off delivery, of which there is only so much, and else.
    private record struct BoundSum(long Shipping, long Others)
    {
        public readonly long Most(Sheet sheet) => Others + Math.Min(Shipping, sheet.Shipping);
    }

    private static ulong Bit(int line) => 1UL << (line & 63);

    // Lines: those it looks at, folded into 64 bits.
    private readonly record struct Part(int Slot, Stage Stage, ReadyReward Reward, ulong Lines);
}
