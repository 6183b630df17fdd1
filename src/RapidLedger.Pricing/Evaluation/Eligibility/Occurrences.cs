using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>One time at which a repeating window is open, grace included.</summary>
/// <param name="Starts">The local time it starts at, as the rule has it.</param>
/// <param name="Opens">The first moment in it.</param>
/// <param name="Ends">When it is over, without grace.</param>
/// <param name="Closes">The first moment after it.</param>
public sealed record Occurrence(LocalDateTime Starts, Instant Opens, Instant Ends, Instant Closes);

/// <summary>
/// The times at which a repeating window is open. Only those about a moment are worked out, however many lie before it; safe from any
/// thread.
/// </summary>
public sealed class Occurrences
{
    // Clock changes move local times by less than this, so that times in order may be out of order by as much.
    private static readonly Period Wobble = Period.FromDays(2);

    private readonly RecurrenceSeries series;
    private readonly Repeat repeat;
    private readonly DateTimeZone zone;
    private readonly Duration grace;
    private readonly OpenWindow whole;

    private volatile Spell? known;

    internal Occurrences(Window window, Repeat repeat, DateTimeZone zone)
    {
        (this.repeat, this.zone, grace, whole) = (repeat, zone, Duration.FromMinutes(window.GraceMinutes), window.In(zone));
        series = new(repeat.Rule, window.Start!.Value, zone);
    }

    /// <summary>The occurrences of a window; null if it does not repeat.</summary>
    public static Occurrences? Of(Window window, DateTimeZone zone) => window.Repeat is { } repeat ? new(window, repeat, zone) : null;

    /// <summary>Whether it is open at a moment, as far as its occurrences go.</summary>
    public bool IsOpen(Instant at) => At(at).IsOpen;

    /// <summary>When that changes next.</summary>
    internal Instant Turn(Instant at) => At(at).To;

    /// <summary>The next occurrence that opens after a moment and while the window is open; null: there is none.</summary>
    public Occurrence? Next(Instant at)
    {
        var from = (at + grace).InZone(zone).LocalDateTime - Wobble;
        Occurrence? next = null;
        foreach (var time in series.From(from))
        {
            // Once one is found, only those that a clock change put behind it could open earlier.
            if (next is not null && time > next.Starts + Wobble)
                break;
            var occurrence = Of(time);
            if (next is null && occurrence.Opens - grace >= whole.Closes)
                break;
            if (occurrence.Opens > at && occurrence.Opens < whole.Closes && (next is null || occurrence.Opens < next.Opens))
                next = occurrence;
        }

        return next;
    }

    /// <summary>Those that close after a moment and open while the window is open, in the order in which they open.</summary>
    internal IEnumerable<Occurrence> From(Instant at)
    {
        // Local times are in order, moments nearly so: what opens within the wobble waits for what may come before it.
        var waiting = new PriorityQueue<Occurrence, Instant>();
        var from = (at - grace).InZone(zone).LocalDateTime - repeat.Lasts - Wobble;
        foreach (var time in series.From(from))
        {
            while (waiting.TryPeek(out var first, out _) && time > first.Starts + Wobble + Wobble)
                yield return waiting.Dequeue();
            var occurrence = Of(time);
            if (occurrence.Opens - Duration.FromDays(Wobble.Days) >= whole.Closes)
                break;
            if (occurrence.Closes > at && occurrence.Opens < whole.Closes)
                waiting.Enqueue(occurrence, occurrence.Opens);
        }

        while (waiting.TryDequeue(out var last, out _))
            yield return last;
    }

    /// <summary>The last occurrence that closed by a moment; null: none has.</summary>
    public Occurrence? Last(Instant at) =>
        series.Back((at + grace).InZone(zone).LocalDateTime).Select(Of).FirstOrDefault(occurrence => occurrence.Closes <= at);

    private Spell At(Instant at)
    {
        if (known is { } spell && spell.From <= at && at < spell.To)
            return spell;
        Occurrence? latest = null;
        var closes = Instant.MinValue;
        var isOpen = false;
        foreach (var time in series.Back((at + grace).InZone(zone).LocalDateTime + Wobble))
        {
            if (latest is not null && time < latest.Starts - Wobble)
                break;
            var occurrence = Of(time);
            if (occurrence.Opens > at)
                continue;
            latest ??= occurrence;
            isOpen |= at < occurrence.Closes;
            if (occurrence.Closes > closes)
                closes = occurrence.Closes;
        }

        // Nothing changes until it closes, or until the next one opens.
        var to = isOpen ? closes : Next(at)?.Opens ?? Instant.MaxValue;
        return known = new(at, to, isOpen);
    }

    private Occurrence Of(LocalDateTime starts)
    {
        var lasts = repeat.Lasts;
        var days = Period.FromDays(lasts.Days + (7 * lasts.Weeks));
        var hours = Duration.FromHours(lasts.Hours) + Duration.FromMinutes(lasts.Minutes) + Duration.FromSeconds(lasts.Seconds);
        var ends = (starts + days).InZoneLeniently(zone).ToInstant() + hours;
        return new(starts, starts.InZoneLeniently(zone).ToInstant() - grace, ends, ends + grace);
    }

    private sealed record Spell(Instant From, Instant To, bool IsOpen);
}
