using Dapper;
using Microsoft.Data.Sqlite;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>An order as stored. Amounts in minor units of the base currency, moments in seconds of Unix time.</summary>
/// <param name="Id">Who it is to the shop.</param>
/// <param name="State">held, taken, givenBack or lapsed.</param>
/// <param name="PlacedAt">When.</param>
/// <param name="Day">The store's date of its placing, on which its uses count.</param>
/// <param name="HeldUntil">When a hold is over; null: it was taken at once.</param>
/// <param name="Edition">Under which it was priced.</param>
/// <param name="Shopper">Who bought: an id, or a guest's hashed key; null: nobody that is known.</param>
/// <param name="Rehearsal">Whether it was placed at another clock and uses nothing up.</param>
/// <param name="Total">What it came to.</param>
/// <param name="Cart">The cart as it was priced, JSON.</param>
/// <param name="Result">What the shop was told, JSON.</param>
/// <param name="Returned">The units given back by place, JSON; null: none.</param>
/// <param name="Change">Goes up with every change of any order.</param>
/// <param name="Back">How much of its total came back.</param>
public sealed record StoredOrder(
    string Id, string State, long PlacedAt, string Day, long? HeldUntil, long Edition, string? Shopper, bool Rehearsal, long Total, string Cart, string Result, string? Returned, long Change, long Back = 0)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StoredOrder()
        : this("", "", 0, "", null, 0, null, false, 0, "", "", null, 0)
    {
    }
}

/// <summary>An answer that was given to a call before.</summary>
/// <param name="Asked">What was asked: method, path and a hash of the body.</param>
/// <param name="Status">The HTTP status.</param>
/// <param name="Answer">The body.</param>
public sealed record StoredAnswer(string Asked, int Status, string Answer)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StoredAnswer()
        : this("", 0, "")
    {
    }
}

/// <summary>What was sold of a SKU.</summary>
/// <param name="Sku">Which.</param>
/// <param name="Units">What orders have bought and been given of it since it was counted.</param>
/// <param name="Counted">Its stock as it was counted last; null: as the catalogue says.</param>
public sealed record SoldUnits(string Sku, long Units, long? Counted)
{
    // Where a column may be empty the members are set one by one.
    private SoldUnits()
        : this("", 0, null)
    {
    }
}

/// <summary>Orders, with all that they use up.</summary>
public sealed class OrderRepository(Database database)
{
    /// <summary>Does something with orders in one transaction.</summary>
    /// <exception cref="StorageFault">It could not be written.</exception>
    public Task<T> Write<T>(Func<OrderTransaction, T> work, CancellationToken gone = default) =>
        database.Write((connection, transaction) => work(new(connection, transaction)), gone);

