namespace RapidLedger.Pricing;

/// <summary>No cart comes to what both ask for, in any currency in which both can apply.</summary>
internal sealed class SpendGround : CountedGround
{
    public override string Name => "spend";

    protected override Selection? Of(Condition condition) => (condition as Spend)?.Of;

    protected override bool CanHold(IReadOnlyList<Demand> demands, Pair pair)
    {
        IReadOnlyList<Demand> spends = [.. demands.Where(demand => demand.Condition is Spend)];
        return spends.Count == 0
            || OfCurrency
                .Left(demands, pair)
                .Any(currency =>
                    Fit(
                        BySelection(spends)
                            .ToDictionary(
                                of => of.Key,
                                of =>
                                    Range(
                                        of.SelectMany(demand => new[] { From(demand, currency, pair), To(demand, currency, pair) })
                                            .OfType<long>(),
                                        sum => of.All(demand => Holds(demand, sum, currency, pair)),
                                        0
                                    )
                            )
                    )
                );
    }

    private static bool Holds(Demand demand, long sum, Currency currency, Pair pair) =>
        (!(sum < From(demand, currency, pair)) && !(sum > To(demand, currency, pair))) == demand.Holds;

    private static long? From(Demand demand, Currency currency, Pair pair) => In(((Spend)demand.Condition).From, currency, pair);

    private static long? To(Demand demand, Currency currency, Pair pair) => In(((Spend)demand.Condition).To, currency, pair);

    // What cannot be told in a currency is below everything, as when it is priced.
    private static long? In(Amount? amount, Currency currency, Pair pair) =>
        amount is null ? null : amount.For(currency, pair.Around.Catalogue.Store) ?? -1;
}
