using System.Data;
using Dapper;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>A promotion as stored.</summary>
/// <param name="Id">Its id.</param>
/// <param name="State">draft, live, paused or archived.</param>
/// <param name="Version">The number of its saved version; null: never saved.</param>
/// <param name="Document">The saved version as JSON.</param>
/// <param name="Draft">What is being written, as typed; null: nothing beside the saved version.</param>
/// <param name="Revision">Goes up with every write; a writer says which one it has seen.</param>
/// <param name="TouchedAt">When it was last written, as an ISO 8601 instant.</param>
public sealed record StoredPromotion(
    string Id,
    string State,
    long? Version,
    string? Document,
    string? Draft,
    long Revision,
    string TouchedAt
)
{
    // What is computed has no type where there are no rows: the members are set one by one.
    private StoredPromotion()
        : this("", "", null, null, null, 0, "") { }

    /// <summary>What the desk shows: the draft, else the saved version.</summary>
    public string Shown => Draft ?? Document ?? "{}";
}

/// <summary>What has been used of a promotion.</summary>
/// <param name="PromotionId">Which.</param>
/// <param name="Total">Orders in all.</param>
/// <param name="Shopper">Orders of the shopper asked about.</param>
/// <param name="Today">Orders of the day asked about.</param>
/// <param name="Budget">Minor units of the base currency given.</param>
/// <param name="Drawn">Of a credit's own code: minor units of the base currency drawn.</param>
public sealed record StoredUsage(string PromotionId, long Total, long Shopper, long Today, long Budget, long Drawn)
{
    /// <summary>As pricing takes it.</summary>
    public Usage Usage => new(Total, Shopper, Today, Budget, Drawn);
}

/// <summary>What came of a write.</summary>
/// <param name="Current">The promotion as it is now; null: there is none of that id.</param>
/// <param name="Conflict">Nothing was written: somebody wrote since the revision that the writer had seen.</param>
public sealed record WriteOutcome(StoredPromotion? Current, bool Conflict) : ILiveOutcome
{
    /// <inheritdoc/>
    public bool IsBehind { get; init; }

    /// <inheritdoc/>
    public IReadOnlyList<TakenCode> Taken { get; init; } = [];
}

/// <summary>What somebody has looked at who makes promotions live; nothing is written unless it still stands.</summary>
/// <param name="Edition">The edition that was the newest.</param>
/// <param name="Codes">The promotions' own codes in bare form, none of which may be in a batch.</param>
public sealed record LiveCheck(long Edition, IReadOnlyCollection<string> Codes);

/// <summary>A code that is in a batch.</summary>
public sealed record TakenCode(string Bare, string Batch);

/// <summary>What came of making promotions live.</summary>
public interface ILiveOutcome
{
    /// <summary>Nothing was written: another edition was published than was looked at. Look again.</summary>
    bool IsBehind { get; }

    /// <summary>The codes that are in batches; if there are any, nothing was written.</summary>
    IReadOnlyList<TakenCode> Taken { get; }
}

/// <summary>What was said to be meant as written.</summary>
/// <param name="Finding">The check, and the place in the document.</param>
/// <param name="Words">What was found, as it was said.</param>
/// <param name="MeantAt">When, as an ISO 8601 instant.</param>
public sealed record StoredMeaning(string Finding, string Words, string MeantAt);

/// <summary>Promotions, their drafts and versions, what is used of them, and the editions.</summary>
public sealed partial class PromotionRepository(Database database, IClock clock)
{
    // SQLite takes so many parameters at once and more (sqlite.org/limits.html).
    private const int AtOnce = 500;

    // What a version says, read through the renames that came after it.
    private const string Document = """
        renamed(versions.document, (
            SELECT json_group_array(json_array(kind, option, was, becomes))
            FROM (SELECT * FROM renames WHERE number > versions.renames ORDER BY number)
        ))
        """;

    private const string Select = $"""
        SELECT promotions.id, state, promotions.version, {Document} AS document, draft, revision, touched_at AS TouchedAt
        FROM promotions LEFT JOIN versions ON versions.promotion_id = promotions.id AND versions.version = promotions.version
        """;

    /// <summary>All of them, by id.</summary>
    public IReadOnlyList<StoredPromotion> All()
    {
        using var connection = database.Open();
        return connection.Query<StoredPromotion>($"{Select} ORDER BY promotions.id").AsList();
    }

    /// <summary>One of them, or null.</summary>
    public StoredPromotion? Find(string id)
    {
        using var connection = database.Open();
        return Find(connection, null, id);
    }

    /// <summary>Those of some ids that are there.</summary>
    public IReadOnlyList<StoredPromotion> Find(IReadOnlyCollection<string> ids)
    {
        using var connection = database.Open();
        return
        [
            .. ids.Chunk(AtOnce)
                .SelectMany(some => connection.Query<StoredPromotion>($"{Select} WHERE promotions.id IN @some", new { some })),
        ];
    }

