namespace RapidLedger.Pricing;

/// <summary>What the shop sells.</summary>
/// <param name="Categories">Each id once; parents exist and make no circle.</param>
/// <param name="Products">Each id once.</param>
public sealed record Catalogue(EquatableArray<Category> Categories, EquatableArray<Product> Products);

/// <summary>A place in the tree of goods.</summary>
/// <param name="Id">The name used in files.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Parent">The id of the category that holds it, or null at the top.</param>
/// <param name="Gone">Whether it was taken out: its id stays known, and a term that names it holds nothing.</param>
public sealed record Category(string Id, string Name, string? Parent = null, bool Gone = false);

/// <summary>Something sold in one or more variants.</summary>
/// <param name="Id">The name used in files.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Variants">Its variants; every SKU is in the catalogue once.</param>
/// <param name="Category">The id of its category, if any.</param>
/// <param name="Brand">Its brand, if any.</param>
/// <param name="Tags">Free words to select by.</param>
/// <param name="TaxClass">The class its tax rate is found by; none: untaxed.</param>
/// <param name="Gone">Whether it was taken out with all its variants: its id stays known, and a term that names it holds nothing.</param>
public sealed record Product(
    string Id,
    string Name,
    EquatableArray<Variant> Variants,
    string? Category = null,
    string? Brand = null,
    EquatableArray<string> Tags = default,
    string? TaxClass = null,
    bool Gone = false
);

/// <summary>What a shopper puts in the cart.</summary>
/// <param name="Sku">The stock-keeping unit, unique in the catalogue.</param>
/// <param name="Regular">The regular price of one unit.</param>
/// <param name="Price">The catalogue's reduced price, not above the regular one; none: not reduced.</param>
/// <param name="Cost">What one unit costs the shop; none: unknown.</param>
/// <param name="Grams">What one unit weighs.</param>
/// <param name="Stock">Units at hand; none: without limit.</param>
/// <param name="Options">What tells it from the other variants: size, colour.</param>
/// <param name="Gone">
/// Whether it was taken out: its SKU stays known, but it cannot be bought or given, and no term holds it.
/// </param>
public sealed record Variant(
    string Sku,
    Amount Regular,
    Amount? Price = null,
    Amount? Cost = null,
    long Grams = 0,
    long? Stock = null,
    EquatableArray<VariantOption> Options = default,
    bool Gone = false
)
{
    /// <summary>
    /// The reduced price in a currency, in minor units; null: it is not reduced there. A regular price of the currency's own stands alone:
    /// then a reduced price of the base currency says nothing about it.
    /// </summary>
    /// <param name="currency">The currency.</param>
    /// <param name="store">By whose rates amounts convert.</param>
    public long? ReducedIn(Currency currency, Store store) =>
        currency != store.Currency && Regular.Find(currency) is not null ? Price?.Find(currency) : Price?.For(currency, store);

    /// <summary>What is left of it, never below zero; null: without limit.</summary>
    /// <param name="left">What is left of the SKUs of which that is known better than by their <see cref="Stock"/>.</param>
    public long? Free(IReadOnlyDictionary<string, long>? left) =>
        Gone ? 0
        : left is not null && left.TryGetValue(Sku, out var free) ? Math.Max(0, free)
        : Stock;
}

/// <summary>One thing that tells a variant from the others: <c>size</c>, <c>L</c>.</summary>
public sealed record VariantOption(string Name, string Value);
