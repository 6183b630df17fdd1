using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a condition: one kind, one file in this folder, one line in the table.</summary>
internal static class ConditionReader
{
    private static readonly Dictionary<string, Func<Node, Scope, Condition?>> Kinds = new(StringComparer.Ordinal)
    {
        ["all"] = (node, scope) => GroupReader.Parts(node, scope with { AllowsAfter = scope.AllowsAfter && scope.AtTop, AtTop = false }) is { } parts ? new AllOf(parts) : null,
        ["any"] = (node, scope) => GroupReader.Parts(node, Below(scope)) is { } parts ? new AnyOf(parts) : null,
        ["none"] = (node, scope) => GroupReader.Parts(node, Below(scope)) is { } parts ? new NoneOf(parts) : null,
        ["spend"] = SpendReader.Read,
        ["quantity"] = CountReader.Quantity,
        ["distinct"] = CountReader.Distinct,
        ["only"] = (node, scope) => SelectionReader.Read(node, scope) is { } of ? new Only(of) : null,
        ["weight"] = CountReader.Weight,
        ["shopper"] = BuyerReader.Read,
        ["destination"] = (node, _) => SelectionReader.ReadPlaces(node) is { } places ? new Destination(places) : null,
        ["channel"] = NamesReader.Channel,
        ["currency"] = NamesReader.PaidIn,
        ["method"] = NamesReader.Method,
    };

    private static readonly string[] Names = [.. Kinds.Keys];

    // Deeper than the top, nothing can be asked about what other promotions leave.
    private static Scope Below(Scope scope) => scope with { AllowsAfter = false, AtTop = false };

    /// <summary>A condition.</summary>
    public static Condition? Read(Node node, Scope scope) => node.One(Names) is ({ } kind, { } value) ? Kinds[kind](value, scope) : null;
}
