using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "shipping", "methods": [id…], "take": take, "maxDiscount": amount}</c>.</summary>
internal static class ShippingReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "methods", "take", "maxDiscount") is not { } members)
            return null;
        var methods = members["methods"]
            ?.Array(scope.Methods.Read, orEmpty: false, whenEmpty: "No delivery method is chosen yet; leave 'methods' out for any.");
        var take = members.Required("take") is { } how ? SelectionReader.ReadTake(how, scope) : null;
        var maxDiscount = members["maxDiscount"] is { } most ? scope.Amount(most) : null;
        return take is null ? null : new Shipping(methods?.ToEquatableArray(), take, maxDiscount);
    }
}
