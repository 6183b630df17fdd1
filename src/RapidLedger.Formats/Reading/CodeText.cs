using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>What a code may be, wherever it is written: in a promotion, in a batch, in a file of codes.</summary>
public static class CodeText
{
    /// <summary>What is wrong with a code; null: it can be used.</summary>
    /// <param name="normal">In normal form, or in bare form where it is of a batch.</param>
    public static (string Code, string Message)? FaultOf(string normal) =>
        normal.Length == 0 ? (ProblemCode.Empty, "A code must not be empty.")
        : normal.Length > Trigger.LongestCode
            ? (ProblemCode.OutOfRange, $"A code holds at most {Trigger.LongestCode} characters; this one has {normal.Length}.")
        : normal.Any(char.IsControl) ? (ProblemCode.NotAllowed, "A code must not hold control characters.")
        : null;
}
