namespace RapidLedger.Pricing;

/// <summary>Both are of a family of which one applies to a cart.</summary>
internal sealed class FamilyGround : Ground
{
    public override string Name => "family";

    public override string? RulesOut(Pair pair) =>
        !pair.HasMarkdown
        && pair.One.Compiled.IsOfOnePerCartFamily
        && pair.One.Compiled.Stacking.Family == pair.Other.Compiled.Stacking.Family
            ? $"Both are of the family {pair.One.Compiled.Stacking.Family}, of which one applies to a cart."
            : null;
}
