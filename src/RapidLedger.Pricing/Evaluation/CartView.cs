namespace RapidLedger.Pricing;

/// <summary>A cart as the shopper filled it, with its prices: what conditions and selections look at.</summary>
internal sealed class CartView
{
    private readonly int[] variants;
    private readonly long[] current;
    private readonly PriceTable prices;

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

    /// <summary>Sets the current prices that the price pass gives.</summary>
    public void Mark(int line, long price) => current[line] = price;
}
