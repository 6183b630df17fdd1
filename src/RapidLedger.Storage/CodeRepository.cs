using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>A batch of codes as stored.</summary>
/// <param name="Id">The name used in documents.</param>
/// <param name="Note">Where it came from.</param>
/// <param name="MadeAt">When, as an ISO 8601 instant.</param>
/// <param name="UsesEach">Orders that may use each code; null: any number.</param>
/// <param name="LastDay">The last day on which they are good, ISO 8601; null: always.</param>
/// <param name="Void">Whether the whole batch was made void; its codes have a mark of their own.</param>
/// <param name="Codes">How many there are.</param>
/// <param name="Used">How many of them have been used.</param>
/// <param name="Voided">How many of them were made void one by one.</param>
public sealed record StoredBatch(
    string Id,
    string Note,
    string MadeAt,
    long? UsesEach,
    string? LastDay,
    bool Void,
    long Codes,
    long Used,
    long Voided
)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StoredBatch()
        : this("", "", "", null, null, false, 0, 0, 0) { }
}

/// <summary>A code of a batch as stored.</summary>
/// <param name="Bare">How it is found: without hyphens and spaces.</param>
/// <param name="Written">How it was handed out.</param>
/// <param name="BatchId">Its batch.</param>
/// <param name="Void">Whether it was made void itself.</param>
/// <param name="Used">Orders that have used it.</param>
/// <param name="Drawn">Of a card: minor units of the base currency drawn.</param>
/// <param name="LastUsedAt">When it was last used, in seconds of Unix time.</param>
/// <param name="Note">What came with it when it was brought.</param>
public sealed record StoredCode(
    string Bare,
    string Written,
    string BatchId,
    bool Void,
    long Used,
    long Drawn,
    long? LastUsedAt,
    string? Note
)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StoredCode()
        : this("", "", "", false, 0, 0, null, null) { }
}

/// <summary>A code as it is told when it is looked up: with what its batch says.</summary>
/// <param name="Bare">How it is found.</param>
/// <param name="BatchId">Its batch.</param>
/// <param name="Void">Whether it or its batch is void.</param>
/// <param name="Used">Orders that have used it.</param>
/// <param name="Drawn">Of a card: drawn.</param>
/// <param name="UsesEach">Orders that may use it; null: any number.</param>
/// <param name="LastDay">ISO 8601; null: always.</param>
public sealed record StandingCode(string Bare, string BatchId, bool Void, long Used, long Drawn, long? UsesEach, string? LastDay)
{
    // SQLite has no flags and one kind of whole number: the members are set one by one.
    private StandingCode()
        : this("", "", false, 0, 0, null, null) { }
}

/// <summary>What came of putting codes in a batch.</summary>
/// <param name="Put">How many were put in.</param>
/// <param name="IsGone">The batch is no longer there.</param>
/// <param name="IsBehind">Nothing was put in: another edition was published than was looked at.</param>
public sealed record FillOutcome(int Put, bool IsGone = false, bool IsBehind = false);

/// <summary>Codes of batches.</summary>
public sealed class CodeRepository(Database database, IClock clock)
{
    private const int AtOnce = 5_000;

    private const string SelectBatch =
        "SELECT id, note, made_at AS MadeAt, uses_each AS UsesEach, last_day AS LastDay, void, codes, used, voided FROM batches";

    private const string SelectCode =
        "SELECT bare, written, batch_id AS BatchId, void, used, drawn, last_used_at AS LastUsedAt, note FROM codes";

    /// <summary>All batches, the newest first.</summary>
    public IReadOnlyList<StoredBatch> Batches()
    {
        using var connection = database.Open();
        return connection.Query<StoredBatch>($"{SelectBatch} ORDER BY made_at DESC, id DESC").AsList();
    }

