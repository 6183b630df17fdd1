namespace RapidLedger.Pricing;

/// <summary>One pays, and is kept out by name: only that keeps a shopper's own means of payment out.</summary>
internal sealed class CreditGround : Ground
{
    public override string Name => "credit";

    public override string? RulesOut(Pair pair) =>
        pair.HasCredit && !pair.HasMarkdown && !pair.One.Compiled.CanMeet(pair.Other.Compiled)
            ? $"{pair.One.Named} and {pair.Other.Named}: one of them pays, and the other keeps it out."
            : null;
}
