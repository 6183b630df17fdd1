namespace RapidLedger.Pricing;

/// <summary>When, within the pricing of a cart, a part of a reward acts.</summary>
internal enum Stage
{
    Item,
    Order,
    Gift,
    Shipping,
    Points,
}

/// <summary>
/// A part of a reward made ready. What it says of itself is a promise that the choice and the index build on, so nothing is said by
/// default; one property proves it for every kind. The sheet lets a part do only what its stage is for.
/// </summary>
internal abstract class ReadyReward
{
    /// <summary>When it acts.</summary>
    public abstract Stage Stage { get; }

    /// <summary>
    /// The terms of which a cart must hold at least one, or it has no effect; null if it can have one on any cart.
    /// </summary>
    public abstract IEnumerable<int>? Touches { get; }

    /// <summary>Whether the units of a line are among those it looks at.</summary>
    public abstract bool LooksAt(CartView cart, int line);

    /// <summary>Does what it does to the sheet, in the name of the sheet's current promotion.</summary>
    public abstract void Apply(Sheet sheet);

    /// <summary>
    /// The most it could still add to a choice's worth, whatever is chosen beside it: never less than the truth, and falling with prices.
    /// </summary>
    /// <param name="sheet">As it stands; running prices only come down from here.</param>
    /// <param name="dearest">The most that the units which share one of its takes can come to, where that matters for
    /// <see cref="LowerToBound"/>.</param>
    public abstract long Bound(Sheet sheet, out long dearest);

    /// <summary>The most it could take when all running prices come to so much. Must grow with that by no more than it does.</summary>
    public abstract long BoundOf(Sheet sheet, long goods);

    /// <summary>
    /// Lowers prices by the most it could take from a unit at that price, whatever is chosen beside it. A lower price must not be lowered
    /// by
    /// more than a higher one, nor to more. False: nothing can be said unit by unit.
    /// </summary>
    /// <param name="sheet">As it stands, or with lower prices than when the dearest was found.</param>
    /// <param name="prices">What is lowered.</param>
    /// <param name="dearest">What <see cref="Bound"/> found.</param>
    public abstract bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest);

    /// <summary>The most points it could still award when so much is to be paid for goods and gifts.</summary>
    public abstract long BoundOfPoints(Sheet sheet, long net);

    /// <summary>The most gift units it could give or offer, and the most that they could cost.</summary>
    public abstract (long Units, long Net) BoundOfGifts(Sheet sheet);

    /// <summary>
    /// What more in the cart would bring its first or its next application: each entry is one way, all of whose wants are needed together.
    /// Empty: none is known.
    /// </summary>
    public abstract IEnumerable<Want[]> Wants(CartView cart);

    /// <summary>Why it does nothing to this cart, even alone; asked only where that is so.</summary>
    public abstract Idleness WhyIdle(Sheet sheet);
}

/// <summary>A part that takes from units of the cart, in the item or the order stage.</summary>
internal abstract class UnitReward : ReadyReward
{
    public sealed override long BoundOfPoints(Sheet sheet, long net) => 0;

    public sealed override (long Units, long Net) BoundOfGifts(Sheet sheet) => (0, 0);
}

/// <summary>A part that gives units beside the cart.</summary>
internal abstract class GiftReward : ReadyReward
{
    public sealed override Stage Stage => Stage.Gift;

    public sealed override long BoundOf(Sheet sheet, long goods) => 0;

    public sealed override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest) => true;

    public sealed override long BoundOfPoints(Sheet sheet, long net) => 0;
}
