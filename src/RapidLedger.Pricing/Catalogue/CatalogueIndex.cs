using System.Collections.Frozen;

namespace RapidLedger.Pricing;

/// <summary>
/// A catalogue made ready for pricing: variants by number, the terms that hold each, prices by currency. Unchanging; safe from any thread.
/// </summary>
public sealed class CatalogueIndex
{
    private readonly FrozenDictionary<string, int> bySku;
    private readonly FrozenDictionary<Term, int> termNumbers;
    private readonly Variant[] variants;
    private readonly int[] productOf;
    private readonly int[][] termsOf;
    private readonly int[] taxClassOfProduct;
    private readonly Currency[] currencies;
    private readonly PriceTable?[] prices;
    private readonly Lazy<int[][]> byTerm;

    private CatalogueIndex(Store store, Catalogue catalogue)
    {
        Store = store;
        Catalogue = catalogue;
        Categories = catalogue.Categories.ToFrozenDictionary(category => category.Id, StringComparer.Ordinal);
        variants = [.. catalogue.Products.SelectMany(product => product.Variants)];
        productOf = [.. catalogue.Products.SelectMany((product, number) => product.Variants.Select(_ => number))];
        bySku = variants.Select((variant, number) => KeyValuePair.Create(variant.Sku, number)).ToFrozenDictionary(StringComparer.Ordinal);

        // Term numbers: a variant's is its own number, so only the others are looked up. "Everything" follows the variants.
        Everything = variants.Length;
        var numbers = new Dictionary<Term, int> { [new Term.All()] = Everything };
        int Number(Term term)
        {
            if (!numbers.TryGetValue(term, out var number))
                numbers.Add(term, number = Everything + numbers.Count);
            return number;
        }

        var above = new Dictionary<string, int[]>(StringComparer.Ordinal);
        int[] Above(string id)
        {
            if (above.TryGetValue(id, out var chain))
                return chain;
            var (parent, own) = (Categories[id].Parent, Number(new Term.InCategory(id)));
            return above[id] = [.. Categories[id].Gone ? [] : (int[])[own], .. parent is null ? [] : Above(parent)];
        }

        foreach (var category in catalogue.Categories)
            Above(category.Id);
        int[][] termsOfProduct =
        [
            .. catalogue.Products.Select(product =>
                (int[])
                    [
                        Everything,
                        Number(new Term.OfProduct(product.Id)),
                        .. product.Category is { } category ? Above(category) : [],
                        .. product.Brand is { } brand ? [Number(new Term.OfBrand(brand))] : Array.Empty<int>(),
                        .. product.Tags.Select(tag => Number(new Term.Tagged(tag))),
                    ]
            ),
        ];
        termsOf = [.. variants.Select((variant, number) => WithOptions(termsOfProduct[productOf[number]], variant, number))];
        termNumbers = numbers.ToFrozenDictionary();
        currencies = [.. store.Currencies];
        prices = new PriceTable?[currencies.Length];
        TaxClasses = [.. (store.Tax?.Rates ?? []).Select(rate => rate.Class).Distinct(StringComparer.Ordinal)];
        taxClassOfProduct = [.. catalogue.Products.Select(product => product.TaxClass is { } name ? Array.IndexOf(TaxClasses, name) : -1)];
        byTerm = new(() => VariantsByTerm(numbers.Count));

        // Variants without options share the list of their product; what was taken out is in none.
        int[] WithOptions(int[] ofProduct, Variant variant, int number) =>
            variant.Gone ? []
            : variant.Options.Count == 0 ? ofProduct
            :
            [
                .. ofProduct,
                .. variant.Options.Select(option => Number(new Term.WithOption(option.Name, option.Value))),
                .. variant.Options.Select(option =>
                    Number(new Term.WithOption(option.Name, option.Value, catalogue.Products[productOf[number]].Id))
                ),
            ];
    }

    /// <summary>The shop whose currency and rates its prices follow.</summary>
    public Store Store { get; }

    /// <summary>What it was made from.</summary>
    public Catalogue Catalogue { get; }

    /// <summary>The categories by id.</summary>
    public FrozenDictionary<string, Category> Categories { get; }

    /// <summary>Number of variants.</summary>
    public int Count => variants.Length;

    /// <summary>The tax classes that have rates, in the order in which the store first names them.</summary>
    internal string[] TaxClasses { get; }

    /// <summary>The term number that every item has.</summary>
    internal int Everything { get; }

    /// <summary>The numbers of all terms are below it, those of the variants with them.</summary>
    internal int Terms => Everything + termNumbers.Count;

    /// <summary>Makes a catalogue ready for one store.</summary>
    public static CatalogueIndex Of(Store store, Catalogue catalogue) => new(store, catalogue);

    /// <summary>Whether a term names something that was taken out: then it holds nothing.</summary>
    public bool IsGone(Term term) =>
        term switch
        {
            Term.OfSku(var sku) => Find(sku) is >= 0 and var number && variants[number].Gone,
            Term.OfProduct(var id) => Catalogue.Products.FirstOrDefault(product => product.Id == id) is { } product
                && product.Variants.All(variant => variant.Gone),
            Term.InCategory(var id) => Categories.GetValueOrDefault(id)?.Gone ?? false,
            _ => false,
        };

    /// <summary>All SKUs, by number.</summary>
    public IEnumerable<string> Skus => variants.Select(variant => variant.Sku);

