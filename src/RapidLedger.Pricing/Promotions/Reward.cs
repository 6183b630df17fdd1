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
    public abstract long Bound(Sheet sheet);

    /// <summary>The same, and the most that the units which share one of its takes can come to, where that matters for <see cref="LowerMost"/>.</summary>
    public virtual long Bound(Sheet sheet, out long dearest)
    {
        dearest = 0;
        return Bound(sheet);
    }

    /// <summary>The most it could take when all running prices come to so much. Must grow with that by no more than it does.</summary>
    public virtual long BoundOf(Sheet sheet, long goods) => goods;

    /// <summary>
    /// Lowers prices, one for each run, by the most it could take from a unit at that price, whatever is chosen beside it. A lower price
    /// must not be lowered by more than a higher one, nor to more. False: nothing can be said unit by unit.
    /// </summary>
    /// <param name="sheet">As it stands, or with lower prices than when the dearest was found.</param>
    /// <param name="prices">By run.</param>
    /// <param name="dearest">What <see cref="Bound(Sheet, out long)"/> found.</param>
    public virtual bool LowerMost(Sheet sheet, Span<long> prices, long dearest) => false;

    /// <summary>Lowers the price of each selected run by a take.</summary>
    protected static void LowerEach(Sheet sheet, SelectionTest selection, CartTake take, Span<long> prices)
    {
        var selected = sheet.Selected(selection);
        for (var i = 0; i < prices.Length; i++) if (selected[sheet.Runs[i].Line]) prices[i] -= take.From(prices[i]);
    }

    /// <summary>The most points it could still award when so much is to be paid for goods and gifts.</summary>
    public virtual long BoundOfPoints(Sheet sheet, long net) => 0;

    /// <summary>The most gift units it could give or offer, and the most that they could cost.</summary>
    public virtual (long Units, long Net) BoundOfGifts(Sheet sheet) => (0, 0);
}

/// <summary>Which units go first when only some are lowered.</summary>
public enum Pick
{
    /// <summary>The cheapest by running price.</summary>
    Cheapest,
    /// <summary>The dearest by running price.</summary>
    Dearest,
}
