namespace RapidLedger.Pricing;

/// <summary>One thing that stands between a cart and a promotion. Amounts are minor units of the cart's currency.</summary>
public abstract record Gap
{
    private Gap()
    {
    }

    /// <summary>The selected units come to less than is asked for.</summary>
    public sealed record SpendShort(Selection? Of, long Spent, long From) : Gap;

    /// <summary>The selected units come to more than is allowed.</summary>
    public sealed record SpendOver(Selection? Of, long Spent, long To) : Gap;

    /// <summary>The number of selected units does not compare so.</summary>
    public sealed record UnitsOff(Selection? Of, long Units, Comparison Comparison, long Number) : Gap;

    /// <summary>The number of different SKUs does not compare so.</summary>
    public sealed record KindsOff(Selection? Of, long Kinds, Comparison Comparison, long Number) : Gap;

    /// <summary>The weight does not compare so.</summary>
    public sealed record WeightOff(long Grams, Comparison Comparison, long Bound) : Gap;

    /// <summary>The cart is empty or holds other things too.</summary>
    public sealed record OthersInCart(Selection Of, bool Empty) : Gap;

    /// <summary>Another shopper would get it.</summary>
    public sealed record OtherBuyer(Buyer Wanted) : Gap;

    /// <summary>It goes elsewhere.</summary>
    public sealed record OtherPlace(Places Wanted, Place? Destination) : Gap;

    /// <summary>It is bought elsewhere.</summary>
    public sealed record OtherChannel(EquatableArray<string> Wanted) : Gap;

    /// <summary>It is paid in another currency.</summary>
    public sealed record OtherCurrency(EquatableArray<Currency> Wanted) : Gap;

    /// <summary>It is delivered otherwise.</summary>
    public sealed record OtherMethod(EquatableArray<string> Wanted) : Gap;

    /// <summary>Something holds that must not.</summary>
    public sealed record Unwanted(Condition Condition) : Gap;
}
