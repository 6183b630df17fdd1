using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>A promotion that comes in with a whole shop.</summary>
/// <param name="Id">Which.</param>
/// <param name="State">draft, live, paused or archived.</param>
/// <param name="Document">What was saved last, JSON; null: nothing ever was.</param>
/// <param name="Draft">What is written beside it, JSON; null: nothing is.</param>
/// <param name="Meant">What is said to be meant as written, with its words.</param>
public sealed record IncomingPromotion(
    string Id,
    string State,
    string? Document,
    string? Draft,
    IReadOnlyList<(string Finding, string Words)> Meant
);

/// <summary>A code that comes in with a whole shop.</summary>
public sealed record IncomingCode(string Bare, string Written, long Used, long Drawn, bool Void, string? Note);

/// <summary>A batch that comes in with a whole shop.</summary>
public sealed record IncomingBatch(string Id, string Note, long? UsesEach, string? LastDay, bool Void, IReadOnlyList<IncomingCode>? Codes);

/// <summary>A whole shop, as it comes in.</summary>
/// <param name="Store">What pricing needs of the settings, as in a case, JSON.</param>
/// <param name="Settings">What it does not need, JSON.</param>
/// <param name="Catalogue">Goods as in a case, JSON.</param>
/// <param name="Shoppers">Its shoppers.</param>
/// <param name="Carts">Its sample carts, in order.</param>
/// <param name="Promotions">All promotions.</param>
/// <param name="Batches">All batches of codes.</param>
public sealed record WholeShop(
    string Store,
    string Settings,
    string Catalogue,
    IReadOnlyList<StoredShopper> Shoppers,
    IReadOnlyList<StoredCart> Carts,
    IReadOnlyList<IncomingPromotion> Promotions,
    IReadOnlyList<IncomingBatch> Batches
);

/// <summary>
/// Puts a whole shop into a file: into an empty one, or its promotions, carts and batches in the place of those that are there.
/// </summary>
public sealed class WholeShopRepository(Database database, IClock clock)
{
    /// <summary>Fills an empty file, all at once.</summary>
    /// <returns>False: it holds a shop already, and nothing was written.</returns>
    public Task<bool> Fill(WholeShop shop) =>
        database.Write(
            (connection, transaction) =>
            {
                if (connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM store)", transaction: transaction))
                    return false;
                ShopRepository.Fill(shop.Store, shop.Settings, shop.Catalogue, shop.Shoppers, shop.Carts, connection, transaction);
                PutBatches(shop.Batches, connection, transaction);
                new PromotionRepository(database, clock).Put(shop.Promotions, null, connection, transaction);
                return true;
            }
        );

    /// <summary>
    /// Puts promotions, batches and carts in the place of those that are there, as one edition: what is not among them is retired. Codes
    /// that are there keep what was used of them.
    /// </summary>
    /// <param name="shop">Goods, settings and shoppers of it are not looked at.</param>
    /// <param name="reason">Kept with the edition.</param>
    public Task<int> Replace(WholeShop shop, string reason) =>
        database.Write(
            (connection, transaction) =>
            {
                PutBatches(shop.Batches, connection, transaction);
                ShopRepository.PutCarts(shop.Carts, connection, transaction);
                return new PromotionRepository(database, clock).Put(shop.Promotions, reason, connection, transaction);
            }
        );

    private void PutBatches(IReadOnlyList<IncomingBatch> batches, SqliteConnection connection, SqliteTransaction transaction)
    {
        foreach (var batch in batches)
        {
            connection.Execute(
                """
                INSERT INTO batches (id, note, made_at, uses_each, last_day, void) VALUES (@Id, @Note, @now, @UsesEach, @LastDay, @Void)
                ON CONFLICT DO UPDATE SET note = excluded.note, uses_each = excluded.uses_each, last_day = excluded.last_day,
                    void = excluded.void
                """,
                new
                {
                    batch.Id,
                    batch.Note,
                    now = clock.GetCurrentInstant().ToString(),
                    batch.UsesEach,
                    batch.LastDay,
                    batch.Void,
                },
                transaction
            );
            connection.Execute(
                """
                INSERT INTO codes (bare, written, batch_id, void, used, drawn, brought_used, brought_drawn, note)
                VALUES (@Bare, @Written, @BatchId, @Void, @Used, @Drawn, @Used, @Drawn, @Note)
                ON CONFLICT DO UPDATE SET void = excluded.void
                """,
                (batch.Codes ?? []).Select(code => new
                {
                    code.Bare,
                    code.Written,
                    BatchId = batch.Id,
                    code.Void,
                    code.Used,
                    code.Drawn,
                    code.Note,
                }),
                transaction
            );
            connection.Execute(
                """
                UPDATE batches SET (codes, used, voided) = (
                    SELECT count(*), coalesce(sum(used > 0), 0), coalesce(sum(void), 0) FROM codes WHERE batch_id = @Id
                ) WHERE id = @Id
                """,
                new { batch.Id },
                transaction
            );
        }
    }
}
