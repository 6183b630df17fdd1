using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>
/// Counts everything anew from the orders, redemptions and codes, and compares with the counters in both directions: what differs, what is
/// missing from a counter, and what stands in one without reason.
/// </summary>
/// <param name="database">The store; it may be in use.</param>
public sealed class CounterCheck(Database database)
{
    // What counts of orders, as every counter takes it.
    private const string Counting = "state IN ('held', 'taken') AND NOT rehearsal";

    // Each compares what a table says with what is counted, by what the counter is kept for; nothing on a side counts as nothing used.
    private static readonly Comparison[] Comparisons =
    [
        new(
            "promotion",
            ["uses", "amount", "drawn"],
            "SELECT promotion_id AS name, uses AS a, amount AS b, drawn AS c FROM uses",
            "SELECT promotion_id AS name, count(*) AS a, sum(amount) AS b, sum(drawn) AS c FROM redemptions WHERE counts GROUP BY promotion_id"
        ),
        new(
            "promotion on a day",
            ["uses"],
            "SELECT promotion_id || ' on ' || day AS name, uses AS a, 0 AS b, 0 AS c FROM day_uses",
            "SELECT promotion_id || ' on ' || day AS name, count(*) AS a, 0 AS b, 0 AS c FROM redemptions WHERE counts GROUP BY promotion_id, day"
        ),
        new(
            "promotion used by a shopper",
            ["uses"],
            "SELECT promotion_id || ' by ' || shopper_id AS name, uses AS a, 0 AS b, 0 AS c FROM shopper_uses",
            "SELECT promotion_id || ' by ' || shopper_id AS name, count(*) AS a, 0 AS b, 0 AS c FROM redemptions WHERE counts AND shopper_id IS NOT NULL GROUP BY promotion_id, shopper_id"
        ),
        new(
            "code",
            ["uses", "drawn"],
            "SELECT written || ' of batch ' || batch_id AS name, used - brought_used AS a, drawn - brought_drawn AS b, 0 AS c FROM codes WHERE used <> brought_used OR drawn <> brought_drawn",
            $"""
            SELECT coalesce(written || ' of batch ' || batch_id, bare || ', which is in no batch') AS name, count(*) AS a,
                sum(order_codes.drawn) AS b, 0 AS c
            FROM order_codes JOIN orders ON orders.id = order_id LEFT JOIN codes USING (bare)
            WHERE {Counting} GROUP BY bare
            """
        ),
        new(
            "batch",
            ["codes", "used codes", "void codes"],
            "SELECT id AS name, codes AS a, used AS b, voided AS c FROM batches",
            "SELECT batch_id AS name, count(*) AS a, sum(used > 0) AS b, sum(void) AS c FROM codes GROUP BY batch_id"
        ),
        new(
            "item",
            ["units sold"],
            "SELECT sku AS name, units AS a, 0 AS b, 0 AS c FROM sold",
            $"SELECT sku AS name, sum(units) AS a, 0 AS b, 0 AS c FROM order_units JOIN orders ON orders.id = order_id WHERE {Counting} GROUP BY sku"
        ),
        new(
            "shopper",
            ["orders placed here", "spent here"],
            "SELECT id AS name, placed_orders AS a, placed_spent AS b, 0 AS c FROM shoppers",
            $"""
            SELECT shopper AS name, count(*) AS a, sum(CASE WHEN state = 'taken' THEN total - back ELSE 0 END) AS b, 0 AS c
            FROM orders WHERE {Counting} AND shopper NOT GLOB '{OrderTransaction.Guest}*'
                AND shopper NOT GLOB '{OrderTransaction.Forgotten}*' GROUP BY shopper
            """
        ),
        new(
            "orders from before on a day",
            ["orders", "takings", "cost"],
            "SELECT batch || ' ' || day || ' ' || codes AS name, orders AS a, takings AS b, cost AS c FROM past_days",
            """
            SELECT batch || ' ' || day || ' ' || codes AS name, count(*) AS a, sum(net) AS b, sum(coalesce(cost, 0)) AS c
            FROM past_orders GROUP BY batch, day, codes
            """
        ),
        new(
            "uses of an order",
            ["that count"],
            "SELECT order_id AS name, sum(counts) AS a, 0 AS b, 0 AS c FROM redemptions WHERE order_id IS NOT NULL GROUP BY order_id",
            $"SELECT order_id AS name, sum({Counting}) AS a, 0 AS b, 0 AS c FROM redemptions JOIN orders ON orders.id = order_id GROUP BY order_id"
        ),
    ];

    /// <summary>The differences in words; none: every counter agrees with what it counts.</summary>
    public IReadOnlyList<string> Differences()
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return Differences(connection, transaction);
    }

    /// <summary>The same, inside a transaction.</summary>
    public static IReadOnlyList<string> Differences(SqliteConnection connection, SqliteTransaction transaction)
    {
        var told = new List<string>();
        foreach (var (what, figures, kept, counted) in Comparisons)
        {
            foreach (
                var row in connection.Query(
                    $"""
                    WITH kept AS ({kept}), counted AS ({counted})
                    SELECT name, kept.name IS NULL AS missing,
                           coalesce(kept.a, 0) AS keptA, coalesce(kept.b, 0) AS keptB, coalesce(kept.c, 0) AS keptC,
                           coalesce(counted.a, 0) AS countedA, coalesce(counted.b, 0) AS countedB, coalesce(counted.c, 0) AS countedC
                    FROM kept FULL OUTER JOIN counted USING (name)
                    WHERE keptA <> countedA OR keptB <> countedB OR keptC <> countedC
                    ORDER BY name
                    """,
                    transaction: transaction
                )
            )
            {
                ((long Kept, long Counted) A, (long, long) B, (long, long) C) = (
                    ((long)row.keptA, (long)row.countedA),
                    ((long)row.keptB, (long)row.countedB),
                    ((long)row.keptC, (long)row.countedC)
                );
                (long Kept, long Counted)[] pairs = [A, B, C];
                var differing = figures
                    .Select((figure, place) => (figure, pairs[place]))
                    .Where(entry => entry.Item2.Kept != entry.Item2.Counted)
                    .Select(entry => $"{entry.figure}: {entry.Item2.Kept} kept, {entry.Item2.Counted} counted");
                told.Add($"{what} {row.name}: {string.Join("; ", differing)}{(row.missing == 1 ? " (nothing is kept)" : "")}");
            }
        }

        told.AddRange(TakingsCheck.Differences(connection, transaction));
        return told;
    }

    private sealed record Comparison(string What, string[] Figures, string Kept, string Counted);
}
