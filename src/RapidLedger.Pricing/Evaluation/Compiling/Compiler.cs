namespace RapidLedger.Pricing;

/// <summary>Makes the parts of a promotion ready for one store and catalogue.</summary>
internal sealed class Compiler(CatalogueIndex catalogue)
{
    private readonly Currency[] currencies = [.. catalogue.Store.Currencies];
    private readonly Dictionary<Selection, SelectionTest> selections = [];

    public CatalogueIndex Catalogue => catalogue;

    public Store Store => catalogue.Store;

    /// <summary>The id of the promotion whose parts are being made ready.</summary>
    public string Promotion { get; set; } = "";

    /// <summary>
    /// A selection made ready; none is the whole cart. The same selection is made ready once, so that a cart is looked through for it once.
    /// </summary>
    public SelectionTest Selection(Selection? selection)
    {
        selection ??= Pricing.Selection.Everything;
        if (!selections.TryGetValue(selection, out var test))
            selections.Add(selection, test = new(selection, this));
        return test;
    }

    /// <summary>An amount in each of the store's currencies.</summary>
    public AmountTable? Amounts(Amount? amount) =>
        amount is null ? null : new AmountTable([.. currencies.Select(currency => amount.For(currency, Store) ?? -1)]);

    /// <summary>An amount to divide by in each of the store's currencies: what converts to nothing counts as one minor unit.</summary>
    public AmountTable? Divisors(Amount? amount) =>
        amount is null ? null : new AmountTable([.. currencies.Select(currency => Math.Max(1, amount.For(currency, Store) ?? 1))]);

    /// <summary>A take in each of the store's currencies.</summary>
    public CartTake[] Takes(Take take) => [.. currencies.Select(currency => take.For(currency, Store) ?? default)];
}

/// <summary>An amount by currency, in the order of the store's currencies.</summary>
internal sealed class AmountTable(long[] byCurrency)
{
    /// <summary>In the cart's currency.</summary>
    public long this[CartView cart] => byCurrency[cart.CurrencyNumber];

    /// <summary>Whether it is more than nothing in every currency.</summary>
    public bool IsAboveZero => Array.TrueForAll(byCurrency, amount => amount > 0);
}

/// <summary>A selection made ready.</summary>
internal sealed class SelectionTest
{
    private readonly TermSet inTerms;
    private readonly TermSet outTerms;
    private readonly bool everything;
    private readonly bool fullPriceOnly;
    private readonly AmountTable? from;
    private readonly AmountTable? to;

    public SelectionTest(Selection selection, Compiler compiler)
    {
        Written = selection;
        inTerms = Numbers(selection.In, compiler);
        outTerms = Numbers(selection.Out, compiler);
        everything = selection.IsEverything;
        fullPriceOnly = selection.FullPriceOnly;
        from = compiler.Amounts(selection.PriceFrom);
        to = compiler.Amounts(selection.PriceTo);
    }

    /// <summary>As written.</summary>
    public Selection Written { get; }

    /// <summary>The numbers of the terms taken in: a cart without any of them holds nothing selected.</summary>
    public ReadOnlySpan<int> InTerms => inTerms.Numbers;

    /// <summary>Whether the units of a line are selected, at the view's current prices.</summary>
    public bool Selects(CartView cart, int line) => everything || Selects(cart, cart.Variant(line), cart.Current(line), cart.Regular(line));

    /// <summary>Notes by line whether its units are selected.</summary>
    public void Mark(CartView cart, Span<bool> lines)
    {
        for (var line = 0; line < cart.Lines; line++)
            lines[line] = Selects(cart, line);
    }

    /// <summary>Whether a variant is selected at a current price.</summary>
    public bool Selects(CartView cart, int variant, long current, long regular)
    {
        var terms = cart.Catalogue.TermsOf(variant);
        if (!inTerms.HoldsAny(variant, terms) || outTerms.HoldsAny(variant, terms))
            return false;
        if (fullPriceOnly && current < regular)
            return false;
        return (from is null || current >= from[cart]) && (to is null || current <= to[cart]);
    }

    /// <summary>How many units of the cart are selected.</summary>
    public long Units(CartView cart)
    {
        long units = 0;
        for (var line = 0; line < cart.Lines; line++)
            if (Selects(cart, line))
                units += cart.Quantity(line);
        return units;
    }

    /// <summary>What the selected units come to at current prices.</summary>
    public long Spend(CartView cart)
    {
        long spend = 0;
        for (var line = 0; line < cart.Lines; line++)
            if (Selects(cart, line))
                spend += cart.Current(line) * cart.Quantity(line);
        return spend;
    }

    private static TermSet Numbers(EquatableArray<Term> terms, Compiler compiler) =>
        new(terms.Select(compiler.Catalogue.NumberOf).Where(number => number >= 0));
}
