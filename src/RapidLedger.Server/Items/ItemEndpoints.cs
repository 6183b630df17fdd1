using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Items;

/// <summary>A term that a search found.</summary>
/// <param name="Kind">category, brand, product, sku, tag or option.</param>
/// <param name="Term">As it stands in a selection.</param>
/// <param name="Name">Its name as people read it.</param>
/// <param name="Detail">What tells it from others of that name.</param>
/// <param name="Count">How many SKUs it holds.</param>
internal sealed record FoundTerm(string Kind, JsonElement Term, string Name, string Detail, int Count);

/// <summary>A variant with its price and what is earned on it.</summary>
/// <param name="MarginPercent">Margin of the price without tax, in percent of it; null: cost not known.</param>
internal sealed record ItemInfo(string Sku, string Name, string Regular, string Price, long? Stock, decimal? MarginPercent);

/// <summary>What a selection holds.</summary>
/// <param name="Twice">That one of its terms is part of another, if one is.</param>
internal sealed record SelectionInfo(
    int Count,
    int Products,
    string Words,
    string[] In,
    string[] Out,
    IReadOnlyList<ItemInfo> Sample,
    string? Twice
);

/// <summary>A category as a shop shows it.</summary>
internal sealed record ShelfCategory(string Id, string Name);

/// <summary>A product as a shop shows it.</summary>
internal sealed record ShelfProduct(string Id, string Name, string? Brand, string? Category, IReadOnlyList<ShelfVariant> Variants);

/// <summary>A variant as a shop shows it. Prices are decimal strings of the currency asked for.</summary>
/// <param name="Options">What tells it from the others: "28, moss".</param>
/// <param name="Stock">Null: without end.</param>
internal sealed record ShelfVariant(string Sku, string Options, string Regular, string Price, long? Stock);

/// <summary>What a shop has to show.</summary>
/// <param name="Products">At most so many as fit a page, those asked for.</param>
internal sealed record Shelf(IReadOnlyList<ShelfCategory> Categories, IReadOnlyList<ShelfProduct> Products);

/// <summary>Searching the catalogue, and showing what a selection holds.</summary>
internal static class ItemEndpoints
{
    private const int SampleSize = 8;
    private const int MostCompared = 12;
    private const int MostOnShelf = 60;

    public static void MapItems(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/items/terms", (string? q, ItemSearch search) => search.Terms(q?.Trim() ?? "", 40))
            .Says("terms", "shop", "Categories, brands, products, items and tags by their names");
        routes
            .MapGet("/api/items", (string? q, string? currency, ItemSearch search) => search.Variants(q?.Trim() ?? "", currency, 30))
            .Says("items", "shop", "Items by their names");
        routes
            .MapGet("/api/shelf", (string? q, string? category, string? currency, string? at, OpenShop shop, IClock clock) =>
                ShelfOf(
                    shop,
                    q,
                    category,
                    currency,
                    InstantPattern.ExtendedIso.Parse(at ?? "").TryGetValue(default, out var asked) ? asked : clock.GetCurrentInstant()
                )
            )
            .Says("shelf", "shop", "The goods as a shopper sees them, at their prices now");
        routes
            .MapPost("/api/items/selection", (JsonElement selection, OpenShop shop, ItemSearch search) =>
            {
                var reading = CaseReader.ReadSelection(selection.Utf8(), shop.Catalogue);
                return reading.Value is { } read ? Results.Ok(Describe(read, shop, search)) : Answers.Refused(reading.Problems);
            })
            .Produces<SelectionInfo>()
            .Refuses(400, 413, 415, 422)
            .Says("selection", "shop", "What a selection holds");
    }

    // The goods as a shopper sees them: nothing of what they cost the shop.
    private static Shelf ShelfOf(OpenShop shop, string? q, string? category, string? currency, Instant now)
    {
        var (catalogue, words) = (shop.Catalogue.Catalogue, (q ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries));
        var paid = shop.Store.Currencies.FirstOrDefault(known => known.Code == currency) ?? shop.Store.Currency;
        var prices = shop.Catalogue.PricesIn(paid);
        Product[] shown =
        [
            .. catalogue
                .Products.Where(product => category is null || product.Category == category)
                .Where(product =>
                    words.All(word =>
                        product.Name.Contains(word, StringComparison.OrdinalIgnoreCase)
                        || product.Tags.Any(tag => tag.Contains(word, StringComparison.OrdinalIgnoreCase))
                    )
                )
                .Take(MostOnShelf),
        ];
        // Markdowns are the item's price.
        var marked = shop.Live.Rulebook.Markdowns;
        string Price(int number, string sku) =>
            paid.Write(marked.Count == 0 ? prices.Current(number) : marked.Price(new(now, [new Line(sku, 1)], paid)).Lines[0].Goods);
        var left = shop.Left([.. shown.SelectMany(product => product.Variants).Select(variant => variant.Sku)]);
        var products = shown.Select(product => new ShelfProduct(
            product.Id,
            product.Name,
            product.Brand,
            product.Category,
            [
                .. product
                    .Variants.Select(variant => (variant, number: shop.Catalogue.Find(variant.Sku)))
                    .Select(entry => new ShelfVariant(
                        entry.variant.Sku,
                        string.Join(", ", entry.variant.Options.Select(option => option.Value)),
                        paid.Write(prices.Regular(entry.number)),
                        Price(entry.number, entry.variant.Sku),
                        entry.variant.Free(left)
                    )),
            ]
        ));
        var used = catalogue.Products.Select(product => product.Category).ToHashSet();
        return new(
            [.. catalogue.Categories.Where(one => used.Contains(one.Id)).Select(one => new ShelfCategory(one.Id, one.Name))],
            [.. products]
        );
    }

    private static SelectionInfo Describe(Selection selection, OpenShop shop, ItemSearch search)
    {
        var selected = shop.Catalogue.Select(selection).ToArray();
        // Evenly from the whole, so that the sample shows its breadth.
        var step = Math.Max(1, selected.Length / SampleSize);
        var sample = selected.Where((_, place) => place % step == 0).Take(SampleSize).ToArray();
        return new(
            selected.Length,
            selected.Select(number => shop.Catalogue.ProductOf(number).Id).Distinct().Count(),
            shop.Wording.Say(selection),
            [.. selection.In.Select(shop.Wording.Say)],
            [.. selection.Out.Select(shop.Wording.Say)],
            search.Infos(sample, shop.Store.Currency),
            Twice(selection.In, shop)
        );
    }

    // A variant beside its own product adds nothing.
    private static string? Twice(EquatableArray<Term> terms, OpenShop shop)
    {
        if (terms.Count is 1 or > MostCompared)
            return null;
        var held = terms.Select(term => shop.Catalogue.Select(new([term])).ToHashSet()).ToArray();
        for (var one = 0; one < held.Length; one++)
        for (var other = 0; other < held.Length; other++)
            if (
                one != other
                && held[one].Count > 0
                && (held[one].Count < held[other].Count || one > other)
                && held[one].IsSubsetOf(held[other])
            )
                return $"{shop.Wording.Say(terms[one])} is part of {shop.Wording.Say(terms[other])} already.";
        return null;
    }
}
