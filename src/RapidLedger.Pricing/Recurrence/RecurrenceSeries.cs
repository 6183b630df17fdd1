using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// The local times of a recurrence rule with a start. Periods (hours, days, weeks, months, years) follow each other at the rule's
/// interval; of each the days that its parts let through, times the hours, minutes and seconds, are the set that BYSETPOS picks from.
/// Any of them can be looked at without going through those before it, unless the rule has a COUNT: then its last time is found once.
/// </summary>
/// <remarks>
/// Where RFC 5545 leaves a part open, the start fills it in only if the rule names no day at all: FREQ=YEARLY;BYMONTHDAY=15 is the 15th
/// of every month, BYWEEKNO=20 all days of that week.
/// </remarks>
internal sealed class RecurrenceSeries
{
    /// <summary>The last year that is counted with.</summary>
    public const int LastYear = 2199;

    private readonly RecurrenceRule rule;
    private readonly LocalDateTime first;
    private readonly DateTimeZone zone;
    private readonly IReadOnlyList<int> byMonth;
    private readonly IReadOnlyList<int> byMonthDay;
    private readonly IReadOnlyList<WeekdayNumber> byDay;
    private readonly int[] hours;
    private readonly int[] minutes;
    private readonly int[] seconds;

    // Where the first period begins.
    private readonly LocalDate origin;
    private readonly Lazy<LocalDateTime?> lastByCount;

    public RecurrenceSeries(RecurrenceRule rule, LocalDateTime first, DateTimeZone zone)
    {
        (this.rule, this.first, this.zone) = (rule, first, zone);
        (byMonth, byMonthDay, byDay) = (rule.ByMonth, rule.ByMonthDay, rule.ByDay);
        if (rule.ByWeekNumber.Count == 0 && rule.ByYearDay.Count == 0 && byMonthDay.Count == 0 && byDay.Count == 0)
        {
            if (rule.Frequency == Frequency.Yearly && byMonth.Count == 0)
                byMonth = [first.Month];
            if (rule.Frequency >= Frequency.Monthly)
                byMonthDay = [first.Day];
            if (rule.Frequency == Frequency.Weekly)
                byDay = [new(0, first.DayOfWeek)];
        }

        hours = Sorted(rule.ByHour, first.Hour);
        minutes = Sorted(rule.ByMinute, first.Minute);
        seconds = Sorted(rule.BySecond, first.Second);
        origin = rule.Frequency switch
        {
            Frequency.Yearly => new(first.Year, 1, 1),
            Frequency.Monthly => new(first.Year, first.Month, 1),
            Frequency.Weekly => first.Date.PlusDays(-(((int)first.DayOfWeek - (int)rule.WeekStart + 7) % 7)),
            _ => first.Date,
        };
        lastByCount = new(() => From(first, rule.Count).Cast<LocalDateTime?>().LastOrDefault());
    }

    /// <summary>The times from some moment on, in order.</summary>
    public IEnumerable<LocalDateTime> From(LocalDateTime from) =>
        rule.Count is null ? From(from, null) : From(from, null).TakeWhile(time => time <= lastByCount.Value);

    /// <summary>The times from some moment back to the start, the latest first.</summary>
    public IEnumerable<LocalDateTime> Back(LocalDateTime from)
    {
        if (rule.Count is not null && lastByCount.Value < from)
            from = lastByCount.Value.Value;
        var times = new List<LocalDateTime>();
        for (var period = PeriodOf(from); period >= 0; period--)
        {
            times.Clear();
            Fill(period, times);
            for (var i = times.Count - 1; i >= 0; i--)
                if (times[i] <= from && times[i] >= first && !IsPast(times[i]))
                    yield return times[i];
        }
    }

    private IEnumerable<LocalDateTime> From(LocalDateTime from, int? count)
    {
        if (from < first)
            from = first;
        var times = new List<LocalDateTime>();
        var given = 0;
        for (var period = count is null ? PeriodOf(from) : 0; ; period++)
        {
            if (BeginOf(period) is not { } begin || begin.Year > LastYear || IsPast(begin.AtMidnight()))
                yield break;
            times.Clear();
            Fill(period, times);
            foreach (var time in times)
            {
                if (time < from)
                    continue;
                if (time.Year > LastYear || IsPast(time))
                    yield break;
                yield return time;
                if (++given == count)
                    yield break;
            }

            if (times.Count == 0 && rule.Frequency == Frequency.Hourly)
                period = LastOfDay(period);
        }
    }

    private bool IsPast(LocalDateTime time) =>
        time > rule.UntilLocal || (rule.UntilInstant is { } until && time.InZoneLeniently(zone).ToInstant() > until);

    // The period that holds a moment, or the last before it; 0 for what is earlier.
    private long PeriodOf(LocalDateTime moment)
    {
        var passed = rule.Frequency switch
        {
            Frequency.Yearly => moment.Year - origin.Year,
            Frequency.Monthly => ((moment.Year - origin.Year) * 12) + moment.Month - origin.Month,
            Frequency.Weekly => NodaTime.Period.DaysBetween(origin, moment.Date) / 7,
            Frequency.Daily => NodaTime.Period.DaysBetween(origin, moment.Date),
            _ => (NodaTime.Period.DaysBetween(origin, moment.Date) * 24L) + moment.Hour - first.Hour,
        };
        return Math.Max(0, passed / rule.Interval);
    }

