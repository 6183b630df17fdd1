using System.Collections.Frozen;
using System.Globalization;

namespace RapidLedger.Pricing;

/// <summary>A currency and how many decimals its amounts have. Amounts are whole numbers of its minor unit.</summary>
/// <remarks>Source: ISO 4217, list one, the exponents 0, 2 and 3. Codes without a minor unit and fund codes are left out.</remarks>
public sealed class Currency
{
    /// <summary>The greatest amount that is read, in minor units: a million million.</summary>
    public const long Greatest = 1_000_000_000_000;

    private const string NoDecimals = "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX VND VUV XAF XOF XPF";
    private const string ThreeDecimals = "BHD IQD JOD KWD LYD OMR TND";
    private const string TwoDecimals =
        "AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CNY COP CRC CUP CVE CZK "
        + "DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT "
        + "LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN "
        + "QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD UYU UZS "
        + "VED VES WST XCD YER ZAR ZMW ZWG";

    private static readonly FrozenDictionary<string, Currency> Known = new[] { (NoDecimals, 0), (TwoDecimals, 2), (ThreeDecimals, 3) }
        .SelectMany(row => row.Item1.Split(' ').Select(code => new Currency(code, row.Item2)))
        .ToFrozenDictionary(currency => currency.Code, StringComparer.Ordinal);

    private Currency(string code, int exponent) => (Code, Exponent) = (code, exponent);

    /// <summary>Three capital letters, as in ISO 4217.</summary>
    public string Code { get; }

    /// <summary>Number of decimals: 0, 2 or 3.</summary>
    public int Exponent { get; }

    /// <summary>Every currency known here, by code.</summary>
    public static IEnumerable<Currency> All => Known.Values.OrderBy(currency => currency.Code, StringComparer.Ordinal);

    /// <summary>The currency of a code, or null if there is none.</summary>
    public static Currency? Find(string code) => Known.GetValueOrDefault(code);

    /// <summary>Minor units in one major unit: 1, 100 or 1000.</summary>
    public long MinorPerMajor =>
        Exponent switch
        {
            0 => 1,
            2 => 100,
            _ => 1000,
        };

    /// <summary>Reads a decimal string such as <c>12.50</c> as minor units.</summary>
    /// <returns>What is wrong with the text; <see cref="AmountFault.None"/> if it was read.</returns>
    public AmountFault Read(string text, out long minor)
    {
        minor = 0;
        var negative = text.StartsWith('-');
        var digits = negative ? text.AsSpan(1) : text.AsSpan();
        var point = digits.IndexOf('.');
        var whole = point < 0 ? digits : digits[..point];
        var fraction = point < 0 ? [] : digits[(point + 1)..];
        if (whole.IsEmpty || (point >= 0 && fraction.IsEmpty) || !OnlyDigits(whole) || !OnlyDigits(fraction))
            return AmountFault.NotAnAmount;
        if (negative)
            return AmountFault.Negative;
        if (fraction.Length > Exponent)
            return AmountFault.TooManyDecimals;
        whole = whole.TrimStart('0');
        if (whole.Length > 13)
            return AmountFault.OutOfRange;
        var major = whole.IsEmpty ? 0 : long.Parse(whole, CultureInfo.InvariantCulture);
        var minorPart = fraction.IsEmpty ? 0 : long.Parse(fraction, CultureInfo.InvariantCulture);
        for (var i = fraction.Length; i < Exponent; i++)
            minorPart *= 10;
        minor = (major * MinorPerMajor) + minorPart;
        return minor > Greatest ? AmountFault.OutOfRange : AmountFault.None;
    }

    /// <summary>
    /// Writes minor units as a decimal string with all of the currency's decimals: <c>12.50</c>, <c>-0.05</c>, <c>800</c>.
    /// </summary>
    public string Write(long minor)
    {
        if (Exponent == 0)
            return minor.ToString(CultureInfo.InvariantCulture);
        var (major, rest) = Math.DivRem(Math.Abs(minor), MinorPerMajor);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{(minor < 0 ? "-" : "")}{major}.{rest.ToString(CultureInfo.InvariantCulture).PadLeft(Exponent, '0')}"
        );
    }

    /// <inheritdoc/>
    public override string ToString() => Code;

    private static bool OnlyDigits(ReadOnlySpan<char> text) => !text.ContainsAnyExceptInRange('0', '9');
}

/// <summary>What can be wrong with the text of an amount.</summary>
public enum AmountFault
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>It is not a decimal number.</summary>
    NotAnAmount,

    /// <summary>It is below zero.</summary>
    Negative,

    /// <summary>It has more decimals than its currency.</summary>
    TooManyDecimals,

    /// <summary>It is above <see cref="Currency.Greatest"/>.</summary>
    OutOfRange,
}
