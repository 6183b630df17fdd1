namespace RapidLedger.Pricing;

/// <summary>No delivery method is one that both are for.</summary>
internal sealed class MethodGround : Facet<string?>
{
    public override string Name => "method";

    protected override string What => "delivery method";

    // What does nothing but lower the delivery charge needs a method that it is for.
    protected override IEnumerable<string?> Values(IReadOnlyList<Demand> demands, Pair pair)
    {
        Side[] sides = [pair.One, pair.Other];
        var all = pair.Around.Catalogue.Store.Shipping.Select(method => (string?)method.Id).ToArray();
        string?[] values = sides.Any(LowersDelivery) ? [.. all, null] : [null, .. all];
        return values.Where(value => sides.All(side => DoesSomething(side, value)));
    }

    protected override bool CanHold(IReadOnlyList<Demand> demands, Pair pair) =>
        Values(demands, pair).Any(value => demands.All(demand => Holds(demand.Condition, value) == demand.Holds));

    protected override string Say(Pair pair) =>
        pair.Ways.Any(way => Mine(way).Count > 0)
            ? base.Say(pair)
            : $"{pair.One.Named} and {pair.Other.Named} lower the charge of different delivery methods, and a cart has one.";

    private static bool DoesSomething(Side side, string? method) =>
        side.Promotion.Rewards.Any(reward => reward is not Shipping shipping || (method is not null && shipping.IsFor(method)));

    protected override bool Holds(Condition condition, string? value) =>
        condition is Method method && value is not null && method.Ids.Contains(value);

    private static bool LowersDelivery(Side side) => side.Promotion.Rewards().Any(entry => entry.Reward is Shipping);
}
