using System.Security.Cryptography;
using System.Text;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

// Who buys.
public sealed partial class OrderTransaction
{
    /// <summary>One shopper, or null.</summary>
    public StoredShopper? Shopper(string id) => ShopperDocument.Find(id, connection, transaction);

    /// <summary>
    /// What stands for a guest in the place of a shopper's id: their key, an address or a device, hashed with a secret of the store.
    /// </summary>
    public string GuestOf(string key)
    {
        var secret = connection.ExecuteScalar<byte[]>("SELECT guest FROM secrets", transaction: transaction)!;
        return Guest + Convert.ToHexStringLower(HMACSHA256.HashData(secret, Encoding.UTF8.GetBytes(key)));
    }

    /// <summary>
    /// Forgets a shopper: in orders and uses another id stands in the place of theirs, and counters stay. The same id is a new shopper from
    /// then on.
    /// </summary>
    /// <param name="id">Whom.</param>
    /// <returns>In how many orders; null: there is nobody of that id.</returns>
    public long? Forget(string id)
    {
        var isKnown = connection.ExecuteScalar<bool>(
            """
            SELECT EXISTS (SELECT 1 FROM shoppers WHERE id = @id) OR EXISTS (SELECT 1 FROM redemptions WHERE shopper_id = @id)
                OR EXISTS (SELECT 1 FROM orders WHERE shopper = @id) OR EXISTS (SELECT 1 FROM past_orders WHERE shopper = @id)
            """,
            new { id },
            transaction
        );
        if (!isKnown)
            return null;
        var nobody = $"{Forgotten}{Guid.NewGuid():n}";
        var orders = connection.Execute(
            "UPDATE orders SET shopper = @nobody, cart = json_replace(cart, '$.shopper', json_object('id', @nobody)) WHERE shopper = @id",
            new { id, nobody },
            transaction
        );
        connection.Execute(
            """
            UPDATE redemptions SET shopper_id = @nobody WHERE shopper_id = @id;
            UPDATE past_orders SET shopper = @nobody WHERE shopper = @id;
            UPDATE shopper_uses SET shopper_id = @nobody WHERE shopper_id = @id;
            DELETE FROM shoppers WHERE id = @id;
            DELETE FROM step_rows WHERE kind = 'shopper' AND id = @id;
            UPDATE carts SET document = json_remove(document, '$.shopper') WHERE document ->> '$.shopper.id' = @id;
            UPDATE written SET uses = uses + 1;
            """,
            new { id, nobody },
            transaction
        );
        return orders;
    }

    // Signed in, and nobody of that id has ever ordered here, whatever became of it, nor before the shop was here.
    private bool IsNew(string? shopper) =>
        shopper is not null
        && !IsStandIn(shopper)
        && !connection.ExecuteScalar<bool>(
            """
            SELECT EXISTS (SELECT 1 FROM orders WHERE shopper = @shopper AND NOT rehearsal)
                OR EXISTS (SELECT 1 FROM shoppers WHERE id = @shopper AND orders > 0)
                OR EXISTS (SELECT 1 FROM past_orders WHERE shopper = @shopper AND batch IN (SELECT id FROM past_batches WHERE counts))
            """,
            new { shopper },
            transaction
        );
}