    /// <summary>Reads of orders as they are at one moment.</summary>
    public T Read<T>(Func<OrderTransaction, T> work)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return work(new(connection, transaction));
    }

    /// <summary>The differences between the counters and the rows they count, in words; none: they agree.</summary>
    public IReadOnlyList<string> Differences()
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return connection.Query<string>(
            """
            WITH counted AS (SELECT promotion_id, count(*) AS uses, sum(amount) AS amount, sum(drawn) AS drawn FROM redemptions WHERE counts GROUP BY promotion_id)
            SELECT 'promotion ' || promotion_id || ': ' || uses.uses || ' uses are counted, ' || coalesce(counted.uses, 0) || ' are there'
            FROM uses LEFT JOIN counted USING (promotion_id)
            WHERE uses.uses <> coalesce(counted.uses, 0) OR uses.amount <> coalesce(counted.amount, 0) OR uses.drawn <> coalesce(counted.drawn, 0)
            UNION ALL
            SELECT 'promotion ' || promotion_id || ': its uses are not counted' FROM counted WHERE promotion_id NOT IN (SELECT promotion_id FROM uses)
            UNION ALL
            SELECT 'promotion ' || promotion_id || ' on ' || day || ': ' || uses || ' uses are counted' FROM day_uses
            WHERE uses <> (SELECT count(*) FROM redemptions WHERE redemptions.day = day_uses.day AND redemptions.promotion_id = day_uses.promotion_id AND counts)
            UNION ALL
            SELECT 'shopper of promotion ' || promotion_id || ': ' || uses || ' uses are counted' FROM shopper_uses
            WHERE uses <> (SELECT count(*) FROM redemptions WHERE redemptions.shopper_id = shopper_uses.shopper_id AND redemptions.promotion_id = shopper_uses.promotion_id AND counts)
            UNION ALL
            SELECT 'a code of batch ' || batch_id || ': ' || used || ' uses are counted' FROM codes
            WHERE used > 0 AND used <> (SELECT count(*) FROM order_codes JOIN orders ON orders.id = order_id WHERE order_codes.bare = codes.bare AND state IN ('held', 'taken') AND NOT rehearsal)
            UNION ALL
            SELECT 'batch ' || id || ': ' || used || ' used codes are counted' FROM batches
            WHERE used <> (SELECT count(*) FROM codes WHERE batch_id = batches.id AND codes.used > 0) OR voided <> (SELECT count(*) FROM codes WHERE batch_id = batches.id AND codes.void)
               OR batches.codes <> (SELECT count(*) FROM codes WHERE batch_id = batches.id)
            UNION ALL
            SELECT 'item ' || sku || ': ' || sold.units || ' units are counted as sold' FROM sold
            WHERE units <> (SELECT coalesce(sum(order_units.units), 0) FROM order_units JOIN orders ON orders.id = order_id WHERE order_units.sku = sold.sku AND state IN ('held', 'taken') AND NOT rehearsal)
            """,
            transaction: transaction).AsList();
    }
}

/// <summary>What can be done with orders inside one transaction.</summary>
public sealed class OrderTransaction(SqliteConnection connection, SqliteTransaction transaction)
{
    /// <summary>With this begins what stands for a guest in the place of a shopper's id.</summary>
    public const string Guest = "guest:";

    /// <summary>With this what stands for somebody who was forgotten.</summary>
    public const string Forgotten = "forgotten-";

    private const int AtOnce = 500;

    private const string Select =
        """
        SELECT id, state, placed_at AS PlacedAt, day, held_until AS HeldUntil, edition, shopper, rehearsal, total, cart, result, returned, change, back FROM orders
        """;

    /// <summary>One order, or null.</summary>
    public StoredOrder? Find(string id) => connection.QuerySingleOrDefault<StoredOrder>($"{Select} WHERE id = @id", new { id }, transaction);

    /// <summary>Orders that changed after a change, in the order of their changes.</summary>
    public IReadOnlyList<StoredOrder> ChangedAfter(long change, int take) =>
        connection.Query<StoredOrder>($"{Select} WHERE change > @change ORDER BY change LIMIT @take", new { change, take }, transaction).AsList();

    /// <summary>Orders, those that changed last first.</summary>
    /// <param name="before">Only such as changed before that change; none: from the newest.</param>
    /// <param name="among">Only these; null: all.</param>
    /// <param name="take">At most so many.</param>
    public IReadOnlyList<StoredOrder> Newest(long? before, IReadOnlyCollection<string>? among, int take) => connection.Query<StoredOrder>(
        $"{Select} WHERE change < @before {(among is null ? "" : "AND id IN @among")} ORDER BY change DESC LIMIT @take", new { before = before ?? long.MaxValue, among, take }, transaction).AsList();

