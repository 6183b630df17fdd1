namespace RapidLedger.Pricing;

/// <summary>What comes to more in a cart than can be counted.</summary>
public enum Magnitude
{
    /// <summary>Regular prices.</summary>
    Regular,

    /// <summary>Costs.</summary>
    Cost,

    /// <summary>Weight.</summary>
    Grams,

    /// <summary>What a reward gives: gifts or points.</summary>
    Given,

    /// <summary>The charge for delivery, or its cost.</summary>
    Delivery,
}

/// <summary>Something that comes to too much.</summary>
/// <param name="What">What.</param>
/// <param name="Line">Of the cart: the line with which its sum does; -1 where it is no line.</param>
/// <param name="Promotion">The place of the promotion, and <paramref name="Reward"/> that of the reward in it; -1 where it is none.</param>
/// <param name="Reward">See <paramref name="Promotion"/>.</param>
public sealed record TooMuch(Magnitude What, int Line = -1, int Promotion = -1, int Reward = -1);

/// <summary>Whether all sums of a cart can be counted with: none of money, weight or points passes 10^15.</summary>
public static class Magnitudes
{
    /// <summary>The most that any sum comes to.</summary>
    public const long Most = CartExtent.Most;

    /// <summary>The first sum that passes; null: none does.</summary>
    /// <param name="catalogue">The catalogue and store.</param>
    /// <param name="cart">Its SKUs are in the catalogue.</param>
    /// <param name="promotions">The live ones.</param>
    public static TooMuch? FirstIn(CatalogueIndex catalogue, Cart cart, IReadOnlyList<Promotion> promotions)
    {
        var prices = catalogue.PricesIn(cart.Currency ?? catalogue.Store.Currency);
        Int128 regular = 0,
            cost = 0,
            grams = 0;
        for (var line = 0; line < cart.Lines.Count; line++)
        {
            var (variant, quantity) = (catalogue.Find(cart.Lines[line].Sku), cart.Lines[line].Quantity);
            if ((regular += (Int128)prices.Regular(variant) * quantity) > Most)
                return new(Magnitude.Regular, line);
            if ((cost += (Int128)(prices.Cost(variant) ?? 0) * quantity) > Most)
                return new(Magnitude.Cost, line);
            if ((grams += (Int128)catalogue.Variant(variant).Grams * quantity) > Most)
                return new(Magnitude.Grams, line);
        }

        var view = new CartView(cart, catalogue);
        var delivery = Delivery.Of(view);
        if (delivery.Charge > Most || delivery.Cost > Most)
            return new(Magnitude.Delivery);
        var extent = CartExtent.Of(view).With(promotions);
        var reached = Reach.Nothing;
        for (var promotion = 0; promotion < promotions.Count; promotion++)
        {
            for (var reward = 0; reward < promotions[promotion].Rewards.Count; reward++)
            {
                reached += promotions[promotion].Rewards[reward].ReachIn(extent);
                if (reached.IsTooMuch)
                    return new(Magnitude.Given, -1, promotion, reward);
            }
        }

        return null;
    }
}
