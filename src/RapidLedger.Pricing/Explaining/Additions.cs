namespace RapidLedger.Pricing;

/// <summary>
/// Finds what to add to a cart where more of something is wanted: the least, of what the cart holds already if that counts.
/// </summary>
internal sealed class Additions(CartView view)
{
    private readonly Compiler compiler = new(view.Catalogue);

    // Many promotions want of the same items.
    private readonly Dictionary<Selection, SelectionTest> tests = [];
    private readonly Dictionary<Selection, int[]> inShop = [];

    /// <summary>What to add; null where nothing of the shop would do.</summary>
    public EquatableArray<Line>? Find(Want[] wants)
    {
        EquatableArray<Line> added = [];
        foreach (var want in wants)
        {
            if (want.OfOthers)
            {
                if (Others(want) is not { } others)
                    return null;
                added = Join(added, others);
                continue;
            }

            if ((Cheapest(InCart(want), want) ?? Cheapest(InShop(want.Of), want)) is not { } line)
                return null;
            added = Join(added, [line]);
        }

        return added.Count == 0 ? null : added;
    }

    /// <summary>Two additions together, each SKU once.</summary>
    public EquatableArray<Line> Join(EquatableArray<Line> left, EquatableArray<Line> right) =>
        left.Concat(right)
            .GroupBy(line => line.Sku, StringComparer.Ordinal)
            .Select(lines => new Line(lines.Key, (int)Math.Min(Line.GreatestQuantity, lines.Sum(line => (long)line.Quantity))))
            .ToEquatableArray();

    /// <summary>How many units are added.</summary>
    public long Units(EquatableArray<Line> added) => added.Sum(line => (long)line.Quantity);

    /// <summary>What an addition comes to at current prices.</summary>
    public long ValueOf(EquatableArray<Line>? added) =>
        added is null ? 0 : added.Value.Sum(line => view.PriceOf(view.Catalogue.Find(line.Sku)) * line.Quantity);

    private IEnumerable<int> InCart(Want want)
    {
        if (want.Variant is { } only)
            return [only];
        var of = Test(want.Of);
        return Enumerable.Range(0, view.Lines).Where(line => of.Selects(view, line)).Select(view.Variant).Distinct();
    }

    private int[] InShop(Selection of)
    {
        if (inShop.TryGetValue(of, out var known))
            return known;
        var (test, catalogue, variants) = (Test(of), view.Catalogue, new List<int>());
        foreach (var term in test.InTerms)
        {
            if (term < catalogue.Everything)
                variants.Add(term);
            else
                variants.AddRange(catalogue.VariantsOf(term));
        }

        return inShop[of] = [
            .. variants.Distinct().Where(variant => test.Selects(view, variant, view.PriceOf(variant), view.Prices.Regular(variant))),
        ];
    }

    private SelectionTest Test(Selection of) => tests.TryGetValue(of, out var known) ? known : tests[of] = compiler.Selection(of);

    private Line? Cheapest(IEnumerable<int> variants, Want want)
    {
        var (best, least) = ((Line?)null, (Value: long.MaxValue, Units: long.MaxValue));
        foreach (var variant in variants)
        {
            var price = view.PriceOf(variant);
            if (price == 0 && want.Spend > 0)
                continue;
            var units = want.Spend > 0 ? (want.Spend + price - 1) / price : want.Units;
            if (units is < 1 or > Line.GreatestQuantity || (units * price, units).CompareTo(least) >= 0)
                continue;
            (best, least) = (new(view.Catalogue.Variant(variant).Sku, (int)units), (units * price, units));
        }

        return best;
    }

    // Of other items than those in the cart, one each.
    private EquatableArray<Line>? Others(Want want)
    {
        var cheapest = InShop(want.Of)
            .Where(variant => view.UnitsOf(variant) == 0)
            .OrderBy(view.PriceOf)
            .ThenBy(variant => variant)
            .Take((int)Math.Min(100, want.Units))
            .ToArray();
        return cheapest.Length < want.Units ? null : [.. cheapest.Select(variant => new Line(view.Catalogue.Variant(variant).Sku, 1))];
    }
}
