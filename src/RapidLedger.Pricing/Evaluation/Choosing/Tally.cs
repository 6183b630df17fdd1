namespace RapidLedger.Pricing;

/// <summary>What a promotion, or all of them together, has given so far.</summary>
internal record struct Tally(long Taken, long Shipping, long Gifts, long Offered, long GiftUnits, long OfferedUnits, long Points)
{
    /// <summary>What the shopper saves.</summary>
    public readonly long Saving => Taken + Shipping + Gifts;

    /// <summary>What the choice is worth: saving, and the value of gifts offered and not picked yet.</summary>
    public readonly long Worth => Saving + Offered;

    /// <summary>Gift units, given or offered.</summary>
    public readonly long Units => GiftUnits + OfferedUnits;

    /// <summary>Whether there is anything at all.</summary>
    public readonly bool IsNothing => Taken == 0 && Shipping == 0 && GiftUnits == 0 && OfferedUnits == 0 && Points == 0;

    public static Tally operator +(Tally left, Tally right) =>
        new(
            left.Taken + right.Taken,
            left.Shipping + right.Shipping,
            left.Gifts + right.Gifts,
            left.Offered + right.Offered,
            left.GiftUnits + right.GiftUnits,
            left.OfferedUnits + right.OfferedUnits,
            left.Points + right.Points
        );
}
