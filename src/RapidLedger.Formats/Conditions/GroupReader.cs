using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads the parts of <c>all</c>, <c>any</c> and <c>none</c>.</summary>
internal static class GroupReader
{
    public static EquatableArray<Condition>? Parts(Node node, Scope scope) =>
        node.Array(part => ConditionReader.Read(part, scope))?.ToEquatableArray();
}
