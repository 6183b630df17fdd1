namespace RapidLedger.Pricing;

/// <summary>Something a promotion gives. Each kind is one file in the folder beside this one.</summary>
public abstract record Reward
{
    /// <summary>The passes it counts in when promotions say what they may meet.</summary>
    public abstract IEnumerable<Pass> Passes { get; }

    /// <summary>Whether it acts before the order pass on what units cost: then its promotion cannot ask what others leave.</summary>
    public abstract bool SetsUnitPrices { get; }

    /// <summary>Of a table with an entry for each kind, the entry of this one.</summary>
    public abstract T In<T>(RewardKinds<T> kinds);

    /// <summary>What it gives, in words.</summary>
    internal abstract string Say(Wording wording);

    /// <summary>The most that it could count up in a cart beside what the cart itself holds.</summary>
    internal abstract Reach ReachIn(CartExtent cart);

    /// <summary>Makes it ready to be given to many carts: one part for each stage it acts in.</summary>
    internal abstract IEnumerable<ReadyReward> Compile(Compiler compiler);
}

/// <summary>
/// An entry for each kind of reward, under the name used in files. A new kind is one more member here; whoever makes a table
/// then does not compile until it has an entry.
/// </summary>
public sealed record RewardKinds<T> : KindTable<T>
{
#pragma warning disable CS1591 // The names are those of the kinds.
    public required T Discount { get; init; }

    public required T BuyGet { get; init; }

    public required T Ladder { get; init; }

    public required T Bundle { get; init; }

    public required T Gift { get; init; }

    public required T Markdown { get; init; }

    public required T Shipping { get; init; }

    public required T Points { get; init; }

    public required T Credit { get; init; }
#pragma warning restore CS1591
}

/// <summary>Which units go first when only some are lowered.</summary>
public enum Pick
{
    /// <summary>The cheapest by running price.</summary>
    Cheapest,

    /// <summary>The dearest by running price.</summary>
    Dearest,
}
