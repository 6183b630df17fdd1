using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>What carts are looked through for the deepest.</summary>
/// <param name="Units">A cart holds at most so many.</param>
/// <param name="Spend">And comes to at most so much at current prices, in minor units of its currency; null: to anything.</param>
/// <param name="Ahead">So long from now on: 0 is now alone.</param>
/// <param name="WithLosses">Takes in what is sold below cost without any promotion.</param>
public sealed record DeepestBounds(
    int Units = DeepestBounds.UsualUnits,
    long? Spend = null,
    Duration Ahead = default,
    bool WithLosses = false
)
{
    /// <summary>The units of a cart where nothing else is said.</summary>
    public const int UsualUnits = 20;
}

/// <summary>The deepest cart found.</summary>
/// <param name="Found">The cart, priced with all promotions.</param>
/// <param name="Depth">How deep it is.</param>
/// <param name="Proved">Whether every cart within the bounds was priced.</param>
/// <param name="Tried">How many were priced.</param>
/// <param name="LeftOut">How many items were left out: without cost, or sold below it without any promotion.</param>
public sealed record Deepest(Witness Found, Depth Depth, bool Proved, long Tried, int LeftOut)
{
    /// <summary>What is usually put into it, in units of the work of pricing: about a second.</summary>
    public const long UsualWork = 20_000_000;

    /// <summary>
    /// The cart within some bounds that the promotions of a rulebook sell worst, with nothing used yet; null: none, for no promotion or no
    /// item is left.
    /// </summary>
    /// <remarks>Every cart is priced where they are few enough, else the best found by hill climbing is told.</remarks>
    /// <param name="meetings">The promotions, and what is known of whom they meet.</param>
    /// <param name="by">By what.</param>
    /// <param name="bounds">What carts are looked through.</param>
    /// <param name="holding">The ids of promotions that must apply in it.</param>
    /// <param name="work">How much may be put into it: counted, the same on any machine.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    /// <exception cref="ArgumentException">The rulebook has no promotion of such an id.</exception>
    public static Deepest? Of(
        Meetings meetings,
        DeepestBy by = DeepestBy.MarginPercent,
        DeepestBounds? bounds = null,
        IReadOnlyCollection<string>? holding = null,
        long work = UsualWork,
        CancellationToken gone = default
    ) => new DeepestSearch(meetings, by, bounds ?? new(), holding ?? [], gone).Of(work);
}
