using System.Globalization;
using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>A recurrence rule in plain words: "every Friday", "the first Saturday of every month".</summary>
internal static class RecurrenceWords
{
    private static readonly string[] Ordinals = ["", "first", "second", "third", "fourth", "fifth"];

    public static string Say(RecurrenceRule rule, LocalDateTime? start, Wording wording)
    {
        var words = rule switch
        {
            // What few people write is not retold half: its own text stands beside it at the desk.
            { ByWeekNumber.Count: > 0 }
            or { ByYearDay.Count: > 0 }
            or { BySetPosition.Count: > 0 }
            or { BySecond.Count: > 0 }
            or { ByMinute.Count: > 0 }
            or { ByHour.Count: > 1 } => "by a rule of its own",
            { Frequency: Frequency.Hourly } => Every(rule.Interval, "hour") + On(rule),
            { Frequency: Frequency.Daily, ByDay: [] } => Every(rule.Interval, "day") + MonthDays(rule),
            { Frequency: Frequency.Daily, Interval: 1 } => $"every {Days(rule)}",
            { Frequency: Frequency.Daily } => Every(rule.Interval, "day") + On(rule),
            { Frequency: Frequency.Weekly, Interval: 1 } =>
                $"every {(rule.ByDay.Count > 0 ? Days(rule) : start is { } first ? Day(first.DayOfWeek) : "week")}",
            { Frequency: Frequency.Weekly } => Every(rule.Interval, "week")
                + (
                    rule.ByDay.Count > 0 ? $" on {Days(rule)}"
                    : start is { } first ? $" on {Day(first.DayOfWeek)}"
                    : ""
                ),
            { Frequency: Frequency.Monthly, ByDay: [] } => (
                rule.ByMonthDay.Count > 0 ? MonthDays(rule)[1..]
                : start is { } first ? $"on day {first.Day}"
                : ""
            ) + $" of {Every(rule.Interval, "month")}",
            { Frequency: Frequency.Monthly } => $"the {Wording.Join(rule.ByDay.Select(Numbered), "and")} of {Every(rule.Interval, "month")}"
                + MonthDays(rule),
            { ByDay: [], ByMonthDay: [], ByMonth: [] } when start is { } first =>
                $"{Every(rule.Interval, "year")} on {first.Day} {Month(first.Month)}",
            { ByDay: [], ByMonth: [var month] } when rule.ByMonthDay.Count > 0 || start is not null =>
                $"{Every(rule.Interval, "year")} on {Wording.Join((rule.ByMonthDay.Count > 0 ? rule.ByMonthDay : [start!.Value.Day]).Select(day => day > 0 ? $"{day} {Month(month)}" : $"{DayOfMonth(day)} of {Month(month)}"), "and")}",
            _ => "by a rule of its own",
        };
        if (rule.Frequency != Frequency.Yearly && rule.ByMonth.Count > 0)
            words += $" in {Wording.Join(rule.ByMonth.Select(Month), "and")}";
        if (rule.ByHour is [var hour])
            words += $" at {hour:00}:{start?.Minute ?? 0:00}";
        if (rule.Count is { } count)
            words += $", {Wording.Counted(count, "time")} in all";
        if (rule.UntilLocal is { } until)
            words += $", until {wording.Say(until)}";
        if (rule.UntilInstant is { } last)
            words += $", until {wording.Say(last)}";
        return words;
    }

    private static string Every(int interval, string unit) => interval == 1 ? $"every {unit}" : $"every {interval} {unit}s";

    private static string On(RecurrenceRule rule) => rule.ByDay.Count == 0 ? "" : $" on {Days(rule)}";

    private static string Days(RecurrenceRule rule)
    {
        IsoDayOfWeek[] days = [.. rule.ByDay.Select(day => day.Day).Distinct().Order()];
        return days is [IsoDayOfWeek.Monday, IsoDayOfWeek.Tuesday, IsoDayOfWeek.Wednesday, IsoDayOfWeek.Thursday, IsoDayOfWeek.Friday]
            ? "day from Monday to Friday"
            : Wording.Join(days.Select(Day), "and");
    }

    private static string Numbered(WeekdayNumber day) =>
        day.Ordinal switch
        {
            0 => $"{Day(day.Day)}s",
            -1 => $"last {Day(day.Day)}",
            < 0 => $"{Ordinal(-day.Ordinal)} {Day(day.Day)} from the end",
            _ => $"{Ordinal(day.Ordinal)} {Day(day.Day)}",
        };

    private static string Ordinal(int number) => number < Ordinals.Length ? Ordinals[number] : $"{number}th";

    private static string MonthDays(RecurrenceRule rule) =>
        rule.ByMonthDay.Count == 0 ? "" : $" on {Wording.Join(rule.ByMonthDay.Select(DayOfMonth), "and")}";

    private static string DayOfMonth(int day) =>
        day switch
        {
            -1 => "the last day",
            < 0 => $"day {-day} from the end",
            _ => $"day {day}",
        };

    private static string Day(IsoDayOfWeek day) => day.ToString();

    private static string Month(int month) => CultureInfo.InvariantCulture.DateTimeFormat.GetMonthName(month);
}
