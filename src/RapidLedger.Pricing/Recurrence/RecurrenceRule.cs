using System.Globalization;
using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>How often a rule recurs; hourly is the most often that is of use here.</summary>
public enum Frequency
{
    /// <summary>Every so many hours.</summary>
    Hourly,

    /// <summary>Every so many days.</summary>
    Daily,

    /// <summary>Every so many weeks.</summary>
    Weekly,

    /// <summary>Every so many months.</summary>
    Monthly,

    /// <summary>Every so many years.</summary>
    Yearly,
}

/// <summary>A day of the week, or the n-th of its kind in a month or year, counted from the end below zero; 0: every one.</summary>
public readonly record struct WeekdayNumber(int Ordinal, IsoDayOfWeek Day);

/// <summary>
/// A recurrence rule. Its parts are kept as written; what they mean for a first local time is told by <see cref="Times"/>.
/// </summary>
/// <remarks>Source: RFC 5545, section 3.3.10. SECONDLY and MINUTELY are not read.</remarks>
public sealed class RecurrenceRule : IEquatable<RecurrenceRule>
{
    private static readonly IsoDayOfWeek[] Days =
    [
        IsoDayOfWeek.Monday,
        IsoDayOfWeek.Tuesday,
        IsoDayOfWeek.Wednesday,
        IsoDayOfWeek.Thursday,
        IsoDayOfWeek.Friday,
        IsoDayOfWeek.Saturday,
        IsoDayOfWeek.Sunday,
    ];

    private static readonly string[] DayNames = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"];

    private RecurrenceRule(string text) => Text = text;

    /// <summary>As written.</summary>
    public string Text { get; }

    /// <summary>FREQ.</summary>
    public Frequency Frequency { get; private set; }

    /// <summary>INTERVAL: every so many of them, at least 1.</summary>
    public int Interval { get; private set; } = 1;

    /// <summary>COUNT: so many times in all, at least 1; null: without bound.</summary>
    public int? Count { get; private set; }

    /// <summary>UNTIL as a local time, included: a date means the end of that day; null: none, or <see cref="UntilInstant"/>.</summary>
    public LocalDateTime? UntilLocal { get; private set; }

    /// <summary>UNTIL in UTC, included; null: none, or <see cref="UntilLocal"/>.</summary>
    public Instant? UntilInstant { get; private set; }

    /// <summary>WKST: the day a week begins on.</summary>
    public IsoDayOfWeek WeekStart { get; private set; } = IsoDayOfWeek.Monday;

    /// <summary>BYMONTH; empty: not said.</summary>
    public IReadOnlyList<int> ByMonth { get; private set; } = [];

    /// <summary>BYWEEKNO, from the end below zero; empty: not said.</summary>
    public IReadOnlyList<int> ByWeekNumber { get; private set; } = [];

    /// <summary>BYYEARDAY, from the end below zero; empty: not said.</summary>
    public IReadOnlyList<int> ByYearDay { get; private set; } = [];

    /// <summary>BYMONTHDAY, from the end below zero; empty: not said.</summary>
    public IReadOnlyList<int> ByMonthDay { get; private set; } = [];

    /// <summary>BYDAY; empty: not said.</summary>
    public IReadOnlyList<WeekdayNumber> ByDay { get; private set; } = [];

    /// <summary>BYHOUR; empty: not said.</summary>
    public IReadOnlyList<int> ByHour { get; private set; } = [];

    /// <summary>BYMINUTE; empty: not said.</summary>
    public IReadOnlyList<int> ByMinute { get; private set; } = [];

    /// <summary>BYSECOND; empty: not said.</summary>
    public IReadOnlyList<int> BySecond { get; private set; } = [];

    /// <summary>BYSETPOS, from the end below zero; empty: not said.</summary>
    public IReadOnlyList<int> BySetPosition { get; private set; } = [];

    /// <summary>Reads a rule such as <c>FREQ=WEEKLY;BYDAY=FR</c>.</summary>
    /// <returns>Null where the text is no rule, says a part twice, or joins parts that the RFC keeps apart.</returns>
    public static RecurrenceRule? Read(string text)
    {
        var rule = new RecurrenceRule(text);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var part in text.ToUpperInvariant().Split(';'))
        {
            if (part.Split('=') is not [var name, { Length: > 0 } value] || !seen.Add(name) || !rule.Take(name, value))
                return null;
        }

