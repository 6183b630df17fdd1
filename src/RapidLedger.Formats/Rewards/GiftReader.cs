using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "gift", "give": {"skus"} | {"sameAs"}, "quantity", "times", "atMost", "picked", "take"}</c>.</summary>
internal static class GiftReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "give", "quantity", "times", "atMost", "picked", "take") is not { } members)
            return null;
        var give = members.Required("give") is { } what ? ReadGive(what, scope) : null;
        var again = give is Give.SameAs;
        var quantity = members["quantity"]?.Integer(1, Line.GreatestQuantity) ?? 1;
        var times = members["times"] is { } often ? ReadTimes(often, scope, again) : Times.Once;
        var atMost = members["atMost"]?.Integer(1);
        var picked = members["picked"]?.Flag() ?? false;
        var take = members["take"] is { } how ? SelectionReader.ReadTake(how, scope) : null;
        if (again && picked)
            members["picked"]!.Fault(ProblemCode.NotAllowed, "The same again is put in by itself; there is nothing to pick.");
        var byItself = again || (give is Give.OneOf { Skus.Count: 1 } && !picked);
        if (byItself && take is not null && !IsFree(take))
            members["take"]!.Fault(
                ProblemCode.GiftNotFree,
                "A gift that is put in by itself must be free. Let the shopper pick it, or leave the take out."
            );
        return give is null || times is null ? null : new Gift(give, times, quantity, atMost, picked, take);
    }

    private static bool IsFree(Take take) =>
        take is Take.Percentage(var percent)
            ? percent == Percent.Whole
            : take is Take.To(var price) && price.Named.All(entry => entry.Minor == 0);

    private static Give? ReadGive(Node node, Scope scope) =>
        node.One("skus", "sameAs") switch
        {
            ("skus", var skus) => skus.Array(scope.Skus.Read, orEmpty: false, whenEmpty: "No gift is chosen yet.") is { } named
                ? new Give.OneOf(named.ToEquatableArray())
                : null,
            ("sameAs", var of) => SelectionReader.Read(of, scope) is { } selection ? new Give.SameAs(selection) : null,
            _ => null,
        };

    private static Times? ReadTimes(Node node, Scope scope, bool again)
    {
        if (node.Value.ValueKind != System.Text.Json.JsonValueKind.Object)
            return node.Word(("once", true)) is null ? null : Times.Once;
        if (
            node.Object("per") is not { } members
            || members.Required("per") is not { } per
            || per.Object("of", "quantity", "spend") is not { } of
        )
            return null;
        if (again)
            of.NotAllowed("the same again goes by the units of each selected SKU", "of", "spend");
        var selection = !again && of.Required("of") is { } selected ? SelectionReader.Read(selected, scope) : null;
        if (!again && (of["quantity"] is null) == (of["spend"] is null))
        {
            per.Fault(ProblemCode.ExactlyOne, "Either a quantity or a spend is said here.");
            return null;
        }

        var quantity = (again ? of.Required("quantity") : of["quantity"])?.Integer(1, 1_000_000_000);
        var spend = !again && of["spend"] is { } amount ? BuyGetReader.Positive(amount, scope) : null;
        return (!again && selection is null) || (quantity is null && spend is null) ? null : new(selection, quantity, spend);
    }
}
