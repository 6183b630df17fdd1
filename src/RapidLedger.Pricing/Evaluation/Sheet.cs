using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>Units given beside the cart.</summary>
/// <param name="Value">The current price of one.</param>
/// <param name="Off">What is taken off that.</param>
internal readonly record struct GivenUnits(int Slot, int Variant, long Count, long Value, long Off);

/// <summary>Units offered that are not picked yet.</summary>
internal readonly record struct OfferedUnits(int Slot, IReadOnlyList<int> Variants, long Count);

/// <summary>What a promotion took from some units of a line: the same from each.</summary>
internal readonly record struct Reduction(int Slot, int Line, int Start, int Count, long Each);

/// <summary>
/// A cart being priced: its units as runs with their running prices, and what each promotion took. Rewards write on it;
/// it can be put back to an earlier state. Used by one pricing at a time.
/// </summary>
internal sealed partial class Sheet
{
    // Counted, so that the same cart has the same result on any machine.
    private const int MostTries = 2_000_000;

    private readonly List<Run> runs = [];
    private readonly List<Run> rewritten = [];
    private readonly List<RunPart> parts = [];
    private readonly List<int> order = [];
    private readonly PriceOrder cheapestFirst;
    private readonly PriceOrder dearestFirst;
    private readonly List<SpreadShare> shares = [];
    private readonly List<Reduction> reductions = [];
    private readonly List<GivenUnits> gifts = [];
    private readonly List<OfferedUnits> offers = [];
    private readonly List<int> shorts = [];
    private readonly List<int> usedPicks = [];
    private readonly Dictionary<SelectionTest, bool[]> selected = new(ReferenceEqualityComparer.Instance);
    private readonly Stack<bool[]> spareLines = new();
    private Tally[] tallies = [];
    private Tally total;
    private long versions;
    private int triesLeft;
    private int slot;

    public Sheet() => (cheapestFirst, dearestFirst) = (new(runs, 1), new(runs, -1));

    public CartView Cart { get; private set; } = null!;

    /// <summary>The runs, in cart order.</summary>
    public ReadOnlySpan<Run> Runs => CollectionsMarshal.AsSpan(runs);

    /// <summary>Room for the numbers of promotions.</summary>
    public List<int> Numbers { get; } = [];

    /// <summary>Room for the reductions in another order.</summary>
    public List<Reduction> Ordered { get; } = [];

    /// <summary>Room for the weights of a spreading.</summary>
    public List<SpreadRun> Weights { get; } = [];

    /// <summary>Room for reductions that are being worked out.</summary>
    public List<UnitReduction> Working { get; } = [];

    /// <summary>Room for parts of runs that are being worked out.</summary>
    public List<RunPart> WorkingParts { get; } = [];

    /// <summary>Room for the choice among promotions.</summary>
    public Choice Choice { get; } = new();

    /// <summary>Room for the bounds of a search.</summary>
    public Outlook Outlook { get; } = new();

    /// <summary>Room for filling sets.</summary>
    public WholeSets Sets { get; } = new();

    /// <summary>The fillings of bundles on this cart.</summary>
    public Dictionary<ReadyReward, BundleFilling> Fillings { get; } = new(ReferenceEqualityComparer.Instance);

    /// <summary>Tells the states that running prices were in apart: the same number, the same prices.</summary>
    public long Version { get; private set; }

    /// <summary>Whether everything that was filled on the cart so far is what was asked for, and not only close to it.</summary>
    public bool IsExact { get; private set; }

    /// <summary>Notes that a filling was too hard to be found exactly.</summary>
    public void CameClose() => IsExact = false;

    /// <summary>Whether a filling may go on although it has taken long; so many times for a cart.</summary>
    public bool MayTryMore() => triesLeft > 0 && triesLeft-- > 0;

    /// <summary>What the promotions took, in the order in which they did.</summary>
    public Span<Reduction> Reductions => CollectionsMarshal.AsSpan(reductions);

    /// <summary>What was given beside the cart.</summary>
    public IReadOnlyList<GivenUnits> Gifts => gifts;

    /// <summary>What was offered and is not picked yet.</summary>
    public IReadOnlyList<OfferedUnits> Offers => offers;

    /// <summary>What is to be paid for goods and gifts as it stands.</summary>
    public long Net => Sum() + gifts.Sum(gift => (gift.Value - gift.Off) * gift.Count);

    /// <summary>What is left of the delivery charge.</summary>
    public long Shipping { get; private set; }

