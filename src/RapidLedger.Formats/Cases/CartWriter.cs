using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Writes a cart as it stands in a case: what is as it is without being said is left out.</summary>
public static class CartWriter
{
    /// <summary>The cart.</summary>
    /// <param name="cart">Without picks.</param>
    /// <param name="inBase">The store's currency, which lifetime spend is kept in.</param>
    public static JsonObject Of(Cart cart, Currency inBase)
    {
        var written = new JsonObject { ["at"] = cart.At.ToString() };
        if (cart.Currency is { } currency)
            written["currency"] = currency.Code;
        written["channel"] = cart.Channel;
        if (cart.Method is { } method)
            written["method"] = method;
        if (cart.Destination is { } destination)
            written["destination"] = destination.Code;
        if (cart.Shopper is { } shopper)
            written["shopper"] = Of(shopper, inBase);
        written["codes"] = Texts(cart.Codes);
        written["lines"] = new JsonArray([
            .. cart.Lines.Select(line => new JsonObject { ["sku"] = line.Sku, ["quantity"] = line.Quantity }),
        ]);
        return written;
    }

    private static JsonObject Of(Shopper shopper, Currency inBase)
    {
        var written = new JsonObject();
        if (shopper.Id is { } id)
            written["id"] = id;
        written["groups"] = Texts(shopper.Groups);
        if (shopper.Orders > 0)
            written["orders"] = shopper.Orders;
        if (shopper.Spent > 0)
            written["spent"] = inBase.Write(shopper.Spent);
        return written;
    }

    private static JsonArray Texts(EquatableArray<string> texts) => new([.. texts.Select(text => JsonValue.Create(text))]);
}
