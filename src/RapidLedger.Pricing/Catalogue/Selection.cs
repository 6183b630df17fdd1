namespace RapidLedger.Pricing;

/// <summary>A set of items: selected is what any term of <paramref name="In"/> and no term of <paramref name="Out"/> holds.</summary>
/// <param name="In">At least one term; everything is said by <see cref="Term.All"/>, never by leaving this empty.</param>
/// <param name="Out">Terms left out.</param>
/// <param name="FullPriceOnly">Leaves out units whose current price is below their regular price.</param>
/// <param name="PriceFrom">The least current price, included.</param>
/// <param name="PriceTo">The greatest current price, included.</param>
public sealed record Selection(
    EquatableArray<Term> In,
    EquatableArray<Term> Out = default,
    bool FullPriceOnly = false,
    Amount? PriceFrom = null,
    Amount? PriceTo = null
)
{
    /// <summary>Every item.</summary>
    public static readonly Selection Everything = new([new Term.All()]);

    /// <summary>Whether it is the whole cart, without exception.</summary>
    public bool IsEverything =>
        Out.Count == 0 && !FullPriceOnly && PriceFrom is null && PriceTo is null && In.Any(term => term is Term.All);
}

/// <summary>One term of a selection.</summary>
public abstract record Term
{
    private Term() { }

    /// <summary>Every item.</summary>
    public sealed record All : Term;

    /// <summary>The items of a category and of all categories below it.</summary>
    public sealed record InCategory(string Id) : Term;

    /// <summary>The items of a brand.</summary>
    public sealed record OfBrand(string Name) : Term;

    /// <summary>All variants of a product, future ones too.</summary>
    public sealed record OfProduct(string Id) : Term;

    /// <summary>One variant.</summary>
    public sealed record OfSku(string Sku) : Term;

    /// <summary>The items that carry a tag.</summary>
    public sealed record Tagged(string Name) : Term;

    /// <summary>The variants with an option, of one product or of all, future ones too.</summary>
    /// <param name="Name">The option: colour.</param>
    /// <param name="Value">What it is: moss. A free word, like a tag.</param>
    /// <param name="Product">Of which product; none: of any.</param>
    public sealed record WithOption(string Name, string Value, string? Product = null) : Term;
}
