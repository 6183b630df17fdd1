namespace RapidLedger.Pricing;

/// <summary>Who could buy, as far as some demands tell buyers apart.</summary>
internal abstract class BuyerGround : Facet<Shopper?>
{
    protected override string What => "buyer";

    /// <summary>Whether this ground is about a way to tell who buys.</summary>
    protected abstract bool IsAbout(Buyer buyer);

    protected override bool CanHold(IReadOnlyList<Demand> demands, Pair pair) =>
        base.CanHold([.. demands.Where(demand => IsAbout((Buyer)demand.Condition))], pair);

    // A guest, then whoever is signed in: as each of those who are named or as nobody in particular, in groups that are not ruled out,
    // with as many orders and as much spent as the bounds tell apart.
    protected override IEnumerable<Shopper?> Values(IReadOnlyList<Demand> demands, Pair pair)
    {
        yield return null;
        Buyer[] asked = [.. demands.Select(demand => demand.Condition).OfType<Buyer>()];
        string?[] ids = [null, .. asked.OfType<Buyer.OneOf>().SelectMany(buyer => buyer.Ids).Distinct()];
        var barred = demands
            .Where(demand => !demand.Holds)
            .Select(demand => demand.Condition)
            .OfType<Buyer.InGroup>()
            .SelectMany(buyer => buyer.Groups)
            .ToHashSet(StringComparer.Ordinal);
        string[] groups =
        [
            .. asked.OfType<Buyer.InGroup>().SelectMany(buyer => buyer.Groups).Distinct().Where(group => !barred.Contains(group)),
        ];
        long[] orders = [.. Bounds.Around(asked.OfType<Buyer.Orders>().Select(buyer => buyer.Number))];
        long[] spent = [.. Bounds.Around(asked.OfType<Buyer.Spent>().SelectMany(buyer => new[] { buyer.From, buyer.To }).OfType<long>())];
        foreach (var id in ids)
        foreach (var number in orders)
        foreach (var sum in spent)
        foreach (var some in Sets(groups))
            yield return new(id, some, number, sum);
    }

    // In none, in each by itself, in two, in all of them.
    private static IEnumerable<EquatableArray<string>> Sets(string[] groups)
    {
        yield return [];
        foreach (var group in groups)
            yield return [group];
        for (var one = 0; one < groups.Length; one++)
        for (var other = one + 1; other < groups.Length; other++)
            yield return [groups[one], groups[other]];
        if (groups.Length > 2)
            yield return [.. groups];
    }

    protected override bool Holds(Condition condition, Shopper? value) => condition is Buyer buyer && buyer.Is(value);
}
