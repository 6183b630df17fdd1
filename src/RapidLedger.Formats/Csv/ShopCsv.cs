using System.Globalization;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>A shopper in a file of shoppers.</summary>
/// <param name="Name">The name people read.</param>
/// <param name="Shopper">Who buys.</param>
/// <param name="Place">Where the shopper lives, if known.</param>
public sealed record ShopperRow(string Name, Shopper Shopper, string? Place);

/// <summary>A use of a promotion in a file of redemptions.</summary>
/// <param name="Promotion">Which.</param>
/// <param name="Shopper">Who used it, if known.</param>
/// <param name="At">When.</param>
/// <param name="Amount">What it gave, in minor units of the base currency.</param>
public sealed record RedemptionRow(string Promotion, string? Shopper, Instant At, long Amount);

/// <summary>
/// Reads shoppers (<c>id, name, groups, orders, spent, place</c>) and redemptions (<c>promotion, shopper, at, amount</c>) from CSV.
/// </summary>
public static class ShopCsv
{
    /// <summary>The shoppers; groups stand in one cell with bars between.</summary>
    /// <exception cref="FormatException">A column is missing, or a cell does not hold what its column needs.</exception>
    public static IEnumerable<ShopperRow> Shoppers(TextReader text, Currency currency) =>
        CsvTable
            .Rows(text, "id", "name", "groups", "orders", "spent", "place")
            .Select(row => new ShopperRow(
                row.Cells["name"],
                new(
                    row.Cells["id"],
                    row.Cells["groups"].Split('|', StringSplitOptions.RemoveEmptyEntries).ToEquatableArray(),
                    long.TryParse(row.Cells["orders"], CultureInfo.InvariantCulture, out var orders)
                        ? orders
                        : throw Broken(row.Line, "orders", row.Cells["orders"]),
                    Amount(row.Line, "spent", row.Cells["spent"], currency)
                ),
                row.Cells["place"] is { Length: > 0 } place ? place : null
            ));

    /// <summary>The redemptions.</summary>
    /// <exception cref="FormatException">A column is missing, or a cell does not hold what its column needs.</exception>
    public static IEnumerable<RedemptionRow> Redemptions(TextReader text, Currency currency) =>
        CsvTable
            .Rows(text, "promotion", "shopper", "at", "amount")
            .Select(row => new RedemptionRow(
                row.Cells["promotion"],
                row.Cells["shopper"] is { Length: > 0 } shopper ? shopper : null,
                InstantPattern.ExtendedIso.Parse(row.Cells["at"]).TryGetValue(default, out var at)
                    ? at
                    : throw Broken(row.Line, "at", row.Cells["at"]),
                Amount(row.Line, "amount", row.Cells["amount"], currency)
            ));

    private static long Amount(int line, string column, string text, Currency currency) =>
        currency.Read(text, out var minor) == AmountFault.None ? minor : throw Broken(line, column, text);

    private static FormatException Broken(int line, string column, string text) =>
        new($"Line {line}, column {column}: '{text}' cannot be read.");
}