    /// <summary>What all promotions gave so far.</summary>
    public Tally Total => total;

    /// <summary>What one promotion gave so far.</summary>
    public Tally Of(int slot) => tallies[slot];

    /// <summary>Starts afresh with a cart's current prices.</summary>
    public void Open(CartView cart, long shipping, int slots)
    {
        // Arrays are kept for the next cart; those that are too short for it are let go.
        foreach (var lines in selected.Values) spareLines.Push(lines);
        selected.Clear();
        Fillings.Clear();
        (Cart, IsExact, triesLeft) = (cart, true, MostTries);
        if (tallies.Length < slots) tallies = new Tally[slots];
        Clear(shipping);
    }

    /// <summary>Takes back everything that promotions did.</summary>
    public void Clear(long shipping)
    {
        Shipping = shipping;
        total = default;
        Array.Clear(tallies);
        reductions.Clear();
        gifts.Clear();
        offers.Clear();
        shorts.Clear();
        marks.Clear();
        savedRuns.Clear();
        runs.Clear();
        PricesChanged();
        for (var line = 0; line < Cart.Lines; line++) runs.Add(new(line, 0, Cart.Quantity(line), Cart.Current(line)));
    }

    /// <summary>Names the promotion that what follows is done for, in one stage.</summary>
    public void Begin(int slot)
    {
        this.slot = slot;
        usedPicks.Clear();
    }

    /// <summary>Whether the gifts of a promotion ran short.</summary>
    public bool IsShort(int slot) => shorts.Contains(slot);

    /// <summary>Takes something off the delivery charge.</summary>
    public void LowerShipping(long amount)
    {
        Shipping -= amount;
        Add(new Tally { Shipping = amount });
    }

    /// <summary>Awards points.</summary>
    public void Award(long points) => Add(new Tally { Points = points });

    /// <summary>How many units of a variant can still be given: its stock less what the cart and earlier gifts hold.</summary>
    public long GiftsLeft(int variant)
    {
        if (Cart.Catalogue.Variant(variant).Stock is not { } stock) return long.MaxValue;
        var left = stock - Cart.UnitsOf(variant);
        foreach (var gift in gifts) if (gift.Variant == variant) left -= gift.Count;
        return Math.Max(0, left);
    }

    /// <summary>Gives units, each with so much off its current price.</summary>
    public void Give(int variant, long count, long off)
    {
        gifts.Add(new(slot, variant, count, Cart.PriceOf(variant), off));
        Add(new Tally { Gifts = off * count, GiftUnits = count });
    }

    /// <summary>Offers units to pick.</summary>
    public void Offer(IReadOnlyList<int> variants, long count, long worth)
    {
        offers.Add(new(slot, variants, count));
        Add(new Tally { Offered = worth, OfferedUnits = count });
    }

    /// <summary>Notes that the promotion's gifts ran short.</summary>
    public void RanShort()
    {
        if (!shorts.Contains(slot)) shorts.Add(slot);
    }

    /// <summary>The variants picked from a promotion's gifts, one entry a unit.</summary>
    public IEnumerable<int> Picks(string promotion)
    {
        foreach (var picks in Cart.Cart.Picks) if (picks.Promotion == promotion) return picks.Skus.Select(Cart.Catalogue.Find);
        return [];
    }

    /// <summary>Uses up one pick of a variant, so that each serves one gift; false if they are all used.</summary>
    public bool UsePick(string promotion, int variant)
    {
        if (usedPicks.Count(used => used == variant) >= Picks(promotion).Count(picked => picked == variant)) return false;
        usedPicks.Add(variant);
        return true;
    }

    /// <summary>The sum of the running prices.</summary>
    public long Sum()
    {
        long sum = 0;
        foreach (var run in Runs) sum += run.Price * run.Count;
        return sum;
    }

    /// <summary>The sum of the running prices of selected units.</summary>
    public long Sum(SelectionTest selection)
    {
        var isSelected = Selected(selection);
        long sum = 0;
        foreach (var run in Runs) if (isSelected[run.Line]) sum += run.Price * run.Count;
        return sum;
    }

    /// <summary>By line, whether its units are selected. The array may be longer than the cart.</summary>
    public bool[] Selected(SelectionTest selection)
    {
        if (selected.TryGetValue(selection, out var lines)) return lines;
        lines = spareLines.TryPop(out var spare) && spare.Length >= Cart.Lines ? spare : new bool[Math.Max(16, Cart.Lines)];
        for (var line = 0; line < Cart.Lines; line++) lines[line] = selection.Selects(Cart, line);
        selected.Add(selection, lines);
        return lines;
    }

