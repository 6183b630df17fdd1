namespace RapidLedger.Storage;

/// <summary>An order from before, as it is brought in. Amounts in minor units; moments in seconds of Unix time.</summary>
/// <param name="Number">Its number where it comes from.</param>
/// <param name="At">When it was placed.</param>
/// <param name="Day">The store's date of that.</param>
/// <param name="Currency">The currency of <paramref name="Delivery"/> and of what its lines paid (ISO 4217).</param>
/// <param name="Shopper">Who bought; null: nobody that is known.</param>
/// <param name="Place">Where it went; null: unknown.</param>
/// <param name="Channel">Where it was placed; null: unknown.</param>
/// <param name="Method">How it was delivered; null: unknown.</param>
/// <param name="Codes">The codes that were entered, in normal form, sorted.</param>
/// <param name="IsAssumed">Whether the price of a line was not said: it counts at the regular price of the day it was brought in.</param>
/// <param name="Delivery">What delivery came to, as it was paid.</param>
/// <param name="Total">What all came to, in the base currency.</param>
/// <param name="Lines">What was bought.</param>
public sealed record PastOrder(
    string Number,
    long At,
    string Day,
    string Currency,
    string? Shopper,
    string? Place,
    string? Channel,
    string? Method,
    IReadOnlyList<string> Codes,
    bool IsAssumed,
    long Delivery,
    long Total,
    IReadOnlyList<PastLine> Lines
);

/// <summary>A line of an order from before.</summary>
/// <param name="Sku">What was bought; it may be unknown here.</param>
/// <param name="Quantity">Units, above zero.</param>
/// <param name="Paid">What was paid for it, in minor units of the order's currency.</param>
/// <param name="Net">The same without tax, in minor units of the base currency.</param>
/// <param name="Cost">What it costs, in minor units of the base currency; null: not known.</param>
public sealed record PastLine(string Sku, long Quantity, long Paid, long Net, long? Cost);

/// <summary>An order from before as it stands here.</summary>
/// <param name="Id">Its own id here.</param>
/// <param name="Number">Its number where it comes from.</param>
/// <param name="At">When, in seconds of Unix time.</param>
/// <param name="Day">The store's date.</param>
/// <param name="Currency">In which it was paid.</param>
/// <param name="Shopper">Who bought; null: nobody that is known.</param>
/// <param name="Place">Where it went.</param>
/// <param name="Channel">Where it was placed.</param>
/// <param name="Method">How it was delivered.</param>
/// <param name="Codes">The codes that were entered, a JSON list.</param>
/// <param name="Assumed">1: the price of a line was not said.</param>
/// <param name="Delivery">What delivery came to, in minor units of its currency.</param>
/// <param name="Total">What all came to, in minor units of the base currency.</param>
public sealed record StoredPastOrder(
    long Id,
    string Number,
    long At,
    string Day,
    string Currency,
    string? Shopper,
    string? Place,
    string? Channel,
    string? Method,
    string Codes,
    long Assumed,
    long Delivery,
    long Total
)
{
    // Where a column may be empty the members are set one by one.
    private StoredPastOrder()
        : this(0, "", 0, "", "", null, null, null, null, "[]", 0, 0, 0) { }
}

/// <summary>A line of an order from before as it stands here.</summary>
public sealed record StoredPastLine(string Sku, long Quantity, long Paid);

/// <summary>How a number that is known here stands.</summary>
/// <param name="Number">The number.</param>
/// <param name="At">When that order was placed.</param>
/// <param name="Total">What it came to.</param>
public sealed record KnownPastOrder(string Number, long At, long Total);

/// <summary>Which orders from before are looked for: any that one of these says.</summary>
/// <param name="Beginning">How the number begins; null: it says nothing.</param>
/// <param name="Code">A code in normal form; null: it says nothing.</param>
/// <param name="Shoppers">Who bought.</param>
/// <param name="Skus">What was bought.</param>
/// <param name="Day">The store's date, ISO 8601; null: it says nothing.</param>
/// <param name="Amount">What it came to, in its own currency; null: it says nothing.</param>
public sealed record PastOrderQuery(
    string? Beginning,
    string? Code,
    IReadOnlyCollection<string> Shoppers,
    IReadOnlyCollection<string> Skus,
    string? Day,
    SoughtAmount? Amount
);
