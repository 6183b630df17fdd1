using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <content>The states that it was in: those that the search goes back to, one within the other, and one that is kept through it all.</content>
internal sealed partial class Sheet
{
    private readonly Stack<Mark> marks = new();
    private readonly List<Run> savedRuns = [];
    private readonly State kept = new();

    /// <summary>Remembers the state, to be put back by <see cref="Restore"/>.</summary>
    public void Save()
    {
        marks.Push(new(savedRuns.Count, reductions.Count, gifts.Count, offers.Count, shorts.Count, Shipping, total, slot, tallies[slot], Version));
        savedRuns.AddRange(runs);
    }

    /// <summary>Puts back the state of the latest <see cref="Save"/> that has not been put back.</summary>
    public void Restore()
    {
        var mark = marks.Pop();
        runs.Clear();
        runs.AddRange(CollectionsMarshal.AsSpan(savedRuns)[mark.SavedRuns..]);
        PricesChanged();
        Version = mark.Version;
        CollectionsMarshal.SetCount(savedRuns, mark.SavedRuns);
        CollectionsMarshal.SetCount(reductions, mark.Reductions);
        CollectionsMarshal.SetCount(gifts, mark.Gifts);
        CollectionsMarshal.SetCount(offers, mark.Offers);
        CollectionsMarshal.SetCount(shorts, mark.Shorts);
        (Shipping, total) = (mark.Shipping, mark.Total);
        tallies[mark.Slot] = mark.OfSlot;
    }

    /// <summary>Keeps a copy of the state, to be taken up again by <see cref="Recall"/> whatever is done in between.</summary>
    public void Keep()
    {
        Copy(runs, kept.Runs);
        Copy(reductions, kept.Reductions);
        Copy(gifts, kept.Gifts);
        Copy(offers, kept.Offers);
        Copy(shorts, kept.Shorts);
        Array.Resize(ref kept.Tallies, tallies.Length);
        tallies.CopyTo(kept.Tallies, 0);
        (kept.Shipping, kept.Total) = (Shipping, total);
    }

    /// <summary>Goes back to the state that was kept last.</summary>
    public void Recall()
    {
        Clear(kept.Shipping);
        Copy(kept.Runs, runs);
        Copy(kept.Reductions, reductions);
        Copy(kept.Gifts, gifts);
        Copy(kept.Offers, offers);
        Copy(kept.Shorts, shorts);
        kept.Tallies.CopyTo(tallies, 0);
        total = kept.Total;
    }

    private static void Copy<T>(List<T> from, List<T> to)
    {
        to.Clear();
        to.AddRange(from);
    }

    private sealed class State
    {
        public List<Run> Runs { get; } = [];

        public List<Reduction> Reductions { get; } = [];

        public List<GivenUnits> Gifts { get; } = [];

        public List<OfferedUnits> Offers { get; } = [];

        public List<int> Shorts { get; } = [];

        public Tally[] Tallies = [];

        public long Shipping { get; set; }

        public Tally Total { get; set; }
    }

    private readonly record struct Mark(int SavedRuns, int Reductions, int Gifts, int Offers, int Shorts, long Shipping, Tally Total, int Slot, Tally OfSlot, long Version);
}
