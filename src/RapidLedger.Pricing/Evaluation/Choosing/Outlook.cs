using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>
/// What the promotions that have not acted yet could still add to a choice, at the most: bounds for the search. Each part of a promotion
/// is bounded by what it takes at prices as they stand, for they only come down; together they are bounded by what all of them leave of
/// each unit, and by taking of promotions that exclude each other only the one that could add most.
/// </summary>
internal sealed partial class Outlook
{
    private const int MostForCliques = 64;

    // More than anything comes to, and small enough to be added up.
    private const long Unknown = 1L << 56;

    // So many parts times lines are always bounded; more of them only as long as there is work left.
    private const int FewToBound = 20_000;

    // So many times in a row it told nothing what a part leaves of each unit: then it is no longer looked at.
    private const int OftenInVain = 64;

    // What costs no more for a run is worked out anew whenever it is asked for: sorting, but no filling.
    private const int CheapForRun = 16;

    private readonly List<Part> parts = [];
    private readonly LowestPrices lowest = new();
    private readonly LowestPrices without = new();
    private long[] alone = [];
    private long[] dearest = [];
    private bool[] isFresh = [];
    private long[] worths = [];
    private ulong[] excluded = [];
    // By part.
    private int[] inVain = [];
    private long[] costs = [];
    private Sheet sheet = null!;
    private CompiledPromotion[] eligible = [];
    private bool isBegun;
    private bool excludes;
    private bool wasLoose;
    private long giftNet;

    /// <summary>Begins for a set of eligible promotions.</summary>
    /// <param name="on">Their sheet.</param>
    /// <param name="promotions">In order of application.</param>
    /// <param name="choice">Says which of them can meet.</param>
    public void Open(Sheet on, CompiledPromotion[] promotions, Choice choice)
    {
        (sheet, eligible, giftNet, isBegun) = (on, promotions, 0, false);
        parts.Clear();
        if (worths.Length < promotions.Length) (worths, excluded) = (new long[promotions.Length * 2], new ulong[promotions.Length * 2]);
        foreach (var stage in Choice.Stages)
            for (var slot = 0; slot < promotions.Length; slot++)
                foreach (var reward in promotions[slot].Rewards) if (reward.Stage == stage) parts.Add(new(slot, stage, reward, ulong.MaxValue));
        excludes = choice.Excludes && promotions.Length <= MostForCliques;
        for (var x = 0; x < promotions.Length && excludes; x++)
        {
            excluded[x] = 0;
            for (var y = 0; y < promotions.Length; y++) if (!choice.CanMeet(x, y)) excluded[x] |= 1UL << y;
        }

        if (costs.Length < parts.Count) costs = new long[parts.Count * 2];
        foreach (var part in parts)
        {
            sheet.Suspect = part.Slot;
            giftNet += part.Reward.BoundOfGifts(sheet).Net;
        }
    }

    /// <summary>Finds out which lines each part looks at, so that a bound is worked out anew only when one of them has come down.</summary>
    public void LookAtLines()
    {
        for (var at = 0; at < parts.Count; at++)
        {
            ulong lines = 0;
            sheet.Suspect = parts[at].Slot;
            sheet.Work.Count(4L * sheet.Cart.Lines);
            for (var line = 0; line < sheet.Cart.Lines; line++) if (parts[at].Reward.LooksAt(sheet.Cart, line)) lines |= Bit(line);
            parts[at] = parts[at] with { Lines = lines };
        }
    }

    /// <summary>Begins the search, or begins it anew, with nothing on the sheet.</summary>
    public void Begin()
    {
        sheet.Work.Count(parts.Count);
        if (inVain.Length < parts.Count) inVain = new int[parts.Count * 2];
        Array.Clear(inVain);
        // Once the work is over all are bounded alike, so that they compare, and what is made in haste does not depend on how far it came.
        if (isBegun && !sheet.Work.IsOver) return;
        isBegun = true;
        MakeRoom(0);
        isFresh.AsSpan(0, parts.Count).Clear();
        alone.AsSpan(0, parts.Count).Fill(Unknown);
        // Known once at the start, the bounds are often enough further down.
        for (var at = 0; at < parts.Count; at++)
        {
            var spent = sheet.Work.Spent;
            Refresh(at, parts[at]);
            costs[at] = sheet.Work.Spent - spent;
        }
    }

