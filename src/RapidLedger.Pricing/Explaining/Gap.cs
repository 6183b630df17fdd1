namespace RapidLedger.Pricing;

/// <summary>One thing that stands between a cart and a promotion. Amounts are minor units of the cart's currency.</summary>
public abstract record Gap
{
    private Gap() { }

    /// <summary>The selected units come to less than is asked for.</summary>
    /// <param name="Of">Which units; none: the whole cart.</param>
    /// <param name="Spent">What they come to.</param>
    /// <param name="From">What they would have to come to.</param>
    /// <param name="After">What other promotions leave of them counts.</param>
    public sealed record SpendShort(Selection? Of, long Spent, long From, bool After = false) : Gap;

    /// <summary>The selected units come to more than is allowed.</summary>
    /// <param name="Of">Which units; none: the whole cart.</param>
    /// <param name="Spent">What they come to.</param>
    /// <param name="To">What they may come to.</param>
    /// <param name="After">What other promotions leave of them counts.</param>
    public sealed record SpendOver(Selection? Of, long Spent, long To, bool After = false) : Gap;

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

    /// <summary>Nothing could help.</summary>
    public sealed record Never : Gap;

    /// <summary>Something holds that must not.</summary>
    public sealed record Unwanted(Condition Condition) : Gap;

    /// <summary>How far a cart is from what is asked for: 0 is there, 1 is all of it, for each thing that is missing.</summary>
    public static decimal Distance(IEnumerable<Gap> gaps) => gaps.Sum(gap => gap.Share);

    private decimal Share =>
        this switch
        {
            SpendShort(_, var spent, var from, _) => (decimal)(from - spent) / from,
            UnitsOff(_, var units, var comparison, var number) when comparison.Least(units, number) is { } least => (decimal)(least - units)
                / least,
            KindsOff(_, var kinds, var comparison, var number) when comparison.Least(kinds, number) is { } least => (decimal)(least - kinds)
                / least,
            _ => 1,
        };
}