    /// <summary>One batch, or null.</summary>
    public StoredBatch? FindBatch(string id)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredBatch>($"{SelectBatch} WHERE id = @id", new { id });
    }

    /// <summary>The codes that begin so, at most so many, in order.</summary>
    /// <param name="bare">The beginning, in bare form; empty: all.</param>
    /// <param name="batch">Only of this batch; null: of all.</param>
    /// <param name="after">Only those after this one.</param>
    /// <param name="take">At most so many.</param>
    public IReadOnlyList<StoredCode> Beginning(string bare, string? batch, string after, int take)
    {
        using var connection = database.Open();
        // A range, so that the index is used: up to the last text that begins so.
        return connection
            .Query<StoredCode>(
                $"{SelectCode} WHERE bare >= @bare AND bare < @end AND bare > @after {(batch is null ? "" : "AND batch_id = @batch")} ORDER BY bare LIMIT @take",
                new
                {
                    bare,
                    end = bare + "\U0010FFFF",
                    batch,
                    after,
                    take,
                }
            )
            .AsList();
    }

    /// <summary>One code, or null.</summary>
    public StoredCode? Find(string bare)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredCode>($"{SelectCode} WHERE bare = @bare", new { bare });
    }

    /// <summary>The orders that a code was used by, the newest first.</summary>
    public IReadOnlyList<string> OrdersOf(string bare)
    {
        using var connection = database.Open();
        return connection
            .Query<string>(
                "SELECT id FROM order_codes JOIN orders ON orders.id = order_codes.order_id WHERE bare = @bare ORDER BY change DESC LIMIT 20",
                new { bare }
            )
            .AsList();
    }

    /// <summary>How the given codes stand; those that are in no batch are left out.</summary>
    public IReadOnlyList<StandingCode> Standing(IEnumerable<string> bare)
    {
        using var connection = database.Open();
        return OrderTransaction.Standing(connection, null, bare);
    }

    /// <summary>Begins a batch without codes, under the next id of the form <c>b7</c>.</summary>
    /// <param name="note">Where it comes from.</param>
    /// <param name="usesEach">Orders that may use each; null: any number.</param>
    /// <param name="lastDay">ISO 8601; null: always.</param>
    /// <param name="making">What is needed to go on making its codes after a restart.</param>
    public Task<StoredBatch> Begin(string note, long? usesEach, string? lastDay, string making) =>
        database.Write(
            (connection, transaction) =>
            {
                var batch = Begin(connection, transaction, note, usesEach, lastDay);
                connection.Execute("UPDATE batches SET making = @making WHERE id = @Id", new { making, batch.Id }, transaction);
                return batch;
            }
        );

    /// <summary>The batches that are being made, with what is needed to go on, and how many codes each holds.</summary>
    public IReadOnlyList<(string Id, string Making, long Codes)> Unfinished()
    {
        using var connection = database.Open();
        return connection
            .Query<(string, string, long)>("SELECT id, making, codes FROM batches WHERE making IS NOT NULL ORDER BY id")
            .AsList();
    }

    /// <summary>Notes that a batch is whole, or no longer made.</summary>
    public Task Made(string batch) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute("UPDATE batches SET making = NULL WHERE id = @batch", new { batch }, transaction)
        );

    /// <summary>Puts codes in a batch; those that are in a batch already are passed over.</summary>
    /// <param name="batch">The batch.</param>
    /// <param name="codes">None of which a live promotion has for its own.</param>
    /// <param name="edition">The newest edition when that was looked at.</param>
    /// <param name="gone">Nobody waits any more.</param>
    /// <returns>How many were put in; none where another edition was published since.</returns>
    public Task<FillOutcome> Fill(
        string batch,
        IReadOnlyList<(string Bare, string Written)> codes,
        long edition,
        CancellationToken gone = default
    ) =>
        database.Write(
            (connection, transaction) =>
            {
                if (connection.ExecuteScalar<long>("SELECT count(*) FROM batches WHERE id = @batch", new { batch }, transaction) == 0)
                    return new FillOutcome(0, IsGone: true);
                if (IsBehind(connection, transaction, edition))
                    return new FillOutcome(0, IsBehind: true);
                using var insert = Insert(connection, transaction, batch);
                var put = codes.Count(code => insert.Put(code.Bare, code.Written, null));
                connection.Execute("UPDATE batches SET codes = codes + @put WHERE id = @batch", new { batch, put }, transaction);
                return new FillOutcome(put);
            },
            gone
        );

    /// <summary>Brings a batch whole: all of its codes, or nothing.</summary>
    /// <param name="note">Where it comes from.</param>
    /// <param name="usesEach">Orders that may use each; null: any number.</param>
    /// <param name="lastDay">ISO 8601; null: always.</param>
    /// <param name="codes">Each bare form once, none of them a promotion's own.</param>
    /// <param name="edition">The newest edition when that was looked at.</param>
    /// <returns>The batch; or null, and the places of the codes that are in the store already: none where another edition was published
    /// since.</returns>
    public Task<(StoredBatch? Batch, IReadOnlyList<int> Taken)> Bring(
        string note,
        long? usesEach,
        string? lastDay,
        IReadOnlyList<(string Bare, string Written, string? Note)> codes,
        long edition
    ) =>
        database.Write<(StoredBatch?, IReadOnlyList<int>)>(
            (connection, transaction) =>
            {
                if (IsBehind(connection, transaction, edition))
                    return (null, []);
                var batch = Begin(connection, transaction, note, usesEach, lastDay);
                var taken = new List<int>();
                using (var insert = Insert(connection, transaction, batch.Id))
                    for (var place = 0; place < codes.Count; place++)
                        if (!insert.Put(codes[place].Bare, codes[place].Written, codes[place].Note))
                            taken.Add(place);
                if (taken.Count == 0)
                {
                    connection.Execute("UPDATE batches SET codes = @Count WHERE id = @Id", new { codes.Count, batch.Id }, transaction);
                    return (batch with { Codes = codes.Count }, taken);
                }

                Drop(connection, transaction, batch.Id);
                return (null, taken);
            }
        );

    /// <summary>Throws a batch away of which no code was ever used.</summary>
    /// <returns>Whether it is gone.</returns>
    public Task<bool> Drop(string batch) =>
        database.Write(
            (connection, transaction) =>
            {
                if (
                    connection.ExecuteScalar<long>(
                        "SELECT count(*) FROM order_codes JOIN codes USING (bare) WHERE batch_id = @batch",
                        new { batch },
                        transaction
                    ) > 0
                )
                    return false;
                Drop(connection, transaction, batch);
                return true;
            }
        );

    /// <summary>Makes a code void, or valid again.</summary>
    /// <returns>Whether there is such a code.</returns>
    public Task<bool> SetVoid(string bare, bool isVoid) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute("UPDATE codes SET void = @isVoid WHERE bare = @bare", new { bare, isVoid }, transaction) == 1
        );

    /// <summary>Makes some codes void, or valid again: all of them at once.</summary>
    /// <returns>How many of them there are.</returns>
    public Task<int> SetVoid(IReadOnlyCollection<string> bares, bool isVoid) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute("UPDATE codes SET void = @isVoid WHERE bare IN @bares", new { bares, isVoid }, transaction)
        );

    /// <summary>Makes a whole batch void, or valid again; the marks of its codes stay.</summary>
    /// <returns>Whether there is such a batch.</returns>
    public Task<bool> SetBatchVoid(string id, bool isVoid) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute("UPDATE batches SET void = @isVoid WHERE id = @id", new { id, isVoid }, transaction) == 1
        );

    /// <summary>Goes through the codes of a batch in order, a part at a time, so that memory stays flat.</summary>
    public IEnumerable<StoredCode> CodesOf(string batch)
    {
        var after = "";
        while (true)
        {
            var part = Beginning("", batch, after, AtOnce);
            foreach (var code in part)
                yield return code;
            if (part.Count < AtOnce)
                yield break;
            after = part[^1].Bare;
        }
    }

    private static bool IsBehind(SqliteConnection connection, SqliteTransaction transaction, long edition) =>
        PromotionRepository.Newest(connection, transaction) != edition;

    private static void Drop(SqliteConnection connection, SqliteTransaction transaction, string batch) =>
        connection.Execute("DELETE FROM codes WHERE batch_id = @batch; DELETE FROM batches WHERE id = @batch", new { batch }, transaction);

    private StoredBatch Begin(SqliteConnection connection, SqliteTransaction transaction, string note, long? usesEach, string? lastDay)
    {
        var next = connection.ExecuteScalar<long>(
            "SELECT coalesce(max(CAST(substr(id, 2) AS INTEGER)), 0) + 1 FROM batches WHERE id GLOB 'b[0-9]*' AND id NOT GLOB 'b*[^0-9]*'",
            transaction: transaction
        );
        var id = $"b{next}";
        connection.Execute(
            "INSERT INTO batches (id, note, made_at, uses_each, last_day) VALUES (@id, @note, @now, @usesEach, @lastDay)",
            new
            {
                id,
                note,
                now = clock.GetCurrentInstant().ToString(),
                usesEach,
                lastDay,
            },
            transaction
        );
        return connection.QuerySingle<StoredBatch>($"{SelectBatch} WHERE id = @id", new { id }, transaction);
    }

    private static CodeInsert Insert(SqliteConnection connection, SqliteTransaction transaction, string batch) =>
        new(connection, transaction, batch);

    // One statement for the many.
    private sealed class CodeInsert : IDisposable
    {
        private readonly SqliteCommand insert;
        private readonly SqliteParameter bare;
        private readonly SqliteParameter written;
        private readonly SqliteParameter note;

        public CodeInsert(SqliteConnection connection, SqliteTransaction transaction, string batch)
        {
            insert = connection.CreateCommand();
            insert.Transaction = transaction;
            insert.CommandText =
                "INSERT INTO codes (bare, written, batch_id, note) VALUES ($bare, $written, $batch, $note) ON CONFLICT DO NOTHING";
            insert.Parameters.AddWithValue("$batch", batch);
            (bare, written, note) = (Text("$bare"), Text("$written"), Text("$note"));

            SqliteParameter Text(string name) => insert.Parameters.Add(name, SqliteType.Text);
        }

        public bool Put(string code, string asWritten, string? noted)
        {
            (bare.Value, written.Value, note.Value) = (code, asWritten, noted ?? (object)DBNull.Value);
            return insert.ExecuteNonQuery() == 1;
        }

        public void Dispose() => insert.Dispose();
    }
}
