using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>Figures of a part of a promotion's orders: of a code, a place, an item.</summary>
/// <param name="Part">code, batch, place, channel, currency, group, item or hour.</param>
/// <param name="Word">Which: the code, the SKU, the place's code.</param>
/// <param name="Figures">The figures.</param>
public sealed record TakingsPart(string Part, string Word, Contribution Figures);

/// <summary>
/// Adds orders up by what they were, behind their placing: in the order of their changes, in short pieces. What an order had added before
/// is
/// taken out again when it changes.
/// </summary>
public sealed class TakingsParts(Database database)
{
    private const int AtOnce = 100;
    private static readonly TimeSpan Piece = TimeSpan.FromMilliseconds(30);

    /// <summary>Adds the next orders that changed.</summary>
    /// <param name="zone">By which hours are told.</param>
    /// <returns>Whether there are more.</returns>
    public async Task<bool> Follow(DateTimeZone zone)
    {
        // Orders are read and counted beside whoever places; only the sums are written in their turn. An order that changes meanwhile is
        // counted as it was, and again when its change is reached.
        var (began, done, last, isWhole, adding) = Counted(zone);
        if (done == 0)
            return false;
        await database.Write(
            (connection, transaction) =>
            {
                // Another program over the same file may have been first.
                if (Reached(connection, transaction) != began)
                    return false;
                adding.Write(connection, transaction);
                connection.Execute("UPDATE takings_reached SET change = @Change", new { Change = last }, transaction);
                return true;
            }
        );
        return !isWhole;
    }

    // The next orders as they stand; read to the end before anything is written.
    private (long Began, int Done, long Last, bool IsWhole, Adding Adding) Counted(DateTimeZone zone)
    {
        using var reading = database.Open();
        using var snapshot = reading.BeginTransaction(deferred: true);
        var began = Reached(reading, snapshot);
        var orders = reading
            .Query<StoredOrder>(
                $"{OrderTransaction.Select} WHERE change > @began ORDER BY change LIMIT @AtOnce",
                new { began, AtOnce },
                snapshot
            )
            .AsList();
        var (watch, done, adding) = (Stopwatch.StartNew(), 0, new Adding(reading, snapshot, zone));
        while (done < orders.Count && (done == 0 || watch.Elapsed < Piece))
            adding.Add(orders[done++]);
        return (began, done, done == 0 ? began : orders[done - 1].Change, done == orders.Count && orders.Count < AtOnce, adding);
    }

    private static long Reached(SqliteConnection connection, SqliteTransaction transaction) =>
        connection.ExecuteScalar<long>("SELECT change FROM takings_reached", transaction: transaction);

