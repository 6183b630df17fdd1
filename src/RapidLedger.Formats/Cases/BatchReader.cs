using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads the batches of codes of a case.</summary>
internal static class BatchReader
{
    /// <summary>The codes of all batches by their bare form; each stands in one batch, once, and is no promotion's own.</summary>
    /// <param name="node">The batches by id; null: there are none.</param>
    /// <param name="promotions">The promotions of the case: a batch is of one of them, and that of a credit holds cards.</param>
    /// <param name="scope">In which amounts are read.</param>
    public static Dictionary<string, BatchCode> Read(Node? node, IReadOnlyList<Promotion> promotions, Scope scope)
    {
        var known = new Dictionary<string, BatchCode>(StringComparer.Ordinal);
        var own = promotions
            .SelectMany(promotion => promotion.Trigger?.Codes ?? [])
            .Select(code => Trigger.Bare(Trigger.Normal(code)))
            .ToHashSet(StringComparer.Ordinal);
        foreach (var (id, batch) in node?.Dictionary() ?? [])
        {
            Promotion[] of = [.. promotions.Where(promotion => promotion.Trigger?.Batches.Contains(id) == true)];
            if (of.Length > 1)
                batch.Fault(
                    ProblemCode.Duplicate,
                    $"The batch '{id}' is of two promotions, '{of[0].Id}' and '{of[1].Id}'. Each needs one of its own."
                );
            var holdsCards = of is [{ Rewards: [Credit] }];
            if (batch.Object("usesEach", "lastDay", "void", "codes") is not { } members)
                continue;
            var usesEach = ReadUsesEach(members["usesEach"], holdsCards);
            var lastDay = members["lastDay"]?.Day();
            var isVoid = members["void"]?.Flag() ?? false;
            foreach (var (written, code) in members.Required("codes")?.Dictionary() ?? [])
            {
                var bare = Trigger.Bare(Trigger.Normal(written));
                if (CodeText.FaultOf(bare) is var (kind, message))
                    code.Fault(kind, message);
                else if (own.Contains(bare))
                    code.Fault(ProblemCode.Duplicate, $"The code {written} is a promotion's own already. Keep it in one place.");
                else if (known.ContainsKey(bare))
                    code.Fault(
                        ProblemCode.Duplicate,
                        $"The code {written} stands in a batch already; codes of batches compare without hyphens and spaces. Keep one."
                    );
                else
                    known.Add(bare, ReadCode(code, new BatchCode(id, isVoid, 0, usesEach, lastDay), holdsCards, scope));
            }
        }

        return known;
    }

    private static long? ReadUsesEach(Node? node, bool holdsCards)
    {
        if (node is null)
            return 1;
        if (holdsCards)
        {
            node.Fault(ProblemCode.NotAllowed, "A card is used until nothing is left on it. Leave usesEach away.");
            return null;
        }

        if (node.Value.ValueKind != System.Text.Json.JsonValueKind.String)
            return node.Integer(1);
        node.Word(("any", true));
        return null;
    }

    private static BatchCode ReadCode(Node node, BatchCode batch, bool holdsCards, Scope scope)
    {
        if (node.Object("used", "void", "drawn") is not { } members)
            return batch;
        if (!holdsCards)
            members.NotAllowed("only cards of a credit are drawn from", "drawn");
        return batch with
        {
            Used = members["used"]?.Integer(0) ?? 0,
            IsVoid = batch.IsVoid | (members["void"]?.Flag() ?? false),
            Drawn = (holdsCards && members["drawn"] is { } drawn ? scope.InBase(drawn) : null) ?? 0,
        };
    }
}