        return seen.Contains("FREQ") && rule.IsSound(seen) ? rule : null;
    }

    /// <summary>The local times of the rule from a first one on, in order, up to the last year that is counted with.</summary>
    /// <param name="first">The start that the rule counts from; it need not be one of the times.</param>
    /// <param name="zone">Where they are local: an UNTIL in UTC is compared there.</param>
    public IEnumerable<LocalDateTime> Times(LocalDateTime first, DateTimeZone zone) => new RecurrenceSeries(this, first, zone).From(first);

    /// <inheritdoc/>
    public bool Equals(RecurrenceRule? other) => Text == other?.Text;

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as RecurrenceRule);

    /// <inheritdoc/>
    public override int GetHashCode() => Text.GetHashCode(StringComparison.Ordinal);

    /// <inheritdoc/>
    public override string ToString() => Text;

    private bool Take(string name, string value)
    {
        switch (name)
        {
            case "FREQ":
                var frequency = Array.IndexOf(["HOURLY", "DAILY", "WEEKLY", "MONTHLY", "YEARLY"], value);
                Frequency = (Frequency)Math.Max(0, frequency);
                return frequency >= 0;
            case "INTERVAL":
                return Whole(value, 1, 1_000_000) is { } interval && (Interval = interval) > 0;
            case "COUNT":
                return (Count = Whole(value, 1, 1_000_000_000)) is not null;
            case "UNTIL":
                return TakeUntil(value);
            case "WKST":
                return DayOf(value) is { } day && (WeekStart = day) != IsoDayOfWeek.None;
            case "BYDAY":
                return (ByDay = List(value, Weekday)!) is not null;
            case "BYMONTH":
                return (ByMonth = List(value, number => Whole(number, 1, 12))!) is not null;
            case "BYWEEKNO":
                return (ByWeekNumber = List(value, number => Signed(number, 53))!) is not null;
            case "BYYEARDAY":
                return (ByYearDay = List(value, number => Signed(number, 366))!) is not null;
            case "BYMONTHDAY":
                return (ByMonthDay = List(value, number => Signed(number, 31))!) is not null;
            case "BYHOUR":
                return (ByHour = List(value, number => Whole(number, 0, 23))!) is not null;
            case "BYMINUTE":
                return (ByMinute = List(value, number => Whole(number, 0, 59))!) is not null;
            case "BYSECOND":
                return (BySecond = List(value, number => Whole(number, 0, 60))!) is not null;
            case "BYSETPOS":
                return (BySetPosition = List(value, number => Signed(number, 366))!) is not null;
            default:
                return false;
        }
    }

    // What section 3.3.10 says MUST NOT stand together.
    private bool IsSound(HashSet<string> seen) =>
        !(seen.Contains("COUNT") && seen.Contains("UNTIL"))
        && !(ByDay.Any(day => day.Ordinal != 0) && (Frequency < Frequency.Monthly || ByWeekNumber.Count > 0))
        && !(ByMonthDay.Count > 0 && Frequency == Frequency.Weekly)
        && !(ByYearDay.Count > 0 && Frequency is Frequency.Daily or Frequency.Weekly or Frequency.Monthly)
        && !(ByWeekNumber.Count > 0 && Frequency != Frequency.Yearly)
        && !(BySetPosition.Count > 0 && !seen.Any(name => name != "BYSETPOS" && name.StartsWith("BY", StringComparison.Ordinal)));

    private bool TakeUntil(string value)
    {
        var isDate = value.Length == 8;
        var isUtc = value.Length == 16 && value[15] == 'Z';
        if (!isDate && !isUtc && value.Length != 15)
            return false;
        if (!isDate && value[8] != 'T')
            return false;
        if (Digits(value, 0, 4) is not { } year || Digits(value, 4, 2) is not { } month || Digits(value, 6, 2) is not { } day)
            return false;
        if (year < 1 || month is < 1 or > 12 || day < 1 || day > CalendarSystem.Iso.GetDaysInMonth(year, month))
            return false;
        var date = new LocalDate(year, month, day);
        if (isDate)
        {
            UntilLocal = date.At(LocalTime.MaxValue);
            return true;
        }

        // A leap second is the last one that is counted with.
        if (
            Digits(value, 9, 2) is not (<= 23 and var hour)
            || Digits(value, 11, 2) is not (<= 59 and var minute)
            || Digits(value, 13, 2) is not (<= 60 and var second)
        )
            return false;
        var local = date.At(new LocalTime(hour, minute, Math.Min(59, second)));
        if (isUtc)
            UntilInstant = local.InUtc().ToInstant();
        else
            UntilLocal = local;
        return true;
    }

    private static int? Digits(string text, int at, int count) =>
        int.TryParse(text.AsSpan(at, count), NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : null;

    private static int? Whole(string text, int least, int most) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number >= least && number <= most
            ? number
            : null;

    private static int? Signed(string text, int most) =>
        text[0] switch
        {
            '-' => -Whole(text[1..], 1, most),
            '+' => Whole(text[1..], 1, most),
            _ => Whole(text, 1, most),
        };

    private static WeekdayNumber? Weekday(string text) =>
        text.Length >= 2 && DayOf(text[^2..]) is { } day && (text.Length == 2 ? 0 : Signed(text[..^2], 53)) is { } ordinal
            ? new(ordinal, day)
            : null;

    private static IsoDayOfWeek? DayOf(string name) => Array.IndexOf(DayNames, name) is >= 0 and var place ? Days[place] : null;

    private static T[]? List<T>(string value, Func<string, T?> read)
        where T : struct
    {
        var entries = value.Split(',');
        var numbers = new T[entries.Length];
        for (var i = 0; i < entries.Length; i++)
        {
            if (entries[i].Length == 0 || read(entries[i]) is not { } number)
                return null;
            numbers[i] = number;
        }

        return numbers;
    }
}
