using System.Diagnostics;
using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>
/// Orders from before. They come in under the number of a batch that nobody reads, in short pieces, so that orders are placed meanwhile;
/// one
/// short write makes the batch count. Taking it back is one short write too; its rows are cleared away behind it.
/// </summary>
public sealed class PastOrderRepository(Database database, IClock clock)
{
    /// <summary>Where orders that come as files are from.</summary>
    public const string FromFile = "file";

    private const int AtOnce = 200;
    private static readonly TimeSpan Piece = TimeSpan.FromMilliseconds(40);

    // Whoever has written nothing for so long has died on the way.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(50);

    private const string Select = """
        SELECT id, number, at, day, currency, shopper, place, channel, method, codes, assumed, delivery, total FROM past_orders
        """;

    private const string Counting = "batch IN (SELECT id FROM past_batches WHERE counts)";

    /// <summary>Those of some numbers that stand here already.</summary>
    public IEnumerable<KnownPastOrder> Known(IEnumerable<string> numbers)
    {
        using var connection = database.Open();
        foreach (var some in numbers.Chunk(AtOnce))
        foreach (
            var known in connection.Query<KnownPastOrder>(
                $"SELECT number, at, total FROM past_orders WHERE source = '{FromFile}' AND number IN @some AND {Counting}",
                new { some }
            )
        )
            yield return known;
    }

    /// <summary>
    /// Brings orders in; a number that stands here already is left out. It waits for whoever began before, in this program or another: what
    /// that one brings counts or not only at its end.
    /// </summary>
    /// <param name="source">Which file.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="orders">Each number once.</param>
    /// <param name="progress">Is told how many lines are written.</param>
    /// <param name="gone">Nobody waits any more: nothing of it stays.</param>
    /// <exception cref="StorageFault">It stood still for so long that another program took it for broken off: nothing stays.</exception>
    public async Task<StepOutcome> Bring(
        StepSource source,
        string what,
        IEnumerable<PastOrder> orders,
        Action<int>? progress,
        CancellationToken gone
    )
    {
        var (step, batch) = await database.Write(
            (connection, transaction) =>
            {
                var number = new StepRows(connection, transaction).Begin(source, what, clock.GetCurrentInstant(), null);
                return (
                    number,
                    connection.ExecuteScalar<long>(
                        "INSERT INTO past_batches (step) VALUES (@number) RETURNING id",
                        new { number },
                        transaction
                    )
                );
            },
            gone
        );
        var (brought, lines, isOver) = (0, 0, false);
        try
        {
            await WaitFor(batch, gone);
            using var each = orders.GetEnumerator();
            while (!isOver)
            {
                await database.Write(
                    (connection, transaction) =>
                    {
                        using var writing = new Writing(connection, transaction, batch);
                        var watch = Stopwatch.StartNew();
                        while (watch.Elapsed < Piece)
                        {
                            if (!each.MoveNext())
                            {
                                isOver = true;
                                break;
                            }

                            brought += writing.Add(each.Current) ? 1 : 0;
                            lines += each.Current.Lines.Count;
                        }

                        writing.AddUp();
                        return brought;
                    },
                    gone
                );
                progress?.Invoke(lines);
            }

            if (brought == 0)
                return StepOutcome.Nothing;
            await database.Write(
                (connection, transaction) =>
                {
                    var rows = new StepRows(connection, transaction);
                    if (
                        connection.Execute(
                            "UPDATE past_batches SET counts = 1, orders = @brought WHERE id = @batch",
                            new { batch, brought },
                            transaction
                        ) == 0
                    )
                        throw new StorageFault("Another program has cleared these orders away meanwhile. Bring them again.", passes: true);
                    rows.Count(step, null);
                    rows.SettleAll(step);
                    rows.ForgetOld(StepRepository.Kept);
                    return 0;
                },
                gone
            );
            batch = 0;
            return new(step, brought, []);
        }
        finally
        {
            if (batch != 0)
            {
                await database.Write((connection, transaction) => new StepRows(connection, transaction).Drop(step));
                await Clear(batch);
            }
        }
    }

    /// <summary>Takes the orders of a step out again.</summary>
    /// <param name="step">The step.</param>
    /// <param name="what">What is done, in words.</param>
    /// <returns>How many orders went; null: the step brought none, or they were taken back already.</returns>
    public async Task<StepOutcome?> TakeBack(long step, string what)
    {
        var (batch, number) = await database.Write(
            (connection, transaction) =>
            {
                var batch = connection.ExecuteScalar<long?>(
                    "UPDATE past_batches SET counts = 0 WHERE step = @step AND counts RETURNING id",
                    new { step },
                    transaction
                );
                if (batch is null)
                    return (null, 0L);
                var rows = new StepRows(connection, transaction);
                var number = rows.Begin(StepSource.App, what, clock.GetCurrentInstant(), step);
                rows.Count(number, step);
                rows.SettleAll(number);
                return (batch, number);
            }
        );
        return batch is { } own ? new(number, (int)await Clear(own), []) : null;
    }

    /// <summary>Clears away what a stop, a crash or a taking back left: batches that do not count.</summary>
    public async Task Recover()
    {
        using var connection = database.Open();
        foreach (var batch in connection.Query<long>("SELECT id FROM past_batches WHERE NOT counts"))
            await Clear(batch);
    }

