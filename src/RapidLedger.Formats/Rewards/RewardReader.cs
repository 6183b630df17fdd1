using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>How a kind of reward is read, and where it may stand.</summary>
/// <param name="Read">Reads it.</param>
/// <param name="OnStep">Reads it where it stands on the step of a ladder; null: it may not.</param>
/// <param name="OnBeyond">Whether it may stand on a step that takes from units by their places.</param>
/// <param name="Alone">The problem if it stands beside others in one promotion; null: it may.</param>
internal sealed record RewardForm(
    Func<Node, Scope, Reward?> Read,
    Func<Node, Scope, LadderReader.Place, Reward?>? OnStep = null,
    bool OnBeyond = false,
    (string Code, string Message)? Alone = null
);

/// <summary>Reads a reward: one kind, one file in this folder, one line in the table.</summary>
internal static class RewardReader
{
    private static readonly IReadOnlyDictionary<string, RewardForm> Kinds = new RewardKinds<RewardForm>
    {
        Discount = new(DiscountReader.Read, DiscountReader.ReadOnStep, OnBeyond: true),
        BuyGet = new(BuyGetReader.Read),
        Ladder = new(LadderReader.Read),
        Bundle = new(BundleReader.Read),
        Gift = new(GiftReader.Read, (node, scope, _) => GiftReader.Read(node, scope)),
        Markdown = new(
            MarkdownReader.Read,
            Alone: (ProblemCode.MarkdownAlone, "A markdown stands alone in its promotion. Put the other rewards in one of their own.")
        ),
        Shipping = new(ShippingReader.Read, (node, scope, _) => ShippingReader.Read(node, scope)),
        Points = new(PointsReader.Read, (node, scope, _) => PointsReader.Read(node, scope)),
        Credit = new(
            CreditReader.Read,
            Alone: (ProblemCode.CreditAlone, "A credit stands alone in its promotion. Put the other rewards in one of their own.")
        ),
    }.ByName();

    /// <summary>Whether a kind may stand on the step of a ladder.</summary>
    public static bool StandsOnStep(string kind) => Kinds[kind].OnStep is not null;

    /// <summary>A reward.</summary>
    public static Reward? Read(Node node, Scope scope) => FormOf(node)?.Read(node, scope);

    /// <summary>How a reward is read; null, with a problem, if its kind is not known.</summary>
    public static RewardForm? FormOf(Node node)
    {
        if (KindOf(node) is not { } kind)
            return null;
        if (Kinds.TryGetValue(kind.Text()!, out var form))
            return form;
        kind.Fault(ProblemCode.UnknownValue, $"'{kind.Text()}' is not a kind of reward. Known are: {string.Join(", ", Kinds.Keys)}.");
        return null;
    }

    /// <summary>How a reward is read, without a word about what is wrong with it.</summary>
    public static RewardForm? Known(Node node) => FormOf(node with { Problems = new() });

    /// <summary>The kind that a reward names, where it stands.</summary>
    public static Node? KindOf(Node node)
    {
        if (node.Dictionary() is not { } members)
            return null;
        foreach (var (name, member) in members)
            if (name == "kind")
                return member.Text() is null ? null : member;
        node.Problems.Add(node.At.Absent("kind"), ProblemCode.Missing, "'kind' is missing here.");
        return null;
    }

    /// <summary>How often something is given: <c>"once"</c>, <c>"every"</c> or <c>{"atMost": n}</c>.</summary>
    public static Repetition? Repeat(Node node)
    {
        if (node.Value.ValueKind == System.Text.Json.JsonValueKind.Object)
        {
            if (node.Object("atMost") is not { } members)
                return null;
            return members.Required("atMost")?.Integer(1) is { } most ? new Repetition(most) : null;
        }

        return node.Word(("once", Repetition.Once), ("every", Repetition.Every));
    }
}
