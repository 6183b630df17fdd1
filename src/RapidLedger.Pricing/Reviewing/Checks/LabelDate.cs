using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>A name that says another day than those on which it begins and ends.</summary>
internal sealed partial class LabelDate : Check
{
    // By their first letters, in the languages that shoppers read.
    private static readonly string[][] Months =
    [
        ["Jan"],
        ["Feb"],
        ["Mar", "Mär"],
        ["Apr"],
        ["May", "Mai"],
        ["Jun"],
        ["Jul"],
        ["Aug"],
        ["Sep"],
        ["Oct", "Okt"],
        ["Nov"],
        ["Dec", "Dez"],
    ];

    public override string Name => "labelDate";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var days = Days(promotion.Window).ToHashSet();
        foreach (var (at, text) in promotion.Titles())
        {
            foreach (Match match in Day().Matches(text))
            {
                if (DayOf(match) is not { } said || days.Contains(said))
                    continue;
                yield return Doubt(at, $"It says {match.Value.TrimEnd()}, and the rule {Runs(promotion.Window, around.Wording)}.");
                break;
            }
        }
    }

    private static string Runs(Window? window, Wording wording) =>
        window switch
        {
            { Start: { } start, End: { } end } => $"runs from {wording.Say(start)} to {wording.SayEnd(end)}",
            { Start: { } start } => $"starts at {wording.Say(start)} and has no end",
            { End: { } end } => $"ends at {wording.SayEnd(end)}",
            _ => "has neither a start nor an end",
        };

    // The days that can be named: an end at midnight is the end of the day before.
    private static IEnumerable<AnnualDate> Days(Window? window)
    {
        if (window?.Start is { } start)
            yield return new(start.Month, start.Day);
        if (window?.End is not { } end)
            yield break;
        yield return new(end.Month, end.Day);
        if (end.TimeOfDay == LocalTime.Midnight && end.Date.PlusDays(-1) is var last)
            yield return new(last.Month, last.Day);
    }

    private static AnnualDate? DayOf(Match match)
    {
        int Number(string group) => int.Parse(match.Groups[group].Value, CultureInfo.InvariantCulture);
        var month = match.Groups["month"].Success
            ? Number("month")
            : Array.FindIndex(Months, names => names.Any(name => match.Groups["word"].Value.StartsWith(name, StringComparison.Ordinal)))
                + 1;
        var day = Number("day");
        return month is >= 1 and <= 12 && day >= 1 && day <= CalendarSystem.Iso.GetDaysInMonth(2024, month) ? new(month, day) : null;
    }

    // Whole words: a Marathon is no March.
    private const string Word =
        @"(?<word>Jan(?:uary|uar)?|Feb(?:ruary|ruar)?|Mar(?:ch)?|Mär(?:z)?|Apr(?:il)?|May|Mai|June?|Juni|July?|Juli|Aug(?:ust)?|Sept?(?:ember)?|O[ck]t(?:ober)?|Nov(?:ember)?|De[cz](?:ember)?)(?!\p{L})";

    [GeneratedRegex(
        @"(?<![\d.,\p{L}])(?:(?<day>\d{1,2})\.\s?(?<month>\d{1,2})\.(?:\d{2,4})?|\d{4}-(?<month>\d\d)-(?<day>\d\d)"
            + @"|(?<day>\d{1,2})(?:st|nd|rd|th|\.)?\s"
            + Word
            + @"|"
            + Word
            + @"\s(?<day>\d{1,2})(?:st|nd|rd|th)?)(?![\d%])"
    )]
    private static partial Regex Day();
}
