using System.Globalization;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>A step while it is being written.</summary>
internal sealed class StepWriting(StepSource source, string what, Instant at, long? takesBack)
{
    private long number;
    private int changed;

    /// <summary>How many of the changes are written.</summary>
    public int Done { get; private set; }

    /// <summary>Whether a row was refused: nothing will count.</summary>
    public bool IsRefused { get; private set; }

    /// <summary>Whether it counts.</summary>
    public bool Counts { get; private set; }

    /// <summary>Its own number, also where it is part of another step.</summary>
    public long Number => number;

    /// <summary>Gives it a number, under which nobody reads it yet.</summary>
    public long Begin(StepRows rows) => number = rows.Begin(source, what, at, takesBack);

    /// <summary>Writes the next rows; those that do not differ are left out.</summary>
    /// <param name="rows">Where.</param>
    /// <param name="changes">All changes.</param>
    /// <param name="accepts">Looks at each; all are looked at, so that all that is wrong is told.</param>
    /// <param name="isEnough">Whether this piece is long enough.</param>
    /// <returns>Whether all are written.</returns>
    public bool Add(StepRows rows, IReadOnlyList<RowChange> changes, Func<ChangedRow, bool> accepts, Func<bool> isEnough)
    {
        for (; Done < changes.Count; Done++)
        {
            if (Done % 16 == 15 && isEnough())
                return false;
            if (rows.Changed(changes[Done]) is not { } row)
                continue;
            IsRefused |= !accepts(row);
            if (IsRefused)
                continue;
            rows.Add(number, changed++, row);
        }

        return true;
    }

    /// <summary>Makes it count, all at once.</summary>
    /// <param name="rows">Where.</param>
    /// <param name="stocks">What is free now of SKUs.</param>
    /// <param name="continued">The step that this one becomes part of; null: it stays its own.</param>
    public StepOutcome Count(StepRows rows, IReadOnlyList<FreeStock> stocks, long? continued)
    {
        rows.Set(stocks);
        Counts = true;
        if (changed == 0)
        {
            rows.Drop(number);
            return StepOutcome.Nothing;
        }

        rows.Count(number, takesBack);
        if (continued is { } whole)
            rows.Join(number, whole);
        rows.ForgetOld(StepRepository.Kept);
        return new(continued ?? number, changed, []);
    }

    /// <summary>Drops what was written of it.</summary>
    public int Drop(StepRows rows) => rows.Drop(number);

    internal static string Say(Instant at) => at.ToString("uuuu-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
}
