namespace RapidLedger.Pricing;

/// <summary>
/// One ground on which two promotions never meet. What it rules out is ruled out for every cart, whatever has been used: a witness is
/// looked for only where no ground rules it out.
/// </summary>
internal abstract class Ground
{
    /// <summary>The name used in files.</summary>
    public abstract string Name { get; }

    /// <summary>Why the two never meet, in a sentence; null: it does not rule it out.</summary>
    public abstract string? RulesOut(Pair pair);

    /// <summary>All of them, in the order in which they are asked.</summary>
    public static IReadOnlyList<Ground> All { get; } =
    [new StackingGround(), new FamilyGround(), new CreditGround(), new WindowGround(), new NeverAppliesGround(), .. ConditionGround.All];
}
