using Dapper;
using Microsoft.Data.Sqlite;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>What can be done with orders inside one transaction.</summary>
public sealed partial class OrderTransaction(SqliteConnection connection, SqliteTransaction transaction)
{
    /// <summary>With this begins what stands for a guest in the place of a shopper's id.</summary>
    public const string Guest = "guest:";

    /// <summary>With this what stands for somebody who was forgotten.</summary>
    public const string Forgotten = "forgotten-";

    private const int AtOnce = 500;

    internal const string Select = """
        SELECT id, state, placed_at AS PlacedAt, day, held_until AS HeldUntil, edition, shopper, rehearsal, total, cart, result, returned,
            change, back FROM orders
        """;

    /// <summary>Whether what stands in the place of a shopper's id is nobody's own: a guest's, or of somebody who was forgotten.</summary>
    public static bool IsStandIn(string shopper) =>
        shopper.StartsWith(Guest, StringComparison.Ordinal) || shopper.StartsWith(Forgotten, StringComparison.Ordinal);

    /// <summary>Whether anything can be written in it: what it reads then may not be on disk yet.</summary>
    public bool IsWriting { get; init; }

    /// <summary>How many holds lapsed in it.</summary>
    internal int Lapsed { get; private set; }

    /// <summary>One order, or null.</summary>
    public StoredOrder? Find(string id) =>
        connection.QuerySingleOrDefault<StoredOrder>($"{Select} WHERE id = @id", new { id }, transaction);

    /// <summary>Orders that changed after a change, in the order of their changes.</summary>
    public IReadOnlyList<StoredOrder> ChangedAfter(long change, int take) =>
        connection
            .Query<StoredOrder>($"{Select} WHERE change > @change ORDER BY change LIMIT @take", new { change, take }, transaction)
            .AsList();

    /// <summary>The last change of any order; 0: there is none.</summary>
    public long NewestChange() => connection.ExecuteScalar<long>("SELECT coalesce(max(change), 0) FROM orders", transaction: transaction);

    /// <summary>Finds orders, those that changed last first.</summary>
    /// <param name="query">Which.</param>
    /// <param name="before">Only such as changed before that change; null: from the newest.</param>
    /// <param name="take">At most so many.</param>
    public IReadOnlyList<StoredOrder> Find(OrderQuery query, long? before, int take) =>
        new OrderSearch(connection, transaction).Find(query, before, take);

    /// <summary>The number of the newest edition; 0: there is none.</summary>
    public long NewestEdition() => PromotionRepository.Newest(connection, transaction);

    /// <summary>How many orders a shopper holds.</summary>
    public long HeldBy(string shopper) =>
        connection.ExecuteScalar<long>(
            "SELECT count(*) FROM orders WHERE shopper = @shopper AND state = 'held' AND NOT rehearsal",
            new { shopper },
            transaction
        );

    /// <summary>What has been used by promotion: in all, by a shopper, on one of the store's days.</summary>
    public IReadOnlyList<StoredUsage> Usage(string day, string? shopper) => UsageCounters.Read(connection, transaction, day, shopper);

    /// <summary>What a shopper has used, by promotion.</summary>
    public IReadOnlyList<(string Promotion, long Uses)> UsesBy(string shopper) =>
        connection
            .Query<(string, long)>(
                "SELECT promotion_id, uses FROM shopper_uses WHERE shopper_id = @shopper AND uses > 0",
                new { shopper },
                transaction
            )
            .AsList();

    /// <summary>The most that a promotion was used on one day, and by one shopper.</summary>
    public (long OnADay, long ByAShopper) MostUses(string promotion) =>
        connection.QuerySingle<(long, long)>(
            """
            SELECT (SELECT coalesce(max(uses), 0) FROM day_uses WHERE promotion_id = @promotion),
                   (SELECT coalesce(max(uses), 0) FROM shopper_uses WHERE promotion_id = @promotion)
            """,
            new { promotion },
            transaction
        );

    /// <summary>The codes that were used more often than they may be.</summary>
    public IReadOnlyList<string> UsedTooOften() =>
        connection
            .Query<string>(
                "SELECT written FROM codes JOIN batches ON batches.id = batch_id WHERE codes.used > uses_each AND drawn = 0 ORDER BY bare",
                transaction: transaction
            )
            .AsList();

