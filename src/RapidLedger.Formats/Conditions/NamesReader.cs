using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads the conditions that are lists of names.</summary>
internal static class NamesReader
{
    public static Condition? Channel(Node node, Scope scope) => Names(node) is { } names ? new Channel(names) : null;

    public static Condition? PaidIn(Node node, Scope scope) =>
        node.Array(Scope.ReadCurrency, orEmpty: false, whenEmpty: "No currency is chosen yet.") is { } currencies
            ? new PaidIn(currencies.ToEquatableArray())
            : null;

    public static Condition? Method(Node node, Scope scope) =>
        node.Array(scope.Methods.Read, orEmpty: false) is { } ids ? new Method(ids.ToEquatableArray()) : null;

    public static EquatableArray<string>? Names(Node node) =>
        node.Array(name => name.Name(), orEmpty: false, whenEmpty: "Nobody is chosen yet: name at least one.")?.ToEquatableArray();
}
