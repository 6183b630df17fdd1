using System.Text.Json;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>Keeps the figures of orders, and their sums by day and promotion, inside the transaction that places or moves them.</summary>
internal sealed class TakingsRows(SqliteConnection connection, SqliteTransaction transaction)
{
    /// <summary>Keeps the figures of an order that is placed, and adds them to its day.</summary>
    public void Keep(StoredOrder order, OrderFigures figures, bool isNew)
    {
        var isGuest = order.Shopper is null || OrderTransaction.IsStandIn(order.Shopper);
        connection.Execute(
            "INSERT INTO order_figures (order_id, document, fresh, guest) VALUES (@Id, @document, @isNew, @isGuest)",
            new
            {
                order.Id,
                document = FiguresDocument.Write(figures),
                isNew,
                isGuest,
            },
            transaction
        );
        Add([new(order, new(figures, isNew, isGuest), 1)]);
    }

    /// <summary>Takes what an order was from its day and adds what it is.</summary>
    public void Move(StoredOrder before, StoredOrder after)
    {
        if (Find(before.Id) is { } kept)
            Add([new(before, kept, -1), new(after, kept, 1)]);
    }

    /// <summary>The figures of an order; null: none are kept.</summary>
    public KeptFigures? Find(string id) =>
        connection.QuerySingleOrDefault<(string Document, long Fresh, long Guest)?>(
            "SELECT document, fresh, guest FROM order_figures WHERE order_id = @id",
            new { id },
            transaction
        )
            is var (document, fresh, guest)
            ? new(FiguresDocument.Read(document), fresh == 1, guest == 1)
            : null;

    /// <summary>What an order adds to each row of its day.</summary>
    public static IReadOnlyDictionary<string, Contribution> Of(StoredOrder order, KeptFigures kept)
    {
        if (order.Rehearsal || order.State is not ("held" or "taken"))
            return new Dictionary<string, Contribution>();
        var (units, amount) = Returned(order, kept.Figures);
        return Contribution.Of(kept.Figures, units, amount, kept.IsNew, kept.IsGuest);
    }

    internal static (long[]? Units, long Amount) Returned(StoredOrder order, OrderFigures figures)
    {
        if (order.Returned is null || JsonNode.Parse(order.Returned) is not JsonObject returned)
            return (null, 0);
        var currency = Currency.Find((string?)JsonNode.Parse(order.Result)?["currency"] ?? "");
        return (
            [.. returned["units"]!.AsArray().Select(units => (long)units!).Concat(new long[figures.Lines.Count]).Take(figures.Lines.Count)],
            currency is not null && currency.Read((string)returned["amount"]!, out var minor) == AmountFault.None ? minor : 0
        );
    }

    private void Add(IEnumerable<Change> changes)
    {
        var rows = new Dictionary<(string Promotion, string Day, bool Held), Contribution>();
        foreach (var (order, kept, sign) in changes)
        foreach (var (promotion, more) in Of(order, kept))
        {
            var row = (promotion, order.Day, order.State == "held");
            var before = rows.GetValueOrDefault(row);
            rows[row] = sign > 0 ? before + more : before - more;
        }

        if (rows.Count == 0)
            return;
        connection.Execute(
            """
            INSERT INTO takings_days
            SELECT value ->> 0, value ->> 1, value ->> 2, value ->> 3, value ->> 4, value ->> 5, value ->> 6, value ->> 7, value ->> 8,
                value ->> 9, value ->> 10, value ->> 11, value ->> 12, value ->> 13
            FROM json_each(@rows) WHERE true
            ON CONFLICT DO UPDATE SET orders = orders + excluded.orders, units = units + excluded.units,
                takings = takings + excluded.takings,
                given = given + excluded.given, delivery = delivery + excluded.delivery, without_tax = without_tax + excluded.without_tax,
                paid = paid + excluded.paid, margin_of = margin_of + excluded.margin_of, cost = cost + excluded.cost,
                new_shoppers = new_shoppers + excluded.new_shoppers, guests = guests + excluded.guests
            """,
            new
            {
                rows = JsonSerializer.Serialize(
                    rows.Select(row =>
                        new object[]
                        {
                            row.Key.Promotion,
                            row.Key.Day,
                            row.Key.Held ? 1 : 0,
                            row.Value.Orders,
                            row.Value.Units,
                            row.Value.Takings,
                            row.Value.Given,
                            row.Value.GivenDelivery,
                            row.Value.GivenWithoutTax,
                            row.Value.Paid,
                            row.Value.MarginOf,
                            row.Value.Cost,
                            row.Value.NewShoppers,
                            row.Value.Guests,
                        }
                    )
                ),
            },
            transaction
        );
    }

    private sealed record Change(StoredOrder Order, KeptFigures Kept, int Sign);
}

/// <summary>The figures of an order as they are kept.</summary>
/// <param name="Figures">What it holds.</param>
/// <param name="IsNew">Whether its shopper had no order before.</param>
/// <param name="IsGuest">Whether a guest bought.</param>
public sealed record KeptFigures(OrderFigures Figures, bool IsNew, bool IsGuest);
