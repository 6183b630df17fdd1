namespace RapidLedger.Pricing;

/// <summary>What is put into carts to see whether two promotions meet there.</summary>
internal sealed class CartsOfPair
{
    // So many items are tried against each other; a shop that has no more is gone through whole.
    private const int MostItems = 8;
    private const int MostUnits = 5;
    private static readonly int[] FewUnits = [1, 2, 3, 4, 6];

    private readonly Pair pair;
    private readonly IReadOnlyList<Demand> way;
    private readonly Lazy<int[]> items;
    private readonly Lazy<EquatableArray<Line>[]> beside;
    private readonly Lazy<EquatableArray<Line>[]> every;

    public CartsOfPair(Pair pair, IReadOnlyList<Demand> way)
    {
        (this.pair, this.way) = (pair, way);
        items = new(() => [.. ItemsOf()]);
        beside = new(() => [.. Beside().DistinctBy(Key).OrderBy(lines => lines.Sum(line => line.Quantity)).ThenBy(lines => lines.Count)]);
        every = new(() => [.. Enumerable.Range(1, MostUnits).SelectMany(units => Of(units, 0)).Select(lines => lines.ToEquatableArray())]);
    }

    /// <summary>
    /// Carts that are likely to earn both: more and more of one item, then what earns the one beside what earns the other.
    /// </summary>
    public IEnumerable<EquatableArray<Line>> Likely =>
        Smallest().Concat(Singles(FewUnits)).Concat(beside.Value).Concat(items.Value.SelectMany(Reaching));

    /// <summary>Every cart of a few units of the items tried, the smallest first.</summary>
    public IEnumerable<EquatableArray<Line>> Every => every.Value;

    // The smallest that earns the one, beside the smallest that earns the other: mostly that is it.
    private IEnumerable<EquatableArray<Line>> Smallest() =>
        pair.One.Earning is [var one, ..] && pair.Other.Earning is [var other, ..]
            ? [Merged(one, other, Math.Max), Merged(one, other, (left, right) => left + right)]
            : [];

    private IEnumerable<EquatableArray<Line>> Singles(int[] counts) =>
        from units in counts
        from item in items.Value
        select (EquatableArray<Line>)[LineOf(item, units)];

    // So many that each of the two shows all that it gives.
    private IEnumerable<EquatableArray<Line>> Reaching(int item)
    {
        var (around, price) = (pair.Around, pair.Around.Catalogue.PricesIn(pair.Around.Catalogue.Store.Currency).Current(item));
        foreach (var side in (Side[])[pair.One, pair.Other])
            yield return [LineOf(item, UnitSteps.Reach(side.Promotion, price, around.Catalogue.Store))];
    }

    private IEnumerable<EquatableArray<Line>> Beside() =>
        from one in pair.One.Earning
        from other in pair.Other.Earning
        from merged in new[] { Merged(one, other, Math.Max), Merged(one, other, (left, right) => left + right) }
        select merged;

    private IEnumerable<List<Line>> Of(int units, int from)
    {
        if (units == 0)
        {
            yield return [];
            yield break;
        }

        for (var place = from; place < items.Value.Length; place++)
        for (var count = 1; count <= units; count++)
            foreach (var rest in Of(units - count, place + 1))
            {
                rest.Insert(0, LineOf(items.Value[place], count));
                yield return rest;
            }
    }

    // Items that no selection of the two tells apart count as one kind: of each kind the cheapest and the dearest.
    private IEnumerable<int> ItemsOf()
    {
        var around = pair.Around;
        var allowed = ConditionGround.OfOnly.Allowed(way, pair);
        var prices = around.Catalogue.PricesIn(around.Catalogue.Store.Currency);
        int[] all = [.. Enumerable.Range(0, around.Catalogue.Count).Where(IsForSale)];
        if (all.Length <= MostItems)
            return all;
        int[][] selections =
        [
            .. pair
                .One.Promotion.Selections()
                .Concat(pair.Other.Promotion.Selections())
                .Distinct()
                .Take(sizeof(long) * 4)
                .Select(around.Select),
        ];
        var kinds = new Dictionary<int, long>();
        for (var place = 0; place < selections.Length; place++)
            foreach (var number in selections[place])
                kinds[number] = kinds.GetValueOrDefault(number) | (1L << place);
        // What most of the selections hold comes first; what none holds can still make up a sum or a weight.
        return kinds
            .Where(entry => IsForSale(entry.Key))
            .GroupBy(entry => entry.Value, entry => entry.Key)
            .OrderByDescending(kind => System.Numerics.BitOperations.PopCount((ulong)kind.Key))
            .SelectMany(kind => new[] { kind.MinBy(prices.Current), kind.MaxBy(prices.Current) })
            .Concat(all.Take(1))
            .Distinct()
            .Take(MostItems);

        bool IsForSale(int number) =>
            !around.Catalogue.Variant(number).Gone && prices.Current(number) > 0 && (allowed is null || allowed(number));
    }

    private Line LineOf(int item, int units) => new(pair.Around.Catalogue.Variant(item).Sku, units);

    /// <summary>Lines of two carts in one; of a SKU in both so many as is said.</summary>
    public static EquatableArray<Line> Merged(EquatableArray<Line> one, EquatableArray<Line> other, Func<int, int, int> units) =>
        [
            .. one.Select(line =>
                line with
                {
                    Quantity = units(line.Quantity, other.FirstOrDefault(same => same.Sku == line.Sku)?.Quantity ?? 0),
                }
            ),
            .. other.Where(line => one.All(same => same.Sku != line.Sku)),
        ];

    private static string Key(EquatableArray<Line> lines) => string.Join(' ', lines.Select(line => $"{line.Sku} {line.Quantity}").Order());
}
