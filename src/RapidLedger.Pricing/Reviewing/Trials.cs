namespace RapidLedger.Pricing;

/// <summary>A cart on which a promotion does something by itself, priced with the other live promotions, without it and with it.</summary>
/// <param name="Cart">The cart.</param>
/// <param name="Alone">As it is priced with nothing beside it.</param>
/// <param name="Without">As it is priced without it.</param>
/// <param name="With">As it is priced with it, as if it were live and started.</param>
/// <param name="WithCodes">The same with the codes of others that are about the same items entered.</param>
internal sealed record Trial(Cart Cart, PricedCart Alone, PricedCart Without, PricedCart With, PricedCart WithCodes)
{
    /// <summary>What it takes there with nothing beside it.</summary>
    public long Taken => Alone.Applied[0].Amount;

    /// <summary>The cart in words: "2 Fell tyre", "2 Fell tyre for a shopper in trade".</summary>
    public string Say(Wording wording) =>
        Wording.Join(Cart.Lines.Select(line => $"{Wording.Number(line.Quantity)} {wording.Item(line.Sku)}"), "and") + ForWhom(wording);

    /// <summary>Who buys, where that is told by a group: " for a shopper in trade".</summary>
    public string ForWhom(Wording wording) =>
        Cart.Shopper is { Groups: { Count: > 0 } groups } ? $" for a shopper in {Wording.Join(groups, "and")}" : "";
}

/// <summary>A few carts of what a promotion is about, tried once for all checks that ask how it gets on with others.</summary>
internal static class Trials
{
    // So many items, and so many carts in all: a second look has to be quick.
    private const int MostItems = 5;
    private const int MostCarts = 12;
    private const int MostCartsOfOthers = 6;
    private const int MostCodes = 8;

    // Where choosing is hard, few carts have to do.
    private const long MostWork = WorkBudget.OfOneEffort / 4;

    /// <summary>The carts on which it does something by itself; none if there is none of those tried.</summary>
    public static IReadOnlyList<Trial> Of(Promotion promotion, Surroundings around)
    {
        // A markdown changes what everybody sees, and a credit pays: neither is chosen among others.
        if (promotion.Rewards is [Markdown or Credit])
            return [];
        var open = promotion.AsIfOpen();
        var alone = Rulebook.Compile(around.Catalogue, [open]);
        var without = around.Live.With([], [promotion.Id]);
        var with = without.With(open);
        var found = new List<Trial>();
        var work = 0L;
        var carts = Carts(promotion, around)
            .DistinctBy(lines => string.Join(' ', lines.Select(line => $"{line.Sku} {line.Quantity}")))
            .ToArray();
        foreach (var (place, buyer) in Buyers.Of(promotion, around).Index())
            TryAll(buyer, found.Count + (place == 0 ? MostCarts : MostCartsOfOthers));
        return found;

        void TryAll(Shopper? buyer, int most)
        {
            foreach (var lines in carts)
            {
                var cart = new Cart(
                    around.Now,
                    lines.ToEquatableArray(),
                    Method: around.Store.Shipping.Count > 0 ? around.Store.Shipping[0].Id : null,
                    Destination: around.Store.Tax?.Rates is { Count: > 0 } rates ? rates[0].Place : null,
                    Shopper: buyer
                );
                if (work > MostWork || found.Count == most)
                    return;
                if (Price(alone, cart) is not { Applied.Count: > 0 } taken)
                    continue;
                var priced = Price(with, cart);
                var codes = Codes(lines, promotion, around);
                found.Add(
                    new(
                        cart,
                        taken,
                        Price(without, cart),
                        priced,
                        codes.Length == 0 || work > MostWork ? priced : Price(with, cart with { Codes = [.. codes] })
                    )
                );
            }
        }

        PricedCart Price(Rulebook rulebook, Cart cart)
        {
            var priced = rulebook.Price(cart);
            work += priced.Work;
            return priced;
        }
    }

    /// <summary>
    /// Items that a promotion takes from or asks for, some of each selection: the cheapest, the dearest and those between.
    /// </summary>
    public static IEnumerable<int> Items(Selection of, Surroundings around, int most = MostItems)
    {
        int[] byPrice =
        [
            .. around
                .Catalogue.Select(of)
                .Where(variant => around.Prices.Current(variant) > 0)
                .OrderBy(variant => around.Prices.Current(variant)),
        ];
        var count = Math.Min(most, byPrice.Length);
        for (var place = 0; place < count; place++)
            yield return byPrice[count == 1 ? 0 : place * (byPrice.Length - 1) / (count - 1)];
    }

    // One of each promotion that is about the items and starts by codes of its own.
    private static string[] Codes(Line[] lines, Promotion promotion, Surroundings around) =>
        [
            .. around
                .About(promotion, lines.Select(line => around.Catalogue.Find(line.Sku)))
                .Concat(around.AboutAnything(promotion))
                .Where(other => other.Trigger?.Codes.Count > 0)
                .Take(MostCodes)
                .Select(other => other.Trigger!.Codes[0]),
        ];

    private static IEnumerable<Line[]> Carts(Promotion promotion, Surroundings around)
    {
        Selection[] all = [.. promotion.Selections().Distinct().Take(MostItems)];
        if (all.Length == 0)
            all = [Selection.Everything];
        // Of one item so many, and of all that is asked for together some.
        foreach (var selection in all)
        {
            foreach (var variant in Items(selection, around))
            {
                var reach = PriceCurve.Reach(promotion, around.Prices.Current(variant), around.Store);
                foreach (var units in new[] { 1, 2, 3, (reach * 2 / 3) + 1, reach }.Distinct())
                    yield return [new(around.Catalogue.Variant(variant).Sku, units)];
            }
        }

        foreach (var units in new[] { 1, 2, 4 })
        {
            Line[] together =
            [
                .. all.SelectMany(selection => Items(selection, around, 3).Skip(1).Take(1).DefaultIfEmpty(-1))
                    .Where(variant => variant >= 0)
                    .Distinct()
                    .Select(variant => new Line(around.Catalogue.Variant(variant).Sku, units)),
            ];
            if (together.Length > 1)
                yield return together;
        }
    }
}
