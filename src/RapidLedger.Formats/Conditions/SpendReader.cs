using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"of": selection, "from": amount, "to": amount, "basis": "before"}</c>.</summary>
internal static class SpendReader
{
    public static Condition? Read(Node node, Scope scope)
    {
        if (node.Object("of", "from", "to", "basis") is not { } members)
            return null;
        var of = members["of"] is { } selection ? SelectionReader.Read(selection, scope) : null;
        var from = members["from"] is { } least ? scope.Amount(least) : null;
        var to = members["to"] is { } most ? scope.Amount(most) : null;
        var basis = members["basis"]?.Word(("before", Basis.Before), ("after", Basis.After)) ?? Basis.Before;
        if (basis == Basis.After)
        {
            if (scope.AllowsAfter)
                scope.After?.Add(members["basis"]!);
            else
                members["basis"]!.Fault(ProblemCode.NotAllowed, "What other promotions leave can be asked for only at the top of 'when'.");
        }

        return new Spend(of, from, to, basis);
    }
}
