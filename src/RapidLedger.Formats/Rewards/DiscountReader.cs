using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// Reads <c>{"kind": "discount", "on": selection, "take": take, "per": "unit"|"cart", "pick": …, "maxUnits": n, "maxDiscount": amount}</c>.
/// </summary>
internal static class DiscountReader
{
    public static Reward? Read(Node node, Scope scope) => Read(node, scope, null);

    /// <summary>
    /// As a step of a ladder it may leave <c>on</c> out; where units count by their places it says no more than its take.
    /// </summary>
    public static Reward? ReadOnStep(Node node, Scope scope, LadderReader.Place place)
    {
        if (!place.IsBeyond)
            return Read(node, scope, place.Of ?? Selection.Everything);
        if (node.Object("kind", "on", "take", "per", "pick", "maxUnits", "maxDiscount") is not { } members)
            return null;
        members.NotAllowed("each unit counts by its own place", "on", "pick", "maxUnits", "maxDiscount");
        var take = members.Required("take") is { } how ? SelectionReader.ReadTake(how, scope) : null;
        if (members.Required("per")?.Word(("unit", Per.Unit), ("cart", Per.Cart)) == Per.Cart)
            members["per"]!.Fault(ProblemCode.NotAllowed, "With 'beyond' a step is one discount per unit.");
        return take is null ? null : new Discount(place.Of ?? Selection.Everything, take, Per.Unit);
    }

    private static Reward? Read(Node node, Scope scope, Selection? otherwise)
    {
        if (node.Object("kind", "on", "take", "per", "pick", "maxUnits", "maxDiscount") is not { } members)
            return null;
        var on = otherwise;
        if (members["on"] is not null || otherwise is null)
            on = members.Required("on") is { } selection ? SelectionReader.Read(selection, scope) : null;
        var take = members.Required("take") is { } how ? SelectionReader.ReadTake(how, scope) : null;
        var per = members.Required("per")?.Word(("unit", Per.Unit), ("cart", Per.Cart));
        var pick = members["pick"]?.Word(("cheapest", Pick.Cheapest), ("dearest", Pick.Dearest));
        var maxUnits = members["maxUnits"]?.Integer(1, Line.GreatestQuantity);
        var maxDiscount = members["maxDiscount"] is { } most ? scope.Amount(most) : null;
        if (per == Per.Cart)
        {
            members.NotAllowed("the discount is worked out once per cart, on all selected units", "pick", "maxUnits");
            if (take is Take.To)
                members["take"]!
                    .Member("price")
                    .Fault(ProblemCode.NotAllowed, "A price is set for each unit: with 'per': 'cart' write a percent or an amount.");
        }

        return on is null || take is null || per is null ? null : new Discount(on, take, per.Value, pick, (int?)maxUnits, maxDiscount);
    }
}
