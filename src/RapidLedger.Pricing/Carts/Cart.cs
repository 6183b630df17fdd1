using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>What a shopper has, at one moment.</summary>
/// <param name="At">The moment it is priced at.</param>
/// <param name="Lines">In the order in which the shopper filled it; a SKU may stand in several lines.</param>
/// <param name="Currency">The currency it is paid in; none: the store's.</param>
/// <param name="Channel">Where it is bought.</param>
/// <param name="Method">The id of the delivery method chosen, if any.</param>
/// <param name="Destination">Where it goes, if known.</param>
/// <param name="Shopper">Who buys; none: a guest.</param>
/// <param name="Codes">The codes entered, as typed.</param>
/// <param name="Picks">The gifts picked, by promotion.</param>
/// <param name="GuestKey">What a guest is known by, such as an address: limits per shopper count by it.</param>
/// <param name="Language">What the shopper reads (BCP 47); none: the store's.</param>
public sealed record Cart(
    Instant At,
    EquatableArray<Line> Lines,
    Currency? Currency = null,
    string Channel = Cart.Web,
    string? Method = null,
    Place? Destination = null,
    Shopper? Shopper = null,
    EquatableArray<string> Codes = default,
    EquatableArray<Picks> Picks = default,
    string? GuestKey = null,
    string? Language = null
)
{
    /// <summary>The channel of a cart that names none.</summary>
    public const string Web = "web";

    /// <summary>Whether limits per shopper can be told.</summary>
    internal bool IsShopperKnown => Shopper?.Id is not null || (Shopper is null && GuestKey is not null);
}

/// <summary>One row of a cart.</summary>
/// <param name="Sku">What it holds.</param>
/// <param name="Quantity">How many units, 1 to <see cref="GreatestQuantity"/>.</param>
public sealed record Line(string Sku, int Quantity)
{
    /// <summary>The most units one line holds.</summary>
    public const int GreatestQuantity = 1_000_000;
}

/// <summary>The gifts a shopper picked from one promotion, one entry a unit.</summary>
public sealed record Picks(string Promotion, EquatableArray<string> Skus);

/// <summary>Who buys.</summary>
/// <param name="Id">Who it is; none: signed in, but limits per shopper cannot be told.</param>
/// <param name="Groups">The groups the shopper is in.</param>
/// <param name="Orders">Past orders.</param>
/// <param name="Spent">Lifetime spend, in minor units of the store's base currency.</param>
public sealed record Shopper(string? Id = null, EquatableArray<string> Groups = default, long Orders = 0, long Spent = 0);

/// <summary>What has been used of one promotion so far.</summary>
/// <param name="Total">Orders it has been used by.</param>
/// <param name="Shopper">Orders of the cart's shopper.</param>
/// <param name="Today">Orders of the store's day.</param>
/// <param name="Budget">Given so far, in minor units of the base currency.</param>
/// <param name="Drawn">Of a credit, what has been drawn, in minor units of the base currency.</param>
public sealed record Usage(long Total = 0, long Shopper = 0, long Today = 0, long Budget = 0, long Drawn = 0)
{
    /// <summary>Nothing used yet.</summary>
    public static readonly Usage None = new();
}
