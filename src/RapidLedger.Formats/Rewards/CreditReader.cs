using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "credit", "amount": amount, "keepRest": true}</c>.</summary>
internal static class CreditReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "amount", "keepRest") is not { } members)
            return null;
        var amount = members.Required("amount") is { } held ? scope.Amount(held) : null;
        var keepRest = members.Required("keepRest")?.Flag();
        return amount is null || keepRest is null ? null : new Credit(amount, keepRest.Value);
    }
}