    /// <summary>The number of a SKU, also of one that was taken out; -1 if it is not in the catalogue.</summary>
    public int Find(string sku) => bySku.TryGetValue(sku, out var number) ? number : -1;

    /// <summary>The variant of a number.</summary>
    public Variant Variant(int number) => variants[number];

    /// <summary>The product of a variant's number.</summary>
    public Product ProductOf(int number) => Catalogue.Products[productOf[number]];

    /// <summary>The numbers of the variants of a selection, at the catalogue's prices in the base currency.</summary>
    public IEnumerable<int> Select(Selection selection)
    {
        var test = new Compiler(this).Selection(selection);
        var view = new CartView(new(default, []), this);
        return Enumerable
            .Range(0, Count)
            .Where(number => !variants[number].Gone)
            .Where(number => test.Selects(view, number, view.Prices.Current(number), view.Prices.Regular(number)));
    }

    /// <summary>
    /// The share of a price, without tax, that is left after cost; null if the cost is not known or nothing is paid.
    /// With tax in the prices, the rate is the first the store names for the product's class.
    /// </summary>
    public decimal? MarginShare(int number, long price, Currency currency)
    {
        var net = WithoutTax(number, price);
        return net > 0 && PricesIn(currency).Cost(number) is { } cost ? (decimal)(net - cost) / net : null;
    }

    /// <summary>A price of a variant without the tax in it, at the first rate the store names for its class.</summary>
    public long WithoutTax(int number, long price)
    {
        var rate = Store.Tax is { Mode: TaxMode.Inclusive } tax
            ? tax.Rates.FirstOrDefault(rate => rate.Class == ProductOf(number).TaxClass)
            : null;
        return rate?.Percent.Without(price, Store.Rounding) ?? price;
    }

    /// <summary>The number of a variant's tax class among <see cref="TaxClasses"/>; -1: it is not taxed anywhere.</summary>
    internal int TaxClassOf(int number) => taxClassOfProduct[productOf[number]];

    /// <summary>The variants that a term other than a SKU holds, by the term's number.</summary>
    internal ReadOnlySpan<int> VariantsOf(int term) => byTerm.Value[term - Everything];

    /// <summary>The place of a currency among the store's; behind them if the store cannot be paid in it.</summary>
    internal int NumberOf(Currency currency)
    {
        var number = Array.IndexOf(currencies, currency);
        return number < 0 ? currencies.Length : number;
    }

    /// <summary>The number of a variant's product.</summary>
    internal int ProductNumber(int number) => productOf[number];

    /// <summary>The terms, other than its own SKU, that hold a variant.</summary>
    internal ReadOnlySpan<int> TermsOf(int number) => termsOf[number];

    /// <summary>The number of a term, or -1 if it holds nothing in this catalogue.</summary>
    internal int NumberOf(Term term) =>
        term is Term.OfSku(var sku)
            ? Find(sku) is >= 0 and var number && !variants[number].Gone
                ? number
                : -1
            : termNumbers.GetValueOrDefault(term, -1);

    /// <summary>The prices in a currency that the store can be paid in.</summary>
    public PriceTable PricesIn(Currency currency)
    {
        var number = NumberOf(currency);
        // Two threads may make the same table; either will do.
        return number == prices.Length
            ? new(variants, currency, Store)
            : Volatile.Read(ref prices[number]) ?? (prices[number] = new(variants, currency, Store));
    }

    private int[][] VariantsByTerm(int terms)
    {
        var lists = Enumerable.Range(0, terms).Select(_ => new List<int>()).ToArray();
        for (var number = 0; number < variants.Length; number++)
            foreach (var term in TermsOf(number))
                if (lists[term - Everything] is var list && (list.Count == 0 || list[^1] != number))
                    list.Add(number);
        return [.. lists.Select(list => list.ToArray())];
    }
}

/// <summary>The prices of all variants in one currency, in minor units, by variant number.</summary>
public sealed class PriceTable
{
    private readonly long[] regular;
    private readonly long[] reduced;
    private readonly long[] cost;

    internal PriceTable(Variant[] variants, Currency currency, Store store)
    {
        Currency = currency;
        regular = [.. variants.Select(variant => variant.Regular.For(currency, store) ?? 0)];
        reduced =
        [
            .. variants.Select((variant, number) => Math.Min(variant.ReducedIn(currency, store) ?? regular[number], regular[number])),
        ];
        cost = [.. variants.Select(variant => variant.Cost?.For(currency, store) ?? -1)];
    }

    /// <summary>The currency.</summary>
    public Currency Currency { get; }

    /// <summary>The regular price of a variant.</summary>
    public long Regular(int variant) => regular[variant];

    /// <summary>The catalogue's current price of a variant: the reduced one if there is one.</summary>
    public long Current(int variant) => reduced[variant];

    /// <summary>Some of several variants that cost something: the cheapest, the dearest and those evenly between, by price.</summary>
    /// <param name="variants">Their numbers.</param>
    /// <param name="most">At most so many.</param>
    internal int[] Across(IEnumerable<int> variants, int most)
    {
        int[] byPrice = [.. variants.Where(variant => Current(variant) > 0).OrderBy(Current)];
        var count = Math.Min(most, byPrice.Length);
        return [.. Enumerable.Range(0, count).Select(place => byPrice[count == 1 ? 0 : place * (byPrice.Length - 1) / (count - 1)])];
    }

    /// <summary>The cost of a variant, or null if it is not known.</summary>
    public long? Cost(int variant) => cost[variant] is >= 0 and var known ? known : null;
}