    /// <summary>The cards of a batch from which more was drawn than they hold.</summary>
    /// <param name="batch">The batch.</param>
    /// <param name="holds">What each holds, in minor units of the base currency.</param>
    public IReadOnlyList<string> Overdrawn(string batch, long holds) =>
        connection
            .Query<string>(
                "SELECT written FROM codes WHERE batch_id = @batch AND drawn > @holds ORDER BY bare",
                new { batch, holds },
                transaction
            )
            .AsList();

    /// <summary>How codes stand; those that are in no batch are left out.</summary>
    public IReadOnlyList<StandingCode> Standing(IEnumerable<string> bare) => Standing(connection, transaction, bare);

    /// <summary>Whether there are holds that are over and have not lapsed yet.</summary>
    /// <param name="now">In seconds of Unix time.</param>
    public bool IsAnyOver(long now) =>
        connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM orders WHERE state = 'held' AND held_until <= @now)",
            new { now },
            transaction
        );

    /// <summary>The numbers of the last changes of goods and settings, as they are inside this transaction.</summary>
    public ShopNumbers Numbers() => connection.QuerySingle<ShopNumbers>(ShopRepository.SelectNumbers, transaction: transaction);

    /// <summary>Goes up whenever something is used up, given back or made void: as it is inside this transaction.</summary>
    public long Uses() => connection.ExecuteScalar<long>("SELECT uses FROM written", transaction: transaction);

    /// <summary>The answer that a call got before, or null.</summary>
    public StoredAnswer? Answer(string caller, string key) =>
        connection.QuerySingleOrDefault<StoredAnswer>(
            "SELECT asked, status, answer FROM answers WHERE caller = @caller AND key = @key",
            new { caller, key },
            transaction
        );

    /// <summary>Keeps the answer to a call.</summary>
    public void Keep(string caller, string key, StoredAnswer answer) =>
        connection.Execute(
            "INSERT INTO answers (caller, key, asked, status, answer) VALUES (@caller, @key, @Asked, @Status, @Answer)",
            new
            {
                caller,
                key,
                answer.Asked,
                answer.Status,
                answer.Answer,
            },
            transaction
        );

    /// <summary>Puts an order in with all that it uses. A rehearsal uses nothing.</summary>
    /// <param name="order">Its change number is given to it here.</param>
    /// <param name="used">What it uses up; units that are to move no stock are left out.</param>
    /// <param name="figures">What is kept of it to tell what it brought; null: nothing.</param>
    public void Place(StoredOrder order, UsedUp used, OrderFigures? figures = null)
    {
        // Decided before it counts itself.
        var isNew = figures is not null && IsNew(order.Shopper);
        connection.Execute(
            """
            INSERT INTO orders (id, state, placed_at, day, held_until, edition, shopper, rehearsal, total, cart, result, returned, change)
            VALUES (@Id, @State, @PlacedAt, @Day, @HeldUntil, @Edition, @Shopper, @Rehearsal, @Total, @Cart, @Result, NULL,
                (SELECT coalesce(max(change), 0) + 1 FROM orders))
            """,
            order,
            transaction
        );
        foreach (var use in used.Promotions)
            connection.Execute(
                "INSERT INTO redemptions (promotion_id, shopper_id, at, amount, order_id, day, drawn, counts) VALUES (@Promotion, @Shopper, @PlacedAt, @Amount, @Id, @Day, @Drawn, @counts)",
                new
                {
                    use.Promotion,
                    order.Shopper,
                    order.PlacedAt,
                    use.Amount,
                    order.Id,
                    order.Day,
                    use.Drawn,
                    counts = !order.Rehearsal,
                },
                transaction
            );
        foreach (var code in used.Codes)
            connection.Execute(
                "INSERT INTO order_codes (order_id, bare, drawn) VALUES (@Id, @Bare, @Drawn)",
                new
                {
                    order.Id,
                    code.Bare,
                    code.Drawn,
                },
                transaction
            );
        for (var position = 0; position < used.Payments.Count; position++)
        {
            var payment = used.Payments[position];
            connection.Execute(
                """
                INSERT INTO order_payments (order_id, position, promotion_id, code, bare, paid, here, in_base, keeps_rest)
                VALUES (@Id, @position, @Promotion, @Code, @Bare, @Paid, @Here, @InBase, @KeepsRest)
                """,
                new
                {
                    order.Id,
                    position,
                    payment.Promotion,
                    payment.Code,
                    payment.Bare,
                    payment.Paid,
                    payment.Here,
                    payment.InBase,
                    payment.KeepsRest,
                },
                transaction
            );
        }

        foreach (var (sku, count) in used.Units)
            connection.Execute(
                "INSERT INTO order_units (order_id, sku, units) VALUES (@Id, @sku, @count)",
                new
                {
                    order.Id,
                    sku,
                    count,
                },
                transaction
            );
        connection.Execute(
            """
            INSERT INTO order_items (sku, order_id) SELECT value ->> '$.sku', @Id FROM json_each(@Result, '$.lines')
            UNION SELECT value ->> '$.sku', @Id FROM json_each(@Result, '$.gifts')
            """,
            new { order.Id, order.Result },
            transaction
        );
        if (order.Rehearsal)
            return;
        if (figures is not null)
            new TakingsRows(connection, transaction).Keep(order, figures, isNew);
        Use(order, 1, Spent(order));
    }

    /// <summary>Moves an order on; what it uses begins or ends to count where the state says so.</summary>
    /// <param name="order">As it was.</param>
    /// <param name="state">held, taken, givenBack or lapsed.</param>
    /// <param name="returned">The units given back, JSON; null: as it was.</param>
    /// <param name="back">How much of its total came back in all; null: all of it if it is given back, else as it was.</param>
    public StoredOrder Move(StoredOrder order, string state, string? returned = null, long? back = null)
    {
        connection.Execute(
            "UPDATE orders SET state = @state, returned = coalesce(@returned, returned), back = @back, change = (SELECT max(change) + 1 FROM orders) WHERE id = @Id",
            new
            {
                order.Id,
                state,
                returned,
                back = back
                    ?? (
                        state == "givenBack" ? order.Total
                        : order.State == "givenBack" ? 0
                        : order.Back
                    ),
            },
            transaction
        );
        var moved = Find(order.Id)!;
        if (order.Rehearsal)
            return moved;
        var (before, after) = (Counts(order.State), Counts(state));
        if (before != after)
            connection.Execute("UPDATE redemptions SET counts = @after WHERE order_id = @Id", new { order.Id, after }, transaction);
        new TakingsRows(connection, transaction).Move(order, moved);
        Use(order, after - before, Spent(moved) - Spent(order));
        return moved;
    }

    /// <summary>Lets every hold that is over lapse.</summary>
    /// <param name="now">In seconds of Unix time.</param>
    /// <returns>How many there were.</returns>
    public int Lapse(long now)
    {
        var over = connection
            .Query<StoredOrder>($"{Select} WHERE state = 'held' AND held_until <= @now", new { now }, transaction)
            .AsList();
        foreach (var order in over)
            Move(order, "lapsed");
        Lapsed += over.Count;
        return over.Count;
    }

    /// <summary>What cards paid of an order, in the order in which they paid.</summary>
    /// <param name="id">The order.</param>
    public IReadOnlyList<CreditPayment> PaymentsOf(string id) =>
        [
            // Row by row: SQLite has no flags.
            .. connection
                .Query(
                    "SELECT promotion_id, code, bare, paid, here, in_base, keeps_rest FROM order_payments WHERE order_id = @id ORDER BY position",
                    new { id },
                    transaction
                )
                .Select(row => new CreditPayment(
                    (string)row.promotion_id,
                    (string)row.code,
                    (string?)row.bare,
                    (long)row.paid,
                    (long)row.here,
                    (long)row.in_base,
                    row.keeps_rest == 1
                )),
        ];

    /// <summary>Sets anew what an order draws from a card.</summary>
    /// <param name="order">The order.</param>
    /// <param name="payment">What the card paid.</param>
    /// <param name="drawn">In minor units of the base currency.</param>
    public void Draw(StoredOrder order, CreditPayment payment, long drawn)
    {
        var to = new
        {
            order.Id,
            payment.Promotion,
            payment.Bare,
            drawn,
            counts = !order.Rehearsal && Counts(order.State) == 1,
        };
        if (payment.Bare is null)
            connection.Execute("UPDATE redemptions SET drawn = @drawn WHERE order_id = @Id AND promotion_id = @Promotion", to, transaction);
        else
            connection.Execute(
                """
                UPDATE codes SET drawn = codes.drawn + @drawn - order_codes.drawn
                FROM order_codes WHERE @counts AND order_codes.order_id = @Id AND order_codes.bare = @Bare AND codes.bare = @Bare;
                UPDATE order_codes SET drawn = @drawn WHERE order_id = @Id AND bare = @Bare;
                """,
                to,
                transaction
            );
    }

    /// <summary>The uses of promotions by an order.</summary>
    /// <param name="id">The order.</param>
    public IReadOnlyList<PromotionUse> UsesOf(string id) =>
        connection
            .Query<PromotionUse>(
                "SELECT promotion_id AS Promotion, amount AS Amount, drawn AS Drawn FROM redemptions WHERE order_id = @id ORDER BY id",
                new { id },
                transaction
            )
            .AsList();

    /// <summary>The codes of batches that an order used.</summary>
    public IReadOnlyList<CodeUse> CodesOf(string id) =>
        connection.Query<CodeUse>("SELECT bare, drawn FROM order_codes WHERE order_id = @id", new { id }, transaction).AsList();

    /// <summary>The units that an order bought and was given.</summary>
    public IReadOnlyList<UnitsUsed> UnitsOf(string id) =>
        connection.Query<UnitsUsed>("SELECT sku, units FROM order_units WHERE order_id = @id", new { id }, transaction).AsList();

    internal static IReadOnlyList<StandingCode> Standing(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        IEnumerable<string> bare
    )
    {
        string[] asked = [.. bare.Distinct(StringComparer.Ordinal)];
        return asked.Length == 0
            ? []
            : connection
                .Query<StandingCode>(
                    """
                    SELECT bare, batch_id AS BatchId, codes.void
                        OR batches.void AS Void, codes.used, drawn, uses_each AS UsesEach, last_day AS LastDay
                    FROM codes JOIN batches ON batches.id = batch_id WHERE bare IN @asked
                    """,
                    new { asked },
                    transaction
                )
                .AsList();
    }

    private static int Counts(string state) => state is "held" or "taken" ? 1 : 0;

    // What its shopper has spent by it.
    private static long Spent(StoredOrder order) => order.State is "taken" ? order.Total - order.Back : 0;

    // What an order uses up beside its promotions: codes, cards, stock, and what the shopper has bought so far.
    private void Use(StoredOrder order, int by, long spent)
    {
        if (by != 0)
            connection.Execute(
                """
                UPDATE codes SET used = used + @by, drawn = codes.drawn + @by * order_codes.drawn,
                    last_used_at = max(coalesce(last_used_at, 0), @PlacedAt)
                FROM order_codes WHERE order_codes.order_id = @Id AND order_codes.bare = codes.bare;
                INSERT INTO sold (sku, units) SELECT sku, 0 FROM order_units WHERE order_id = @Id ON CONFLICT DO NOTHING;
                UPDATE sold SET units = sold.units + @by * order_units.units FROM order_units WHERE order_units.order_id = @Id
                    AND order_units.sku = sold.sku;
                """,
                new
                {
                    order.Id,
                    order.PlacedAt,
                    by,
                },
                transaction
            );
        if (by == 0 && spent == 0)
            return;
        if (order.Shopper is not { } shopper || IsStandIn(shopper))
            return;
        connection.Execute(
            """
            INSERT INTO shoppers (id, name, groups, orders, spent) VALUES (@shopper, @shopper, '', 0, 0) ON CONFLICT DO NOTHING;
            UPDATE shoppers SET placed_orders = placed_orders + @orders, placed_spent = placed_spent + @amount WHERE id = @shopper;
            """,
            new
            {
                shopper,
                orders = by,
                amount = spent,
            },
            transaction
        );
    }
}