    /// <summary>The ids of orders that one may mean, the newest of each kind: their own id begins so, one of some shoppers bought, or a code was used.</summary>
    /// <param name="beginning">How the id begins.</param>
    /// <param name="shoppers">The shoppers.</param>
    /// <param name="bare">The code, without hyphens and spaces.</param>
    /// <param name="most">At most so many of each kind.</param>
    public IReadOnlyList<string> Meant(string beginning, IReadOnlyCollection<string> shoppers, string bare, int most) => connection.Query<string>(
        """
        SELECT id FROM (SELECT id FROM orders WHERE id >= @beginning AND id < @behind LIMIT @most)
        UNION SELECT id FROM (SELECT id FROM orders WHERE shopper IN @shoppers ORDER BY change DESC LIMIT @most)
        UNION SELECT order_id FROM (SELECT order_id FROM order_codes WHERE bare = @bare LIMIT @most)
        """,
        new { beginning, behind = beginning + char.MaxValue, shoppers, bare, most },
        transaction).AsList();

    /// <summary>The number of the newest edition; 0: there is none.</summary>
    public long NewestEdition() => connection.ExecuteScalar<long>("SELECT coalesce(max(number), 0) FROM editions", transaction: transaction);

    /// <summary>How many orders a shopper holds.</summary>
    public long HeldBy(string shopper) => connection.ExecuteScalar<long>("SELECT count(*) FROM orders WHERE shopper = @shopper AND state = 'held' AND NOT rehearsal", new { shopper }, transaction);

    /// <summary>What has been used by promotion: in all, by a shopper, on one of the store's days.</summary>
    public IReadOnlyList<StoredUsage> Usage(string day, string? shopper) => UsageCounters.Read(connection, transaction, day, shopper);

    /// <summary>How codes stand; those that are in no batch are left out.</summary>
    public IReadOnlyList<StandingCode> Standing(IEnumerable<string> bare) => Standing(connection, transaction, bare);

    /// <summary>Those of some SKUs of which anything was sold, or that were counted.</summary>
    public IReadOnlyList<SoldUnits> Sold(IEnumerable<string> skus) =>
        [.. skus.Chunk(AtOnce).SelectMany(some => connection.Query<SoldUnits>("SELECT sku, units, counted FROM sold WHERE (units > 0 OR counted IS NOT NULL) AND sku IN @some", new { some }, transaction))];

    /// <summary>The holds that are over and have not lapsed yet, as nothing was written since.</summary>
    /// <param name="now">In seconds of Unix time.</param>
    public IReadOnlyList<StoredOrder> Over(long now) => connection.Query<StoredOrder>($"{Select} WHERE state = 'held' AND held_until <= @now", new { now }, transaction).AsList();

    /// <summary>One shopper, or null.</summary>
    public StoredShopper? Shopper(string id) =>
        connection.QuerySingleOrDefault<StoredShopper>("SELECT id, name, groups, orders, spent, place FROM shoppers WHERE id = @id", new { id }, transaction);

    /// <summary>The answer that a call got before, or null.</summary>
    public StoredAnswer? Answer(string caller, string key) =>
        connection.QuerySingleOrDefault<StoredAnswer>("SELECT asked, status, answer FROM answers WHERE caller = @caller AND key = @key", new { caller, key }, transaction);

    /// <summary>Keeps the answer to a call.</summary>
    public void Keep(string caller, string key, StoredAnswer answer) => connection.Execute(
        "INSERT INTO answers (caller, key, asked, status, answer) VALUES (@caller, @key, @Asked, @Status, @Answer)",
        new { caller, key, answer.Asked, answer.Status, answer.Answer },
        transaction);

    /// <summary>The secret with which guests' keys are hashed.</summary>
    public byte[] GuestSecret() => connection.ExecuteScalar<byte[]>("SELECT guest FROM secrets", transaction: transaction)!;

