using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>What changed goods do to live promotions and sample carts: the shop is priced as it will be, beside as it is.</summary>
internal static class ImportEffects
{
    // Items looked at for what they would be sold at: more take longer than anybody waits for a look.
    private const int MostItems = 2_000;
    private const int MostTold = 50;

    public static (IReadOnlyList<Effect> Promotions, IReadOnlyList<Effect> Carts) Of(
        IReadOnlyList<ChangedRow> rows,
        OpenShop shop,
        Instant now
    )
    {
        if (rows.Count == 0)
            return ([], []);
        var (live, then) = (shop.Live, Then(rows, shop));
        return (
            [.. Emptied(live.Rulebook, then.Catalogue, shop).Concat(BelowCost(rows, then, live.Rulebook, shop, now)).Take(MostTold)],
            [.. CartEffects.Of(shop.SampleCarts, then, shop.Wording, shop, now).Take(MostTold)]
        );
    }

    /// <summary>The items that would be sold below cost or the margin floor, and are not now.</summary>
    public static IReadOnlyList<Effect> BelowCost(IReadOnlyList<ChangedRow> rows, OpenShop shop, Instant now) =>
        [.. BelowCost(rows, Then(rows, shop), shop.Live.Rulebook, shop, now).Take(MostTold)];

    // What is live, over the goods as they will be.
    private static Rulebook Then(IReadOnlyList<ChangedRow> rows, OpenShop shop)
    {
        var catalogue = shop.Catalogue;
        return Rulebook.Compile(
            CatalogueIndex.Of(catalogue.Store, GoodsBook.With(catalogue, [.. rows.Select(Row)])),
            shop.Live.Rulebook.Promotions
        );
    }

    private static GoodsRow Row(ChangedRow row) =>
        new(row.Change.Kind, row.Change.Id, (string?)row.After["product"], GoodsBook.WithoutProduct(row.After));

    // Terms that hold something now, and nothing then.
    private static IEnumerable<Effect> Emptied(Rulebook live, CatalogueIndex then, OpenShop shop)
    {
        foreach (var (promotion, term) in live.TermsTakenIn)
            if (shop.Catalogue.Select(new([term])).Any() && !then.Select(new([term])).Any())
                yield return new(promotion.Id, promotion.Named, $"{shop.Wording.Say(term)} holds nothing any more.");
    }

    private static IEnumerable<Effect> BelowCost(
        IReadOnlyList<ChangedRow> rows,
        Rulebook rulebook,
        Rulebook before,
        OpenShop shop,
        Instant now
    )
    {
        var then = rulebook.Catalogue;
        var (currency, wording, floor) = (then.Store.Currency, shop.Wording, then.Store.MarginFloor?.Value);
        foreach (var sku in rows.Where(row => row.Change.Kind == "variant").Select(row => row.Change.Id).Take(MostItems))
        {
            var number = then.Find(sku);
            if (then.Variant(number).Gone || then.PricesIn(currency).Cost(number) is null)
                continue;
            var cart = new Cart(now, [new Line(sku, 1)]);
            var line = rulebook.Price(cart).Lines[0];
            var net = line.Net;
            if (then.MarginShare(number, net, currency) is not { } margin || (margin * 100 >= (floor ?? 0)))
                continue;
            // What was so before is no news.
            if (shop.Catalogue.Find(sku) is >= 0 and var known && !shop.Catalogue.Variant(known).Gone)
            {
                var was = before.Price(cart).Lines[0].Net;
                if (shop.Catalogue.MarginShare(known, was, currency) is { } marginNow && marginNow * 100 < (floor ?? 0))
                    continue;
            }

            var first = line.Parts.Count > 0 ? line.Parts[0].Promotion : null;
            yield return new(
                first?.Id ?? "",
                first?.Named ?? "Without promotions",
                margin < 0
                    ? $"{sku} would be sold at {wording.Say(net)}, below what it costs."
                    : $"{sku} would be sold at {wording.Say(net)}, a margin of {Math.Round(margin * 100, 1)} %, below the floor of {floor} %."
            );
        }
    }
}
