using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads the conditions that compare a whole number: <c>{"of": selection, "op": "&gt;=", "n": 2}</c>.</summary>
internal static class CountReader
{
    public static Condition? Quantity(Node node, Scope scope) =>
        Read(node, scope, "n", "of") is var (of, comparison, number) ? new Quantity(of, comparison, number) : null;

    public static Condition? Distinct(Node node, Scope scope) =>
        Read(node, scope, "n", "of") is var (of, comparison, number) ? new Distinct(of, comparison, number) : null;

    public static Condition? Weight(Node node, Scope scope) =>
        Read(node, scope, "grams") is var (_, comparison, grams) ? new Weight(comparison, grams) : null;

    public static (Selection? Of, Comparison Comparison, long Number)? Read(Node node, Scope scope, string number, string? of = null)
    {
        if (node.Object(of is null ? ["op", number] : [of, "op", number]) is not { } members)
            return null;
        var selection = of is not null && members[of] is { } selected ? SelectionReader.Read(selected, scope) : null;
        var comparison = members
            .Required("op")
            ?.Word(
                (">=", Comparison.AtLeast),
                (">", Comparison.MoreThan),
                ("=", Comparison.Exactly),
                ("!=", Comparison.AnythingBut),
                ("<", Comparison.LessThan),
                ("<=", Comparison.AtMost)
            );
        var value = members.Required(number)?.Integer(0);
        return comparison is { } how && value is { } to ? (selection, how, to) : null;
    }
}
