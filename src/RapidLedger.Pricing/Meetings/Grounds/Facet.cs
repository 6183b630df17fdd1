namespace RapidLedger.Pricing;

/// <summary>A ground in one thing that a cart has by itself: where it goes, who buys it, what it weighs.</summary>
/// <typeparam name="T">What it has.</typeparam>
internal abstract class Facet<T> : ConditionGround
{
    /// <summary>Of each kind of value that some demands tell apart at least one, the plainest first.</summary>
    protected abstract IEnumerable<T> Values(IReadOnlyList<Demand> demands, Pair pair);

    /// <summary>Whether a condition of its kinds holds for a value.</summary>
    protected abstract bool Holds(Condition condition, T value);

    /// <summary>The values with which a way can hold.</summary>
    /// <param name="way">What must hold together.</param>
    /// <param name="pair">Of whom.</param>
    /// <param name="apart">What others ask for: values that these tell apart are told apart too.</param>
    public IEnumerable<T> Left(IReadOnlyList<Demand> way, Pair pair, IReadOnlyList<Demand>? apart = null)
    {
        var demands = Mine(way);
        return Values(apart is null ? demands : [.. demands, .. Mine(apart)], pair)
            .Where(value => demands.All(demand => Holds(demand.Condition, value) == demand.Holds))
            .Distinct();
    }

    /// <inheritdoc/>
    protected override bool CanHold(IReadOnlyList<Demand> demands, Pair pair) =>
        demands.Count == 0 || Values(demands, pair).Any(value => demands.All(demand => Holds(demand.Condition, value) == demand.Holds));
}
