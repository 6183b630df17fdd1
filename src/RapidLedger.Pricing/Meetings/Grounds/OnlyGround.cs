namespace RapidLedger.Pricing;

/// <summary>What one lets into the cart, and what it keeps out of it, leaves nothing of what the other needs.</summary>
internal sealed class OnlyGround : ConditionGround
{
    public override string Name => "only";

    protected override string What => "cart";

    /// <summary>Which items may be in a cart as some demands say; null: nothing is kept out.</summary>
    public Func<int, bool>? Allowed(IReadOnlyList<Demand> demands, Pair pair)
    {
        var around = pair.Around;
        bool[][] within =
        [
            .. demands
                .Where(demand => demand is { Holds: true, Condition: Only })
                .Select(demand => around.Widely(((Only)demand.Condition).Of)),
        ];
        bool[][] without = [.. demands.Where(KeepsOut).Select(demand => around.Widely(OfAny(demand)))];
        return within.Length + without.Length == 0
            ? null
            : number => Array.TrueForAll(within, items => items[number]) && !Array.Exists(without, items => items[number]);
    }

    protected override bool CanHold(IReadOnlyList<Demand> demands, Pair pair)
    {
        if (Allowed(demands, pair) is not { } allowed)
            return true;
        return pair
            .One.Needs.Concat(pair.Other.Needs)
            .Concat(demands.Where(demand => demand.Holds).Select(demand => pair.Around.NeedsOf(demand.Condition)).OfType<bool[]>())
            .All(items => items.Index().Any(item => item.Item && allowed(item.Index)));
    }

    protected override string Say(Pair pair) =>
        $"{pair.One.Named} and {pair.Other.Named}: what one lets into the cart leaves nothing of what the other needs.";

    // That there is none of something. What is selected by its price may be in the cart at another price.
    private static bool KeepsOut(Demand demand) =>
        OfAny(demand) is { FullPriceOnly: false, PriceFrom: null, PriceTo: null }
        && demand.Condition switch
        {
            Quantity(_, var comparison, var number) => IsNone(comparison, number, demand.Holds),
            Distinct(_, var comparison, var number) => IsNone(comparison, number, demand.Holds),
            _ => false,
        };

    private static Selection OfAny(Demand demand) =>
        demand.Condition switch
        {
            Quantity quantity => quantity.Of,
            Distinct distinct => distinct.Of,
            _ => null,
        } ?? Selection.Everything;

    private static bool IsNone(Comparison comparison, long number, bool holds) =>
        comparison.Holds(0, number) == holds
        && Bounds.Around([number]).Where(units => units > 0).All(units => comparison.Holds(units, number) != holds);
}
