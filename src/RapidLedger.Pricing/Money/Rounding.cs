using System.Runtime.CompilerServices;

namespace RapidLedger.Pricing;

/// <summary>How an exact value becomes a whole number of minor units.</summary>
public enum Rounding
{
    /// <summary>Half away from zero: commercial rounding.</summary>
    HalfUp,

    /// <summary>Half to the even neighbour, as IEEE 754 roundTiesToEven.</summary>
    HalfEven,
}

/// <summary>Exact division with one rounding at its end.</summary>
public static class RoundingExtensions
{
    /// <summary>The rounded quotient of two whole numbers, neither below zero, the divisor above it.</summary>
    public static long Quotient(this Rounding rounding, Int128 dividend, Int128 divisor)
    {
        if (dividend <= long.MaxValue && divisor <= long.MaxValue)
            return rounding.Quotient((long)dividend, (long)divisor);
        var quotient = dividend / divisor;
        var rest = dividend - (quotient * divisor);
        return (long)(Up(rounding, rest.CompareTo(divisor - rest), Int128.IsOddInteger(quotient)) ? quotient + 1 : quotient);
    }

    /// <inheritdoc cref="Quotient(Rounding, Int128, Int128)"/>
    // Inlined, a divisor that the compiler knows spares the division.
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static long Quotient(this Rounding rounding, long dividend, long divisor)
    {
        var (quotient, rest) = Math.DivRem(dividend, divisor);
        return Up(rounding, rest.CompareTo(divisor - rest), (quotient & 1) == 1) ? quotient + 1 : quotient;
    }

    // compared: the rest against what is missing to the next whole number; zero is a tie.
    private static bool Up(Rounding rounding, int compared, bool odd) =>
        compared > 0 || (compared == 0 && (rounding == Rounding.HalfUp || odd));
}
