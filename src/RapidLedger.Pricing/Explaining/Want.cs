namespace RapidLedger.Pricing;

/// <summary>More of something in the cart: so many units, or units that come to so much.</summary>
/// <param name="Of">Of which items.</param>
/// <param name="Units">How many more; 0 where it goes by spend.</param>
/// <param name="Spend">How much more, in minor units of the cart's currency; 0 where it goes by units.</param>
/// <param name="Brings">The rewards of the step that it leads to; none: those of the promotion.</param>
internal sealed record Want(Selection Of, long Units, long Spend = 0, EquatableArray<Reward>? Brings = null)
{
    /// <summary>The one variant that would do; none: any that is selected.</summary>
    public int? Variant { get; init; }

    /// <summary>Of so many other items than those in the cart.</summary>
    public bool OfOthers { get; init; }

    /// <summary>What would fill a gap; null where more in the cart cannot.</summary>
    public static Want? For(Gap gap) =>
        gap switch
        {
            Gap.SpendShort(var of, var spent, var from, _) => new(of ?? Selection.Everything, 0, from - spent),
            Gap.UnitsOff(var of, var units, var comparison, var number) when comparison.Least(units, number) is { } least => new(
                of ?? Selection.Everything,
                least - units
            ),
            Gap.KindsOff(var of, var kinds, var comparison, var number) when comparison.Least(kinds, number) is { } least => new(
                of ?? Selection.Everything,
                least - kinds
            )
            {
                OfOthers = true,
            },
            _ => null,
        };
}