    /// <summary>Puts an order in with all that it uses. A rehearsal uses nothing.</summary>
    /// <param name="order">Its change number is given to it here.</param>
    /// <param name="used">What it uses up; units that are to move no stock are left out.</param>
    public void Place(StoredOrder order, UsedUp used)
    {
        connection.Execute(
            """
            INSERT INTO orders (id, state, placed_at, day, held_until, edition, shopper, rehearsal, total, cart, result, returned, change)
            VALUES (@Id, @State, @PlacedAt, @Day, @HeldUntil, @Edition, @Shopper, @Rehearsal, @Total, @Cart, @Result, NULL, (SELECT coalesce(max(change), 0) + 1 FROM orders))
            """,
            order,
            transaction);
        foreach (var use in used.Promotions)
            connection.Execute(
                "INSERT INTO redemptions (promotion_id, shopper_id, at, amount, order_id, day, drawn, counts) VALUES (@Promotion, @Shopper, @PlacedAt, @Amount, @Id, @Day, @Drawn, @counts)",
                new { use.Promotion, order.Shopper, order.PlacedAt, use.Amount, order.Id, order.Day, use.Drawn, counts = !order.Rehearsal },
                transaction);
        foreach (var code in used.Codes) connection.Execute("INSERT INTO order_codes (order_id, bare, drawn) VALUES (@Id, @Bare, @Drawn)", new { order.Id, code.Bare, code.Drawn }, transaction);
        foreach (var (sku, count) in used.Units) connection.Execute("INSERT INTO order_units (order_id, sku, units) VALUES (@Id, @sku, @count)", new { order.Id, sku, count }, transaction);
        if (!order.Rehearsal) Use(order, 1, Spent(order));
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
            new { order.Id, state, returned, back = back ?? (state == "givenBack" ? order.Total : order.State == "givenBack" ? 0 : order.Back) },
            transaction);
        var moved = Find(order.Id)!;
        if (order.Rehearsal) return moved;
        var (before, after) = (Counts(order.State), Counts(state));
        if (before != after) connection.Execute("UPDATE redemptions SET counts = @after WHERE order_id = @Id", new { order.Id, after }, transaction);
        Use(order, after - before, Spent(moved) - Spent(order));
        return moved;
    }

    /// <summary>Lets every hold that is over lapse.</summary>
    /// <param name="now">In seconds of Unix time.</param>
    public void Lapse(long now)
    {
        foreach (var order in Over(now)) Move(order, "lapsed");
    }

    /// <summary>The uses of promotions by an order.</summary>
    /// <param name="id">The order.</param>
    public IReadOnlyList<PromotionUse> UsesOf(string id) =>
        connection.Query<PromotionUse>("SELECT promotion_id AS Promotion, amount AS Amount, drawn AS Drawn FROM redemptions WHERE order_id = @id ORDER BY id", new { id }, transaction).AsList();

    /// <summary>The codes of batches that an order used.</summary>
    public IReadOnlyList<CodeUse> CodesOf(string id) =>
        connection.Query<CodeUse>("SELECT bare, drawn FROM order_codes WHERE order_id = @id", new { id }, transaction).AsList();

    /// <summary>The units that an order bought and was given.</summary>
    public IReadOnlyList<UnitsUsed> UnitsOf(string id) =>
        connection.Query<UnitsUsed>("SELECT sku, units FROM order_units WHERE order_id = @id", new { id }, transaction).AsList();

    /// <summary>Sets the stock of a SKU anew, as it was counted: earlier orders no longer move it.</summary>
    public void SetStock(string sku, long counted) => connection.Execute(
        """
        DELETE FROM order_units WHERE sku = @sku;
        INSERT INTO sold (sku, units, counted) VALUES (@sku, 0, @counted) ON CONFLICT DO UPDATE SET units = 0, counted = excluded.counted;
        UPDATE written SET uses = uses + 1;
        """,
        new { sku, counted },
        transaction);

    /// <summary>Moves the stock of a SKU without counting it anew: what was sold of it stays sold.</summary>
    /// <param name="sku">Which.</param>
    /// <param name="stock">What the catalogue says of it, from which it moves if it was never counted.</param>
    /// <param name="by">By how much.</param>
    public void MoveStock(string sku, long? stock, long by) => connection.Execute(
        """
        INSERT INTO sold (sku, units, counted) VALUES (@sku, 0, @stock + @by) ON CONFLICT DO UPDATE SET counted = coalesce(counted, @stock) + @by;
        UPDATE written SET uses = uses + 1;
        """,
        new { sku, stock, by },
        transaction);

    /// <summary>Lets the stock of a SKU be as the catalogue says, less what was sold.</summary>
    public void Uncount(string sku) => connection.Execute("UPDATE sold SET counted = NULL WHERE sku = @sku; UPDATE written SET uses = uses + 1;", new { sku }, transaction);

    /// <summary>Forgets a shopper: in orders and uses another id stands in the place of theirs, and counters stay. The same id is a new shopper from then on.</summary>
    /// <param name="id">Whom.</param>
    /// <returns>In how many orders; null: there is nobody of that id.</returns>
    public long? Forget(string id)
    {
        var isKnown = connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM shoppers WHERE id = @id) OR EXISTS (SELECT 1 FROM redemptions WHERE shopper_id = @id) OR EXISTS (SELECT 1 FROM orders WHERE shopper = @id)", new { id }, transaction);
        if (!isKnown) return null;
        var nobody = $"{Forgotten}{Guid.NewGuid():n}";
        var orders = connection.Execute(
            "UPDATE orders SET shopper = @nobody, cart = json_replace(cart, '$.shopper', json_object('id', @nobody)) WHERE shopper = @id", new { id, nobody }, transaction);
        connection.Execute(
            """
            UPDATE redemptions SET shopper_id = @nobody WHERE shopper_id = @id;
            UPDATE shopper_uses SET shopper_id = @nobody WHERE shopper_id = @id;
            DELETE FROM shoppers WHERE id = @id;
            UPDATE written SET uses = uses + 1;
            """,
            new { id, nobody },
            transaction);
        return orders;
    }

    internal static IReadOnlyList<StandingCode> Standing(SqliteConnection connection, SqliteTransaction? transaction, IEnumerable<string> bare)
    {
        string[] asked = [.. bare.Distinct(StringComparer.Ordinal)];
        return asked.Length == 0 ? [] : connection.Query<StandingCode>(
            """
            SELECT bare, batch_id AS BatchId, codes.void OR batches.void AS Void, codes.used, drawn, uses_each AS UsesEach, last_day AS LastDay
            FROM codes JOIN batches ON batches.id = batch_id WHERE bare IN @asked
            """,
            new { asked },
            transaction).AsList();
    }

    private static int Counts(string state) => state is "held" or "taken" ? 1 : 0;

    // What its shopper has spent by it.
    private static long Spent(StoredOrder order) => order.State is "taken" ? order.Total - order.Back : 0;

    // What an order uses up beside its promotions: codes, cards, stock, and what the shopper has bought so far.
    private void Use(StoredOrder order, int by, long spent)
    {
        if (by != 0) connection.Execute(
            """
            UPDATE codes SET used = used + @by, drawn = codes.drawn + @by * order_codes.drawn, last_used_at = max(coalesce(last_used_at, 0), @PlacedAt)
            FROM order_codes WHERE order_codes.order_id = @Id AND order_codes.bare = codes.bare;
            INSERT INTO sold (sku, units) SELECT sku, 0 FROM order_units WHERE order_id = @Id ON CONFLICT DO NOTHING;
            UPDATE sold SET units = sold.units + @by * order_units.units FROM order_units WHERE order_units.order_id = @Id AND order_units.sku = sold.sku;
            """,
            new { order.Id, order.PlacedAt, by },
            transaction);
        if (by == 0 && spent == 0) return;
        if (order.Shopper is not { } shopper || shopper.StartsWith(Guest, StringComparison.Ordinal) || shopper.StartsWith(Forgotten, StringComparison.Ordinal)) return;
        connection.Execute(
            """
            INSERT INTO shoppers (id, name, groups, orders, spent) VALUES (@shopper, @shopper, '', 0, 0) ON CONFLICT DO NOTHING;
            UPDATE shoppers SET orders = max(0, orders + @orders), spent = max(0, spent + @amount) WHERE id = @shopper;
            """,
            new { shopper, orders = by, amount = spent },
            transaction);
    }

}
