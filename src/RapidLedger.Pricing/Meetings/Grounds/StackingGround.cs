namespace RapidLedger.Pricing;

/// <summary>What one says of whom it stands beside keeps the other out. Markdowns take no part in stacking.</summary>
internal sealed class StackingGround : Ground
{
    public override string Name => "stacking";

    public override string? RulesOut(Pair pair)
    {
        if (pair.HasMarkdown || pair.HasCredit)
            return null;
        var (one, other) = (pair.One, pair.Other);
        return !one.Compiled.Allows(other.Compiled) ? Say(one, other)
            : !other.Compiled.Allows(one.Compiled) ? Say(other, one)
            : null;
    }

    private static string Say(Side keeper, Side kept) =>
        keeper.Compiled.Stacking.Allow switch
        {
            Allow.None => $"{keeper.Named} stands alone, so {kept.Named} never stands beside it.",
            Allow.Only => $"{keeper.Named} stands beside some only, and {kept.Named} is not one of them.",
            _ => $"{keeper.Named} stands beside anything but some, and {kept.Named} is one of those.",
        };
}
