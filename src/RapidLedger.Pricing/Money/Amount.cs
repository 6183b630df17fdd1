namespace RapidLedger.Pricing;

/// <summary>An amount as a merchant names it: in the store's base currency, or by currency.</summary>
/// <param name="Named">Minor units by currency; at least one, each currency once.</param>
public sealed record Amount(EquatableArray<NamedAmount> Named)
{
    /// <summary>An amount in one currency.</summary>
    public static Amount In(Currency currency, long minor) => new((EquatableArray<NamedAmount>)[new NamedAmount(currency, minor)]);

    /// <summary>
    /// The amount in a cart's currency: the named one, or the base currency's converted at the store's rate and rounded.
    /// Null if neither is named or the rate is missing.
    /// </summary>
    public long? For(Currency currency, Store store)
    {
        if (Find(currency) is { } named)
            return named;
        return Find(store.Currency) is { } inBase && store.RateTo(currency) is { } rate
            ? rate.Convert(inBase, store.Currency, currency, store.Rounding)
            : null;
    }

    /// <summary>The minor units named for a currency, or null.</summary>
    public long? Find(Currency currency)
    {
        foreach (var entry in Named)
            if (entry.Currency == currency)
                return entry.Minor;
        return null;
    }
}

/// <summary>Minor units of one currency.</summary>
public sealed record NamedAmount(Currency Currency, long Minor);

/// <summary>How many units of another currency one unit of the base currency buys, held exactly.</summary>
/// <param name="Mantissa">The digits of the rate, above zero, at most twelve.</param>
/// <param name="Decimals">How many of them stand behind the point, at most ten.</param>
public sealed record Rate(long Mantissa, int Decimals)
{
    /// <summary>More than anything that is counted with: what a conversion comes to that has no bound of its own.</summary>
    public const long TooMuch = 1L << 60;

    /// <summary>Converts minor units and rounds once; <see cref="TooMuch"/> if it comes to more.</summary>
    public long Convert(long minor, Currency from, Currency to, Rounding rounding)
    {
        var (dividend, divisor) = ((Int128)minor * Mantissa * to.MinorPerMajor, (Int128)Power(Decimals) * from.MinorPerMajor);
        return dividend / divisor >= TooMuch ? TooMuch : rounding.Quotient(dividend, divisor);
    }

    /// <summary>Converts minor units of the other currency back, and rounds once.</summary>
    public long ToBase(long minor, Currency inBase, Currency other, Rounding rounding)
    {
        var (dividend, divisor) = ((Int128)minor * Power(Decimals) * inBase.MinorPerMajor, (Int128)Mantissa * other.MinorPerMajor);
        return dividend / divisor >= TooMuch ? TooMuch : rounding.Quotient(dividend, divisor);
    }

    private static long Power(int decimals)
    {
        var power = 1L;
        for (var i = 0; i < decimals; i++)
            power *= 10;
        return power;
    }
}
