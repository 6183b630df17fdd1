namespace RapidLedger.Pricing;

/// <summary>How often something is given in one cart.</summary>
/// <param name="Most">At most so many times; none: every time it fits.</param>
public readonly record struct Repetition(long? Most)
{
    /// <summary>Once.</summary>
    public static readonly Repetition Once = new(1);

    /// <summary>Every time it fits.</summary>
    public static readonly Repetition Every = new(null);

    /// <summary>So many times as fit, within what is allowed.</summary>
    public long Of(long fitting) => Most is { } most ? Math.Min(most, fitting) : fitting;
}
