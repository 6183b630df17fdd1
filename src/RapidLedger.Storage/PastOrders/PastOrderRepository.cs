using Dapper;

namespace RapidLedger.Storage;

/// <summary>Orders from before, of batches that count: found and read.</summary>
public sealed class PastOrderRepository(Database database)
{
    /// <summary>Where orders that come as files are from.</summary>
    public const string FromFile = "file";

    private const int AtOnce = 200;

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
}
