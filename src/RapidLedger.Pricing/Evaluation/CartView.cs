namespace RapidLedger.Pricing;

/// <summary>A cart as the shopper filled it, with its prices: what conditions and selections look at.</summary>
internal sealed class CartView
{
    private readonly int[] variants;
    private readonly long[] current;
    private readonly PriceTable prices;
    private Func<int, long> elsewhere;
    private int[]? bySku;
    private int[]? byProduct;

    public CartView(Cart cart, CatalogueIndex catalogue)
    {
        Cart = cart;
        Catalogue = catalogue;
        Currency = cart.Currency ?? catalogue.Store.Currency;
        CurrencyNumber = 0;
        foreach (var currency in catalogue.Store.Currencies)
        {
            if (currency == Currency) break;
            CurrencyNumber++;
        }

        prices = catalogue.PricesIn(Currency);
        elsewhere = prices.Current;
        variants = new int[cart.Lines.Count];
        current = new long[cart.Lines.Count];
        for (var line = 0; line < variants.Length; line++)
        {
            var variant = catalogue.Find(cart.Lines[line].Sku);
            if (variant < 0) throw new ArgumentException($"The catalogue holds no SKU '{cart.Lines[line].Sku}'.", nameof(cart));
            variants[line] = variant;
            current[line] = prices.Current(variant);
            Grams += catalogue.Variant(variant).Grams * cart.Lines[line].Quantity;
        }
    }

    public Cart Cart { get; }

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

    public bool IsFirstOfSku(int line) => Array.IndexOf(variants, variants[line]) == line;

    /// <summary>By line, the first line of the same SKU or product.</summary>
    public ReadOnlySpan<int> Groups(Same same) =>
        same == Same.Sku ? bySku ??= FirstLines(variant => variant) : byProduct ??= FirstLines(Catalogue.ProductNumber);

    /// <summary>The current price of a variant, in the cart or not.</summary>
    public long PriceOf(int variant)
    {
        var line = Array.IndexOf(variants, variant);
        return line >= 0 ? current[line] : elsewhere(variant);
    }

    /// <summary>How many units of a variant the cart holds.</summary>
    public long UnitsOf(int variant)
    {
        long units = 0;
        for (var line = 0; line < variants.Length; line++) if (variants[line] == variant) units += Quantity(line);
        return units;
    }

    /// <summary>The price pass: sets what a unit of each line costs, and how the price of what is not in the cart is found.</summary>
    public void Mark(Func<int, long> priceInCart, Func<int, long> priceElsewhere)
    {
        elsewhere = priceElsewhere;
        for (var line = 0; line < current.Length; line++) current[line] = priceInCart(variants[line]);
    }

    private int[] FirstLines(Func<int, int> keyOf)
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
