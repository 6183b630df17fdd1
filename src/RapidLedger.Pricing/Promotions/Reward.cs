namespace RapidLedger.Pricing;

/// <summary>Something a promotion gives. Each kind is one file in the folder beside this one.</summary>
public abstract record Reward
{
    /// <summary>The passes it counts in when promotions say what they may meet.</summary>
    public abstract IEnumerable<Pass> Passes { get; }

    /// <summary>Makes it ready to be given to many carts: one part for each stage it acts in.</summary>
    internal abstract IEnumerable<ReadyReward> Compile(Compiler compiler);
}

/// <summary>When, within the pricing of a cart, a part of a reward acts.</summary>
internal enum Stage
{
    Item,
    Order,
    Gift,
    Shipping,
    Points,
}

/// <summary>A part of a reward made ready.</summary>
internal abstract class ReadyReward
{
    /// <summary>When it acts.</summary>
    public abstract Stage Stage { get; }

    /// <summary>
    /// The terms of which a cart must hold at least one, or it has no effect; null if it can have one on any cart.
    /// </summary>
    public virtual IEnumerable<int>? Touches => null;

    /// <summary>Whether the units of a line are among those it looks at.</summary>
    public virtual bool LooksAt(CartView cart, int line) => true;

    /// <summary>Does what it does to the sheet, in the name of the sheet's current promotion.</summary>
    public abstract void Apply(Sheet sheet);

    /// <summary>
    /// The most it could still add to a choice's worth, whatever is chosen beside it: never less than the truth.
    /// </summary>
    /// <param name="sheet">As it stands; running prices only come down from here.</param>
    /// <param name="goods">The most that all running prices can still come to when it acts.</param>
    public abstract long Bound(Sheet sheet, long goods);

    /// <summary>Whether what it takes comes off running prices, and so leaves less for those after it.</summary>
    public bool LowersGoods => Stage is Stage.Item or Stage.Order;
}

/// <summary>Which units go first when only some are lowered.</summary>
public enum Pick
{
    /// <summary>The cheapest by running price.</summary>
    Cheapest,
    /// <summary>The dearest by running price.</summary>
    Dearest,
}
