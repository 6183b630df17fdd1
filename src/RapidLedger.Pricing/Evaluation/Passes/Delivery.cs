namespace RapidLedger.Pricing;

/// <summary>What delivery of a cart costs before any promotion, in minor units of its currency.</summary>
/// <param name="Method">The method chosen, if it is used: there is one and something to deliver.</param>
/// <param name="Charge">What the shopper is charged.</param>
/// <param name="Cost">What it costs the shop; null if not known.</param>
/// <param name="Unavailable">The method does not deliver there, or not at that weight.</param>
internal readonly record struct Delivery(ShippingMethod? Method, long Charge, long? Cost, bool Unavailable)
{
    public static Delivery Of(CartView cart)
    {
        var method = cart.Lines == 0 ? null : Find(cart);
        if (method is null)
            return new(null, 0, 0, false);
        WeightBand? band = null;
        foreach (var one in method.Bands)
            if (band is null && (one.ToGrams is not { } most || cart.Grams <= most))
                band = one;
        if (band is null || !(method.Places?.Hold(cart.Cart.Destination) ?? true))
            return new(null, 0, 0, true);
        var store = cart.Catalogue.Store;
        return new(method, band.Price.For(cart.Currency, store) ?? 0, method.Cost?.For(cart.Currency, store), false);
    }

    private static ShippingMethod? Find(CartView cart)
    {
        foreach (var method in cart.Catalogue.Store.Shipping)
            if (method.Id == cart.Cart.Method)
                return method;
        return null;
    }
}
