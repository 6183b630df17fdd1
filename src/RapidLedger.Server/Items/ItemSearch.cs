using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Items;

/// <summary>Finds terms and variants by what is typed: every word must begin a word of the name, or stand in the id.</summary>
internal sealed class ItemSearch
{
    private readonly OpenShop shop;
    private readonly (FoundTerm Term, string Text)[] terms;
    private readonly (int Number, string Text)[] variants;

    public ItemSearch(OpenShop shop)
    {
        this.shop = shop;
        var catalogue = shop.Catalogue;
        var products = catalogue.Catalogue.Products;
        variants =
        [
            .. Enumerable
                .Range(0, catalogue.Count)
                .Select(number => (number, Text(shop.Wording.Item(catalogue.Variant(number).Sku), catalogue.Variant(number).Sku))),
        ];

        var counts = new Dictionary<Term, int>();
        void Count(Term term, int by) => counts[term] = counts.GetValueOrDefault(term) + by;
        foreach (var product in products)
        {
            for (var category = product.Category; category is not null; category = catalogue.Categories[category].Parent)
                Count(new Term.InCategory(category), product.Variants.Count);
            if (product.Brand is { } brand)
                Count(new Term.OfBrand(brand), product.Variants.Count);
            foreach (var tag in product.Tags)
                Count(new Term.Tagged(tag), product.Variants.Count);
        }

        terms =
        [
            .. catalogue.Catalogue.Categories.Select(category =>
                Found(
                    "category",
                    category.Id,
                    category.Name,
                    category.Parent is { } parent ? $"in {catalogue.Categories[parent].Name}" : "",
                    counts.GetValueOrDefault(new Term.InCategory(category.Id))
                )
            ),
            .. counts
                .Keys.OfType<Term.OfBrand>()
                .OrderBy(term => term.Name, StringComparer.Ordinal)
                .Select(term => Found("brand", term.Name, term.Name, "", counts[term])),
            .. counts
                .Keys.OfType<Term.Tagged>()
                .OrderBy(term => term.Name, StringComparer.Ordinal)
                .Select(term => Found("tag", term.Name, term.Name, "", counts[term])),
            .. products.Select(product => Found("product", product.Id, product.Name, product.Brand ?? "", product.Variants.Count)),
            .. variants.Select(variant =>
                Found(
                    "sku",
                    catalogue.Variant(variant.Number).Sku,
                    shop.Wording.Item(catalogue.Variant(variant.Number).Sku),
                    catalogue.Variant(variant.Number).Sku,
                    1
                )
            ),
        ];
    }

    public IReadOnlyList<FoundTerm> Terms(string q, int most)
    {
        var words = Words(q);
        return [.. terms.Where(entry => Matches(entry.Text, words)).Take(most).Select(entry => entry.Term)];
    }

    public IReadOnlyList<ItemInfo> Variants(string q, string? currency, int most)
    {
        var words = Words(q);
        var paid =
            currency is not null && Currency.Find(currency) is { } named && shop.Store.RateTo(named) is not null
                ? named
                : shop.Store.Currency;
        int[] found = [.. variants.Where(entry => Matches(entry.Text, words)).Take(most).Select(entry => entry.Number)];
        return Infos(found, paid);
    }

    /// <summary>Variants with what is left of each.</summary>
    public IReadOnlyList<ItemInfo> Infos(IReadOnlyCollection<int> numbers, Currency currency)
    {
        var left = shop.Left([.. numbers.Select(number => shop.Catalogue.Variant(number).Sku)]);
        return [.. numbers.Select(number => Info(number, currency, left))];
    }

    private ItemInfo Info(int number, Currency currency, IReadOnlyDictionary<string, long> left)
    {
        var (variant, prices) = (shop.Catalogue.Variant(number), shop.Catalogue.PricesIn(currency));
        var price = prices.Current(number);
        return new(
            variant.Sku,
            shop.Wording.Item(variant.Sku),
            currency.Write(prices.Regular(number)),
            currency.Write(price),
            variant.Free(left),
            shop.Catalogue.MarginShare(number, price, currency) is { } share ? Math.Round(share * 100, 1) : null
        );
    }

    private static (FoundTerm, string) Found(string kind, string value, string name, string detail, int count) =>
        (new(kind, value, name, detail, count), Text(name, value));

    // Words are told from each other by the blank before each.
    private static string Text(string name, string id) => $" {name} {id} {id.Replace('-', ' ')}".ToLowerInvariant();

    private static string[] Words(string q) => q.ToLowerInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries);

    private static bool Matches(string text, string[] words)
    {
        foreach (var word in words)
            if (!text.Contains(" " + word, StringComparison.Ordinal))
                return false;
        return true;
    }
}
