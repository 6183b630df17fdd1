using System.Text;

namespace RapidLedger.Pricing;

/// <summary>How a promotion starts: by itself, or by one of its codes.</summary>
/// <param name="Codes">As typed; none: by itself.</param>
public sealed record Trigger(EquatableArray<string> Codes)
{
    /// <summary>The most characters of a code in normal form.</summary>
    public const int LongestCode = 64;

    /// <summary>Starts by itself.</summary>
    public static readonly Trigger Automatic = new([]);

    /// <summary>Whether it starts without a code.</summary>
    public bool IsAutomatic => Codes.Count == 0;

    /// <summary>The form in which codes compare: NFKC (UAX 15), then without white space around, then in invariant upper case.</summary>
    /// <param name="code">Any text without lone surrogates.</param>
    public static string Normal(string code) =>
        (Ascii.IsValid(code) ? code : code.Normalize(NormalizationForm.FormKC)).Trim().ToUpperInvariant();
}
