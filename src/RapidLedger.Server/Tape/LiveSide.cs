using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Tape;

/// <summary>
/// Carts as the live edition prices them. The last ones are kept: as long as cart, edition and what has been used stay the same and no
/// window turns, only the side that is being written is priced anew. What is not kept is priced on another processor where one is free.
/// </summary>
internal sealed class LiveSide(Processors processors, OpenShop shop)
{
    // So many windows may be typed in at the same time.
    private const int Most = 8;

    private readonly Lock turn = new();
    private readonly LinkedList<Kept> kept = [];

    private sealed record Kept(Rulebook Rulebook, Cart Cart, PricingContext Context, PricedCart Priced, Lazy<Instant> Until);

    /// <summary>A cart by the live promotions: of an earlier moment, where it is the same then.</summary>
    /// <param name="live">The live promotions.</param>
    /// <param name="cart">The cart.</param>
    /// <param name="context">What surrounds it.</param>
    /// <param name="meanwhile">Whether the caller prices something else meanwhile.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    public Task<PricedCart> Price(Rulebook live, Cart cart, PricingContext context, bool meanwhile, CancellationToken gone)
    {
        if (Find(live, cart, context, meanwhile) is { } known)
            return Task.FromResult(known);
        if (!meanwhile)
            return Task.FromResult(PriceAnew());
        var processor = processors.Free.AttemptAcquire();
        if (!processor.IsAcquired)
            return Task.FromResult(PriceAnew());
        return Task.Run(
            () =>
            {
                using (processor)
                    return PriceAnew();
            },
            CancellationToken.None
        );

        PricedCart PriceAnew()
        {
            var priced = Metrics.Measured(() => context.Price(live, cart, gone));
            lock (turn)
            {
                kept.AddFirst(new Kept(live, cart, context, priced, new(() => shop.ValidUntil(live, cart.At))));
                if (kept.Count > Most)
                    kept.RemoveLast();
            }

            return priced;
        }
    }

    private PricedCart? Find(Rulebook live, Cart cart, PricingContext context, bool earlier)
    {
        lock (turn)
            return kept.FirstOrDefault(one => ReferenceEquals(one.Rulebook, live) && one.Context.IsSameAs(context) && IsOf(one))?.Priced;

        bool IsOf(Kept one) =>
            one.Cart == cart || (earlier && one.Cart with { At = cart.At } == cart && cart.At > one.Cart.At && cart.At < one.Until.Value);
    }
}
