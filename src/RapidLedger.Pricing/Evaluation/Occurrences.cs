using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using NodaTime;
using Duration = NodaTime.Duration;
using Period = NodaTime.Period;

namespace RapidLedger.Pricing;

/// <summary>
/// The times at which a repeating window is open. They are worked out as far as they are needed and kept; safe from any thread.
/// </summary>
internal sealed class Occurrences(Window window, Repeat repeat, DateTimeZone zone)
{
    private static readonly Duration Ahead = Duration.FromDays(400);

    private volatile Known known = new([], Instant.MinValue, false);

    /// <summary>Whether it is open at a moment.</summary>
    public bool IsOpen(Instant at)
    {
        foreach (var (opens, closes) in Until(at).Open) if (opens <= at && at < closes) return true;
        return false;
    }

    /// <summary>Why it is not open at a moment; null: it is.</summary>
    public Reason? Refuses(Instant at)
    {
        if (IsOpen(at)) return null;
        var found = Until(at);
        var next = found.Open.FirstOrDefault(occurrence => occurrence.Opens > at);
        if (next != default) return new Reason.BetweenOccurrences(next.Opens);
        return new Reason.Ended(found.Open.Length > 0 ? found.Open.Max(occurrence => occurrence.Closes) : at);
    }

    /// <summary>Whether a text is a rule that can be used: it names how often, and not more often than hourly.</summary>
    public static bool CanRead(string rule)
    {
        try
        {
            var pattern = new RecurrencePattern(rule);
            return pattern.Frequency is FrequencyType.Hourly or FrequencyType.Daily or FrequencyType.Weekly or FrequencyType.Monthly or FrequencyType.Yearly
                && pattern.Interval >= 1;
        }
        catch (Exception error) when (error is ArgumentException or FormatException or OverflowException or InvalidOperationException or IndexOutOfRangeException)
        {
            return false;
        }
    }

    /// <summary>The local times of a rule from a first one on, in order.</summary>
    public static IEnumerable<LocalDateTime> Times(LocalDateTime first, string rule)
    {
        // Without a zone, so that the rule counts local times; what a clock change does to them is decided here.
        var happening = new CalendarEvent { Start = new CalDateTime(first.ToDateTimeUnspecified()), RecurrenceRule = new RecurrencePattern(rule) };
        return happening.GetOccurrences().Select(occurrence => LocalDateTime.FromDateTime(occurrence.Period.StartTime.Value));
    }

    private Known Until(Instant at)
    {
        var found = known;
        if (found.Complete || at < found.Through) return found;
        var through = at + Ahead;
        var grace = Duration.FromMinutes(window.GraceMinutes);
        var open = new List<(Instant, Instant)>();
        var complete = true;
        foreach (var time in Times(window.Start!.Value, repeat.Rule))
        {
            var start = time.InZoneLeniently(zone).ToInstant();
            if (start > through)
            {
                complete = false;
                break;
            }

            open.Add((start - grace, End(time) + grace));
        }

        // Another thread may have looked further; then this is done again when it is needed.
        return known = new([.. open], through - grace, complete);
    }

    private Instant End(LocalDateTime start)
    {
        var lasts = repeat.Lasts;
        var days = Period.FromDays(lasts.Days + (7 * lasts.Weeks));
        var hours = Duration.FromHours(lasts.Hours) + Duration.FromMinutes(lasts.Minutes) + Duration.FromSeconds(lasts.Seconds);
        return (start + days).InZoneLeniently(zone).ToInstant() + hours;
    }

    private sealed record Known((Instant Opens, Instant Closes)[] Open, Instant Through, bool Complete);
}