    /// <summary>The ids of those that were written, begun or thrown away since.</summary>
    /// <param name="written">What <see cref="Written"/> was then.</param>
    public IReadOnlyList<string> WrittenSince(long written)
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT id FROM promotion_ids WHERE written > @written", new { written }).AsList();
    }

    /// <summary>A number that goes up when promotions, editions or batches are written.</summary>
    public long Written()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<long>("SELECT promotions FROM written");
    }

    /// <summary>A number that goes up when something is used up, given back or made void.</summary>
    public long Uses()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<long>("SELECT uses FROM written");
    }

    /// <summary>The ids of all batches of codes.</summary>
    public IReadOnlySet<string> Batches()
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT id FROM batches").ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>The ids of all there ever were: one that is gone may still be named.</summary>
    public IReadOnlySet<string> Ids()
    {
        using var connection = database.Open();
        return connection.Query<string>("SELECT id FROM promotion_ids").ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>Begins a promotion with a draft. The id is the next of the form <c>p12</c>; none is ever given twice.</summary>
    /// <param name="draft">Gives the draft for an id.</param>
    public Task<StoredPromotion> Begin(Func<string, string> draft) =>
        database.Write(
            (connection, transaction) =>
            {
                string id;
                // A file may have brought one of that form.
                do id =
                    $"p{connection.ExecuteScalar<long>("UPDATE written SET begun = begun + 1 RETURNING begun", transaction: transaction)}";
                while (
                    connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM promotion_ids WHERE id = @id)", new { id }, transaction)
                );
                connection.Execute(
                    "INSERT INTO promotions (id, state, draft, revision, touched_at) VALUES (@id, 'draft', @draft, 1, @now)",
                    new
                    {
                        id,
                        draft = draft(id),
                        now = Now(),
                    },
                    transaction
                );
                return Find(connection, transaction, id)!;
            }
        );

    /// <summary>Adds uses; for filling an empty database.</summary>
    public Task AddRedemptions(IEnumerable<(string Promotion, string? Shopper, Instant At, LocalDate Day, long Amount)> redemptions) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute(
                    "INSERT INTO redemptions (promotion_id, shopper_id, at, day, amount) VALUES (@Promotion, @Shopper, @At, @Day, @Amount)",
                    redemptions.Select(entry => new
                    {
                        entry.Promotion,
                        entry.Shopper,
                        At = entry.At.ToUnixTimeSeconds(),
                        Day = LocalDatePattern.Iso.Format(entry.Day),
                        entry.Amount,
                    }),
                    transaction
                )
        );

    /// <summary>Keeps a draft as typed; none: there is nothing beside the saved version.</summary>
    public Task<WriteOutcome> KeepDraft(string id, long seen, string? draft) =>
        Change(id, seen, (connection, transaction, _) =>
            connection.Execute("UPDATE promotions SET draft = @draft WHERE id = @id", new { id, draft }, transaction)
        );

    /// <summary>Throws the draft away; a promotion that was never saved goes with it.</summary>
    public Task<WriteOutcome> DropDraft(string id, long seen) =>
        Change(id, seen, (connection, transaction, current) =>
            connection.Execute(
                current.Version is null ? "DELETE FROM promotions WHERE id = @id" : "UPDATE promotions SET draft = NULL WHERE id = @id",
                new { id },
                transaction
            )
        );

    /// <summary>Saves a document as the next version, in a state, and publishes an edition if what is live changes.</summary>
    public Task<WriteOutcome> Save(string id, long seen, string document, string state, string? reason = null, LiveCheck? check = null) =>
        Change(id, seen, check, (connection, transaction, current) =>
        {
            SaveNext(connection, transaction, current, document, state, null);
            if (state == "live" || current.State == "live")
                Publish(connection, transaction, id, reason);
        });

    /// <summary>Saves a document as the next version beside a draft, its state as it is, and publishes an edition if it is live.</summary>
    /// <param name="id">Which.</param>
    /// <param name="seen">The revision that the writer has seen.</param>
    /// <param name="document">The next version; null: it was never saved, only the draft changes.</param>
    /// <param name="draft">The draft beside it; null: there is none.</param>
    /// <param name="reason">Why, if somebody says so.</param>
    public Task<WriteOutcome> Rewrite(string id, long seen, string? document, string? draft, string? reason = null) =>
        Change(id, seen, (connection, transaction, current) =>
        {
            if (document is null)
                connection.Execute("UPDATE promotions SET draft = @draft WHERE id = @id", new { id, draft }, transaction);
            else
                SaveNext(connection, transaction, current, document, current.State, draft);
            if (document is not null && current.State == "live")
                Publish(connection, transaction, id, reason);
        });

    /// <summary>Changes only the state of a saved promotion, and publishes an edition if what is live changes.</summary>
    /// <param name="id">Which.</param>
    /// <param name="seen">The revision that the writer has seen.</param>
    /// <param name="state">The new state.</param>
    /// <param name="dropsDraft">Whether the draft goes with it; else it stays as it is.</param>
    /// <param name="reason">Why, if somebody says so.</param>
    /// <param name="check">What was looked at before it becomes live; null: it does not.</param>
    public Task<WriteOutcome> SetState(
        string id,
        long seen,
        string state,
        bool dropsDraft = false,
        string? reason = null,
        LiveCheck? check = null
    ) => Change(id, seen, check, (connection, transaction, current) =>
        {
            connection.Execute(
                "UPDATE promotions SET state = @state, draft = CASE WHEN @dropsDraft THEN NULL ELSE draft END WHERE id = @id",
                new
                {
                    id,
                    state,
                    dropsDraft,
                },
                transaction
            );
            if ((state == "live") != (current.State == "live"))
                Publish(connection, transaction, id, reason);
        });

    /// <summary>What is said to be meant as written in a promotion, the latest first.</summary>
    public IReadOnlyList<StoredMeaning> Meant(string id)
    {
        using var connection = database.Open();
        return connection
            .Query<StoredMeaning>(
                "SELECT finding, words, meant_at AS MeantAt FROM meant WHERE promotion_id = @id ORDER BY meant_at DESC, finding",
                new { id }
            )
            .AsList();
    }

    /// <summary>Notes that something is meant as written, or no longer.</summary>
    /// <returns>Whether there is such a promotion.</returns>
    public Task<bool> Mean(string id, string finding, string words, bool isMeant) =>
        database.Write(
            (connection, transaction) =>
            {
                if (Find(connection, transaction, id) is null)
                    return false;
                connection.Execute(
                    isMeant
                        ? "INSERT INTO meant (promotion_id, finding, words, meant_at) VALUES (@id, @finding, @words, @now) ON CONFLICT DO NOTHING"
                        : "DELETE FROM meant WHERE promotion_id = @id AND finding = @finding",
                    new
                    {
                        id,
                        finding,
                        words,
                        now = Now(),
                    },
                    transaction
                );
                return true;
            }
        );

    private static StoredPromotion? Find(IDbConnection connection, IDbTransaction? transaction, string id) =>
        connection.QuerySingleOrDefault<StoredPromotion>($"{Select} WHERE promotions.id = @id", new { id }, transaction);

    private Task<WriteOutcome> Change(string id, long seen, Action<IDbConnection, IDbTransaction, StoredPromotion> change) =>
        Change(id, seen, null, change);

    private Task<WriteOutcome> Change(
        string id,
        long seen,
        LiveCheck? check,
        Action<IDbConnection, IDbTransaction, StoredPromotion> change
    ) =>
        database.Write(
            (connection, transaction) =>
            {
                if (Find(connection, transaction, id) is not { } current)
                    return new WriteOutcome(null, false);
                if (current.Revision != seen)
                    return new WriteOutcome(current, true);
                if (check is not null && IsBehind(connection, transaction, check))
                    return new WriteOutcome(current, false) { IsBehind = true };
                if (check is not null && Taken(connection, transaction, check) is { Count: > 0 } taken)
                    return new WriteOutcome(current, false) { Taken = taken };
                change(connection, transaction, current);
                connection.Execute(
                    "UPDATE promotions SET revision = revision + 1, touched_at = @now WHERE id = @id",
                    new { id, now = Now() },
                    transaction
                );
                return new WriteOutcome(Find(connection, transaction, id), false);
            }
        );

    private static bool IsBehind(IDbConnection connection, IDbTransaction transaction, LiveCheck check) =>
        Newest(connection, transaction) != check.Edition;

    private static List<TakenCode> Taken(IDbConnection connection, IDbTransaction transaction, LiveCheck check) =>
        [
            .. check
                .Codes.Chunk(AtOnce)
                .SelectMany(some =>
                    connection.Query<TakenCode>("SELECT bare, batch_id AS Batch FROM codes WHERE bare IN @some", new { some }, transaction)
                ),
        ];

    private void SaveNext(
        IDbConnection connection,
        IDbTransaction transaction,
        StoredPromotion current,
        string document,
        string state,
        string? draft
    )
    {
        var id = current.Id;
        var version = connection.ExecuteScalar<long>(
            "SELECT coalesce(max(version), 0) + 1 FROM versions WHERE promotion_id = @id",
            new { id },
            transaction
        );
        Save(connection, transaction, id, version, document);
        connection.Execute(
            "UPDATE promotions SET version = @version, state = @state, draft = @draft WHERE id = @id",
            new
            {
                id,
                version,
                state,
                draft,
            },
            transaction
        );
    }

    private void Save(IDbConnection connection, IDbTransaction transaction, string id, long version, string document) =>
        connection.Execute(
            """
            INSERT INTO versions (promotion_id, version, document, saved_at, renames)
            SELECT @id, @version, @document, @now, coalesce(max(number), 0) FROM renames
            """,
            new
            {
                id,
                version,
                document,
                now = Now(),
            },
            transaction
        );

    private string Now() => clock.GetCurrentInstant().ToString();
}
