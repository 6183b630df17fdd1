using System.Data;
using Dapper;

namespace RapidLedger.Storage;

/// <summary>A published set of live promotions.</summary>
/// <param name="Number">Counted from 1.</param>
/// <param name="PublishedAt">When, as an ISO 8601 instant.</param>
public sealed record StoredEdition(long Number, string PublishedAt);

/// <summary>An edition with what it changed.</summary>
/// <param name="Number">Counted from 1.</param>
/// <param name="PublishedAt">When, as an ISO 8601 instant.</param>
/// <param name="Joined">Promotions that were not live in the one before.</param>
/// <param name="Changed">Promotions live in both, in another version.</param>
/// <param name="Gone">Promotions that are no longer live.</param>
/// <param name="Reason">Why it was published, if somebody said so.</param>
public sealed record EditionChanges(long Number, string PublishedAt, long Joined, long Changed, long Gone, string? Reason);

/// <summary>What came of putting an old edition live again.</summary>
/// <param name="Newest">The newest edition afterwards.</param>
/// <param name="Done">Whether anything was done: not if there is a newer one than was seen.</param>
public sealed record RestoreOutcome(long Newest, bool Done) : ILiveOutcome
{
    /// <inheritdoc/>
    public bool IsBehind { get; init; }

    /// <inheritdoc/>
    public IReadOnlyList<TakenCode> Taken { get; init; } = [];
}

/// <summary>A saved version of a promotion.</summary>
/// <param name="Version">Counted from 1.</param>
/// <param name="Document">What it says.</param>
/// <param name="SavedAt">When, as an ISO 8601 instant.</param>
public sealed record StoredVersion(long Version, string Document, string SavedAt)
{
    // As for promotions.
    private StoredVersion()
        : this(0, "", "") { }
}

/// <summary>A time over which a version of a promotion was live.</summary>
/// <param name="Version">Which.</param>
/// <param name="First">The edition that it began with.</param>
/// <param name="Since">When that was published.</param>
/// <param name="Why">Why, if somebody said so.</param>
/// <param name="Until">When the edition without it was published; null: it is live.</param>
/// <param name="WhyNot">Why, if somebody said so.</param>
public sealed record StoredSpan(long Version, long First, string Since, string? Why, string? Until, string? WhyNot);

