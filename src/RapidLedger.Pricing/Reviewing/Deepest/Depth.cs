namespace RapidLedger.Pricing;

/// <summary>By what a cart is the deepest.</summary>
public enum DeepestBy
{
    /// <summary>The lowest margin in percent of what is paid for goods and gifts, without tax. Where nothing is paid that is lower than
    /// any percent, and the margin decides.</summary>
    MarginPercent,

    /// <summary>The lowest margin.</summary>
    Margin,

    /// <summary>The lowest of what is left once delivery is paid too.</summary>
    Contribution,

    /// <summary>The most that is taken off goods, in percent of the catalogue's prices.</summary>
    ReductionPercent,

    /// <summary>The most that is taken off goods, against the catalogue's prices.</summary>
    Reduction,
}

/// <summary>How deep a priced cart is.</summary>
/// <param name="NothingPaid">By percent of what is paid: nothing is.</param>
/// <param name="Value">Percent, or minor units of the base currency; a reduction is below zero.</param>
public readonly record struct Depth(bool NothingPaid, decimal Value) : IComparable<Depth>
{
    /// <summary>Of a cart; null: it cannot be told, for a cost is not known.</summary>
    public static Depth? Of(PricedCart priced, DeepestBy by)
    {
        var totals = priced.Totals;
        return by switch
        {
            DeepestBy.MarginPercent => totals.Margin is not { } margin ? null
            : priced.MarginShare is { } share ? new(false, share * 100)
            : new(true, InBase(margin)),
            DeepestBy.Margin => totals.Margin is { } margin ? new(false, InBase(margin)) : null,
            DeepestBy.Contribution => totals.Contribution is { } left ? new(false, InBase(left)) : null,
            DeepestBy.ReductionPercent => new(false, Full() == 0 ? 0 : -100m * Taken() / Full()),
            _ => new(false, -InBase(Taken())),
        };

        long Full() => totals.Goods + MarkedDown();
        long Taken() => totals.Discount + MarkedDown();
        long MarkedDown() => priced.MarkedDown.Sum(part => part.Amount);
        long InBase(long minor) => priced.Catalogue.Store.InBase(minor, priced.Currency, priced.Catalogue.Store.Rounding);
    }

    /// <summary>The deeper is the lesser.</summary>
    public int CompareTo(Depth other) =>
        NothingPaid == other.NothingPaid ? Value.CompareTo(other.Value)
        : NothingPaid ? -1
        : 1;

    /// <summary>Whether it is deeper than another.</summary>
    public static bool operator <(Depth one, Depth other) => one.CompareTo(other) < 0;

    /// <summary>Whether another is deeper.</summary>
    public static bool operator >(Depth one, Depth other) => one.CompareTo(other) > 0;
}
