namespace RapidLedger.Pricing;

/// <summary>Which promotions may stand beside this one in a cart.</summary>
/// <param name="Allow">How the entries are read.</param>
/// <param name="With">The entries.</param>
/// <param name="Family">The family it belongs to, if any.</param>
public sealed record Stacking(Allow Allow = Allow.Any, EquatableArray<StackingEntry> With = default, string? Family = null)
{
    /// <summary>Meets anything.</summary>
    public static readonly Stacking Any = new();
}

/// <summary>How the entries of a <see cref="Stacking"/> are read.</summary>
public enum Allow
{
    /// <summary>All others.</summary>
    Any,

    /// <summary>No other.</summary>
    None,

    /// <summary>Only those that match an entry.</summary>
    Only,

    /// <summary>All but those that match an entry.</summary>
    Except,
}

/// <summary>What a promotion is matched by.</summary>
public abstract record StackingEntry
{
    private StackingEntry() { }

    /// <summary>One promotion.</summary>
    public sealed record OfPromotion(string Id) : StackingEntry;

    /// <summary>Those of a family.</summary>
    public sealed record OfFamily(string Name) : StackingEntry;

    /// <summary>Those that hold a reward in a pass.</summary>
    public sealed record InPass(Pass Pass) : StackingEntry;
}

/// <summary>One stage of pricing.</summary>
public enum Pass
{
    /// <summary>Markdowns: what becomes the current price.</summary>
    Price,

    /// <summary>What is taken from units; gifts and points count here too.</summary>
    Item,

    /// <summary>What is taken from the whole order.</summary>
    Order,

    /// <summary>What is taken from the delivery charge.</summary>
    Shipping,

    /// <summary>What pays.</summary>
    Credit,
}
