using NodaTime;
using NodaTime.Text;

namespace RapidLedger.Server.Takings;

/// <summary>Days of which takings are told, both included.</summary>
/// <param name="From">The first.</param>
/// <param name="To">The last.</param>
internal readonly record struct Stretch(LocalDate From, LocalDate To)
{
    /// <summary>The stretch that is told where none is asked for, in days.</summary>
    public const int Usual = 28;

    private const int Longest = 366 * 20;

    /// <summary>How many days it has.</summary>
    public int Days => Period.DaysBetween(From, To) + 1;

    /// <summary>The first day, ISO 8601.</summary>
    public string First => LocalDatePattern.Iso.Format(From);

    /// <summary>The last day, ISO 8601.</summary>
    public string Last => LocalDatePattern.Iso.Format(To);

    /// <summary>The stretch of the same length before it.</summary>
    public Stretch Before => new(From.PlusDays(-Days), From.PlusDays(-1));

    /// <summary>The same calendar dates a year ago.</summary>
    public Stretch YearAgo => new(From.PlusYears(-1), To.PlusYears(-1));

    /// <summary>Reads two days; without them the last 28. Null: they are none.</summary>
    /// <param name="from">ISO 8601, or nothing.</param>
    /// <param name="to">ISO 8601, or nothing: today.</param>
    /// <param name="today">The store's date.</param>
    public static Stretch? Read(string? from, string? to, LocalDate today)
    {
        LocalDate? Day(string? text, LocalDate otherwise) =>
            string.IsNullOrEmpty(text) ? otherwise
            : LocalDatePattern.Iso.Parse(text).TryGetValue(default, out var day) ? day
            : null;
        return Day(to, today) is { } last && Day(from, last.PlusDays(1 - Usual)) is { } first
            ? first <= last && Period.DaysBetween(first, last) < Longest
                ? new(first, last)
                : null
            : null;
    }
}
