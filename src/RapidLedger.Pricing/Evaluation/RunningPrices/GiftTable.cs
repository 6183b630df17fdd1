using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>Units given beside the cart.</summary>
/// <param name="Value">The current price of one.</param>
/// <param name="Off">What is taken off that.</param>
internal readonly record struct GivenUnits(int Slot, int Variant, long Count, long Value, long Off);

/// <summary>Units offered that are not picked yet.</summary>
internal readonly record struct OfferedUnits(int Slot, IReadOnlyList<int> Variants, long Count);

/// <summary>What is given and offered beside the cart of a sheet, and whose gifts ran short.</summary>
internal sealed class GiftTable(Sheet sheet)
{
    private readonly List<GivenUnits> given = [];
    private readonly List<OfferedUnits> offers = [];
    private readonly List<int> shorts = [];

    // Of the current promotion, by place in its picks: each serves one gift.
    private readonly List<bool> isUsed = [];
    private long net;

    /// <summary>What was given, in order.</summary>
    public ReadOnlySpan<GivenUnits> Given => CollectionsMarshal.AsSpan(given);

    /// <summary>What was offered and is not picked yet.</summary>
    public ReadOnlySpan<OfferedUnits> Offers => CollectionsMarshal.AsSpan(offers);

    /// <summary>What is to be paid for what was given.</summary>
    public long Net => net;

    public void Clear()
    {
        given.Clear();
        offers.Clear();
        shorts.Clear();
        net = 0;
    }

    /// <summary>Begins for another promotion or stage.</summary>
    public void Begin() => isUsed.Clear();

    /// <summary>Whether the gifts of a promotion ran short.</summary>
    public bool IsShort(int slot) => shorts.Contains(slot);

    /// <summary>How many units of a variant can still be given: its stock less what the cart and earlier gifts hold.</summary>
    public long Left(int variant)
    {
        if (sheet.Cart.Catalogue.Variant(variant).Free(sheet.Cart.Left) is not { } free)
            return long.MaxValue;
        var left = free - sheet.Cart.UnitsOf(variant);
        foreach (var gift in given)
            if (gift.Variant == variant)
                left -= gift.Count;
        return Math.Max(0, left);
    }

    /// <summary>Gives units, each with so much off its current price.</summary>
    public void Give(int variant, long count, long off)
    {
        var value = sheet.Cart.PriceOf(variant);
        sheet.Work.Count(given.Count);
        if (given.Count > 0 && given[^1] is var last && last.Slot == sheet.Slot && last.Variant == variant && last.Off == off)
            given[^1] = last with { Count = last.Count + count };
        else
            given.Add(new(sheet.Slot, variant, count, value, off));
        net += (value - off) * count;
        sheet.Add(new Tally { Gifts = off * count, GiftUnits = count });
    }

    /// <summary>Offers units to pick.</summary>
    public void Offer(IReadOnlyList<int> variants, long count, long worth)
    {
        offers.Add(new(sheet.Slot, variants, count));
        sheet.Add(new Tally { Offered = worth, OfferedUnits = count });
    }

    /// <summary>Notes that the current promotion's gifts ran short.</summary>
    public void RanShort()
    {
        if (!shorts.Contains(sheet.Slot))
            shorts.Add(sheet.Slot);
    }

    /// <summary>Whether the pick at a place has served a gift of the current promotion already.</summary>
    public bool IsUsed(int place) => place < isUsed.Count && isUsed[place];

    /// <summary>Uses up the pick at a place.</summary>
    public void Use(int place)
    {
        while (isUsed.Count <= place)
            isUsed.Add(false);
        isUsed[place] = true;
    }

    public Mark Save() => new(given.Count, offers.Count, shorts.Count, net);

    public void Restore(Mark mark)
    {
        CollectionsMarshal.SetCount(given, mark.Given);
        CollectionsMarshal.SetCount(offers, mark.Offers);
        CollectionsMarshal.SetCount(shorts, mark.Shorts);
        net = mark.Net;
    }

    public void CopyTo(State state)
    {
        state.Given.Clear();
        state.Given.AddRange(given);
        state.Offers.Clear();
        state.Offers.AddRange(offers);
        state.Shorts.Clear();
        state.Shorts.AddRange(shorts);
        state.Net = net;
    }

    public void CopyFrom(State state)
    {
        Clear();
        given.AddRange(state.Given);
        offers.AddRange(state.Offers);
        shorts.AddRange(state.Shorts);
        net = state.Net;
    }

    public readonly record struct Mark(int Given, int Offers, int Shorts, long Net);

    public sealed class State
    {
        public List<GivenUnits> Given { get; } = [];

        public List<OfferedUnits> Offers { get; } = [];

        public List<int> Shorts { get; } = [];

        public long Net { get; set; }
    }
}
