namespace RapidLedger.Pricing;

/// <summary>Small carts that earn a promotion with nothing beside it, whoever buys.</summary>
internal static class EarningCarts
{
    private const int Most = 8;
    private const int MostSelections = 6;
    private const int MostItems = 4;

    /// <summary>The smallest of those tried; none: there is none among them.</summary>
    public static IReadOnlyList<EquatableArray<Line>> Of(Side side)
    {
        var around = side.Around;
        var store = around.Catalogue.Store;
        var method = store.Shipping.FirstOrDefault(one => IsFor(side.Promotion, one.Id));
        var shell = new Cart(
            around.Now,
            [],
            Method: method?.Id,
            Destination: method?.Places?.In is { Count: > 0 } places ? places[0] : around.PlacesOfDelivery.FirstOrDefault()
        );
        return
        [
            .. Candidates(side)
                .DistinctBy(lines => string.Join(' ', lines.Select(line => $"{line.Sku} {line.Quantity}")))
                .OrderBy(lines => lines.Sum(line => line.Quantity))
                .Where(lines => side.Alone.Price(shell with { Lines = lines }, left: around.Left).Applied.Count > 0)
                .Take(Most),
        ];
    }

    private static IEnumerable<EquatableArray<Line>> Candidates(Side side)
    {
        var (around, promotion) = (side.Around, side.Promotion);
        var prices = around.Catalogue.PricesIn(around.Catalogue.Store.Currency);
        var allowed = side.Ways.Count > 0 ? ConditionGround.OfOnly.Allowed(side.Ways[0], new(side, side)) : null;
        Selection[] all = [.. promotion.Selections().Append(Selection.Everything).Distinct().Take(MostSelections)];
        int[][] items =
        [
            .. all.Select(selection => prices.Across(around.Select(selection).Where(item => allowed is null || allowed(item)), MostItems))
                .Where(some => some.Length > 0),
        ];
        foreach (var some in items)
        {
            foreach (var item in some)
            {
                var reach = UnitSteps.Reach(promotion, prices.Current(item), around.Catalogue.Store);
                foreach (var units in new[] { 1, 2, 3, 4, 6, (reach * 2 / 3) + 1, reach })
                    yield return [LineOf(item, units)];
            }

            // Several different items of one selection.
            for (var different = 2; different <= some.Length; different++)
                foreach (var units in new[] { 1, 2, 4 })
                    yield return [.. some.Take(different).Select(item => LineOf(item, units))];
        }

        foreach (var pick in new Func<int[], int>[] { some => some[0], some => some[^1] })
        foreach (var units in new[] { 1, 2, 3, 6, UnitSteps.Reach(promotion, 0, around.Catalogue.Store) })
        {
            int[] together = [.. items.Select(pick).Distinct()];
            if (together.Length > 1)
                yield return [.. together.Select(item => LineOf(item, units))];
        }

        Line LineOf(int item, int units) => new(around.Catalogue.Variant(item).Sku, units);
    }

    private static bool IsFor(Promotion promotion, string method) =>
        promotion.Rewards().Select(entry => entry.Reward).OfType<Shipping>().All(shipping => shipping.IsFor(method));
}
