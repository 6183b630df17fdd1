using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Server.Takings;

/// <summary>
/// Takings as CSV (RFC 4180): a row a promotion, then all orders and those without any promotion; amounts in the base currency.
/// </summary>
internal static class TakingsCsv
{
    private static readonly string[] Head =
    [
        "promotion",
        "orders",
        "units",
        "takings",
        "given",
        "givenDelivery",
        "givenWithoutTax",
        "paid",
        "margin",
        "marginOf",
        "averageOrder",
        "newShoppers",
    ];

    private static readonly CsvConfiguration Form = new(CultureInfo.InvariantCulture) { NewLine = "\n" };

    /// <summary>The text of rows.</summary>
    public static string Written(IEnumerable<string[]> rows)
    {
        using var text = new StringWriter();
        using (var csv = new CsvWriter(text, Form))
            foreach (var row in rows)
            {
                foreach (var cell in row)
                    csv.WriteField(cell);
                csv.NextRecord();
            }

        return text.ToString();
    }

    /// <summary>The rows of a stretch, the heading first.</summary>
    /// <param name="book">Where they are added up.</param>
    /// <param name="stretch">Which days.</param>
    /// <param name="currency">The base currency.</param>
    /// <param name="byDay">Whether each day has rows of its own, the day first.</param>
    /// <param name="withBrought">Whether orders from before are added.</param>
    /// <param name="promotion">The only one; null: all.</param>
    public static IEnumerable<string[]> Rows(
        TakingsBook book,
        Stretch stretch,
        Currency currency,
        bool byDay,
        bool withBrought,
        string? promotion
    )
    {
        if (!byDay)
        {
            var sums = book.Of(stretch, withBrought).ToDictionary(row => row.Key, row => row.Value.Taken, StringComparer.Ordinal);
            return Rows(sums, currency, promotion).Prepend(Head);
        }

        var days = book.ByDay(stretch, withBrought, promotion).ToLookup(row => row.Key.Day, row => (row.Key.Promotion, row.Value));
        return Enumerable
            .Range(0, stretch.Days)
            .Select(day => LocalDatePattern.Iso.Format(stretch.From.PlusDays(day)))
            .SelectMany(
                day => Rows(days[day].ToDictionary(row => row.Promotion, row => row.Value, StringComparer.Ordinal), currency, promotion),
                (day, row) => (string[])[day, .. row]
            )
            .Prepend(["day", .. Head]);
    }

    private static IEnumerable<string[]> Rows(Dictionary<string, Contribution> sums, Currency currency, string? promotion)
    {
        string[] last = [Contribution.All, Contribution.Without];
        string[] names = promotion is null ? [.. sums.Keys.Except(last).Order(StringComparer.Ordinal), .. last] : [promotion];
        foreach (var name in names)
        {
            var row = sums.GetValueOrDefault(name);
            yield return
            [
                name,
                $"{row.Orders}",
                $"{row.Units}",
                currency.Write(row.Takings),
                currency.Write(row.Given),
                currency.Write(row.GivenDelivery),
                currency.Write(row.GivenWithoutTax),
                currency.Write(row.Paid),
                currency.Write(row.Margin),
                currency.Write(row.MarginOf),
                row.AverageOrder is { } average ? currency.Write(average) : "",
                $"{row.NewShoppers}",
            ];
        }
    }
}
