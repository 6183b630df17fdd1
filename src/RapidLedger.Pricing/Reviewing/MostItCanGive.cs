namespace RapidLedger.Pricing;

/// <summary>The furthest that a number of a promotion can go while every item, or most of them, still earns the floor.</summary>
/// <param name="Value">The number; null: no value of it keeps the floor, or nothing can be told.</param>
/// <param name="Items">How many items were tried.</param>
/// <param name="Binding">The SKU that lets it go no further, with what it would earn; null: nothing does.</param>
public sealed record MostItCanGive(long? Value, int Items, string? Binding)
{
    // Of very many, so many are tried: those that earn least.
    private const int MostItems = 400;

    // In such numbers each item is put in a cart, beside those at which a threshold is reached.
    private static readonly int[] Units = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 20];

    // A threshold is raised over carts that lose, and of cheap things these are long.
    private static readonly int[] ManyUnits =
    [
        .. Units.Concat([11, 13, 14, 16, 17, 18, 19, 22, 25, 28, 31, 35, 40, 45, 50, 56, 63, 70, 80, 90, 100]).Order(),
    ];

    /// <summary>Looks for it by halves: what is given only grows from one end to the other.</summary>
    /// <param name="with">The promotion with a number in the place; null: it cannot be that number.</param>
    /// <param name="least">The end at which least is given.</param>
    /// <param name="most">The end at which most is given; below <paramref name="least"/> where less is more.</param>
    /// <param name="cart">Whose buyer, destination and delivery are taken; its lines stand beside the item where it alone never has an
    /// effect.</param>
    /// <param name="catalogue">The catalogue.</param>
    /// <param name="floor">The share of net that is to be earned; where delivery is given, after what delivery costs.</param>
    /// <param name="share">The share of the items that have to keep it: 1 for all.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    public static MostItCanGive Of(
        Func<long, Promotion?> with,
        long least,
        long most,
        Cart cart,
        CatalogueIndex catalogue,
        Percent floor,
        decimal share = 1,
        CancellationToken gone = default
    )
    {
        if (with(most) is not { } widest && (widest = with(least)) is null)
            return new(null, 0, null);
        var prices = catalogue.PricesIn(catalogue.Store.Currency);
        var alone = Rulebook.Compile(catalogue, [widest.AsIfOpen()]);
        var givesDelivery = widest.Rewards().Any(entry => entry.Reward is Shipping);
        // Only what this promotion brings down can be held against it.
        var tried = Enumerable
            .Range(0, catalogue.Count)
            .Select(number =>
                (
                    Sku: catalogue.Variant(number).Sku,
                    Earned: prices.Current(number) > 0
                        ? catalogue.MarginShare(number, prices.Current(number), catalogue.Store.Currency)
                        : null
                )
            )
            .Where(item => item.Earned * 100 >= floor.Value && (givesDelivery || alone.LooksAt(item.Sku)))
            .OrderBy(item => item.Earned)
            .ThenBy(item => item.Sku, StringComparer.Ordinal)
            .Take(MostItems)
            .Select(item => item.Sku)
            .ToArray();
        if (tried.Length == 0)
            return new(null, 0, null);
        var mayFail = (int)Math.Floor(tried.Length * (1 - share));
        var carts = tried.ToDictionary(
            sku => sku,
            sku => Carts(sku, alone, cart, prices, catalogue, widest, most < least ? ManyUnits : Units),
            StringComparer.Ordinal
        );
        if (carts.Values.All(each => each.Length == 0))
            return new(null, 0, null);

        var (keeps, tooFar, binding) = (least, most, default(string));
        if (Fails(most) is not { } first)
            return new(most, tried.Length, null);
        binding = first;
        if (Fails(least) is { } always)
            return new(null, tried.Length, always);
        while (Math.Abs(tooFar - keeps) > 1)
        {
            var middle = keeps + ((tooFar - keeps) / 2);
            if (Fails(middle) is { } failing)
                (tooFar, binding) = (middle, failing);
            else
                keeps = middle;
        }

        return new(keeps, tried.Length, binding);

        // The first item too many that does not keep the floor; null: enough do.
        string? Fails(long value)
        {
            gone.ThrowIfCancellationRequested();
            if (with(value) is not { } promotion)
                return null;
            var rulebook = Rulebook.Compile(catalogue, [promotion.AsIfOpen()]);
            var failed = 0;
            foreach (var sku in tried)
                if (
                    carts[sku]
                        .Any(filled =>
                            rulebook.Price(filled, gone: gone) is { Applied.Count: > 0 } priced
                            && (priced.Totals.Net == 0 || Earned(priced) * 100 < floor.Value)
                        )
                    && ++failed > mayFail
                )
                    return sku;
            return null;
        }
    }

    private static decimal? Earned(PricedCart priced) =>
        (priced.Totals.ShippingDiscount > 0 ? priced.ContributionShare : null) ?? priced.MarginShare;

    // The carts of an item in which the promotion has an effect; else those with the rest of the cart beside it.
    private static Cart[] Carts(
        string sku,
        Rulebook alone,
        Cart cart,
        PriceTable prices,
        CatalogueIndex catalogue,
        Promotion promotion,
        int[] counts
    )
    {
        var reach = UnitSteps.Reach(promotion, prices.Current(catalogue.Find(sku)), catalogue.Store);
        int[] units = [.. counts.Append((reach * 2 / 3) + 1).Append(reach).Distinct().Order()];
        Cart[] own = [.. units.Select(count => cart with { Lines = [new(sku, count)] }).Where(Applies)];
        return own.Length > 0
            ? own
            :
            [
                .. units
                    .Select(count => cart with { Lines = [.. cart.Lines.Where(line => line.Sku != sku), new(sku, count)] })
                    .Where(Applies),
            ];

        bool Applies(Cart filled) => alone.Price(filled).Applied.Count > 0;
    }
}
