using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads the ways to tell a shopper, of which exactly one is said.</summary>
internal static class BuyerReader
{
    public static Condition? Read(Node node, Scope scope)
    {
        switch (node.One("is", "groups", "ids", "orders", "spent"))
        {
            case ("is", var known):
                return known.Word(("guest", false), ("signedIn", true)) switch
                {
                    true => new Buyer.SignedIn(),
                    false => new Buyer.Guest(),
                    null => null,
                };
            case ("groups", var groups):
                return NamesReader.Names(groups) is { } names ? new Buyer.InGroup(names) : null;
            case ("ids", var ids):
                return NamesReader.Names(ids) is { } those ? new Buyer.OneOf(those) : null;
            case ("orders", var orders):
                return CountReader.Read(orders, scope, "n") is var (_, comparison, number) ? new Buyer.Orders(comparison, number) : null;
            case ("spent", var spent):
                if (spent.Object("from", "to") is not { } members)
                    return null;
                var from = members["from"] is { } least ? InBase(least, scope) : null;
                var to = members["to"] is { } most ? InBase(most, scope) : null;
                return new Buyer.Spent(from, to);
            default:
                return null;
        }
    }

    // Lifetime spend is in base currency, so of an amount by currency only that entry counts.
    private static long? InBase(Node node, Scope scope)
    {
        if (scope.Base is not { } inBase)
            return null;
        if ((scope with { Paid = inBase, Others = [] }).Amount(node) is not { } amount)
            return null;
        return amount.Find(inBase);
    }
}
