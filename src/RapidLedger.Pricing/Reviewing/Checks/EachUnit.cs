namespace RapidLedger.Pricing;

/// <summary>An amount off each unit where once for the cart may be meant: what either costs.</summary>
internal sealed class EachUnit : Check
{
    public override string Name => "eachUnit";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var found in OncePerCart.Amounts(promotion, Per.Unit, around))
            yield return Remark(
                $"{found.At}/per",
                $"It takes {found.Off} off each unit: {found.Ten} off ten{found.OnTape}.",
                new("once for the cart", $"{found.At}/per", "cart")
            );
    }
}
