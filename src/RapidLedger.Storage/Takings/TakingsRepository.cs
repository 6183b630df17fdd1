using Dapper;
using Microsoft.Data.Sqlite;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>Figures of a promotion on a day; * are all orders, - those without any promotion.</summary>
/// <param name="Promotion">Which.</param>
/// <param name="Day">The store's date, ISO 8601; empty: of the whole stretch.</param>
/// <param name="IsHeld">Whether they are of orders that are not paid yet.</param>
/// <param name="Figures">The figures.</param>
public sealed record TakingsRow(string Promotion, string Day, bool IsHeld, Contribution Figures);

/// <summary>What orders brought: sums by day.</summary>
public sealed class TakingsRepository(Database database)
{
    private const string Sums = """
        coalesce(sum(orders), 0), coalesce(sum(units), 0), coalesce(sum(takings), 0), coalesce(sum(given), 0), coalesce(sum(delivery), 0),
        coalesce(sum(without_tax), 0), coalesce(sum(paid), 0), coalesce(sum(margin_of), 0), coalesce(sum(cost), 0),
        coalesce(sum(new_shoppers), 0), coalesce(sum(guests), 0)
        """;

    /// <summary>The figures of a stretch by promotion, both days included.</summary>
    public IReadOnlyList<TakingsRow> Of(string from, string to) => Read("promotion, '', held", "", from, to, null);

    /// <summary>The same by day; of one promotion, or of all.</summary>
    public IReadOnlyList<TakingsRow> ByDay(string from, string to, string? promotion) =>
        Read("promotion, day, held", promotion is null ? "" : "promotion = @promotion AND", from, to, promotion);

    /// <summary>
    /// How many orders from before there are in a stretch, and what they came to without tax, by the codes that they name.
    /// </summary>
    public IReadOnlyList<(string Codes, string Day, long Orders, long Takings, long MarginOf, long Cost, long Units)> Brought(
        string from,
        string to
    )
    {
        using var connection = database.Open();
        return connection
            .Query<(string, string, long, long, long, long, long)>(
                """
                SELECT codes, day, sum(orders), sum(takings), sum(margin_of), sum(cost), sum(units)
                FROM past_days WHERE day >= @from AND day <= @to AND batch IN (SELECT id FROM past_batches WHERE counts)
                GROUP BY codes, day
                """,
                new { from, to }
            )
            .AsList();
    }

    /// <summary>The orders that count and of which no figures are kept yet: placed before they were.</summary>
    /// <param name="after">Only such as changed after that change.</param>
    /// <param name="take">At most so many.</param>
    public IReadOnlyList<StoredOrder> WithoutFigures(long after, int take)
    {
        using var connection = database.Open();
        return connection
            .Query<StoredOrder>(
                $"""
                {OrderTransaction.Select} WHERE change > @after AND NOT rehearsal
                    AND NOT EXISTS (SELECT 1 FROM order_figures WHERE order_id = orders.id) ORDER BY change LIMIT @take
                """,
                new { after, take }
            )
            .AsList();
    }

    /// <summary>Keeps the figures of orders that were placed before they were kept.</summary>
    public Task Keep(IReadOnlyList<(StoredOrder Order, OrderFigures Figures)> orders) =>
        database.Write(
            (connection, transaction) =>
            {
                var rows = new TakingsRows(connection, transaction);
                foreach (var (order, figures) in orders)
                    if (rows.Find(order.Id) is null)
                        rows.Keep(new OrderTransaction(connection, transaction).Find(order.Id)!, figures, isNew: false);
                return 0;
            }
        );

    private IReadOnlyList<TakingsRow> Read(string by, string only, string from, string to, string? promotion)
    {
        using var connection = database.Open();
        return Read(connection, null, by, only, from, to, promotion);
    }

    internal static IReadOnlyList<TakingsRow> Read(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        string by,
        string only,
        string from,
        string to,
        string? promotion
    )
    {
        using var reader = connection.ExecuteReader(
            $"SELECT {by}, {Sums} FROM takings_days WHERE {only} day >= @from AND day <= @to GROUP BY 1, 2, 3 ORDER BY 2, 1, 3",
            new
            {
                from,
                to,
                promotion,
            },
            transaction
        );
        var rows = new List<TakingsRow>();
        while (reader.Read())
            rows.Add(new(reader.GetString(0), reader.GetString(1), reader.GetInt64(2) == 1, Figures(reader, 3)));
        return rows;
    }

    private static Contribution Figures(System.Data.IDataReader reader, int at) =>
        new(
            reader.GetInt64(at),
            reader.GetInt64(at + 1),
            reader.GetInt64(at + 2),
            reader.GetInt64(at + 3),
            reader.GetInt64(at + 4),
            reader.GetInt64(at + 5),
            reader.GetInt64(at + 6),
            reader.GetInt64(at + 7),
            reader.GetInt64(at + 8),
            reader.GetInt64(at + 9),
            reader.GetInt64(at + 10)
        );
}
