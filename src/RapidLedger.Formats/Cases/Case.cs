using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>A self-contained unit of pricing.</summary>
/// <param name="Title">What it shows, if it says so.</param>
/// <param name="Store">The store.</param>
/// <param name="Catalogue">The catalogue.</param>
/// <param name="Promotions">The promotions, in the order written.</param>
/// <param name="Usage">What has been used so far, by promotion.</param>
/// <param name="Cart">The cart.</param>
/// <param name="Expect">Any part of the result it must have, if it says so.</param>
public sealed record Case(
    string? Title,
    Store Store,
    Catalogue Catalogue,
    EquatableArray<Promotion> Promotions,
    IReadOnlyDictionary<string, Usage> Usage,
    Cart Cart,
    JsonElement? Expect
)
{
    /// <summary>The store and catalogue made ready.</summary>
    public required CatalogueIndex Index { get; init; }

    /// <summary>The codes of batches, by their bare form.</summary>
    public required IReadOnlyDictionary<string, BatchCode> BatchCodes { get; init; }

    /// <summary>Prices the cart.</summary>
    /// <param name="effort">How much work may be put into the choice, as a multiple of the default.</param>
    /// <param name="gone">Says that nobody waits for the result any more.</param>
    public PricedCart Price(int effort = 1, CancellationToken gone = default) =>
        Rulebook.Compile(Index, Promotions).Price(Cart, Usage, effort, gone, BatchCodes);
}
