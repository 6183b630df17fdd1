namespace RapidLedger.Pricing;

/// <summary>The ways in which a condition can hold: each is what must hold together (disjunctive normal form).</summary>
internal static class Ways
{
    /// <summary>Of more ways than this only what all of them share is told.</summary>
    public const int Most = 32;

    /// <summary>
    /// The ways; none: it can never hold. Where there are too many, one way with what stands at the top: less than what must hold, so
    /// whoever
    /// rules a meeting out by it is right.
    /// </summary>
    public static IReadOnlyList<IReadOnlyList<Demand>> Of(Condition? when) =>
        when is null
            ?
            [
                [],
            ]
        : Of(when, true) is { } ways ? ways
        :
        [
            [.. (when is AllOf(var parts) ? parts.AsEnumerable() : [when]).Where(IsLeaf).Select(part => new Demand(part, true))],
        ];

    /// <summary>Those of both together, with the same care.</summary>
    public static IReadOnlyList<IReadOnlyList<Demand>> Both(
        IReadOnlyList<IReadOnlyList<Demand>> one,
        IReadOnlyList<IReadOnlyList<Demand>> other
    ) =>
        Crossed(one, other)
        ??
        [
            [.. Shared(one), .. Shared(other)],
        ];

    // Null: too many.
    private static List<IReadOnlyList<Demand>>? Of(Condition condition, bool holds) =>
        condition switch
        {
            AllOf(var parts) => holds ? Together(parts, true) : AnyOne(parts, false),
            AnyOf(var parts) => holds ? AnyOne(parts, true) : Together(parts, false),
            NoneOf(var parts) => holds ? Together(parts, false) : AnyOne(parts, true),
            // What others leave of prices is looked at while promotions are chosen.
            Spend { Basis: Basis.After } =>
            [
                [],
            ],
            _ =>
            [
                [new(condition, holds)],
            ],
        };

    private static List<IReadOnlyList<Demand>>? Together(EquatableArray<Condition> parts, bool hold)
    {
        List<IReadOnlyList<Demand>>? ways =
        [
            [],
        ];
        foreach (var part in parts)
            ways = ways is null || Of(part, hold) is not { } next ? null : Crossed(ways, next);
        return ways;
    }

    private static List<IReadOnlyList<Demand>>? AnyOne(EquatableArray<Condition> parts, bool holds)
    {
        var ways = new List<IReadOnlyList<Demand>>();
        foreach (var part in parts)
            if (Of(part, holds) is { } more && ways.Count + more.Count <= Most)
                ways.AddRange(more);
            else
                return null;
        return ways;
    }

    private static List<IReadOnlyList<Demand>>? Crossed(
        IReadOnlyList<IReadOnlyList<Demand>> one,
        IReadOnlyList<IReadOnlyList<Demand>> other
    ) =>
        one.Count * other.Count > Most
            ? null
            : [.. one.SelectMany(_ => other, (first, second) => (IReadOnlyList<Demand>)[.. first, .. second])];

    private static IEnumerable<Demand> Shared(IReadOnlyList<IReadOnlyList<Demand>> ways) =>
        ways.Count == 0 ? [] : ways[0].Where(demand => ways.All(way => way.Contains(demand)));

    private static bool IsLeaf(Condition condition) => condition is not (AllOf or AnyOf or NoneOf or Spend { Basis: Basis.After });
}
