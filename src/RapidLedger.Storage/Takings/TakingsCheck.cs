using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>
/// Adds takings up anew from the orders, and compares with what is kept by day; and the figures of each order with its result.
/// </summary>
internal static class TakingsCheck
{
    /// <summary>The differences in words; none: all agrees.</summary>
    public static IEnumerable<string> Differences(SqliteConnection connection, SqliteTransaction transaction)
    {
        var counted = new Dictionary<(string Day, string Promotion, bool Held), Contribution>();
        var rows = new TakingsRows(connection, transaction);
        foreach (
            var order in connection.Query<StoredOrder>(
                $"{OrderTransaction.Select} WHERE NOT rehearsal ORDER BY change",
                transaction: transaction,
                buffered: false
            )
        )
        {
            // Of an order without figures nothing may be kept by day either: that shows there.
            if (rows.Find(order.Id) is not { } kept)
                continue;

            foreach (var difference in OfOrder(order, kept.Figures))
                yield return difference;
            foreach (var (promotion, figures) in TakingsRows.Of(order, kept))
            {
                var row = (order.Day, promotion, order.State == "held");
                counted[row] = counted.GetValueOrDefault(row) + figures;
            }
        }

        foreach (var row in TakingsRepository.Read(connection, transaction, "promotion, day, held", "", "", "9999", null))
        {
            var key = (row.Day, row.Promotion, row.IsHeld);
            if (row.Figures != counted.GetValueOrDefault(key))
                yield return Said(key, row.Figures, counted.GetValueOrDefault(key));
            counted.Remove(key);
        }

        foreach (var (key, figures) in counted.Where(row => row.Value != default))
            yield return Said(key, default, figures);
    }

    // What each promotion gave, as its order was told.
    private static IEnumerable<string> OfOrder(StoredOrder order, OrderFigures figures)
    {
        var given = figures
            .Lines.SelectMany(line => line.Parts.Select(part => (part.Promotion, part.Given.Own)))
            .Concat(figures.Delivery.Concat(figures.Paid).Select(one => (one.Promotion, one.Amount.Own)))
            .GroupBy(one => one.Promotion, StringComparer.Ordinal)
            .ToDictionary(group => group.Key, group => group.Sum(one => one.Own), StringComparer.Ordinal);
        if (JsonNode.Parse(order.Result) is not JsonObject result || Currency.Find((string?)result["currency"] ?? "") is not { } currency)
            yield break;
        foreach (var told in result["promotions"]?.AsArray() ?? [])
            if (
                currency.Read((string)told!["amount"]!, out var minor) == AmountFault.None
                && given.GetValueOrDefault((string)told["id"]!) != minor
            )
                yield return $"order {order.Id}: its figures say that {told["id"]} gave {currency.Write(given.GetValueOrDefault((string)told["id"]!))}, its result {told["amount"]}";
    }

    private static string Said((string Day, string Promotion, bool Held) row, Contribution kept, Contribution counted) =>
        $"takings of {row.Promotion} on {row.Day}{(row.Held ? ", held" : "")}: {kept} kept, {counted} counted";
}
