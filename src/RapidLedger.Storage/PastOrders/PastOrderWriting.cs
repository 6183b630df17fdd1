using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>Writes orders by statements that are read once.</summary>
internal sealed class PastOrderWriting : IDisposable
{
    private readonly SqliteConnection connection;
    private readonly SqliteTransaction transaction;
    private readonly long batch;
    private readonly SqliteCommand order;
    private readonly SqliteCommand line;
    private readonly Dictionary<(string Day, string Codes), Contribution> days = [];

    public PastOrderWriting(SqliteConnection connection, SqliteTransaction transaction, long batch)
    {
        (this.connection, this.transaction, this.batch) = (connection, transaction, batch);
        order = Command(
            connection,
            transaction,
            """
            INSERT INTO past_orders
                (batch, source, number, at, day, currency, shopper, place, channel, method, codes, assumed, delivery, total, net, cost,
                own_total)
            VALUES ($batch, $source, $number, $at, $day, $currency, $shopper, $place, $channel, $method, $codes, $assumed, $delivery,
                $total, $net, $cost, $ownTotal)
            ON CONFLICT DO NOTHING RETURNING id
            """
        );
        order.Parameters.AddWithValue("$batch", batch);
        order.Parameters.AddWithValue("$source", PastOrderRepository.FromFile);
        line = Command(
            connection,
            transaction,
            "INSERT INTO past_lines (order_id, position, sku, quantity, paid, net, cost) VALUES ($id, $position, $sku, $quantity, $paid, $net, $cost)"
        );
    }

    /// <summary>Adds an order; false: its number stands here already.</summary>
    public bool Add(PastOrder one)
    {
        Set(order, "$number", one.Number);
        Set(order, "$at", one.At);
        Set(order, "$day", one.Day);
        Set(order, "$currency", one.Currency);
        Set(order, "$shopper", one.Shopper);
        Set(order, "$place", one.Place);
        Set(order, "$channel", one.Channel);
        Set(order, "$method", one.Method);
        var codes = one.Codes.Count == 0 ? "[]" : JsonSerializer.Serialize(one.Codes);
        var (net, cost) = (one.Lines.Sum(sold => sold.Net), one.Lines.Aggregate((long?)0, (sum, sold) => sum + sold.Cost));
        Set(order, "$codes", codes);
        Set(order, "$assumed", one.IsAssumed ? 1 : 0);
        Set(order, "$delivery", one.Delivery);
        Set(order, "$total", one.Total);
        Set(order, "$net", net);
        Set(order, "$cost", cost);
        Set(order, "$ownTotal", one.Delivery + one.Lines.Sum(sold => sold.Paid));
        if (order.ExecuteScalar() is not long id)
            return false;
        days[(one.Day, codes)] =
            days.GetValueOrDefault((one.Day, codes))
            + default(Contribution) with
            {
                Orders = 1,
                Units = one.Lines.Sum(sold => sold.Quantity),
                Takings = net,
                MarginOf = cost is null ? 0 : net,
                Cost = cost ?? 0,
            };
        for (var position = 0; position < one.Lines.Count; position++)
        {
            var sold = one.Lines[position];
            Set(line, "$id", id);
            Set(line, "$position", position);
            Set(line, "$sku", sold.Sku);
            Set(line, "$quantity", sold.Quantity);
            Set(line, "$paid", sold.Paid);
            Set(line, "$net", sold.Net);
            Set(line, "$cost", sold.Cost);
            line.ExecuteNonQuery();
        }

        return true;
    }

    /// <summary>Adds what was written to its days.</summary>
    public void AddUp() =>
        connection.Execute(
            """
            INSERT INTO past_days (batch, day, codes, orders, units, takings, margin_of, cost)
            VALUES (@batch, @Day, @Codes, @Orders, @Units, @Takings, @MarginOf, @Cost)
            ON CONFLICT DO UPDATE SET orders = orders + excluded.orders, units = units + excluded.units,
                takings = takings + excluded.takings, margin_of = margin_of + excluded.margin_of, cost = cost + excluded.cost
            """,
            days.Select(day => new
            {
                batch,
                day.Key.Day,
                day.Key.Codes,
                day.Value.Orders,
                day.Value.Units,
                day.Value.Takings,
                day.Value.MarginOf,
                day.Value.Cost,
            }),
            transaction
        );

    public void Dispose()
    {
        order.Dispose();
        line.Dispose();
    }

    private static SqliteCommand Command(SqliteConnection connection, SqliteTransaction transaction, string text)
    {
        var command = connection.CreateCommand();
        (command.Transaction, command.CommandText) = (transaction, text);
        return command;
    }

    private static void Set(SqliteCommand command, string name, object? value)
    {
        if (command.Parameters.Contains(name))
            command.Parameters[name].Value = value ?? DBNull.Value;
        else
            command.Parameters.AddWithValue(name, value ?? DBNull.Value);
    }
}
