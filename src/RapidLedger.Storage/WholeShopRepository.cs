using System.Text.Json;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;
using RapidLedger.Pricing;

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

/// <summary>What came of putting a whole shop into a file.</summary>
/// <param name="IsDone">Whether it was written.</param>
/// <param name="Changed">How many promotions differ from before.</param>
/// <param name="Taken">Codes that a live promotion has for its own and that are in a batch, too: then nothing was written.</param>
public sealed record WholeOutcome(bool IsDone, int Changed, IReadOnlyList<string> Taken)
{
    /// <summary>Nothing was written.</summary>
    public static readonly WholeOutcome Nothing = new(false, 0, []);
}

/// <summary>
/// Puts a whole shop into a file: into an empty one, or its promotions, carts and batches in the place of those that are there.
/// </summary>
public sealed class WholeShopRepository(Database database, IClock clock)
{
    /// <summary>Fills an empty file, all at once.</summary>
    public Task<WholeOutcome> Fill(WholeShop shop) =>
        database.Write(
            (connection, transaction) =>
            {
                if (connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM store)", transaction: transaction))
                    return WholeOutcome.Nothing;
                if (Taken(shop, connection, transaction) is { Count: > 0 } taken)
                    return WholeOutcome.Nothing with { Taken = taken };
                ShopRepository.Fill(shop.Store, shop.Settings, shop.Catalogue, shop.Shoppers, shop.Carts, connection, transaction);
                PutBatches(shop.Batches, connection, transaction);
                return new(true, new PromotionRepository(database, clock).Put(shop.Promotions, null, connection, transaction), []);
            }
        );

    /// <summary>
    /// Puts promotions, batches and carts in the place of those that are there, as one edition: what is not among them is retired. Codes
    /// that are there keep what was used of them.
    /// </summary>
    /// <param name="shop">Goods, settings and shoppers of it are not looked at.</param>
    /// <param name="reason">Kept with the edition.</param>
    public Task<WholeOutcome> Replace(WholeShop shop, string reason) =>
        database.Write((connection, transaction) => Replace(shop, reason, connection, transaction));

    /// <summary>The same, with goods and settings, which begin to count in the same moment.</summary>
    /// <param name="shop">The shop.</param>
    /// <param name="reason">Kept with the edition.</param>
    /// <param name="source">Who does it.</param>
    /// <param name="rows">What changes of goods and settings.</param>
    /// <param name="stocks">What is free now of SKUs.</param>
    /// <param name="accepts">Looks at a row as it will be; false refuses it all.</param>
    public async Task<WholeOutcome> Replace(
        WholeShop shop,
        string reason,
        StepSource source,
        IReadOnlyList<RowChange> rows,
        IReadOnlyList<FreeStock> stocks,
        Func<ChangedRow, bool> accepts
    )
    {
        var outcome = WholeOutcome.Nothing;
        try
        {
            await new StepRepository(database, clock).WriteWith(
                source,
                "the whole shop",
                rows,
                stocks,
                accepts,
                (connection, transaction) =>
                {
                    outcome = Replace(shop, reason, connection, transaction);
                    if (!outcome.IsDone)
                        throw new NotReplaced();
                }
            );
        }
        catch (NotReplaced)
        {
            // Nothing of it was written; the outcome says why.
        }

        return outcome;
    }

    private WholeOutcome Replace(WholeShop shop, string reason, SqliteConnection connection, SqliteTransaction transaction)
    {
        if (Taken(shop, connection, transaction) is { Count: > 0 } taken)
            return WholeOutcome.Nothing with { Taken = taken };
        PutBatches(shop.Batches, connection, transaction);
        ShopRepository.PutCarts(shop.Carts, connection, transaction);
        return new(true, new PromotionRepository(database, clock).Put(shop.Promotions, reason, connection, transaction), []);
    }

    // What live promotions have for codes of their own and is in a batch, too, here or in what comes in.
    private static IReadOnlyList<string> Taken(WholeShop shop, SqliteConnection connection, SqliteTransaction? transaction)
    {
        var own = shop
            .Promotions.Where(promotion => promotion is { State: "live", Document: not null })
            .SelectMany(promotion => JsonNode.Parse(promotion.Document!)?["trigger"]?["codes"] as JsonArray ?? [])
            .Select(code => Trigger.Bare(Trigger.Normal(code?.ToString() ?? "")))
            .ToHashSet(StringComparer.Ordinal);
        var inBatches = connection
            .Query<string>(
                "SELECT bare FROM codes WHERE bare IN (SELECT value FROM json_each(@own))",
                new { own = JsonSerializer.Serialize(own) },
                transaction
            )
            .Concat(shop.Batches.SelectMany(batch => batch.Codes ?? []).Select(code => code.Bare));
        return [.. inBatches.Where(own.Contains).Distinct(StringComparer.Ordinal)];
    }

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

    private sealed class NotReplaced : Exception;
}
