namespace RapidLedger.Pricing;

/// <summary>
/// The work budget of one pricing, counted and not timed, so that the same case ends at the same place on any machine. A unit is near to
/// the
/// time of looking at one run; what each place counts was fitted by least squares to the times of 637 carts (docs/decisions/0004).
/// Everything that looks at runs counts itself; whoever could go on for long asks whether it may.
/// </summary>
internal sealed class WorkBudget
{
    /// <summary>What one effort may cost: some 20 to 30 ms on one core of a plain machine.</summary>
    public const long OfOneEffort = 3_000_000;

    // How often it is looked whether the caller has gone away.
    private const long BetweenLooks = 100_000;

    // What anything costs that looks at runs, however few they are.
    private const long ToBegin = 16;

    private long limit;
    private long nextLook;
    private CancellationToken cancelled;

    /// <summary>What has been done so far.</summary>
    public long Spent { get; private set; }

    /// <summary>Whether as much has been done as may be.</summary>
    public bool IsOver => Spent >= limit;

    /// <summary>What may still be done.</summary>
    public long Left => Math.Max(0, limit - Spent);

    /// <summary>Begins to count.</summary>
    /// <param name="most">What may be done.</param>
    /// <param name="gone">Says that nobody waits for the result any more.</param>
    public void Open(long most, CancellationToken gone) => (Spent, limit, nextLook, cancelled) = (0, most, 0, gone);

    /// <summary>Counts work that has been done or is about to be: so many units, and what it costs to begin.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the result any more.</exception>
    public void Count(long units)
    {
        Spent += units + ToBegin;
        if (Spent >= nextLook)
            Look();
    }

    private void Look()
    {
        cancelled.ThrowIfCancellationRequested();
        nextLook = Spent + BetweenLooks;
    }
}
