using RapidLedger.Pricing;

namespace RapidLedger.Server.Shop;

/// <summary>
/// What surrounds the pricing of a cart in the shop: what has been used up, how the cart's codes stand, what is left of what can be given,
/// and how much work may be put into it. Made by <see cref="OpenShop.ContextOf"/> alone, so that tape, quote, order and case agree.
/// </summary>
/// <param name="Usage">What has been used so far, by promotion.</param>
/// <param name="Codes">Those of the cart's codes that are of batches, by their bare form.</param>
/// <param name="Left">What is left of SKUs, where orders or a count moved it.</param>
/// <param name="Effort">As a multiple of the default.</param>
internal sealed record PricingContext(
    IReadOnlyDictionary<string, Usage> Usage,
    IReadOnlyDictionary<string, BatchCode> Codes,
    IReadOnlyDictionary<string, long> Left,
    int Effort
)
{
    /// <summary>Whether all of it is the same.</summary>
    public bool IsSameAs(PricingContext other) =>
        Effort == other.Effort && IsSame(Usage, other.Usage) && IsSame(Codes, other.Codes) && IsSame(Left, other.Left);

    private static bool IsSame<T>(IReadOnlyDictionary<string, T> one, IReadOnlyDictionary<string, T> other) =>
        ReferenceEquals(one, other)
        || (one.Count == other.Count && one.All(entry => other.TryGetValue(entry.Key, out var same) && Equals(same, entry.Value)));

    /// <summary>Prices the cart that it was made for.</summary>
    public PricedCart Price(Rulebook rulebook, Cart cart, CancellationToken gone) => rulebook.Price(cart, Usage, Effort, gone, Codes, Left);
}