/// <content>The editions: what was live when, and in which version.</content>
public sealed partial class PromotionRepository
{
    /// <summary>When an edition was put live, as an ISO 8601 instant, or null if there is none of that number.</summary>
    public string? PublishedAt(long number)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<string?>("SELECT published_at FROM editions WHERE number = @number", new { number });
    }

    /// <summary>The newest edition, or null if nothing was ever published.</summary>
    public StoredEdition? NewestEdition()
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<StoredEdition>(
            "SELECT number, published_at AS PublishedAt FROM editions ORDER BY number DESC LIMIT 1"
        );
    }

    /// <summary>The documents that some promotions have in an edition; those that are not in it are left out.</summary>
    public IReadOnlyDictionary<string, string> Documents(long number, IReadOnlyCollection<string> ids)
    {
        using var connection = database.Open();
        return ids.Chunk(AtOnce)
            .SelectMany(some =>
                connection.Query<(string Id, string Document)>(
                    $"""
                    SELECT promotion_id, {Document} FROM edition_spans
                    JOIN versions USING (promotion_id, version)
                    WHERE first <= @number AND (last IS NULL OR last >= @number) AND promotion_id IN @some
                    """,
                    new { number, some }
                )
            )
            .ToDictionary(entry => entry.Id, entry => entry.Document, StringComparer.Ordinal);
    }

    /// <summary>The documents of an edition, by promotion id.</summary>
    public IReadOnlyList<string> Edition(long number)
    {
        using var connection = database.Open();
        return connection
            .Query<string>(
                $"""
                SELECT {Document} FROM edition_spans
                JOIN versions USING (promotion_id, version)
                WHERE first <= @number AND (last IS NULL OR last >= @number)
                ORDER BY promotion_id
                """,
                new { number }
            )
            .AsList();
    }

    /// <summary>How many editions there are, and some of them, the newest first, with what each changed.</summary>
    public (long All, IReadOnlyList<EditionChanges> Editions) Editions(int skip, int take)
    {
        using var connection = database.Open();
        // A tuple: of a count SQLite tells no type where there is no row, and a record asks for it.
        var rows = connection
            .Query<(long Number, string PublishedAt, long Joined, long Changed, long Gone, string? Reason)>(
                """
                SELECT number, published_at AS PublishedAt,
                       (SELECT count(*) FROM edition_spans AS joined WHERE joined.first = number
                        AND NOT EXISTS (SELECT 1 FROM edition_spans AS before WHERE before.promotion_id = joined.promotion_id
                            AND before.last = number - 1)) AS Joined,
                       (SELECT count(*) FROM edition_spans AS changed WHERE changed.first = number
                        AND EXISTS (SELECT 1 FROM edition_spans AS before WHERE before.promotion_id = changed.promotion_id
                            AND before.last = number - 1)) AS Changed,
                       (SELECT count(*) FROM edition_spans AS gone WHERE gone.last = number - 1
                        AND NOT EXISTS (SELECT 1 FROM edition_spans AS after WHERE after.promotion_id = gone.promotion_id
                            AND after.first = number)) AS Gone,
                       reason
                FROM editions ORDER BY number DESC LIMIT @take OFFSET @skip
                """,
                new { skip, take }
            )
            .Select(row => new EditionChanges(row.Number, row.PublishedAt, row.Joined, row.Changed, row.Gone, row.Reason))
            .AsList();
        return (connection.ExecuteScalar<long>("SELECT count(*) FROM editions"), rows);
    }

    /// <summary>
    /// Puts an old edition live again, as a new one: what was in it is live as it was then, what was not rests. Drafts stay.
    /// </summary>
    /// <param name="number">Which.</param>
    /// <param name="seen">The newest edition that the writer has seen.</param>
    /// <param name="reason">Why, if somebody says so.</param>
    /// <param name="check">What was looked at before.</param>
    public Task<RestoreOutcome> Restore(long number, long seen, string? reason, LiveCheck check) =>
        database.Write(
            (connection, transaction) =>
            {
                var newest = Newest(connection, transaction);
                if (newest != seen)
                    return new RestoreOutcome(newest, false);
                if (IsBehind(connection, transaction, check))
                    return new RestoreOutcome(newest, false) { IsBehind = true };
                if (Taken(connection, transaction, check) is { Count: > 0 } taken)
                    return new RestoreOutcome(newest, false) { Taken = taken };
                connection.Execute(
                    """
                    UPDATE promotions SET state = 'paused', revision = revision + 1, touched_at = @now
                    WHERE state = 'live' AND id NOT IN (SELECT promotion_id FROM edition_spans WHERE first <= @number AND (last IS NULL
                        OR last >= @number));
                    UPDATE promotions SET state = 'live', version = then_live.version, revision = revision + 1, touched_at = @now
                    FROM (SELECT promotion_id, version FROM edition_spans WHERE first <= @number AND (last IS NULL
                        OR last >= @number)) AS then_live
                    WHERE promotions.id = then_live.promotion_id AND (state <> 'live' OR promotions.version <> then_live.version);
                    """,
                    new { number, now = Now() },
                    transaction
                );
                Publish(connection, transaction, null, reason);
                return new RestoreOutcome(newest + 1, true);
            }
        );

    /// <summary>
    /// What joined or changed, and what left, from one edition to another: the document of each that is live in the later one, or null.
    /// </summary>
    public IReadOnlyList<(string Id, string? Document)> Changes(long from, long to)
    {
        using var connection = database.Open();
        return connection
            .Query<(string, string?)>(
                $"""
                WITH moved AS (
                    SELECT promotion_id FROM edition_spans WHERE first > @from AND first <= @to
                    UNION
                    SELECT promotion_id FROM edition_spans WHERE last >= @from AND last < @to
                )
                SELECT moved.promotion_id, {Document}
                FROM moved
                LEFT JOIN edition_spans ON edition_spans.promotion_id = moved.promotion_id AND first <= @to AND (last IS NULL
                    OR last >= @to)
                LEFT JOIN versions ON versions.promotion_id = edition_spans.promotion_id AND versions.version = edition_spans.version
                """,
                new { from, to }
            )
            .AsList();
    }

    /// <summary>All versions of a promotion, the newest first, and when each was live.</summary>
    public (IReadOnlyList<StoredVersion> Versions, IReadOnlyList<StoredSpan> Spans) History(string id)
    {
        using var connection = database.Open();
        var versions = connection
            .Query<StoredVersion>(
                $"SELECT version, {Document} AS document, saved_at AS SavedAt FROM versions WHERE promotion_id = @id ORDER BY version DESC",
                new { id }
            )
            .AsList();
        // Row by row: a column that may be null everywhere has no type that a record could be made from.
        var spans = connection
            .Query(
                """
                SELECT spans.version AS version, spans.first AS first, began.published_at AS since, began.reason AS why,
                    over.published_at AS until, over.reason AS whyNot
                FROM edition_spans AS spans
                JOIN editions AS began ON began.number = spans.first
                LEFT JOIN editions AS over ON over.number = spans.last + 1
                WHERE spans.promotion_id = @id ORDER BY spans.first DESC
                """,
                new { id }
            )
            .Select(row => new StoredSpan(
                (long)row.version,
                (long)row.first,
                (string)row.since,
                (string?)row.why,
                (string?)row.until,
                (string?)row.whyNot
            ))
            .AsList();
        return (versions, spans);
    }

    /// <summary>The number of the newest edition; 0: there is none.</summary>
    internal static long Newest(IDbConnection connection, IDbTransaction transaction) =>
        connection.ExecuteScalar<long>("SELECT coalesce(max(number), 0) FROM editions", transaction: transaction);

    // Closes the spans of what is no longer live and opens those of what now is: of one promotion, or of all.
    private void Publish(IDbConnection connection, IDbTransaction transaction, string? only, string? reason)
    {
        var number = Newest(connection, transaction) + 1;
        connection.Execute(
            "INSERT INTO editions (number, published_at, reason) VALUES (@number, @now, @reason)",
            new
            {
                number,
                now = Now(),
                reason,
            },
            transaction
        );
        var (ofIt, isIt) = only is null ? ("", "") : ("promotion_id = @only AND", "id = @only AND");
        connection.Execute(
            $"""
            UPDATE edition_spans SET last = @number - 1
            WHERE {ofIt} last IS NULL AND NOT EXISTS (
                SELECT 1 FROM promotions
                WHERE promotions.id = edition_spans.promotion_id AND promotions.state = 'live'
                    AND promotions.version = edition_spans.version);
            INSERT INTO edition_spans (promotion_id, version, first)
            SELECT id, version, @number FROM promotions
            WHERE {isIt} state = 'live' AND NOT EXISTS (
                SELECT 1 FROM edition_spans WHERE edition_spans.promotion_id = promotions.id AND last IS NULL);
            """,
            new { number, only },
            transaction
        );
    }
}
