namespace RapidLedger.Pricing;

/// <summary>Nobody could find it again, and the shopper would read an id.</summary>
internal sealed class NameMissing : Check
{
    public override string Name => "nameMissing";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion is { Label: not { Length: > 0 }, Name: not { Length: > 0 } })
            yield return Doubt("/name", $"It has no name: the shopper reads “{promotion.Shown}”.");
    }
}
