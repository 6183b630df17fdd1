using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a condition: one kind, one file in this folder, one line in the table.</summary>
internal static class ConditionReader
{
    private static readonly IReadOnlyDictionary<string, Func<Node, Scope, Condition?>> Kinds = new ConditionKinds<
        Func<Node, Scope, Condition?>
    >
    {
        All = (node, scope) =>
            GroupReader.Parts(node, scope with { AllowsAfter = scope.AllowsAfter && scope.AtTop, AtTop = false }) is { } parts
                ? new AllOf(parts)
                : null,
        Any = (node, scope) => GroupReader.Parts(node, Below(scope)) is { } parts ? new AnyOf(parts) : null,
        None = (node, scope) => GroupReader.Parts(node, Below(scope)) is { } parts ? new NoneOf(parts) : null,
        Spend = SpendReader.Read,
        Quantity = CountReader.Quantity,
        Distinct = CountReader.Distinct,
        Only = (node, scope) => SelectionReader.Read(node, scope) is { } of ? new Only(of) : null,
        Weight = CountReader.Weight,
        Shopper = BuyerReader.Read,
        Destination = (node, _) => SelectionReader.ReadPlaces(node) is { } places ? new Destination(places) : null,
        Channel = NamesReader.Channel,
        Currency = NamesReader.PaidIn,
        Method = NamesReader.Method,
    }.ByName();

    private static readonly string[] Names = [.. Kinds.Keys];

    // Deeper than the top, nothing can be asked about what other promotions leave.
    private static Scope Below(Scope scope) => scope with { AllowsAfter = false, AtTop = false };

    /// <summary>A condition.</summary>
    public static Condition? Read(Node node, Scope scope) => node.One(Names) is ({ } kind, { } value) ? Kinds[kind](value, scope) : null;
}
