using System.Reflection;
using Dapper;
using DbUp;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>One SQLite file: write-ahead log, foreign keys on, every acknowledged write on disk.</summary>
public sealed class Database
{
    private readonly string connectionString;

    /// <summary>A database in a file, which is made if it is not there.</summary>
    /// <param name="path">The file.</param>
    public Database(string path)
    {
        Path = System.IO.Path.GetFullPath(path);
        connectionString = new SqliteConnectionStringBuilder { DataSource = Path, ForeignKeys = true, DefaultTimeout = 10 }.ToString();
    }

    /// <summary>The file.</summary>
    public string Path { get; }

    /// <summary>Brings the schema up by the numbered scripts that have not run yet.</summary>
    /// <exception cref="InvalidOperationException">A script failed; the message says which.</exception>
    public void Upgrade()
    {
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(Path)!);
        using (var connection = Open()) connection.Execute("PRAGMA journal_mode = WAL");
        var result = DeployChanges.To
            .SqliteDatabase(connectionString)
            .WithScriptsEmbeddedInAssembly(Assembly.GetExecutingAssembly())
            .WithTransactionPerScript()
            .LogTo(new NoOpUpgradeLog())
            .Build()
            .PerformUpgrade();
        if (!result.Successful) throw new InvalidOperationException($"The database {Path} could not be brought up to date: {result.Error.Message}", result.Error);
    }

    /// <summary>An open connection, to be disposed of. A writer waits up to ten seconds for another.</summary>
    public SqliteConnection Open()
    {
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        connection.Execute("PRAGMA busy_timeout = 10000; PRAGMA synchronous = FULL");
        return connection;
    }

    /// <summary>Does something in one transaction that holds the write lock from its start: all of it is kept, or nothing.</summary>
    public T Write<T>(Func<SqliteConnection, SqliteTransaction, T> work)
    {
        using var connection = Open();
        using var transaction = connection.BeginTransaction(deferred: false);
        var result = work(connection, transaction);
        transaction.Commit();
        return result;
    }
}
