namespace RapidLedger.Pricing;

/// <summary>No currency of the store is one that both are for.</summary>
internal sealed class CurrencyGround : Facet<Currency>
{
    public override string Name => "currency";

    protected override string What => "currency";

    protected override IEnumerable<Currency> Values(IReadOnlyList<Demand> demands, Pair pair) => pair.Around.Catalogue.Store.Currencies;

    protected override bool Holds(Condition condition, Currency value) => condition is PaidIn paid && paid.Currencies.Contains(value);
}
