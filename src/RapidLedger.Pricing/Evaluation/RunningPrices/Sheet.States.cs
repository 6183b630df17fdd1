using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <content>
/// The states that it was in: those that the search goes back to, one within the other, and one that is kept through it all.
/// </content>
internal sealed partial class Sheet
{
    private readonly Stack<Mark> marks = new();
    private readonly List<Run> savedRuns = [];

    /// <summary>How many states are remembered.</summary>
    public int StateDepth => marks.Count;

    /// <summary>Remembers the state, to be put back by <see cref="PopState"/>.</summary>
    public void PushState()
    {
        Work.Count(runs.Count / 2);
        marks.Push(new(savedRuns.Count, reductions.Count, Gifts.Save(), Shipping, total, slot, tallies[slot], Version));
        savedRuns.AddRange(runs);
    }

    /// <summary>
    /// Puts back the state of the latest <see cref="PushState"/> that has not been put back; since then only for the promotion of that time
    /// something was done.
    /// </summary>
    public void PopState()
    {
        var mark = marks.Pop();
        Work.Count((savedRuns.Count - mark.SavedRuns) / 2);
        runs.Clear();
        runs.AddRange(CollectionsMarshal.AsSpan(savedRuns)[mark.SavedRuns..]);
        PricesChanged();
        Version = mark.Version;
        CollectionsMarshal.SetCount(savedRuns, mark.SavedRuns);
        CollectionsMarshal.SetCount(reductions, mark.Reductions);
        Gifts.Restore(mark.Gifts);
        (Shipping, total) = (mark.Shipping, mark.Total);
        tallies[mark.Slot] = mark.OfSlot;
    }

    /// <summary>Forgets the latest <see cref="PushState"/>: what was done since stays.</summary>
    public void CommitState() => CollectionsMarshal.SetCount(savedRuns, marks.Pop().SavedRuns);

    /// <summary>Keeps a copy of the state, to be taken up again by <see cref="CopyFrom"/> whatever is done in between.</summary>
    public void CopyTo(Snapshot kept)
    {
        Work.Count(runs.Count / 2);
        Copy(runs, kept.Runs);
        Copy(reductions, kept.Reductions);
        Gifts.CopyTo(kept.Gifts);
        if (kept.Tallies.Length < slots)
            kept.Tallies = new Tally[tallies.Length];
        tallies.AsSpan(0, slots).CopyTo(kept.Tallies);
        (kept.Shipping, kept.Total) = (Shipping, total);
    }

    /// <summary>Goes back to a state that was kept.</summary>
    public void CopyFrom(Snapshot kept)
    {
        Clear(kept.Shipping);
        Copy(kept.Runs, runs);
        Copy(kept.Reductions, reductions);
        Gifts.CopyFrom(kept.Gifts);
        kept.Tallies.AsSpan(0, slots).CopyTo(tallies);
        total = kept.Total;
    }

    private static void Copy<T>(List<T> from, List<T> to)
    {
        to.Clear();
        to.AddRange(from);
    }

    /// <summary>A copy of a state.</summary>
    public sealed class Snapshot
    {
        public List<Run> Runs { get; } = [];

        public List<Reduction> Reductions { get; } = [];

        public GiftTable.State Gifts { get; } = new();

        public Tally[] Tallies = [];

        public long Shipping { get; set; }

        public Tally Total { get; set; }

        /// <summary>What one promotion gave.</summary>
        public Tally Of(int slot) => Tallies[slot];
    }

    private readonly record struct Mark(
        int SavedRuns,
        int Reductions,
        GiftTable.Mark Gifts,
        long Shipping,
        Tally Total,
        int Slot,
        Tally OfSlot,
        long Version
    );
}