    /// <summary>Whether there are any.</summary>
    public bool IsAny()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM past_batches WHERE counts)");
    }

    /// <summary>Orders from before, the last first.</summary>
    /// <param name="query">Which; null: all.</param>
    /// <param name="before">Only such as were placed before that order: its day and id; null: from the last.</param>
    /// <param name="take">At most so many.</param>
    public IReadOnlyList<StoredPastOrder> Find(PastOrderQuery? query, (string Day, long Id)? before, int take)
    {
        using var connection = database.Open();
        var asked = query is null
            ? "true"
            : """
                id IN (
                    SELECT id FROM past_orders WHERE number >= @Beginning AND number < @Behind
                    UNION SELECT id FROM past_orders WHERE shopper IN @Shoppers
                    UNION SELECT order_id FROM past_lines WHERE sku IN @Skus
                    UNION SELECT id FROM past_orders WHERE day = @Day
                    UNION SELECT id FROM past_orders WHERE own_total IN @OwnTotals AND (own_total || ' ' || currency) IN @Amounts
                    UNION SELECT id FROM past_orders WHERE codes <> '[]' AND codes IN (
                        SELECT past_days.codes FROM past_days, json_each(past_days.codes) AS code WHERE code.value = @Code
                    )
                )
                """;
        return connection
            .Query<StoredPastOrder>(
                $"""
                {Select} WHERE {asked} AND {Counting} AND (day, id) < (@beforeDay, @beforeId) ORDER BY day DESC, id DESC LIMIT @take
                """,
                new
                {
                    query?.Beginning,
                    Behind = query?.Beginning + char.MaxValue,
                    Shoppers = query?.Shoppers ?? [],
                    Skus = query?.Skus ?? [],
                    query?.Day,
                    OwnTotals = query?.Amount?.Read.Select(one => one.Minor) ?? [],
                    Amounts = query?.Amount?.Both ?? [],
                    query?.Code,
                    beforeDay = before?.Day ?? "9999",
                    beforeId = before?.Id ?? 0,
                    take,
                }
            )
            .AsList();
    }

    /// <summary>All of them with their lines, by number; read one by one as they are asked for.</summary>
    public IEnumerable<(StoredPastOrder Order, IReadOnlyList<StoredPastLine> Lines)> All()
    {
        using var connection = database.Open();
        var (order, lines) = ((StoredPastOrder?)null, new List<StoredPastLine>());
        foreach (
            var (head, line) in connection.Query<StoredPastOrder, StoredPastLine, (StoredPastOrder, StoredPastLine)>(
                $"""
                SELECT past_orders.id, number, at, day, currency, shopper, place, channel, method, codes, assumed, delivery, total,
                    sku, quantity, paid
                FROM past_orders JOIN past_lines ON past_lines.order_id = past_orders.id
                WHERE source = '{FromFile}' AND {Counting} ORDER BY number, position
                """,
                (head, line) => (head, line),
                buffered: false,
                splitOn: "sku"
            )
        )
        {
            if (order is not null && order.Id != head.Id)
            {
                yield return (order, lines);
                lines = [];
            }

            order = head;
            lines.Add(line);
        }

        if (order is not null)
            yield return (order, lines);
    }

    /// <summary>One of them with its lines, or null.</summary>
    public (StoredPastOrder Order, IReadOnlyList<StoredPastLine> Lines)? Find(long id)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredPastOrder>($"{Select} WHERE id = @id AND {Counting}", new { id }) is { } order
            ? (
                order,
                connection
                    .Query<StoredPastLine>("SELECT sku, quantity, paid FROM past_lines WHERE order_id = @id ORDER BY position", new { id })
                    .AsList()
            )
            : null;
    }

    // Those that began before are waited for; a batch of which nothing moves any more is cleared away.
    private async Task WaitFor(long batch, CancellationToken gone)
    {
        var (before, still) = ("", Stopwatch.StartNew());
        while (true)
        {
            using var connection = database.Open();
            var ahead = connection
                .Query<(long Id, string? Rows)>(
                    """
                    SELECT id, (SELECT min(id) || ' to ' || max(id) FROM past_orders WHERE batch = past_batches.id)
                    FROM past_batches WHERE NOT counts AND id < @batch
                    """,
                    new { batch }
                )
                .AsList();
            if (ahead.Count == 0)
                return;
            var now = string.Join(", ", ahead);
            if (now != before)
                (before, still) = (now, Stopwatch.StartNew());
            else if (still.Elapsed > Patience)
                foreach (var (dead, _) in ahead)
                    await Clear(dead);
            await Task.Delay(Pause, gone);
        }
    }

    private async Task<long> Clear(long batch)
    {
        var cleared = 0L;
        for (int some = 1; some > 0; )
        {
            some = await database.Write(
                (connection, transaction) =>
                {
                    var ids = connection
                        .Query<long>("SELECT id FROM past_orders WHERE batch = @batch LIMIT @AtOnce", new { batch, AtOnce }, transaction)
                        .AsList();
                    connection.Execute(
                        "DELETE FROM past_lines WHERE order_id IN @ids; DELETE FROM past_orders WHERE id IN @ids",
                        new { ids },
                        transaction
                    );
                    if (ids.Count == 0)
                        connection.Execute(
                            "DELETE FROM past_days WHERE batch = @batch; DELETE FROM past_batches WHERE id = @batch",
                            new { batch },
                            transaction
                        );
                    return ids.Count;
                }
            );
            cleared += some;
        }

        return cleared;
    }

    /// <summary>Writes orders by statements that are read once.</summary>
    private sealed class Writing : IDisposable
    {
        private readonly SqliteConnection connection;
        private readonly SqliteTransaction transaction;
        private readonly long batch;
        private readonly SqliteCommand order;
        private readonly SqliteCommand line;
        private readonly Dictionary<(string Day, string Codes), Contribution> days = [];

        public Writing(SqliteConnection connection, SqliteTransaction transaction, long batch)
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
            order.Parameters.AddWithValue("$source", FromFile);
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
}
