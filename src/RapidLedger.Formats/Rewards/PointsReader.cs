using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "points", "fixed": n}</c> and <c>{"kind": "points", "each": amount, "points": n}</c>.</summary>
internal static class PointsReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "fixed", "each", "points") is not { } members)
            return null;
        if ((members["fixed"] is null) == (members["each"] is null))
        {
            node.Fault(ProblemCode.ExactlyOne, "Points are fixed, or awarded for each amount: write 'fixed', or 'each' with 'points'.");
            return null;
        }

        if (members["fixed"] is { } number)
        {
            members.NotAllowed("it goes with 'each'", "points");
            return number.Integer(1) is { } fixedNumber ? new Points(fixedNumber) : null;
        }

        var each = BuyGetReader.Positive(members["each"]!, scope);
        var points = members.Required("points")?.Integer(1, 1_000_000);
        return each is null || points is null ? null : new Points(points.Value, each);
    }
}
