using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>Units in a row of one line with the same running price.</summary>
/// <param name="Line">The line.</param>
/// <param name="Start">The place of the first of them in the line.</param>
/// <param name="Count">How many.</param>
/// <param name="Price">The running price of each.</param>
internal readonly record struct Run(int Line, int Start, int Count, long Price);

/// <summary>The first units of a run.</summary>
internal readonly record struct RunPart(int Run, int Count);

/// <summary>What a promotion took from some units of a line: the same from each.</summary>
internal readonly record struct Reduction(int Slot, int Line, int Start, int Count, long Each);

/// <summary>What a promotion, or all of them together, has given so far.</summary>
internal record struct Tally(long Taken, long Shipping, long Gifts, long Offered, long GiftUnits, long OfferedUnits, long Points)
{
    /// <summary>What the shopper saves.</summary>
    public readonly long Saving => Taken + Shipping + Gifts;

    /// <summary>What the choice is worth: saving, and the value of gifts offered and not picked yet.</summary>
    public readonly long Worth => Saving + Offered;

    /// <summary>Whether there is anything at all.</summary>
    public readonly bool IsNothing => Taken == 0 && Shipping == 0 && GiftUnits == 0 && OfferedUnits == 0 && Points == 0;

    public static Tally operator +(Tally left, Tally right) => new(
        left.Taken + right.Taken,
        left.Shipping + right.Shipping,
        left.Gifts + right.Gifts,
        left.Offered + right.Offered,
        left.GiftUnits + right.GiftUnits,
        left.OfferedUnits + right.OfferedUnits,
        left.Points + right.Points);
}

/// <summary>
/// A cart being priced: its units as runs with their running prices, and what each promotion took. Rewards write on it;
/// it can be put back to an earlier state. Used by one pricing at a time.
/// </summary>
internal sealed class Sheet
{
    private readonly List<Run> runs = [];
    private readonly List<Run> rewritten = [];
    private readonly List<RunPart> parts = [];
    private readonly List<int> order = [];
    private readonly List<SpreadShare> shares = [];
    private readonly List<Reduction> reductions = [];
    private readonly List<Run> savedRuns = [];
    private readonly Stack<Mark> marks = new();
    private readonly Dictionary<SelectionTest, bool[]> selected = new(ReferenceEqualityComparer.Instance);
    private Tally[] tallies = [];
    private Tally total;
    private int slot;

    public CartView Cart { get; private set; } = null!;

    /// <summary>The runs, in cart order.</summary>
    public ReadOnlySpan<Run> Runs => CollectionsMarshal.AsSpan(runs);

    /// <summary>Room for the weights of a spreading.</summary>
    public List<SpreadRun> Weights { get; } = [];

    /// <summary>What the promotions took, in the order in which they did.</summary>
    public ReadOnlySpan<Reduction> Reductions => CollectionsMarshal.AsSpan(reductions);

    /// <summary>What is left of the delivery charge.</summary>
    public long Shipping { get; private set; }

    /// <summary>What all promotions gave so far.</summary>
    public Tally Total => total;

    /// <summary>What one promotion gave so far.</summary>
    public Tally Of(int slot) => tallies[slot];

    /// <summary>Starts afresh with a cart's current prices.</summary>
    public void Open(CartView cart, long shipping, int slots)
    {
        Cart = cart;
        selected.Clear();
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
        marks.Clear();
        savedRuns.Clear();
        runs.Clear();
        for (var line = 0; line < Cart.Lines; line++) runs.Add(new(line, 0, Cart.Quantity(line), Cart.Current(line)));
    }

    /// <summary>Names the promotion that what follows is done for.</summary>
    public void Begin(int slot) => this.slot = slot;

    /// <summary>Remembers the state, to be put back by <see cref="Restore"/>.</summary>
    public void Save()
    {
        marks.Push(new(savedRuns.Count, reductions.Count, Shipping, total, slot, tallies[slot]));
        savedRuns.AddRange(runs);
    }

    /// <summary>Puts back the state of the latest <see cref="Save"/> that has not been put back.</summary>
    public void Restore()
    {
        var mark = marks.Pop();
        runs.Clear();
        runs.AddRange(CollectionsMarshal.AsSpan(savedRuns)[mark.SavedRuns..]);
        CollectionsMarshal.SetCount(savedRuns, mark.SavedRuns);
        CollectionsMarshal.SetCount(reductions, mark.Reductions);
        (Shipping, total) = (mark.Shipping, mark.Total);
        tallies[mark.Slot] = mark.OfSlot;
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

    /// <summary>By line, whether its units are selected.</summary>
    public bool[] Selected(SelectionTest selection)
    {
        if (selected.TryGetValue(selection, out var lines)) return lines;
        lines = new bool[Cart.Lines];
        for (var line = 0; line < lines.Length; line++) lines[line] = selection.Selects(Cart, line);
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

        foreach (var i in ByPrice(isSelected, pick))
        {
            if (left == 0) break;
            var count = Math.Min(left, runs[i].Count);
            parts.Add(new(i, count));
            left -= count;
        }

        parts.Sort(static (x, y) => x.Run.CompareTo(y.Run));
        return parts;
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

    private List<int> ByPrice(bool[] isSelected, Pick pick)
    {
        order.Clear();
        for (var i = 0; i < runs.Count; i++) if (isSelected[runs[i].Line]) order.Add(i);
        // The place breaks ties, so an unstable sort gives the stable order.
        CollectionsMarshal.AsSpan(order).Sort(new ByRunPrice(runs, pick == Pick.Cheapest ? 1 : -1));
        return order;
    }

    private readonly struct ByRunPrice(List<Run> runs, int sign) : IComparer<int>
    {
        public int Compare(int x, int y) => runs[x].Price != runs[y].Price ? sign * runs[x].Price.CompareTo(runs[y].Price) : x.CompareTo(y);
    }

    private readonly record struct Mark(int SavedRuns, int Reductions, long Shipping, Tally Total, int Slot, Tally OfSlot);
}
