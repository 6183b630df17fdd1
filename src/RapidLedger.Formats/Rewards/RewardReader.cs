using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a reward: one kind, one file in this folder, one line in the table.</summary>
internal static class RewardReader
{
    private static readonly Dictionary<string, Func<Node, Scope, Reward?>> Kinds = new(StringComparer.Ordinal)
    {
        ["discount"] = DiscountReader.Read,
    };

    private static readonly HashSet<string> Planned = new(StringComparer.Ordinal) { "buyGet", "ladder", "bundle", "gift", "markdown", "shipping", "credit", "points" };

    /// <summary>A reward.</summary>
    public static Reward? Read(Node node, Scope scope)
    {
        if (KindOf(node) is not { } kind) return null;
        if (Kinds.TryGetValue(kind.Text()!, out var read)) return read(node, scope);
        if (Planned.Contains(kind.Text()!)) kind.Fault(ProblemCode.NotYet, $"A reward of the kind '{kind.Text()}' cannot be priced yet by this version.");
        else kind.Fault(ProblemCode.UnknownValue, $"'{kind.Text()}' is not a kind of reward. Known are: {string.Join(", ", Kinds.Keys)}.");
        return null;
    }

    private static Node? KindOf(Node node)
    {
        if (node.Dictionary() is not { } members) return null;
        foreach (var (name, member) in members) if (name == "kind") return member.Text() is null ? null : member;
        node.Problems.Add(node.At.Absent("kind"), ProblemCode.Missing, "'kind' is missing here.");
        return null;
    }
}
