using System.Text;

namespace RapidLedger.Pricing;

/// <summary>How a promotion starts: by itself, or by one of its codes.</summary>
/// <param name="Codes">As typed.</param>
/// <param name="Batches">Batches of which every code starts it. Neither codes nor batches: it starts by itself.</param>
public sealed record Trigger(EquatableArray<string> Codes, EquatableArray<string> Batches = default)
{
    /// <summary>The most characters of a code in normal form.</summary>
    public const int LongestCode = 64;

    /// <summary>Starts by itself.</summary>
    public static readonly Trigger Automatic = new([]);

    /// <summary>Whether it starts without a code.</summary>
    public bool IsAutomatic => Codes.Count == 0 && Batches.Count == 0;

    /// <summary>The form in which codes compare: NFKC (UAX 15), then without white space around, then in invariant upper case.</summary>
    /// <param name="code">Any text without lone surrogates.</param>
    public static string Normal(string code) =>
        (Ascii.IsValid(code) ? code : code.Normalize(NormalizationForm.FormKC)).Trim().ToUpperInvariant();

    /// <summary>The form in which codes of batches are found: the normal form without hyphens and spaces.</summary>
    /// <param name="normal">A code in normal form.</param>
    public static string Bare(string normal) =>
        normal.AsSpan().ContainsAny('-', ' ')
            ? normal.Replace("-", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal)
            : normal;
}
