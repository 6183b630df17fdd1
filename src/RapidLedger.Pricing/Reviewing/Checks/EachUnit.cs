namespace RapidLedger.Pricing;

/// <summary>An amount off each unit where once for the cart may be meant: what it costs on ten.</summary>
internal sealed class EachUnit : Check
{
    private const int Ten = 10;

    public override string Name => "eachUnit";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (reward is not Discount { Take: Take.Off(var amount), Per: Per.Unit, MaxUnits: null, MaxDiscount: null } discount) continue;
            if (amount.For(around.Store.Currency, around.Store) is not { } off || around.Catalogue.Select(discount.On).Take(2).Count() < 2) continue;
            yield return Remark($"{at}/per", $"It takes {around.Wording.Say(off)} off each unit: {around.Wording.Say(Ten * off)} off ten.", new("once for the cart", $"{at}/per", "cart"));
        }
    }
}