    /// <summary>Begins a level of the search: prices have come down since the level above, whose bounds still hold but may be loose.</summary>
    /// <param name="level">From 1.</param>
    /// <param name="lowered">How many reductions stood on the sheet at the level above.</param>
    public void Descend(int level, int lowered)
    {
        sheet.Work.Count(parts.Count);
        MakeRoom(level);
        var (above, row) = ((level - 1) * parts.Count, level * parts.Count);
        ulong lines = 0;
        foreach (var reduction in sheet.Reductions[lowered..]) lines |= Bit(reduction.Line);
        for (var at = 0; at < parts.Count; at++) isFresh[row + at] = isFresh[above + at] && (parts[at].Lines & lines) == 0;
        alone.AsSpan(above, parts.Count).CopyTo(alone.AsSpan(row));
        dearest.AsSpan(above, parts.Count).CopyTo(dearest.AsSpan(row));
    }

    /// <summary>What all promotions could add at the most from the very beginning, where nothing stands on the sheet.</summary>
    public long AtMost(ReadOnlySpan<bool> isOpen)
    {
        var most = Together(0, 0, isOpen, long.MaxValue / 2, anew: true);
        return excludes ? Math.Min(most, Apart(0, 0, isOpen)) : most;
    }

    /// <summary>What those that are open could add at the most, each for itself.</summary>
    public long AtMostAlone(int level, int from, ReadOnlySpan<bool> isOpen)
    {
        long sum = 0;
        for (var at = from; at < parts.Count; at++) if (isOpen[parts[at].Slot]) sum += alone[(level * parts.Count) + at];
        return sum;
    }

    /// <summary>By slot, what each could add at the most alone.</summary>
    public ReadOnlySpan<long> AloneBySlot(int level)
    {
        var worth = worths.AsSpan(0, eligible.Length);
        worth.Clear();
        for (var at = 0; at < parts.Count; at++) worth[parts[at].Slot] += alone[(level * parts.Count) + at];
        return worth;
    }

    /// <summary>Whether what is still to come from a place on could make the choice as good as wanted.</summary>
    /// <param name="level">The level of the search.</param>
    /// <param name="from">The place of the first part still to come.</param>
    /// <param name="isOpen">Whether a promotion is in, or could still come in.</param>
    /// <param name="wanted">The worth that is missing, above zero.</param>
    /// <param name="most">What could come at the most, if that is less than is wanted or as much; else any larger number.</param>
    public bool CouldAdd(int level, int from, ReadOnlySpan<bool> isOpen, long wanted, out long most)
    {
        most = 0;
        if (wanted < 0) return true;
        most = AsFarAsKnown(level, from, isOpen, wanted);
        if (most < wanted) return false;
        if (wasLoose) most = Together(level, from, isOpen, wanted, anew: true);
        if (!excludes || most < wanted) return most >= wanted;
        Refresh(level, from, isOpen);
        most = Math.Min(most, Apart(level, from, isOpen));
        return most >= wanted;
    }

    /// <summary>The most points that can still come beside what is to be added: what is taken for it brings none.</summary>
    public long Points(int level, int from, ReadOnlySpan<bool> isOpen, long wanted)
    {
        long points = 0;
        var net = sheet.Net + giftNet;
        // Only what delivery and gifts could not add is taken from the goods for certain.
        var taken = wanted - sheet.Shipping;
        for (var at = from; at < parts.Count && taken > 0; at++)
            if (isOpen[parts[at].Slot] && parts[at].Stage == Stage.Gift) taken -= alone[(level * parts.Count) + at];
        net -= Math.Max(0, taken);
        for (var at = from; at < parts.Count; at++)
            if (isOpen[parts[at].Slot] && parts[at].Stage == Stage.Points) points += parts[at].Reward.BoundOfPoints(sheet, net);
        return points;
    }

    /// <summary>The most gift units that can still come.</summary>
    public long GiftUnits(int from, ReadOnlySpan<bool> isOpen)
    {
        long units = 0;
        for (var at = from; at < parts.Count; at++)
            if (isOpen[parts[at].Slot] && parts[at].Stage == Stage.Gift) units += parts[at].Reward.BoundOfGifts(sheet).Units;
        return units;
    }

    // Each for itself, or what was known a level above, may be enough to tell.
    private long AsFarAsKnown(int level, int from, ReadOnlySpan<bool> isOpen, long wanted)
    {
        sheet.Work.Count(parts.Count / 4);
        var most = AtMostAlone(level, from, isOpen);
        if (most < wanted) return most;
        most = Together(level, from, isOpen, wanted, anew: false);
        return excludes ? Math.Min(most, Apart(level, from, isOpen)) : most;
    }

    private void MakeRoom(int level)
    {
        if (alone.Length >= (level + 1) * parts.Count) return;
        Array.Resize(ref alone, (level + 8) * parts.Count);
        Array.Resize(ref dearest, (level + 8) * parts.Count);
        Array.Resize(ref isFresh, (level + 8) * parts.Count);
    }

    private void Refresh(int level, int from, ReadOnlySpan<bool> isOpen)
    {
        var row = level * parts.Count;
        for (var at = from; at < parts.Count; at++)
        {
            if (!isOpen[parts[at].Slot]) continue;
            Refresh(row + at, parts[at]);
        }
    }

