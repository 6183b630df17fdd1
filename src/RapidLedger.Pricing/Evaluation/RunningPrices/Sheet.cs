using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>What a promotion took from some units of a line: the same from each.</summary>
internal readonly record struct Reduction(int Slot, int Line, int Start, int Count, long Each);

/// <summary>
/// A cart being priced: its units as runs with their running prices, what is given beside them, and what each promotion took. Rewards
/// write on it, each only what its stage is for; it can be put back to an earlier state. Used by one pricing at a time.
/// </summary>
internal sealed partial class Sheet
{
    private readonly List<Run> runs = [];
    private readonly List<Run> rewritten = [];
    private readonly List<RunPart> parts = [];
    private readonly List<int> order = [];
    private readonly PriceOrder cheapestFirst;
    private readonly PriceOrder dearestFirst;
    private readonly List<Reduction> reductions = [];
    private readonly Lowering lowering;
    private readonly Dictionary<SelectionTest, SelectedLines> selected = new(ReferenceEqualityComparer.Instance);
    private readonly Stack<bool[]> spareLines = new();
    private readonly Stack<List<RunPart>> spareParts = new();
    private Tally[] tallies = [];
    private Tally total;
    private long versions;
    private int slots;
    private int slot;
    private Stage stage;

    public Sheet()
    {
        (cheapestFirst, dearestFirst, lowering) = (new(runs, 1), new(runs, -1), new(this));
        Gifts = new(this);
    }

    public CartView Cart { get; private set; } = null!;

    /// <summary>Counts what is done here.</summary>
    public WorkBudget Work { get; } = new();

    /// <summary>The runs, in cart order.</summary>
    public ReadOnlySpan<Run> Runs => CollectionsMarshal.AsSpan(runs);

    /// <summary>The fillings of bundles on this cart.</summary>
    public Fillings Fillings { get; } = new();

    /// <summary>What is given beside the cart.</summary>
    public GiftTable Gifts { get; }

    /// <summary>Tells the states that running prices were in apart: the same number, the same prices.</summary>
    public long Version { get; private set; }

    /// <summary>The promotion that something is being done for.</summary>
    public int Slot => slot;

    /// <summary>The promotion that is being looked at, bounded or applied: an exception is laid to it.</summary>
    public int Active { get; set; }

    /// <summary>What the promotions took, in the order in which they did.</summary>
    public ReadOnlySpan<Reduction> Reductions => CollectionsMarshal.AsSpan(reductions);

