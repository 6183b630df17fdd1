namespace RapidLedger.Pricing;

/// <summary>What is counted in whole numbers that do not depend on the currency.</summary>
internal abstract class NumberGround : CountedGround
{
    /// <summary>How a condition compares, and with what.</summary>
    protected abstract (Comparison Comparison, long Number) Compared(Condition condition);

    protected override bool CanHold(IReadOnlyList<Demand> demands, Pair pair) =>
        Fit(
            BySelection(demands)
                .ToDictionary(
                    of => of.Key,
                    of =>
                        Range(
                            of.Select(demand => Compared(demand.Condition).Number),
                            number => of.All(demand => Holds(demand, number)),
                            of.Key == Selection.Everything ? LeastInCart(pair) : 0
                        )
                )
        );

    /// <summary>The least that a whole cart counts in which both do something.</summary>
    protected abstract long LeastInCart(Pair pair);

    private bool Holds(Demand demand, long number)
    {
        var (comparison, bound) = Compared(demand.Condition);
        return comparison.Holds(number, bound) == demand.Holds;
    }
}