    private void Refresh(int place, Part part)
    {
        var reward = part.Reward;
        sheet.Suspect = part.Slot;
        // Bounds only fall with prices: nothing stays nothing.
        if (isFresh[place] || alone[place] == 0) return;
        if (sheet.Work.IsOver && reward.Stage <= Stage.Order && (long)parts.Count * sheet.Cart.Lines > FewToBound)
        {
            // Whatever its units come to.
            (alone[place], dearest[place]) = (Math.Min(alone[place], reward.BoundOf(sheet, sheet.Sum())), Unknown);
            return;
        }

        (alone[place], isFresh[place]) = (reward.Bound(sheet, out dearest[place]), true);
    }

    /// <summary>
    /// All that are open, whether or not they exclude each other. Stops when it reaches more than is wanted. Bounds that may be loose
    /// and take long are worked out anew on the way only if that is asked for.
    /// </summary>
    private long Together(int level, int from, ReadOnlySpan<bool> isOpen, long wanted, bool anew)
    {
        sheet.Work.Count(parts.Count);
        lowest.Open(sheet, sheet.Runs);
        wasLoose = false;
        var coming = default(Coming);
        for (var at = from; at < parts.Count && coming.Most(sheet) <= wanted; at++) if (isOpen[parts[at].Slot]) Add(ref coming, lowest, level, at, anew);
        return coming.Most(sheet);
    }

    // One more of those that come.
    private void Add(ref Coming coming, LowestPrices prices, int level, int at, bool anew)
    {
        var (_, stage, reward, _) = parts[at];
        var place = (level * parts.Count) + at;
        if (alone[place] == 0) return;
        long? byUnit = null;
        if (stage <= Stage.Order && inVain[at]++ < OftenInVain)
        {
            sheet.Work.Count(stage == Stage.Item ? prices.Lines.Length : 0);
            byUnit = prices.Ask(reward, dearest[place]);
        }

        // What it takes of prices that only come down it takes alone too, or more.
        if (byUnit is null || !prices.IsExact || byUnit > alone[place])
        {
            if (anew || costs[at] <= CheapForRun * sheet.Runs.Length) Refresh(place, parts[at]);
            else wasLoose |= !isFresh[place];
        }

        var most = alone[place];
        if (stage > Stage.Order)
        {
            if (stage == Stage.Shipping) coming.Shipping += most;
            else coming.Others += most;
            return;
        }

        // The part counts for what it can take at the most, or for what it and those counted so before it leave of each unit.
        most = Math.Min(most, reward.BoundOf(sheet, prices.Left));
        if (byUnit <= most)
        {
            (most, inVain[at]) = (byUnit.Value, 0);
            prices.Accept();
        }
        else prices.Apart(most);

        coming.Others += most;
    }

    /// <summary>Of promotions that exclude each other only the one that could add most: a cover of the open ones by such groups.</summary>
    private long Apart(int level, int from, ReadOnlySpan<bool> isOpen)
    {
        var worth = worths.AsSpan(0, eligible.Length);
        worth.Clear();
        ulong open = 0;
        for (var at = from; at < parts.Count; at++)
        {
            if (!isOpen[parts[at].Slot]) continue;
            worth[parts[at].Slot] += alone[(level * parts.Count) + at];
            open |= 1UL << parts[at].Slot;
        }

        sheet.Work.Count(2L * eligible.Length);
        long sum = 0;
        while (open != 0)
        {
            var dearest = -1;
            for (var left = open; left != 0; left &= left - 1)
                if (BitOperations.TrailingZeroCount(left) is var slot && (dearest < 0 || worth[slot] > worth[dearest])) dearest = slot;
            sum += worth[dearest];
            open &= ~(1UL << dearest);
            // Whoever is excluded by all of the group so far joins it, the one that could add most first.
            for (var joins = open & excluded[dearest]; joins != 0;)
            {
                var next = -1;
                for (var left = joins; left != 0; left &= left - 1)
                    if (BitOperations.TrailingZeroCount(left) is var slot && (next < 0 || worth[slot] > worth[next])) next = slot;
                open &= ~(1UL << next);
                joins &= excluded[next];
            }
        }

        return sum;
    }

    // What comes at the most: off delivery, of which there is only so much, and else.
    private record struct Coming(long Shipping, long Others)
    {
        public readonly long Most(Sheet sheet) => Others + Math.Min(Shipping, sheet.Shipping);
    }

    private static ulong Bit(int line) => 1UL << (line & 63);

    // Lines: those it looks at, folded into 64 bits.
    private readonly record struct Part(int Slot, Stage Stage, ReadyReward Reward, ulong Lines);
}
