namespace RapidLedger.Pricing;

/// <summary>How a price comes down.</summary>
public abstract record Take
{
    private Take() { }

    /// <summary>By a share of it, rounded.</summary>
    public sealed record Percentage(Percent Percent) : Take;

    /// <summary>By an amount, at most all of it.</summary>
    public sealed record Off(Amount Amount) : Take;

    /// <summary>To a price, if it is above it.</summary>
    public sealed record To(Amount Price) : Take;

    /// <summary>The same in a cart's currency; null if an amount is not known in it.</summary>
    internal CartTake? For(Currency currency, Store store) =>
        this switch
        {
            Percentage(var percent) => new CartTake(Kind.Percent, percent, 0, store.Rounding),
            Off(var amount) => amount.For(currency, store) is { } minor ? new CartTake(Kind.Amount, default, minor, store.Rounding) : null,
            To(var price) => price.For(currency, store) is { } minor ? new CartTake(Kind.Price, default, minor, store.Rounding) : null,
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    internal enum Kind
    {
        Percent,
        Amount,
        Price,
    }
}

/// <summary>A <see cref="Take"/> in minor units of the cart's currency.</summary>
internal readonly record struct CartTake(Take.Kind Kind, Percent Percent, long Minor, Rounding Rounding)
{
    /// <summary>What is taken from a price, or from a sum of prices, not below zero.</summary>
    public long From(long price) =>
        Kind switch
        {
            Take.Kind.Percent => Percent.Of(price, Rounding),
            Take.Kind.Amount => Math.Min(Minor, price),
            _ => price - Math.Min(Minor, price),
        };
}
