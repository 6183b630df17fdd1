namespace RapidLedger.Pricing;

/// <summary>How much a finding matters.</summary>
public enum Severity
{
    /// <summary>It cannot be meant: such a promotion is not put live.</summary>
    Error,

    /// <summary>It may be meant, and is costly if it is not.</summary>
    Doubt,

    /// <summary>Good to know.</summary>
    Remark,
}

/// <summary>Something about a promotion that a second look finds.</summary>
/// <param name="Check">The name of the check, the same each time.</param>
/// <param name="Severity">How much it matters.</param>
/// <param name="At">Where: a JSON pointer (RFC 6901) into the promotion as it stands in files.</param>
/// <param name="Sentence">What, with its figures.</param>
/// <param name="Mend">What would put it right in one press, if there is such a thing.</param>
/// <param name="Other">The id of the other promotion that it is about, if it is about one: of several findings of a check at one place that
/// tells them apart.</param>
public sealed record Finding(string Check, Severity Severity, string At, string Sentence, Mend? Mend = null, string? Other = null);

/// <summary>A change that puts a finding right.</summary>
/// <param name="Words">What it does: "at most 50.00 in one cart".</param>
/// <param name="At">The place that changes: a JSON pointer.</param>
/// <param name="Value">What stands there then: a text, a whole number or a decimal; null: nothing.</param>
public sealed record Mend(string Words, string At, object? Value);