    /// <summary>What is to be paid for goods and gifts as it stands.</summary>
    public long Net => Sum() + Gifts.Net;

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
        foreach (var found in selected.Values)
            spareLines.Push(found.Lines);
        selected.Clear();
        Fillings.Clear();
        (Cart, this.slots) = (cart, slots);
        if (tallies.Length < slots)
            tallies = new Tally[slots];
        Clear(shipping);
    }

    /// <summary>Takes back everything that promotions did.</summary>
    public void Clear(long shipping)
    {
        Shipping = shipping;
        total = default;
        tallies.AsSpan(0, slots).Clear();
        reductions.Clear();
        Gifts.Clear();
        marks.Clear();
        savedRuns.Clear();
        CollectionsMarshal.SetCount(runs, Cart.Lines);
        PricesChanged();
        var fresh = CollectionsMarshal.AsSpan(runs);
        for (var line = 0; line < fresh.Length; line++)
            fresh[line] = new(line, 0, Cart.Quantity(line), Cart.Current(line));
        Work.Count(runs.Count);
    }

    /// <summary>Names the promotion that what follows is done for, and the one stage that it is done in.</summary>
    public void Begin(int slot, Stage stage)
    {
        (this.slot, this.stage, Active) = (slot, stage, slot);
        Gifts.Begin();
    }

    /// <summary>Takes something off the delivery charge.</summary>
    public void LowerShipping(long amount)
    {
        Only(Stage.Shipping);
        Shipping -= amount;
        Add(new Tally { Shipping = amount });
    }

    /// <summary>Awards points.</summary>
    public void Award(long points)
    {
        Only(Stage.Points);
        Add(new Tally { Points = points });
    }

    /// <summary>Notes what the current promotion gave.</summary>
    public void Add(Tally given)
    {
        if (given.GiftUnits + given.OfferedUnits > 0)
            Only(Stage.Gift);
        tallies[slot] += given;
        total += given;
    }

    /// <summary>The sum of the running prices.</summary>
    public long Sum()
    {
        Work.Count(runs.Count / 4);
        long sum = 0;
        foreach (var run in Runs)
            sum += run.Price * run.Count;
        return sum;
    }

    /// <summary>The sum of the running prices of selected units.</summary>
    public long Sum(SelectionTest selection)
    {
        Work.Count(runs.Count / 2);
        var isSelected = Selected(selection);
        long sum = 0;
        foreach (var run in Runs)
            if (isSelected[run.Line])
                sum += run.Price * run.Count;
        return sum;
    }

    /// <summary>By line, whether its units are selected. The array may be longer than the cart.</summary>
    public bool[] Selected(SelectionTest selection) => Look(selection).Lines;

    /// <summary>The selected units of the cart, and what they come to at its current prices, whatever promotions took.</summary>
    public (long Units, long Goods) Holds(SelectionTest selection)
    {
        var found = Look(selection);
        return (found.Units, found.Goods);
    }

    private SelectedLines Look(SelectionTest selection)
    {
        if (selected.TryGetValue(selection, out var found))
            return found;
        Work.Count(6L * Cart.Lines);
        var lines = spareLines.TryPop(out var spare) && spare.Length >= Cart.Lines ? spare : new bool[Math.Max(32, Cart.Lines)];
        selection.Mark(Cart, lines);
        long units = 0,
            goods = 0;
        for (var line = 0; line < Cart.Lines; line++)
        {
            if (!lines[line])
                continue;
            units += Cart.Quantity(line);
            goods += Cart.Current(line) * Cart.Quantity(line);
        }

        selected.Add(selection, found = new(lines, units, goods));
        return found;
    }

    /// <summary>
    /// The selected units, or the cheapest or dearest of them by running price, ties in cart order; always in cart order.
    /// The list is good until the next call.
    /// </summary>
    public List<RunPart> TakeFrom(SelectionTest selection, Pick pick, int? maxUnits)
    {
        Work.Count(runs.Count);
        var isSelected = Selected(selection);
        parts.Clear();
        if (maxUnits is not { } left)
        {
            for (var i = 0; i < runs.Count; i++)
                if (isSelected[runs[i].Line])
                    parts.Add(new(i, runs[i].Count));
            return parts;
        }

        foreach (var i in ByPrice(pick))
        {
            if (left == 0)
                break;
            if (!isSelected[runs[i].Line])
                continue;
            var count = Math.Min(left, runs[i].Count);
            parts.Add(new(i, count));
            left -= count;
        }

        parts.Sort(static (x, y) => x.Run.CompareTo(y.Run));
        return parts;
    }

    /// <summary>Lends a list to one who needs it for a while; see <see cref="Return"/>.</summary>
    public List<RunPart> Lend() => spareParts.TryPop(out var list) ? list : [];

    /// <summary>Takes a list back that was lent.</summary>
    public void Return(List<RunPart> list)
    {
        list.Clear();
        spareParts.Push(list);
    }

    /// <summary>Begins to put together what is taken from units. Good until it is done.</summary>
    public Lowering BeginLowering()
    {
        if (stage is not (Stage.Item or Stage.Order))
            Only(Stage.Item);
        lowering.Clear();
        return lowering;
    }

    /// <summary>Lowers units; pieces and shares, which name places among the pieces, stand in cart order.</summary>
    public void Lower(ReadOnlySpan<Lowering.Piece> pieces, ReadOnlySpan<SpreadShare> shares)
    {
        var taken = AreWholeLines(pieces, shares) ? LowerInPlace(pieces, shares) : LowerParts(pieces, shares);
        PricesChanged();
        Add(new Tally { Taken = taken });
    }

    // Whether each share is that of all units of a line.
    private bool AreWholeLines(ReadOnlySpan<Lowering.Piece> pieces, ReadOnlySpan<SpreadShare> shares)
    {
        var from = CollectionsMarshal.AsSpan(runs);
        foreach (var (piece, count, _) in shares)
        {
            var run = pieces[piece].Run;
            if (from[run].Count != count)
                return false;
            if ((run > 0 && from[run - 1].Line == from[run].Line) || (run + 1 < from.Length && from[run + 1].Line == from[run].Line))
                return false;
        }

        return true;
    }

    private long LowerInPlace(ReadOnlySpan<Lowering.Piece> pieces, ReadOnlySpan<SpreadShare> shares)
    {
        Work.Count(4L * pieces.Length);
        var on = CollectionsMarshal.AsSpan(runs);
        long taken = 0;
        foreach (var (piece, count, share) in shares)
        {
            if (share == 0)
                continue;
            ref var run = ref on[pieces[piece].Run];
            run = run with { Price = run.Price - share };
            reductions.Add(new(slot, run.Line, run.Start, count, share));
            taken += share * count;
        }

        return taken;
    }

    private long LowerParts(ReadOnlySpan<Lowering.Piece> pieces, ReadOnlySpan<SpreadShare> shares)
    {
        Work.Count(3L * (runs.Count + pieces.Length));
        // Each share splits a run in two at the most.
        CollectionsMarshal.SetCount(rewritten, runs.Count + shares.Length);
        var to = CollectionsMarshal.AsSpan(rewritten);
        long taken = 0;
        int next = 0,
            written = 0;
        var from = CollectionsMarshal.AsSpan(runs);
        for (var i = 0; i < from.Length; i++)
        {
            ref readonly var run = ref from[i];
            var done = 0;
            for (; next < shares.Length && pieces[shares[next].Run].Run == i; next++)
            {
                var (_, count, share) = shares[next];
                Append(to, ref written, new(run.Line, run.Start + done, count, run.Price - share));
                if (share > 0)
                    reductions.Add(new(slot, run.Line, run.Start + done, count, share));
                taken += share * count;
                done += count;
            }

            if (done < run.Count)
                Append(to, ref written, new(run.Line, run.Start + done, run.Count - done, run.Price));
        }

        CollectionsMarshal.SetCount(runs, written);
        to[..written].CopyTo(CollectionsMarshal.AsSpan(runs));
        return taken;
    }

    /// <summary>The selected runs by running price, ties in cart order. The list is good until the next call.</summary>
    public List<int> ByPrice(SelectionTest selection, Pick pick)
    {
        Work.Count(runs.Count);
        var isSelected = Selected(selection);
        order.Clear();
        foreach (var i in ByPrice(pick))
            if (isSelected[runs[i].Line])
                order.Add(i);
        return order;
    }

    /// <summary>All runs by running price, ties in cart order. Sorted once for all who ask until prices change.</summary>
    public ReadOnlySpan<int> ByPrice(Pick pick) => (pick == Pick.Cheapest ? cheapestFirst : dearestFirst).Places(Work);

    private static void Append(Span<Run> to, ref int written, Run run)
    {
        if (written > 0 && to[written - 1] is var last && last.Line == run.Line && last.Price == run.Price)
            to[written - 1] = last with { Count = last.Count + run.Count };
        else
            to[written++] = run;
    }

    private void Only(Stage allowed)
    {
        if (stage != allowed)
            throw new InvalidOperationException($"A part of the stage {stage} did what is of the stage {allowed}.");
    }

    private void PricesChanged()
    {
        Version = ++versions;
        cheapestFirst.Changed();
        dearestFirst.Changed();
    }

    private readonly record struct SelectedLines(bool[] Lines, long Units, long Goods);
}
