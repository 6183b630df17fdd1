using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"of": selection, "from": amount, "to": amount, "basis": "before"}</c>.</summary>
internal static class SpendReader
{
    public static Condition? Read(Node node, Scope scope)
    {
        if (node.Object("of", "from", "to", "basis") is not { } members) return null;
        var of = members["of"] is { } selection ? SelectionReader.Read(selection, scope) : null;
        var from = members["from"] is { } least ? scope.Amount(least) : null;
        var to = members["to"] is { } most ? scope.Amount(most) : null;
        if (members["basis"] is { } basis && basis.Word(("before", false), ("after", true)) == true)
            basis.Fault(ProblemCode.NotYet, "Spend after other promotions cannot be priced yet by this version.");
        return new Spend(of, from, to);
    }
}
