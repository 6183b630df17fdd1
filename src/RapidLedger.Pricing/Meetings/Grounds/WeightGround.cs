namespace RapidLedger.Pricing;

/// <summary>No cart weighs what both ask for.</summary>
internal sealed class WeightGround : Facet<long>
{
    public override string Name => "weight";

    protected override string What => "weight";

    // A cart weighs at least what the units come to that both need, at the weight of the lightest item.
    protected override IEnumerable<long> Values(IReadOnlyList<Demand> demands, Pair pair)
    {
        var least = pair.LeastUnits * pair.Around.Lightest;
        return Bounds
            .Around(demands.Select(demand => demand.Condition).OfType<Weight>().Select(weight => weight.Grams).Append(least))
            .Where(grams => grams >= least);
    }

    protected override bool Holds(Condition condition, long value) =>
        condition is Weight weight && weight.Comparison.Holds(value, weight.Grams);
}
