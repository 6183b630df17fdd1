using System.Collections.Concurrent;

namespace RapidLedger.Pricing;

/// <summary>A cart as the shopper filled it, with its prices: what conditions and selections look at.</summary>
internal sealed class CartView
{
    // Up to so many lines they are looked through for a variant.
    private const int FewLines = 24;

    private readonly int[] variants;
    private readonly long[] current;
    private readonly PriceTable prices;
    private Func<int, long>? elsewhere;
    private Dictionary<int, int>? firstLines;
    private long[]? unitsByLine;
    private int[]? bySku;
    private int[]? byProduct;

    public CartView(Cart cart, CatalogueIndex catalogue)
    {
        Cart = cart;
        Catalogue = catalogue;
        Currency = cart.Currency ?? catalogue.Store.Currency;
        CurrencyNumber = catalogue.NumberOf(Currency);
        prices = catalogue.PricesIn(Currency);
        variants = new int[cart.Lines.Count];
        current = new long[cart.Lines.Count];
        var lines = cart.Lines.Span;
        for (var line = 0; line < variants.Length; line++)
        {
            var variant = catalogue.Find(lines[line].Sku);
            if (variant < 0)
                throw new ArgumentException($"The catalogue holds no SKU '{lines[line].Sku}'.", nameof(cart));
            variants[line] = variant;
            current[line] = prices.Current(variant);
            Grams += catalogue.Variant(variant).Grams * lines[line].Quantity;
        }
    }

    private CartView(CartView other, long[] current, Func<int, long> elsewhere)
    {
        (Cart, Catalogue, Currency, CurrencyNumber, prices, variants, Grams) = (
            other.Cart,
            other.Catalogue,
            other.Currency,
            other.CurrencyNumber,
            other.prices,
            other.variants,
            other.Grams
        );
        (this.current, this.elsewhere) = (current, elsewhere);
        Left = other.Left;
    }

    public Cart Cart { get; }

    /// <summary>What is left of SKUs where that is not what the catalogue says; null: of none.</summary>
    public IReadOnlyDictionary<string, long>? Left { get; init; }

    public CatalogueIndex Catalogue { get; }

    public Currency Currency { get; }

    /// <summary>The place of the currency among the store's.</summary>
    public int CurrencyNumber { get; }

    public PriceTable Prices => prices;

    /// <summary>Total weight of the units.</summary>
    public long Grams { get; }

    public int Lines => variants.Length;

    public int Variant(int line) => variants[line];

    public int Quantity(int line) => Cart.Lines[line].Quantity;

    public long Regular(int line) => prices.Regular(variants[line]);

    /// <summary>The current price of a line's units: after the catalogue's reduction, and after the price pass once that has run.</summary>
    public long Current(int line) => current[line];

    public bool IsFirstOfSku(int line) => FirstLineOf(variants[line]) == line;

    /// <summary>By line, the first line of the same SKU or product.</summary>
    public ReadOnlySpan<int> Groups(Same same) =>
        same == Same.Sku ? bySku ??= FirstLinesBy(variant => variant) : byProduct ??= FirstLinesBy(Catalogue.ProductNumber);

    /// <summary>The current price of a variant, in the cart or not.</summary>
    public long PriceOf(int variant)
    {
        var line = FirstLineOf(variant);
        return line >= 0 ? current[line] : elsewhere?.Invoke(variant) ?? prices.Current(variant);
    }

    /// <summary>How many units of a variant the cart holds.</summary>
    public long UnitsOf(int variant)
    {
        var line = FirstLineOf(variant);
        if (line < 0)
            return 0;
        if (unitsByLine is null)
        {
            unitsByLine = new long[variants.Length];
            for (var at = 0; at < variants.Length; at++)
                unitsByLine[FirstLineOf(variants[at])] += Quantity(at);
        }

        return unitsByLine[line];
    }

    /// <summary>The variants picked from a promotion's gifts, one entry a unit, in the order picked.</summary>
    public int[] PicksOf(string promotion)
    {
        foreach (var picks in Cart.Picks)
            if (picks.Promotion == promotion)
                return [.. picks.Skus.Select(Catalogue.Find)];
        return [];
    }

    /// <summary>The same cart after the price pass.</summary>
    /// <param name="priceInCart">What a unit of a variant of the cart costs.</param>
    /// <param name="priceElsewhere">The same for what is not in the cart.</param>
    public CartView Marked(Func<int, long> priceInCart, Func<int, long> priceElsewhere)
    {
        var marked = new long[variants.Length];
        for (var line = 0; line < marked.Length; line++)
            marked[line] = priceInCart(variants[line]);
        // Asked for again and again, by gifts and by what could be added; from any thread, once the cart is priced.
        var known = new ConcurrentDictionary<int, long>();
        return new(this, marked, variant => known.GetOrAdd(variant, priceElsewhere));
    }

    private int FirstLineOf(int variant)
    {
        if (variants.Length <= FewLines)
            return Array.IndexOf(variants, variant);
        if (firstLines is null)
        {
            firstLines = new(variants.Length);
            for (var line = 0; line < variants.Length; line++)
                firstLines.TryAdd(variants[line], line);
        }

        return firstLines.GetValueOrDefault(variant, -1);
    }

    private int[] FirstLinesBy(Func<int, int> keyOf)
    {
        var (first, lines) = (new Dictionary<int, int>(), new int[variants.Length]);
        for (var line = 0; line < lines.Length; line++)
        {
            first.TryAdd(keyOf(variants[line]), line);
            lines[line] = first[keyOf(variants[line])];
        }

        return lines;
    }
}
