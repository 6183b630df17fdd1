using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace RapidLedger.Formats;

/// <summary>Which of two numbers of a date is the day.</summary>
public enum DayOrder
{
    /// <summary>The first: <c>31/12/2026</c>.</summary>
    DayFirst,

    /// <summary>The second: <c>12/31/2026</c>.</summary>
    MonthFirst,

    /// <summary>Either, and it makes a difference: <c>1/2/2026</c>. It has to be asked.</summary>
    Either,
}

/// <summary>
/// Reads dates and times as programs write them: ISO 8601 always; else whether the day or the month comes first is decided for a column
/// from
/// all its cells. With points between them the day is first (common practice, no source).
/// </summary>
public sealed partial class DateReading
{
    private const int Longest = 40;

    private bool mayBeDayFirst = true;
    private bool mayBeMonthFirst = true;
    private bool differs;

    /// <summary>A cell that reads either way and makes a difference; null: there is none.</summary>
    public string? Example { get; private set; }

    /// <summary>Looks at a cell of the column.</summary>
    public void Look(string cell)
    {
        if (Read(cell, DayOrder.DayFirst) is var day && Read(cell, DayOrder.MonthFirst) is var month && day is null && month is null)
            return;
        (mayBeDayFirst, mayBeMonthFirst) = (mayBeDayFirst && day is not null, mayBeMonthFirst && month is not null);
        if (day == month || day is null || month is null)
            return;
        differs = true;
        Example ??= cell;
    }

    /// <summary>How the column is written, as far as its cells tell.</summary>
    public DayOrder Order =>
        mayBeDayFirst && mayBeMonthFirst && differs ? DayOrder.Either
        : mayBeDayFirst ? DayOrder.DayFirst
        : mayBeMonthFirst ? DayOrder.MonthFirst
        : DayOrder.DayFirst;

    /// <summary>
    /// A cell as ISO 8601, such as <c>2026-12-31T17:30:00</c>; with an offset only where the cell has one. Null: it is no date.
    /// </summary>
    /// <param name="cell">The cell.</param>
    /// <param name="order">How its column is written.</param>
    public static string? Read(string cell, DayOrder order)
    {
        if (cell.Length is 0 or > Longest)
            return null;
        if (Iso().Match(cell) is { Success: true } iso)
            return Written(iso, Number(iso, "y"), Number(iso, "m"), Number(iso, "d"));
        if (Local().Match(cell) is not { Success: true } local)
            return null;
        var (first, second) = (Number(local, "a"), Number(local, "b"));
        var year = Number(local, "y") is var short2 and < 100 ? 2000 + short2 : Number(local, "y");
        return local.Groups["s"].Value == "." || order != DayOrder.MonthFirst
            ? Written(local, year, second, first)
            : Written(local, year, first, second);
    }

    private static string? Written(Match match, int year, int month, int day)
    {
        if (year is < 1 or > 9999 || month is < 1 or > 12 || day < 1 || day > CalendarSystem.Iso.GetDaysInMonth(year, month))
            return null;
        var (hour, half) = (Number(match, "hh"), match.Groups["half"].Value);
        if (half.Length > 0)
        {
            if (hour is < 1 or > 12)
                return null;
            hour = (hour % 12) + (half.StartsWith('p') || half.StartsWith('P') ? 12 : 0);
        }

        if (hour > 23 || Number(match, "mm") > 59 || Number(match, "ss") > 59)
            return null;
        var offset = match.Groups["z"].Value;
        if (offset.Length == 5)
            offset = $"{offset[..3]}:{offset[3..]}";
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{year:0000}-{month:00}-{day:00}T{hour:00}:{Number(match, "mm"):00}:{Number(match, "ss"):00}{offset}"
        );
    }

    private static int Number(Match match, string group) =>
        int.TryParse(match.Groups[group].Value, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : 0;

    [GeneratedRegex(
        @"^(?<y>\d{4})[-/](?<m>\d{2})[-/](?<d>\d{2})([T ]+(?<hh>\d{2}):(?<mm>\d{2})(:(?<ss>\d{2})([.,]\d+)?)?\s*(?<z>Z|[+-]\d{2}:?\d{2})?)?$"
    )]
    private static partial Regex Iso();

    [GeneratedRegex(
        @"^(?<a>\d{1,2})(?<s>[./-])(?<b>\d{1,2})\k<s>(?<y>\d{4}|\d{2})(,?\s+(?<hh>\d{1,2})[:.](?<mm>\d{2})([:.](?<ss>\d{2}))?\s*(?<half>[AaPp]\.?[Mm]\.?|)(\s*Uhr)?)?$"
    )]
    private static partial Regex Local();
}
