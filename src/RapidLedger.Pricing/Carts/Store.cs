using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>What is true of the whole shop.</summary>
/// <param name="Currency">The base currency.</param>
/// <param name="Zone">The zone of its local times and days.</param>
/// <param name="Rounding">How amounts are rounded.</param>
/// <param name="Policy">How the promotions that apply are chosen.</param>
/// <param name="Rates">What one unit of the base currency buys of others.</param>
/// <param name="Families">Named groups of promotions.</param>
/// <param name="Shipping">Delivery methods, in order.</param>
/// <param name="Tax">How goods and delivery are taxed.</param>
/// <param name="MarginFloor">The share of net the store wants to keep as margin.</param>
/// <param name="Language">What its shoppers read unless they say otherwise (BCP 47); none: English.</param>
public sealed record Store(
    Currency Currency,
    DateTimeZone Zone,
    Rounding Rounding = Rounding.HalfUp,
    Policy Policy = Policy.Best,
    EquatableArray<ExchangeRate> Rates = default,
    EquatableArray<Family> Families = default,
    EquatableArray<ShippingMethod> Shipping = default,
    Tax? Tax = null,
    Percent? MarginFloor = null,
    string? Language = null
)
{
    private static readonly Rate Same = new(1, 0);

    /// <summary>What one unit of the base currency buys, or null if it is not known.</summary>
    public Rate? RateTo(Currency currency)
    {
        if (currency == Currency)
            return Same;
        foreach (var entry in Rates)
            if (entry.Currency == currency)
                return entry.Rate;
        return null;
    }

    /// <summary>An amount of a currency that the store can be paid in, in minor units of the base currency, rounded once.</summary>
    /// <param name="minor">Minor units of the currency, not below zero.</param>
    /// <param name="currency">The currency.</param>
    /// <param name="rounding">How it is rounded.</param>
    public long InBase(long minor, Currency currency, Rounding rounding) =>
        currency == Currency ? minor : RateTo(currency)!.ToBase(minor, Currency, currency, rounding);

    /// <summary>The currencies a cart can be priced in: the base currency first.</summary>
    public IEnumerable<Currency> Currencies => [Currency, .. Rates.Select(entry => entry.Currency).Where(currency => currency != Currency)];
}

/// <summary>How the promotions that apply are chosen among those that could.</summary>
public enum Policy
{
    /// <summary>The choice that is worth most to the shopper.</summary>
    Best,

    /// <summary>In order of rank, each that adds something.</summary>
    Rank,
}

/// <summary>What one unit of the base currency buys of another.</summary>
public sealed record ExchangeRate(Currency Currency, Rate Rate);

/// <summary>A named group of promotions.</summary>
/// <param name="Name">The name used in files.</param>
/// <param name="OnePerCart">At most one of them applies to a cart.</param>
public sealed record Family(string Name, bool OnePerCart = false);

/// <summary>A way of delivery.</summary>
/// <param name="Id">The name used in files.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Carrier">Who carries it.</param>
/// <param name="Places">Where it delivers; none: everywhere.</param>
/// <param name="Bands">Prices by weight, ascending; one band without bound if the price does not depend on it.</param>
/// <param name="Cost">What it costs the shop; none: unknown.</param>
public sealed record ShippingMethod(
    string Id,
    string Name,
    string? Carrier,
    Places? Places,
    EquatableArray<WeightBand> Bands,
    Amount? Cost = null
);

/// <summary>A price up to a weight.</summary>
/// <param name="ToGrams">The greatest weight, included; none: any.</param>
/// <param name="Price">What the shopper is charged.</param>
public sealed record WeightBand(long? ToGrams, Amount Price);

/// <summary>How goods and delivery are taxed.</summary>
/// <param name="Mode">Whether prices hold the tax.</param>
/// <param name="ShippingClass">The class of delivery; none: untaxed.</param>
/// <param name="Rates">Rates by class and place; the most specific place wins.</param>
public sealed record Tax(TaxMode Mode, string? ShippingClass, EquatableArray<TaxRate> Rates)
{
    /// <summary>The rate of a class at a destination: that of the most specific place wins. Null: it is not taxed there.</summary>
    /// <param name="taxClass">The class; null: untaxed.</param>
    /// <param name="destination">Where it goes; null: unknown.</param>
    public Percent? RateOf(string? taxClass, Place? destination)
    {
        if (destination is null || taxClass is null || Mode == TaxMode.None)
            return null;
        TaxRate? found = null;
        foreach (var rate in Rates)
            if (rate.Class == taxClass && rate.Place.Holds(destination) && (found is null || found.Place.Holds(rate.Place)))
                found = rate;
        return found?.Percent;
    }
}

/// <summary>Whether prices hold the tax.</summary>
public enum TaxMode
{
    /// <summary>No tax.</summary>
    None,

    /// <summary>Prices hold it.</summary>
    Inclusive,

    /// <summary>It comes on top.</summary>
    Exclusive,
}

/// <summary>The rate of a class in a place.</summary>
public sealed record TaxRate(string Class, Place Place, Percent Percent);
