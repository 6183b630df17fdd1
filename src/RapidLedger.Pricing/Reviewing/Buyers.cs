namespace RapidLedger.Pricing;

/// <summary>Who could buy by a promotion, as far as it matters to what it meets: nobody that it does not admit.</summary>
internal static class Buyers
{
    private const int MostGroups = 3;
    private const int SomeOrders = 5;
    private const long SomeSpending = 1_000_000;

    /// <summary>
    /// One whom the promotion admits, a guest if it may be; then one of each group that it names, or that other live promotions name which
    /// are about the same items.
    /// </summary>
    public static IReadOnlyList<Shopper?> Of(Promotion promotion, Surroundings around)
    {
        string[] own = [.. GroupsNamed(promotion)];
        var items = promotion.Selections().SelectMany(around.Catalogue.Select);
        var groups = own.Concat(around.About(promotion, items).Concat(around.AboutAnything(promotion)).SelectMany(GroupsNamed))
            .Distinct(StringComparer.Ordinal);
        Shopper?[] inGroups = [.. groups.Select(group => new Shopper(Groups: [group])).Where(Admitted).Take(MostGroups)];
        Shopper?[] plain = [null, new(), new(Orders: SomeOrders, Spent: SomeSpending)];
        return [.. plain.Where(Admitted).Take(1), .. inGroups];

        bool Admitted(Shopper? shopper) => promotion.When is not { } when || Admits(when, shopper);
    }

    private static IEnumerable<string> GroupsNamed(Promotion promotion) =>
        promotion.Conditions().Select(entry => entry.Condition).OfType<Buyer.InGroup>().SelectMany(buyer => buyer.Groups);

    // What says nothing of who buys admits everybody.
    private static bool Admits(Condition condition, Shopper? shopper) =>
        condition switch
        {
            Buyer buyer => buyer.Is(shopper),
            AllOf(var parts) => parts.All(part => Admits(part, shopper)),
            AnyOf(var parts) => parts.Count == 0 || parts.Any(part => Admits(part, shopper)),
            NoneOf(var parts) => !parts.Any(part => part is Buyer buyer && buyer.Is(shopper)),
            _ => true,
        };
}
