namespace RapidLedger.Pricing;

/// <summary>How often a promotion applies in all. Each is open while what has been used is below it.</summary>
/// <param name="Total">Orders in all.</param>
/// <param name="PerShopper">Orders of one shopper; open for a cart without a shopper id.</param>
/// <param name="PerDay">Orders in one of the store's days.</param>
/// <param name="Budget">What it may give in all, in minor units of the base currency; the last order may pass it.</param>
public sealed record Limits(long? Total = null, long? PerShopper = null, long? PerDay = null, long? Budget = null)
{
    /// <summary>The first limit that is used up, or null if all are open.</summary>
    public Limit? Reached(Usage used, bool shopperKnown)
    {
        if (used.Total >= Total)
            return Limit.Total;
        if (shopperKnown && used.Shopper >= PerShopper)
            return Limit.PerShopper;
        if (used.Today >= PerDay)
            return Limit.PerDay;
        return used.Budget >= Budget ? Limit.Budget : null;
    }
}

/// <summary>One of the limits.</summary>
public enum Limit
{
    /// <summary>Orders in all.</summary>
    Total,

    /// <summary>Orders of one shopper.</summary>
    PerShopper,

    /// <summary>Orders in a day.</summary>
    PerDay,

    /// <summary>Money given.</summary>
    Budget,
}
