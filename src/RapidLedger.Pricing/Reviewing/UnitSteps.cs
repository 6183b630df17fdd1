namespace RapidLedger.Pricing;

/// <summary>At how many units of one item a promotion begins to do something else.</summary>
public static class UnitSteps
{
    private const int FewUnits = 12;

    // Of how many units a condition asks; the units that an amount comes to are told by the caller.
    private static readonly ConditionKinds<Func<Condition, Func<Amount, long>, long>> Asked = new()
    {
        All = (_, _) => 0,
        Any = (_, _) => 0,
        None = (_, _) => 0,
        Spend = (condition, units) => condition is Spend { From: { } from } ? units(from) : 0,
        Quantity = (condition, _) => condition is Quantity quantity ? quantity.Number : 0,
        Distinct = (_, _) => 0,
        Only = (_, _) => 0,
        Weight = (_, _) => 0,
        Shopper = (_, _) => 0,
        Destination = (_, _) => 0,
        Channel = (_, _) => 0,
        Currency = (_, _) => 0,
        Method = (_, _) => 0,
    };

    // At how many units a reward gives more.
    private static readonly RewardKinds<Func<Reward, Func<Amount, long>, IEnumerable<long>>> Given = new()
    {
        Discount = (_, _) => [],
        BuyGet = (reward, units) =>
            reward is BuyGet buyGet
                ? buyGet.Deal switch
                {
                    Deal.ByQuantity deal => [deal.Buy + deal.Get],
                    Deal.BySpend deal => [units(deal.Spend) + deal.Get],
                    Deal.BySchedule schedule => schedule.Rows.Select(
                        (_, row) => schedule.Rows.Take(row + 1).Sum(one => (long)one.Buy + one.Get)
                    ),
                    _ => throw new System.Diagnostics.UnreachableException(),
                }
                : [],
        Ladder = (reward, units) =>
            reward is Ladder ladder ? ladder.Steps.Select(step => step.Spend is { } from ? units(from) : step.Quantity) : [],
        Bundle = (reward, _) => reward is Bundle bundle ? [bundle.Slots.Sum(slot => (long)slot.Quantity)] : [],
        Gift = (_, _) => [],
        Markdown = (_, _) => [],
        Shipping = (_, _) => [],
        Points = (_, _) => [],
        Credit = (_, _) => [],
    };

    /// <summary>The numbers of units, each once, the least first: 1 to <see cref="PriceCurve.Most"/>; none: it asks for none.</summary>
    /// <param name="promotion">Whose conditions and rewards.</param>
    /// <param name="price">What one unit costs, in minor units of the base currency; 0: what sums ask for is left out.</param>
    /// <param name="store">By whose rates amounts convert.</param>
    public static IReadOnlyList<int> Of(Promotion promotion, long price, Store store) =>
        [
            .. promotion
                .Conditions()
                .Select(entry => entry.Condition.In(Asked)(entry.Condition, UnitsFor(price, store)))
                .Concat(promotion.Rewards().SelectMany(entry => entry.Reward.In(Given)(entry.Reward, UnitsFor(price, store))))
                .Where(units => units > 0)
                .Select(units => (int)Math.Min(units, PriceCurve.Most))
                .Distinct()
                .Order(),
        ];

    /// <summary>
    /// How far one has to go to see everything that a promotion does with an item: half as far again as its last step, 12 to
    /// <see cref="PriceCurve.Most"/> units.
    /// </summary>
    /// <inheritdoc cref="Of"/>
    public static int Reach(Promotion promotion, long price, Store store) =>
        (int)Math.Clamp(Of(promotion, price, store).LastOrDefault() * 3L / 2, FewUnits, PriceCurve.Most);

    private static Func<Amount, long> UnitsFor(long price, Store store) =>
        amount => price > 0 && amount.For(store.Currency, store) is { } minor ? Math.Min(PriceCurve.Most, (minor + price - 1) / price) : 0;
}
