using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>From when to when, in the store's local time. Either end may be absent; the start is included, the end is not.</summary>
/// <param name="Start">When it opens.</param>
/// <param name="End">When it closes, later than the start.</param>
/// <param name="GraceMinutes">Minutes of elapsed time by which it opens earlier and closes later; at most <see cref="MostGrace"/>.</param>
/// <param name="Repeat">Open only for a while, again and again; then there is a start, which is the first time.</param>
public sealed record Window(LocalDateTime? Start = null, LocalDateTime? End = null, int GraceMinutes = 0, Repeat? Repeat = null)
{
    /// <summary>The most minutes of grace: a day.</summary>
    public const int MostGrace = 1_440;

    /// <summary>The first year that local times and moments lie in.</summary>
    public const int FirstYear = 1970;

    /// <summary>The last year that local times and moments lie in.</summary>
    public const int LastYear = RecurrenceSeries.LastYear;

    /// <summary>
    /// The same in elapsed time. A local time that a clock change skips moves forward by the gap; one that comes twice means the first.
    /// </summary>
    /// <remarks>That is the reading of RFC 5545, section 3.3.5, and NodaTime's lenient resolver.</remarks>
    public OpenWindow In(DateTimeZone zone)
    {
        var grace = Duration.FromMinutes(GraceMinutes);
        return new(
            Start is { } start ? start.InZoneLeniently(zone).ToInstant() - grace : Instant.MinValue,
            End is { } end ? end.InZoneLeniently(zone).ToInstant() + grace : Instant.MaxValue
        );
    }
}

/// <summary>A window in elapsed time, grace included.</summary>
/// <param name="Opens">The first moment in it.</param>
/// <param name="Closes">The first moment after it.</param>
public readonly record struct OpenWindow(Instant Opens, Instant Closes)
{
    /// <summary>Open at every moment.</summary>
    public static readonly OpenWindow Always = new(Instant.MinValue, Instant.MaxValue);

    /// <summary>Whether a moment is before it.</summary>
    public bool IsAhead(Instant at) => at < Opens;

    /// <summary>Whether a moment is after it.</summary>
    public bool IsOver(Instant at) => at >= Closes;
}

/// <summary>How a window opens again and again.</summary>
/// <param name="Rule">Counted from the window's start in local time.</param>
/// <param name="Lasts">How long it stays open: days and weeks by the calendar, hours and less in elapsed time; at most
/// <see cref="MostDays"/> days in all.</param>
public sealed record Repeat(RecurrenceRule Rule, Period Lasts)
{
    /// <summary>The longest that it may stay open.</summary>
    public const int MostDays = 100_000;

    /// <summary>The first time of the rule from a start on; null: it never hits.</summary>
    public LocalDateTime? FirstFrom(LocalDateTime start, DateTimeZone zone) =>
        Rule.Times(start, zone).Cast<LocalDateTime?>().FirstOrDefault();
}