    /// <summary>
    /// The selected units, or the cheapest or dearest of them by running price, ties in cart order; always in cart order.
    /// The list is good until the next call.
    /// </summary>
    public List<RunPart> TakeFrom(SelectionTest selection, Pick pick, int? maxUnits)
    {
        var isSelected = Selected(selection);
        parts.Clear();
        if (maxUnits is not { } left)
        {
            for (var i = 0; i < runs.Count; i++) if (isSelected[runs[i].Line]) parts.Add(new(i, runs[i].Count));
            return parts;
        }

        foreach (var i in ByPrice(selection, pick))
        {
            if (left == 0) break;
            var count = Math.Min(left, runs[i].Count);
            parts.Add(new(i, count));
            left -= count;
        }

        parts.Sort(static (x, y) => x.Run.CompareTo(y.Run));
        return parts;
    }

    /// <summary>Lowers units of runs, in any order of runs.</summary>
    public void LowerBy(List<UnitReduction> each)
    {
        parts.Clear();
        shares.Clear();
        Sort(each);
        foreach (var reduction in each)
        {
            parts.Add(new(reduction.Run, reduction.Count));
            shares.Add(new(parts.Count - 1, reduction.Count, reduction.Each));
        }

        Lower(parts);
    }

    /// <summary>Lowers the units of each part by the weight that stands at the same place.</summary>
    public void LowerBy(List<RunPart> from, List<SpreadRun> each)
    {
        shares.Clear();
        for (var i = 0; i < from.Count; i++) shares.Add(new(i, from[i].Count, each[i].Weight));
        Lower(from);
    }

    /// <summary>Lowers the units of the parts by an amount, spread over them in proportion to weights.</summary>
    public void LowerBySpreading(List<RunPart> from, List<SpreadRun> weights, long amount)
    {
        shares.Clear();
        Spreading.Spread(amount, CollectionsMarshal.AsSpan(weights), shares);
        Lower(from);
    }

    // By insertion: stable, so that what is said of one run stays in its order, and as a rule there is little to do.
    private static void Sort(List<UnitReduction> each)
    {
        for (var i = 1; i < each.Count; i++)
        {
            var moved = each[i];
            var place = i;
            for (; place > 0 && each[place - 1].Run > moved.Run; place--) each[place] = each[place - 1];
            each[place] = moved;
        }
    }

    // The shares name places in the list of parts; both are in cart order.
    private void Lower(List<RunPart> from)
    {
        rewritten.Clear();
        long taken = 0;
        var next = 0;
        for (var i = 0; i < runs.Count; i++)
        {
            var run = runs[i];
            var done = 0;
            for (; next < shares.Count && from[shares[next].Run].Run == i; next++)
            {
                var (_, count, share) = shares[next];
                Append(run with { Start = run.Start + done, Count = count, Price = run.Price - share });
                if (share > 0) reductions.Add(new(slot, run.Line, run.Start + done, count, share));
                taken += share * count;
                done += count;
            }

            if (done < run.Count) Append(run with { Start = run.Start + done, Count = run.Count - done });
        }

        runs.Clear();
        runs.AddRange(rewritten);
        PricesChanged();
        Add(new Tally { Taken = taken });
    }

    private void Append(Run run)
    {
        if (rewritten.Count > 0 && rewritten[^1] is var last && last.Line == run.Line && last.Price == run.Price)
            rewritten[^1] = last with { Count = last.Count + run.Count };
        else
            rewritten.Add(run);
    }

    private void Add(Tally given)
    {
        tallies[slot] += given;
        total += given;
    }

    /// <summary>The selected runs by running price, ties in cart order. The list is good until the next call.</summary>
    public List<int> ByPrice(SelectionTest selection, Pick pick)
    {
        var isSelected = Selected(selection);
        order.Clear();
        foreach (var i in ByPrice(pick)) if (isSelected[runs[i].Line]) order.Add(i);
        return order;
    }

    /// <summary>All runs by running price, ties in cart order. Sorted once for all who ask until prices change.</summary>
    public ReadOnlySpan<int> ByPrice(Pick pick) => (pick == Pick.Cheapest ? cheapestFirst : dearestFirst).Places;

    private void PricesChanged()
    {
        Version = ++versions;
        cheapestFirst.Changed();
        dearestFirst.Changed();
    }
}
