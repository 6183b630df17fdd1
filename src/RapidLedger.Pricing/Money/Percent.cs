namespace RapidLedger.Pricing;

/// <summary>A percentage from 0 to 100 with at most 4 decimals, held exactly.</summary>
/// <param name="TenThousandths">Ten-thousandths of one percent: 12.5 % is 125,000.</param>
public readonly record struct Percent(int TenThousandths)
{
    /// <summary>One hundred percent.</summary>
    public static readonly Percent Whole = new(Unit * 100);

    private const int Unit = 10_000;

    /// <summary>The percentage of a decimal value, or null if it is out of range or has more than 4 decimals.</summary>
    public static Percent? From(decimal value) =>
        value is < 0 or > 100 || value * Unit != decimal.Truncate(value * Unit) ? null : new Percent((int)(value * Unit));

    /// <summary>The value as a decimal number: 12.5.</summary>
    public decimal Value => (decimal)TenThousandths / Unit;

    /// <summary>The rounded share of an amount that is not below zero.</summary>
    public long Of(long amount, Rounding rounding) =>
        amount <= long.MaxValue / (Unit * 100)
            ? rounding.Quotient(amount * TenThousandths, Unit * 100L)
            : rounding.Quotient((Int128)amount * TenThousandths, Unit * 100);

    /// <summary>The net part of an amount that holds this percentage on top: amount x 100 / (100 + percent), rounded.</summary>
    public long Without(long amount, Rounding rounding) => rounding.Quotient((Int128)amount * Unit * 100, (Unit * 100) + TenThousandths);

    /// <summary>The tax in an amount that includes it: amount x percent / (100 + percent), rounded.</summary>
    public long Within(long amount, Rounding rounding) => rounding.Quotient((Int128)amount * TenThousandths, (Unit * 100) + TenThousandths);
}
