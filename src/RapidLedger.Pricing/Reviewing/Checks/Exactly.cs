namespace RapidLedger.Pricing;

/// <summary>A number that a shopper leaves by buying one more.</summary>
internal sealed class Exactly : Check
{
    public override string Name => "exactly";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, condition) in promotion.Conditions())
        {
            var (name, number) = condition switch
            {
                Quantity { Comparison: Comparison.Exactly } quantity => ("quantity", quantity.Number),
                Distinct { Comparison: Comparison.Exactly } distinct => ("distinct", distinct.Number),
                _ => ("", 0L),
            };
            if (number > 0)
                yield return Remark(
                    $"{at}/{name}/op",
                    $"Exactly {number}: who puts one more in the cart loses it.",
                    new($"at least {number}", $"{at}/{name}/op", ">=")
                );
        }
    }
}
