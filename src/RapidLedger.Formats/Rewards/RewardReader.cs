using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a reward: one kind, one file in this folder, one line in the table.</summary>
internal static class RewardReader
{
    private static readonly Dictionary<string, Func<Node, Scope, Reward?>> Kinds = new(StringComparer.Ordinal)
    {
        ["discount"] = DiscountReader.Read,
        ["buyGet"] = BuyGetReader.Read,
        ["ladder"] = LadderReader.Read,
        ["bundle"] = BundleReader.Read,
        ["gift"] = GiftReader.Read,
        ["markdown"] = MarkdownReader.Read,
        ["shipping"] = ShippingReader.Read,
        ["points"] = PointsReader.Read,
        ["credit"] = CreditReader.Read,
    };

    /// <summary>A reward.</summary>
    public static Reward? Read(Node node, Scope scope)
    {
        if (KindOf(node) is not { } kind) return null;
        if (Kinds.TryGetValue(kind.Text()!, out var read)) return read(node, scope);
        kind.Fault(ProblemCode.UnknownValue, $"'{kind.Text()}' is not a kind of reward. Known are: {string.Join(", ", Kinds.Keys)}.");
        return null;
    }

    /// <summary>The kind that a reward names, where it stands.</summary>
    public static Node? KindOf(Node node)
    {
        if (node.Dictionary() is not { } members) return null;
        foreach (var (name, member) in members) if (name == "kind") return member.Text() is null ? null : member;
        node.Problems.Add(node.At.Absent("kind"), ProblemCode.Missing, "'kind' is missing here.");
        return null;
    }

    /// <summary>How often something is given: <c>"once"</c>, <c>"every"</c> or <c>{"atMost": n}</c>.</summary>
    public static Repetition? Repeat(Node node)
    {
        if (node.Value.ValueKind == System.Text.Json.JsonValueKind.Object)
        {
            if (node.Object("atMost") is not { } members) return null;
            return members.Required("atMost")?.Integer(1) is { } most ? new Repetition(most) : null;
        }

        return node.Word(("once", Repetition.Once), ("every", Repetition.Every));
    }
}
