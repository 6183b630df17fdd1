namespace RapidLedger.Pricing;

/// <summary>What a cart holds at the most, in minor units of its currency: bounds for what rewards count up in it.</summary>
/// <param name="Units">Units.</param>
/// <param name="Goods">At current prices before markdowns.</param>
/// <param name="Cost">What they cost the shop, as far as that is known.</param>
/// <param name="Net">What may have to be paid for goods and gifts together.</param>
/// <param name="Currency">The cart's.</param>
/// <param name="Catalogue">Where prices come from.</param>
internal readonly record struct CartExtent(Int128 Units, Int128 Goods, Int128 Cost, Int128 Net, Currency Currency, CatalogueIndex Catalogue)
{
    /// <summary>No sum of money, weight or points passes this.</summary>
    public const long Most = 1_000_000_000_000_000;

    public static CartExtent Of(CartView cart)
    {
        Int128 units = 0,
            goods = 0,
            cost = 0;
        for (var line = 0; line < cart.Lines; line++)
        {
            units += cart.Quantity(line);
            goods += (Int128)cart.Prices.Current(cart.Variant(line)) * cart.Quantity(line);
            cost += (Int128)(cart.Prices.Cost(cart.Variant(line)) ?? 0) * cart.Quantity(line);
        }

        return new(units, goods, cost, goods, cart.Currency, cart.Catalogue);
    }

    /// <summary>With what the gifts of promotions add to what may have to be paid.</summary>
    public CartExtent With(IEnumerable<Promotion> promotions)
    {
        Int128 gifts = 0;
        foreach (var promotion in promotions)
        foreach (var reward in promotion.Rewards)
            gifts += reward.ReachIn(this).GiftValue;
        return this with { Net = Net + Int128.Min(Most, gifts) };
    }

    /// <summary>An amount to divide by, in the cart's currency.</summary>
    public long Divisor(Amount amount) => Math.Max(1, amount.For(Currency, Catalogue.Store) ?? 1);
}

/// <summary>What a reward could count up in a cart at the most.</summary>
/// <param name="GiftValue">What its gifts are worth, and what they cost.</param>
/// <param name="Points">Points.</param>
internal readonly record struct Reach(Int128 GiftValue, Int128 Points)
{
    /// <summary>Nothing beside what the cart holds.</summary>
    public static readonly Reach Nothing;

    public bool IsTooMuch => GiftValue > CartExtent.Most || Points > CartExtent.Most;

    public static Reach operator +(Reach left, Reach right) => new(left.GiftValue + right.GiftValue, left.Points + right.Points);
}
