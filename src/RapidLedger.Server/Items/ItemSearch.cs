using System.Text.Json;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Items;

/// <summary>Finds terms and variants by what is typed: every word must begin a word of the name, or stand in the id.</summary>
internal sealed class ItemSearch
{
    private readonly OpenShop shop;
    private readonly ShopSetup setup;
    private readonly (FoundTerm Term, string Text)[] terms;
    private readonly (int Number, string Text)[] variants;

    /// <summary>A search over goods.</summary>
    /// <param name="shop">Where it is asked what is left of items.</param>
    /// <param name="setup">The goods.</param>
    public ItemSearch(OpenShop shop, ShopSetup setup)
    {
        (this.shop, this.setup) = (shop, setup);
        var catalogue = setup.Catalogue;
        var products = catalogue.Catalogue.Products.Where(product => !product.Gone).ToArray();
        variants =
        [
            .. Enumerable
                .Range(0, catalogue.Count)
                .Where(number => !catalogue.Variant(number).Gone)
                .Select(number => (number, Text(setup.Wording.Item(catalogue.Variant(number).Sku), catalogue.Variant(number).Sku))),
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
            foreach (var option in product.Variants.SelectMany(variant => variant.Options))
            {
                Count(new Term.WithOption(option.Name, option.Value), 1);
                Count(new Term.WithOption(option.Name, option.Value, product.Id), 1);
            }
        }

        terms =
        [
            .. catalogue
                .Catalogue.Categories.Where(category => !category.Gone)
                .Select(category =>
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
            .. products.SelectMany(product =>
                OptionsOf(product, counts).Prepend(Found("product", product.Id, product.Name, product.Brand ?? "", product.Variants.Count))
            ),
            .. counts
                .Keys.OfType<Term.WithOption>()
                .Where(term => term.Product is null && counts[term] > 1)
                .OrderBy(term => term.Name, StringComparer.Ordinal)
                .ThenBy(term => term.Value, StringComparer.Ordinal)
                .Select(term => Found(term, $"{term.Name} {term.Value}", "of any product", counts[term])),
            .. variants.Select(variant =>
                Found(
                    "sku",
                    catalogue.Variant(variant.Number).Sku,
                    setup.Wording.Item(catalogue.Variant(variant.Number).Sku),
                    catalogue.Variant(variant.Number).Sku,
                    1
                )
            ),
        ];
    }

    public IReadOnlyList<FoundTerm> Terms(string q, int most)
    {
        return [.. Best(terms, entry => entry.Text, q, most).Select(entry => entry.Term)];
    }

    /// <summary>The numbers of the variants that are meant, the best first.</summary>
    public IEnumerable<int> Numbers(string q) => Best(variants, entry => entry.Text, q, int.MaxValue).Select(entry => entry.Number);

    public IReadOnlyList<ItemInfo> Variants(string q, string? currency, int most)
    {
        var paid =
            currency is not null && Currency.Find(currency) is { } named && setup.Catalogue.Store.RateTo(named) is not null
                ? named
                : setup.Catalogue.Store.Currency;
        int[] found = [.. Best(variants, entry => entry.Text, q, most).Select(entry => entry.Number)];
        return Infos(found, paid);
    }

    /// <summary>Variants with what is left of each.</summary>
    public IReadOnlyList<ItemInfo> Infos(IReadOnlyCollection<int> numbers, Currency currency)
    {
        var left = shop.Left([.. numbers.Select(number => setup.Catalogue.Variant(number).Sku)]);
        return [.. numbers.Select(number => Info(number, currency, left))];
    }

    private ItemInfo Info(int number, Currency currency, IReadOnlyDictionary<string, long> left)
    {
        var (variant, prices) = (setup.Catalogue.Variant(number), setup.Catalogue.PricesIn(currency));
        var price = prices.Current(number);
        return new(
            variant.Sku,
            setup.Wording.Item(variant.Sku),
            currency.Write(prices.Regular(number)),
            currency.Write(price),
            variant.Free(left),
            setup.Catalogue.MarginShare(number, price, currency) is { } share ? Math.Round(share * 100, 1) : null
        );
    }

    // One colour in all its sizes: more than one variant, and fewer than all.
    private static IEnumerable<(FoundTerm, string)> OptionsOf(Product product, Dictionary<Term, int> counts) =>
        from option in product.Variants.SelectMany(variant => variant.Options).Distinct()
        let term = new Term.WithOption(option.Name, option.Value, product.Id)
        where counts[term] > 1 && counts[term] < product.Variants.Count
        let others = product.Variants.SelectMany(variant => variant.Options).Select(one => one.Name).Where(name => name != option.Name)
        let detail = others.Distinct().ToArray() is [var other] ? $"{counts[term]} {other}s" : $"{counts[term]} variants"
        select Found(term, $"{product.Name}, {option.Value}", detail, counts[term], $"{product.Name} {option.Value} ");

    private static (FoundTerm, string) Found(Term.WithOption term, string name, string detail, int count, string? typed = null)
    {
        var option = term.Product is { } product
            ? (object)
                new
                {
                    name = term.Name,
                    value = term.Value,
                    product,
                }
            : new { name = term.Name, value = term.Value };
        return (new("option", JsonSerializer.SerializeToElement(new { option }), name, detail, count), Text(typed ?? name, term.Name));
    }

    private static (FoundTerm, string) Found(string kind, string value, string name, string detail, int count) =>
        (
            new(kind, JsonSerializer.SerializeToElement(new Dictionary<string, string> { [kind] = value }), name, detail, count),
            Text(name, value)
        );

    // Words are told from each other by the blank before each.
    private static string Text(string name, string id) => $" {name} {id} {id.Replace('-', ' ')}".ToLowerInvariant();

    private static string[] Words(string q) => q.ToLowerInvariant().Split(' ', StringSplitOptions.RemoveEmptyEntries);

    // Those that begin with what was typed go before those that only hold its words: who types "chain 11" means Chain 11.
    private static IEnumerable<T> Best<T>(IEnumerable<T> all, Func<T, string> text, string q, int most)
    {
        var words = Words(q);
        var begun = $" {string.Join(' ', words)}";
        return all.Where(entry => Matches(text(entry), words))
            .OrderBy(entry =>
                words.Length == 0 || text(entry).StartsWith($"{begun} ", StringComparison.Ordinal) ? 0
                : text(entry).StartsWith(begun, StringComparison.Ordinal) ? 1
                : 2
            )
            .Take(most);
    }

    private static bool Matches(string text, string[] words)
    {
        foreach (var word in words)
            if (!text.Contains(" " + word, StringComparison.Ordinal))
                return false;
        return true;
    }
}
