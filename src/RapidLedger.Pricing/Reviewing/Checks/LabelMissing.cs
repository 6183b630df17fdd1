namespace RapidLedger.Pricing;

/// <summary>The shopper reads what the merchant calls it.</summary>
internal sealed class LabelMissing : Check
{
    public override string Name => "labelMissing";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion is { Label: not { Length: > 0 }, Name: { Length: > 0 } name })
            yield return Remark("/label", $"It says nothing to the shopper, who reads what you call it: “{name}”.");
    }
}
