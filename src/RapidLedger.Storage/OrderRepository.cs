using Dapper;

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
    string Id,
    string State,
    long PlacedAt,
    string Day,
    long? HeldUntil,
    long Edition,
    string? Shopper,
    bool Rehearsal,
    long Total,
    string Cart,
    string Result,
    string? Returned,
    long Change,
    long Back = 0
)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StoredOrder()
        : this("", "", 0, "", null, 0, null, false, 0, "", "", null, 0) { }
}

/// <summary>An answer that was given to a call before.</summary>
/// <param name="Asked">What was asked: method, path and a hash of the body.</param>
/// <param name="Status">The HTTP status.</param>
/// <param name="Answer">The body.</param>
public sealed record StoredAnswer(string Asked, int Status, string Answer)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StoredAnswer()
        : this("", 0, "") { }
}

/// <summary>What was sold of a SKU.</summary>
/// <param name="Sku">Which.</param>
/// <param name="Units">What orders have bought and been given of it since it was counted.</param>
/// <param name="Counted">Its stock as it was counted last; null: as the catalogue says.</param>
public sealed record SoldUnits(string Sku, long Units, long? Counted)
{
    // Where a column may be empty the members are set one by one.
    private SoldUnits()
        : this("", 0, null) { }
}

/// <summary>Orders, with all that they use up.</summary>
public sealed class OrderRepository(Database database)
{
    /// <summary>So many holds have lapsed; told when that is on disk.</summary>
    public event Action<int>? Lapsed;

    /// <summary>The paid orders, but rehearsals, by id; read one by one as they are asked for.</summary>
    public IEnumerable<StoredOrder> Taken()
    {
        using var connection = database.Open();
        foreach (
            var order in connection.Query<StoredOrder>(
                $"{OrderTransaction.Select} WHERE state = 'taken' AND NOT rehearsal ORDER BY id",
                buffered: false
            )
        )
            yield return order;
    }

    /// <summary>Does something with orders in one transaction.</summary>
    /// <exception cref="StorageFault">It could not be written.</exception>
    public async Task<T> Write<T>(Func<OrderTransaction, T> work, CancellationToken gone = default)
    {
        var lapsed = 0;
        var done = await database.Write(
            (connection, transaction) =>
            {
                var orders = new OrderTransaction(connection, transaction) { IsWriting = true };
                var result = work(orders);
                lapsed = orders.Lapsed;
                return result;
            },
            gone
        );
        if (lapsed > 0)
            Lapsed?.Invoke(lapsed);
        return done;
    }

    /// <summary>
    /// Lets the holds that are over lapse, if there are any, so that whoever reads next finds what they had used free again.
    /// </summary>
    /// <param name="now">In seconds of Unix time.</param>
    /// <returns>How many there were.</returns>
    public async Task<int> Lapse(long now) =>
        Read(transaction => transaction.IsAnyOver(now)) ? await Write(transaction => transaction.Lapse(now)) : 0;

    /// <summary>Reads of orders as they are now: no hold that is over counts any more.</summary>
    /// <param name="now">In seconds of Unix time.</param>
    /// <param name="work">What is read.</param>
    public async Task<T> ReadAt<T>(long now, Func<OrderTransaction, T> work)
    {
        await Lapse(now);
        return Read(work);
    }

    /// <summary>Reads of orders as they are at one moment.</summary>
    public T Read<T>(Func<OrderTransaction, T> work)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return work(new(connection, transaction));
    }

    /// <summary>Whether anything was ever counted: an order, a use, or a draw on a card.</summary>
    public bool IsAnythingCounted()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM orders) OR EXISTS (SELECT 1 FROM redemptions) OR EXISTS (SELECT 1 FROM codes WHERE drawn <> 0)"
        );
    }

    /// <summary>The carts of the orders that are held, JSON.</summary>
    public IReadOnlyList<string> HeldCarts()
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT cart FROM orders WHERE state = 'held'").AsList();
    }

    /// <summary>
    /// Lets the numbers of changes go on above a number: whoever follows a store that was put back misses nothing, and reads its newest
    /// order again.
    /// </summary>
    public void GoOnAbove(long change)
    {
        using var connection = database.Open();
        connection.Execute(
            "UPDATE orders SET change = @change + 1 WHERE change = (SELECT max(change) FROM orders) AND change <= @change",
            new { change }
        );
    }
}