    /// <summary>Whether orders changed that are not added yet.</summary>
    public bool IsBehind()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT (SELECT change FROM takings_reached) < (SELECT coalesce(max(change), 0) FROM orders)"
        );
    }

    /// <summary>What a promotion's orders of a stretch were.</summary>
    /// <param name="promotion">Its id; * all orders, - those without any.</param>
    /// <param name="from">The first day.</param>
    /// <param name="to">The last day.</param>
    public IReadOnlyList<TakingsPart> Of(string promotion, string from, string to)
    {
        using var connection = database.Open();
        using var reader = connection.ExecuteReader(
            """
            SELECT part, word, sum(orders), sum(units), sum(takings), sum(given), sum(delivery), sum(margin_of), sum(cost)
            FROM takings_parts WHERE promotion = @promotion AND day >= @from AND day <= @to
                AND (part <> 'hour' OR julianday(@to) - julianday(@from) < 3)
            GROUP BY part, word HAVING sum(orders) > 0
            """,
            new
            {
                promotion,
                from,
                to,
            }
        );
        var parts = new List<TakingsPart>();
        while (reader.Read())
            parts.Add(
                new(
                    reader.GetString(0),
                    reader.GetString(1),
                    new(
                        reader.GetInt64(2),
                        reader.GetInt64(3),
                        reader.GetInt64(4),
                        reader.GetInt64(5),
                        reader.GetInt64(6),
                        0,
                        0,
                        reader.GetInt64(7),
                        reader.GetInt64(8),
                        0,
                        0
                    )
                )
            );
        return parts;
    }

    /// <summary>Orders that are counted, to be added at once.</summary>
    private sealed class Adding(SqliteConnection connection, SqliteTransaction transaction, DateTimeZone zone)
    {
        private readonly TakingsRows rows = new(connection, transaction);
        private readonly Dictionary<(string Promotion, string Day, string Part, string Word), Contribution> sums = [];
        private readonly List<StoredOrder> added = [];

        public void Add(StoredOrder order)
        {
            if (order.Rehearsal || rows.Find(order.Id) is not { } kept)
                return;
            var before = connection.QuerySingleOrDefault<(string Id, string? Returned)?>(
                "SELECT order_id, returned FROM takings_added WHERE order_id = @Id",
                order,
                transaction
            );
            if (before is not var (_, returned))
                returned = null;
            if (before is not null)
                Count(order with { State = "taken", Returned = returned }, kept, -1);
            // Only what is paid is told by its parts.
            if (order.State == "taken")
                Count(order, kept, 1);
            added.Add(order);
        }

        public void Write(SqliteConnection writing, SqliteTransaction turn)
        {
            writing.Execute(
                """
                INSERT INTO takings_added (order_id, returned) SELECT value ->> 0, value ->> 1 FROM json_each(@taken) WHERE true
                ON CONFLICT DO UPDATE SET returned = excluded.returned;
                DELETE FROM takings_added WHERE order_id IN (SELECT value FROM json_each(@others))
                """,
                new
                {
                    taken = JsonSerializer.Serialize(
                        added.Where(order => order.State == "taken").Select(order => new[] { order.Id, order.Returned })
                    ),
                    others = JsonSerializer.Serialize(added.Where(order => order.State != "taken").Select(order => order.Id)),
                },
                turn
            );
            var changed = sums.Where(sum => sum.Value != default).ToArray();
            if (changed.Length == 0)
                return;
            writing.Execute(
                """
                INSERT INTO takings_parts
                SELECT value ->> 0, value ->> 1, value ->> 2, value ->> 3, value ->> 4, value ->> 5, value ->> 6, value ->> 7, value ->> 8,
                    value ->> 9, value ->> 10
                FROM json_each(@rows) WHERE true
                ON CONFLICT DO UPDATE SET orders = orders + excluded.orders, units = units + excluded.units,
                    takings = takings + excluded.takings, given = given + excluded.given, delivery = delivery + excluded.delivery,
                    margin_of = margin_of + excluded.margin_of, cost = cost + excluded.cost
                """,
                new
                {
                    rows = JsonSerializer.Serialize(
                        changed.Select(sum =>
                            new object[]
                            {
                                sum.Key.Promotion,
                                sum.Key.Day,
                                sum.Key.Part,
                                sum.Key.Word,
                                sum.Value.Orders,
                                sum.Value.Units,
                                sum.Value.Takings,
                                sum.Value.Given,
                                sum.Value.GivenDelivery,
                                sum.Value.MarginOf,
                                sum.Value.Cost,
                            }
                        )
                    ),
                },
                turn
            );
        }

        private void Count(StoredOrder order, KeptFigures kept, int sign)
        {
            var (units, _) = TakingsRows.Returned(order, kept.Figures);
            var (cart, result) = (JsonNode.Parse(order.Cart), JsonNode.Parse(order.Result));
            var (words, codes) = (Words(order, cart, result), Codes(result));
            foreach (var (promotion, figures) in TakingsRows.Of(order, kept))
            {
                var own = codes.Where(code => code.Promotion == promotion || promotion == Contribution.All);
                foreach (var (part, word) in words.Concat(own.Select(code => (code.Part, code.Word)).Distinct()))
                    Put(promotion, order.Day, part, word, figures, sign);
                var only = promotion == Contribution.Without ? Contribution.All : promotion;
                // A SKU on several lines is one order of it.
                foreach (var item in Contribution.ByItem(kept.Figures, units, only).GroupBy(item => item.Sku, StringComparer.Ordinal))
                    Put(
                        promotion,
                        order.Day,
                        "item",
                        item.Key,
                        item.Aggregate(default(Contribution), (sum, one) => sum + one.Figures) with
                        {
                            Orders = 1,
                        },
                        sign
                    );
            }
        }

        private void Put(string promotion, string day, string part, string word, Contribution figures, int sign)
        {
            var before = sums.GetValueOrDefault((promotion, day, part, word));
            // What the parts do not tell is not kept of them.
            figures = figures with { GivenWithoutTax = 0, Paid = 0, NewShoppers = 0, Guests = 0 };
            sums[(promotion, day, part, word)] = sign > 0 ? before + figures : before - figures;
        }

        private List<(string Part, string Word)> Words(StoredOrder order, JsonNode? cart, JsonNode? result)
        {
            var words = new List<(string, string)>
            {
                ("channel", (string?)cart?["channel"] ?? Cart.Web),
                (
                    "hour",
                    Instant
                        .FromUnixTimeSeconds(order.PlacedAt)
                        .InZone(zone)
                        .LocalDateTime.ToString("uuuu'-'MM'-'dd'T'HH':00'", CultureInfo.InvariantCulture)
                ),
            };
            if ((string?)cart?["destination"] is { } place)
                words.Add(("place", place));
            if ((string?)result?["currency"] is { } currency)
                words.Add(("currency", currency));
            foreach (var group in (cart?["shopper"]?["groups"] as JsonArray)?.Select(group => (string)group!).Distinct() ?? [])
                words.Add(("group", group));
            return words;
        }

        // The codes that started promotions, those of a batch as the batch.
        private (string Promotion, string Part, string Word)[] Codes(JsonNode? result)
        {
            (string Promotion, string Code)[] codes =
            [
                .. (result?["codes"]?.AsArray() ?? [])
                    .Where(code => code!["promotion"] is not null)
                    .Select(code => ((string)code!["promotion"]!, (string)code["code"]!)),
            ];
            if (codes.Length == 0)
                return [];
            var batches = OrderTransaction
                .Standing(connection, transaction, codes.Select(code => Trigger.Bare(code.Code)))
                .ToDictionary(code => code.Bare, code => code.BatchId, StringComparer.Ordinal);
            return
            [
                .. codes.Select(code =>
                    batches.TryGetValue(Trigger.Bare(code.Code), out var batch)
                        ? (code.Promotion, "batch", batch)
                        : (code.Promotion, "code", code.Code)
                ),
            ];
        }
    }
}
