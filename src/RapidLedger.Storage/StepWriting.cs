using System.Globalization;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>A step while it is being written.</summary>
internal sealed class StepWriting(StepSource source, string what, Instant at, long? takesBack)
{
    private const int AtOnce = 200;

    private long number;
    private int changed;

    /// <summary>How many of the changes are written.</summary>
    public int Done { get; private set; }

    /// <summary>Whether a row was refused: nothing will count.</summary>
    public bool IsRefused { get; private set; }

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
        while (Done < changes.Count)
        {
            var (some, chunk) = (new List<ChangedRow>(), changes.Skip(Done).Take(AtOnce).ToArray());
            rows.Fetch(chunk.Select(change => (change.Kind, change.Id)));
            foreach (var change in chunk)
                if (rows.Changed(change) is { } row)
                {
                    IsRefused |= !accepts(row);
                    some.Add(row);
                }

            Done += chunk.Length;
            if (!IsRefused)
                rows.Add(number, changed, some);
            changed += some.Count;
            if (Done < changes.Count && isEnough())
                return false;
        }

        return true;
    }

    /// <summary>Makes it count, all at once.</summary>
    /// <param name="rows">Where.</param>
    /// <param name="stocks">What is free now of SKUs.</param>
    /// <param name="continued">The step that this one becomes part of; null: it stays its own.</param>
    /// <param name="evenIfEmpty">Whether it counts without rows: something else is written with it.</param>
    public StepOutcome Count(StepRows rows, IReadOnlyList<FreeStock> stocks, long? continued, bool evenIfEmpty)
    {
        rows.Set(stocks);
        if (changed == 0 && !evenIfEmpty)
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
