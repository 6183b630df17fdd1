using System.Globalization;
using System.Reflection;
using System.Threading.Channels;
using Dapper;
using DbUp;
using DbUp.Engine;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>
/// One SQLite file: write-ahead log, foreign keys on, every acknowledged write on disk. Writes of this program go one after the other, on a
/// thread of their own; those that wait together are brought to the disk together, and each fails alone.
/// </summary>
public sealed class Database : IDisposable
{
    // "RLed": says whose file it is (sqlite.org/fileformat.html#application_id).
    private const int ApplicationId = 0x524C6564;

    private const int MostAtOnce = 256;
    private const string Savepoint = "one";

    private readonly string connectionString;
    private readonly Channel<Waiting> waiting = Channel.CreateUnbounded<Waiting>(new() { SingleReader = true });
    private readonly Lazy<Thread> writer;
    private readonly Lock watching = new();
    private SqliteConnection? watch;

    /// <summary>A database in a file, which is made if it is not there.</summary>
    /// <param name="path">The file.</param>
    public Database(string path)
    {
        Path = System.IO.Path.GetFullPath(path);
        connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = Path,
            ForeignKeys = true,
            DefaultTimeout = 10,
        }.ToString();
        writer = new(() =>
        {
            var thread = new Thread(WriteInGroups) { IsBackground = true, Name = "writer" };
            thread.Start();
            return thread;
        });
    }

    /// <summary>The file.</summary>
    public string Path { get; }

    /// <summary>Why the last write did not come through; null: it did.</summary>
    public StorageFault? Fault { get; private set; }

    /// <summary>How large it is, its log included, in bytes.</summary>
    public long Size =>
        ((string[])[Path, $"{Path}-wal"]).Sum(file => new FileInfo(file) is { Exists: true, Length: var length } ? length : 0);

    /// <summary>Brings the schema up by the numbered scripts that have not run yet.</summary>
    /// <exception cref="StorageFault">The file is not one of this program, of a newer one, damaged, or cannot be written.</exception>
    public void Upgrade() =>
        Plainly(() =>
        {
            try
            {
                Directory.CreateDirectory(System.IO.Path.GetDirectoryName(Path)!);
            }
            catch (Exception error) when (error is IOException or UnauthorizedAccessException)
            {
                throw new StorageFault($"The folder of {Path} cannot be made. Choose another file with --data.", inner: error);
            }

            using (var connection = Open())
            {
                RefuseWhatIsNotOurs(connection);
                if (connection.ExecuteScalar<string>("PRAGMA quick_check(1)") is not "ok" and var found)
                    throw new StorageFault($"{Path} is damaged ({found}). Put the last backup in its place and start again.");
                connection.Execute($"PRAGMA journal_mode = WAL; PRAGMA application_id = {ApplicationId}");
            }

            var result = Scripts(connectionString).PerformUpgrade();
            if (!result.Successful)
                throw (result.Error as SqliteException is { } error ? StorageFault.Of(error, Path) : null)
                    ?? new StorageFault($"{Path} could not be brought up to date: {result.Error.Message}", inner: result.Error);
            return 0;
        });

    /// <summary>
    /// An open connection, to be disposed of. A writer waits up to ten seconds for another program; what is deleted is overwritten, so that
    /// who is forgotten is.
    /// </summary>
    public SqliteConnection Open()
    {
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        connection.Execute("PRAGMA busy_timeout = 10000; PRAGMA synchronous = FULL; PRAGMA secure_delete = ON");
        connection.CreateFunction<string?, string?, string?>("renamed", WordRename.Through, isDeterministic: true);
        return connection;
    }

    /// <summary>A number that changes whenever anybody has written anything (sqlite.org/pragma.html#pragma_data_version).</summary>
    public long Stamp()
    {
        // Others' writes are seen by a connection that stays; this one writes nothing itself.
        lock (watching)
            return (watch ??= Open()).ExecuteScalar<long>("PRAGMA data_version");
    }

    /// <summary>How many writes wait.</summary>
    public int Writes => waiting.Reader.Count;

    /// <summary>
    /// Does something under the write lock, after all writes before it: all of it is kept, or nothing. It is done when it is on disk.
    /// </summary>
    /// <param name="work">Must not write otherwise, nor wait for another write.</param>
    /// <param name="gone">Nobody waits for it any more: it is not begun.</param>
    /// <exception cref="StorageFault">It could not be written.</exception>
    public async Task<T> Write<T>(Func<SqliteConnection, SqliteTransaction, T> work, CancellationToken gone = default)
    {
        _ = writer.Value;
        var one = new Waiting((connection, transaction) => work(connection, transaction), gone);
        if (!waiting.Writer.TryWrite(one))
            throw new ObjectDisposedException(nameof(Database));
        return (T)(await one.Done.Task)!;
    }

    private void WriteInGroups()
    {
        var group = new List<Waiting>();
        while (waiting.Reader.WaitToReadAsync().AsTask().GetAwaiter().GetResult())
        {
            group.Clear();
            while (group.Count < MostAtOnce && waiting.Reader.TryRead(out var one))
                group.Add(one);
            try
            {
                Plainly(() => WriteGroup(group));
                Fault = null;
            }
            catch (Exception error)
            {
                if (error is StorageFault fault)
                    Fault = fault;
                foreach (var one in group)
                    one.Outcome = () => one.Done.TrySetException(error);
            }

            foreach (var one in group)
                one.Outcome!();
        }
    }

    // What fails for reasons of its own is rolled back alone; what the disk refuses fails them all.
    private int WriteGroup(List<Waiting> group)
    {
        using var connection = Open();
        using var transaction = connection.BeginTransaction(deferred: false);
        foreach (var one in group)
        {
            if (one.Gone.IsCancellationRequested)
            {
                one.Outcome = () => one.Done.TrySetCanceled(one.Gone);
                continue;
            }

            transaction.Save(Savepoint);
            try
            {
                var result = one.Work(connection, transaction);
                transaction.Release(Savepoint);
                one.Outcome = () => one.Done.TrySetResult(result);
            }
            catch (Exception error) when (error is not SqliteException sqlite || StorageFault.Of(sqlite, Path) is null)
            {
                transaction.Rollback(Savepoint);
                one.Outcome = () => one.Done.TrySetException(error);
            }
        }

        transaction.Commit();
        return 0;
    }

    /// <summary>
    /// Writes the whole store, as it is at one moment, to one file, while it may be in use. A backup that is there already is replaced.
    /// </summary>
    /// <param name="file">The file.</param>
    /// <exception cref="StorageFault">There is no store, or the file is somebody else's or cannot be written.</exception>
    public void Backup(string file)
    {
        var target = System.IO.Path.GetFullPath(file);
        if (!File.Exists(Path))
            throw new StorageFault($"There is no store at {Path}. Name it with --data.");
        if (target == Path)
            throw new StorageFault("A backup needs a file of its own.");
        if (File.Exists(target) && !IsOurs(target))
            throw new StorageFault($"{target} is there already and is no backup of a store. Choose another file.");
        var beside = $"{target}.partial";
        try
        {
            File.Delete(beside);
            CopyTo(beside);
            File.Move(beside, target, overwrite: true);
            Plainly(() =>
            {
                using var connection = Open();
                return connection.Execute(
                    "INSERT INTO backups VALUES (@target, @now) ON CONFLICT DO UPDATE SET written_at = excluded.written_at",
                    new { target, now = DateTimeOffset.UtcNow.ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture) }
                );
            });
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            throw new StorageFault($"{target} cannot be written: {error.Message}", inner: error);
        }
    }

    /// <summary>Copies the store as it is at one moment into one file that needs no other beside it, and notes it nowhere.</summary>
    public void CopyTo(string file) =>
        Plainly(() =>
        {
            using var from = Open();
            RefuseWhatIsNotOurs(from);
            using var to = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, Pooling = false }.ToString());
            to.Open();
            from.BackupDatabase(to);
            to.Execute("PRAGMA journal_mode = DELETE");
            return 0;
        });

    /// <summary>Brings all that was written into the file, and leaves nothing of it in the log beside it.</summary>
    /// <returns>Whether that was done: not while others read what is in the log for longer than a few seconds.</returns>
    public async Task<bool> EmptyLog()
    {
        for (var attempt = 0; attempt < 50; attempt++)
        {
            using (var connection = Open())
            {
                // Source: sqlite.org/pragma.html#pragma_wal_checkpoint; the first column is 0 when nobody was in the way.
                if (
                    connection.QueryFirst("PRAGMA wal_checkpoint(TRUNCATE)") is IDictionary<string, object> { Values: var told }
                    && told.First() is 0L
                )
                    return true;
            }

            await Task.Delay(100);
        }

        return false;
    }

    /// <summary>The backups that this program has written of the store, by where they stand.</summary>
    public IReadOnlyList<string> Backups()
    {
        using var connection = Open();
        return connection.Query<string>("SELECT path FROM backups ORDER BY path").AsList();
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        waiting.Writer.TryComplete();
        if (writer.IsValueCreated)
            writer.Value.Join();
        watch?.Dispose();
        // None of its connections outlives it, that whoever opens the file next in this program sees it anew.
        using var one = new SqliteConnection(connectionString);
        SqliteConnection.ClearPool(one);
    }

    private static UpgradeEngine Scripts(string connectionString) =>
        DeployChanges
            .To.SqliteDatabase(connectionString)
            .WithScriptsEmbeddedInAssembly(Assembly.GetExecutingAssembly())
            .WithTransactionPerScript()
            .LogTo(new NoOpUpgradeLog())
            .Build();

    private static bool IsOurs(string file)
    {
        try
        {
            using var connection = new SqliteConnection(
                new SqliteConnectionStringBuilder
                {
                    DataSource = file,
                    Mode = SqliteOpenMode.ReadOnly,
                    Pooling = false,
                }.ToString()
            );
            connection.Open();
            return connection.ExecuteScalar<int>("PRAGMA application_id") == ApplicationId;
        }
        catch (SqliteException)
        {
            return false;
        }
    }

    private void RefuseWhatIsNotOurs(SqliteConnection connection)
    {
        var tables = connection.Query<string>("SELECT name FROM sqlite_schema WHERE type = 'table'").ToHashSet(StringComparer.Ordinal);
        if (tables.Count == 0)
            return;
        // Those made before files said whose they are have the tables of the first script.
        var known =
            connection.ExecuteScalar<int>("PRAGMA application_id") is var id
            && (id == ApplicationId || (id == 0 && tables.IsSupersetOf(["SchemaVersions", "promotions", "editions"])));
        if (!known)
            throw new StorageFault($"{Path} is not a file of Rapid Ledger. Choose another with --data.");
        var ours = Scripts(connectionString).GetDiscoveredScripts().Select(script => script.Name).ToHashSet(StringComparer.Ordinal);
        if (
            tables.Contains("SchemaVersions")
            && connection.Query<string>("SELECT ScriptName FROM SchemaVersions").FirstOrDefault(ran => !ours.Contains(ran)) is not null
        )
            throw new StorageFault(
                $"{Path} was written by a newer Rapid Ledger than this one. Start that one, or choose another file with --data."
            );
    }

    private T Plainly<T>(Func<T> work)
    {
        try
        {
            return work();
        }
        catch (SqliteException error) when (StorageFault.Of(error, Path) is { } fault)
        {
            throw fault;
        }
    }

    private sealed class Waiting(Func<SqliteConnection, SqliteTransaction, object?> work, CancellationToken gone)
    {
        public Func<SqliteConnection, SqliteTransaction, object?> Work => work;

        public CancellationToken Gone => gone;

        public TaskCompletionSource<object?> Done { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);

        // Told only once it is known whether the group is on disk.
        public Action? Outcome { get; set; }
    }
}