    // Null: later than anything that is counted with.
    private LocalDate? BeginOf(long period)
    {
        var steps = period * rule.Interval;
        if (steps > 24L * 366 * (LastYear + 1))
            return null;
        return rule.Frequency switch
        {
            Frequency.Yearly => origin.Year + steps > LastYear ? null : origin.PlusYears((int)steps),
            Frequency.Monthly => origin.Year + (steps / 12) > LastYear + 1 ? null : origin.PlusMonths((int)steps),
            Frequency.Weekly => steps > 53 * (LastYear + 1) ? null : origin.PlusWeeks((int)steps),
            Frequency.Daily => steps > 366 * (LastYear + 1) ? null : origin.PlusDays((int)steps),
            _ => origin.PlusDays((int)((first.Hour + steps) / 24)),
        };
    }

    // A day none of whose hours is let through is passed over at once.
    private long LastOfDay(long period)
    {
        var hour = (int)((first.Hour + (period * rule.Interval)) % 24);
        return LetsThrough(BeginOf(period)!.Value) ? period : period + ((23 - hour) / rule.Interval);
    }

    private void Fill(long period, List<LocalDateTime> times)
    {
        if (BeginOf(period) is not { } begin)
            return;
        var end = rule.Frequency switch
        {
            Frequency.Yearly => begin.PlusYears(1),
            Frequency.Monthly => begin.PlusMonths(1),
            Frequency.Weekly => begin.PlusDays(7),
            _ => begin.PlusDays(1),
        };
        int[] within = hours;
        if (rule.Frequency == Frequency.Hourly)
        {
            var hour = (int)((first.Hour + (period * rule.Interval)) % 24);
            if (rule.ByHour.Count > 0 && Array.BinarySearch(hours, hour) < 0)
                return;
            within = [hour];
        }

        for (var day = begin; day < end; day = day.PlusDays(1))
        {
            if (!LetsThrough(day))
                continue;
            foreach (var hour in within)
            foreach (var minute in minutes)
            foreach (var second in seconds)
                if (second < 60)
                    times.Add(day.At(new LocalTime(hour, minute, second)));
        }

        if (rule.BySetPosition.Count > 0)
            Pick(times);
    }

    private void Pick(List<LocalDateTime> times)
    {
        var picked = rule
            .BySetPosition.Select(position => position > 0 ? position - 1 : times.Count + position)
            .Where(place => place >= 0 && place < times.Count)
            .Distinct()
            .Order()
            .Select(place => times[place])
            .ToArray();
        times.Clear();
        times.AddRange(picked);
    }

    private bool LetsThrough(LocalDate day)
    {
        if (byMonth.Count > 0 && !byMonth.Contains(day.Month))
            return false;
        if (rule.ByWeekNumber.Count > 0 && !HasWeekNumber(day))
            return false;
        if (rule.ByYearDay.Count > 0 && !FromEitherEnd(rule.ByYearDay, day.DayOfYear, CalendarSystem.Iso.GetDaysInYear(day.Year)))
            return false;
        var daysInMonth = CalendarSystem.Iso.GetDaysInMonth(day.Year, day.Month);
        if (byMonthDay.Count > 0 && !FromEitherEnd(byMonthDay, day.Day, daysInMonth))
            return false;
        return byDay.Count == 0 || HasWeekday(day, daysInMonth);
    }

    private static bool FromEitherEnd(IReadOnlyList<int> numbers, int number, int most) =>
        numbers.Contains(number) || numbers.Contains(number - most - 1);

    // The n-th of its kind counts within the month, or within the year where the rule is yearly and names no months.
    private bool HasWeekday(LocalDate day, int daysInMonth)
    {
        var inYear = rule.Frequency == Frequency.Yearly && rule.ByMonth.Count == 0;
        var (place, last) = inYear ? (day.DayOfYear, CalendarSystem.Iso.GetDaysInYear(day.Year)) : (day.Day, daysInMonth);
        foreach (var (ordinal, weekday) in byDay)
        {
            if (weekday != day.DayOfWeek)
                continue;
            if (ordinal == 0 || ordinal == ((place - 1) / 7) + 1 || ordinal == -(((last - place) / 7) + 1))
                return true;
        }

        return false;
    }

    // Week 1 is the first with at least four days in the year (RFC 5545, as ISO 8601 but for the day it begins on).
    private bool HasWeekNumber(LocalDate day)
    {
        var fourth = day.PlusDays(3 - (((int)day.DayOfWeek - (int)rule.WeekStart + 7) % 7));
        var number = ((fourth.DayOfYear - 1) / 7) + 1;
        return FromEitherEnd(rule.ByWeekNumber, number, WeeksIn(fourth.Year));
    }

    private int WeeksIn(int year)
    {
        // The last week is that of the 28th of December.
        var day = new LocalDate(year, 12, 28);
        var fourth = day.PlusDays(3 - (((int)day.DayOfWeek - (int)rule.WeekStart + 7) % 7));
        return ((fourth.DayOfYear - 1) / 7) + 1;
    }

    private static int[] Sorted(IReadOnlyList<int> numbers, int otherwise) =>
        numbers.Count == 0 ? [otherwise] : [.. numbers.Distinct().Order()];
}
