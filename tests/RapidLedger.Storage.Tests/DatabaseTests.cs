using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage.Tests;

/// <summary>Files that are not what they should be, other programs at the same file, and backups.</summary>
public sealed class DatabaseTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("ledger-").FullName;

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }

    [Theory]
    [InlineData("newer", "newer Rapid Ledger")]
    [InlineData("foreign", "not a file of Rapid Ledger")]
    [InlineData("text", "not a file of Rapid Ledger")]
    [InlineData("damaged", "damaged")]
    [InlineData("folder", "cannot be opened")]
    [InlineData("below-a-file", "cannot be made")]
    public void A_file_that_cannot_be_used_is_said_and_left_as_it_is(string what, string said)
    {
        var file = Path.Combine(folder, "shop.db");
        switch (what)
        {
            case "newer":
                new Database(file).Upgrade();
                Execute(file, "INSERT INTO SchemaVersions (ScriptName, Applied) VALUES ('9999-of-tomorrow.sql', '2030-01-01')");
                break;
            case "foreign":
                Execute(file, "CREATE TABLE promotions (id TEXT); CREATE TABLE poems (text TEXT)");
                break;
            case "text":
                File.WriteAllText(file, string.Concat(Enumerable.Repeat("no database at all\n", 100)));
                break;
            case "damaged":
                new Database(file).Upgrade();
                // The log is folded in only while nobody else has the file open.
                SqliteConnection.ClearAllPools();
                Execute(file, "PRAGMA journal_mode = DELETE");
                SqliteConnection.ClearAllPools();
                var bytes = File.ReadAllBytes(file);
                bytes.AsSpan(8_192, bytes.Length - 8_192).Fill(0xA5);
                File.WriteAllBytes(file, bytes);
                break;
            case "folder":
                Directory.CreateDirectory(file);
                break;
            default:
                File.WriteAllText(file, "");
                file = Path.Combine(file, "inside.db");
                break;
        }

        SqliteConnection.ClearAllPools();
        var before = File.Exists(file) ? File.ReadAllBytes(file) : null;
        Assert.Contains(said, Assert.Throws<StorageFault>(() => new Database(file).Upgrade()).Message);
        SqliteConnection.ClearAllPools();
        if (before is not null && what != "newer")
            Assert.Equal(before, File.ReadAllBytes(file));
    }

    [Fact]
    public async Task A_full_disk_is_said_and_forgotten_when_there_is_room_again()
    {
        var database = new Database(Path.Combine(folder, "full.db"));
        database.Upgrade();
        // As many pages as there are, and no more: what SQLite does on a full disk (sqlite.org/pragma.html#pragma_max_page_count).
        var fault = await Assert.ThrowsAsync<StorageFault>(() =>
            database.Write(
                (connection, _) =>
                {
                    connection.Execute("PRAGMA max_page_count = 1");
                    return connection.Execute("INSERT INTO carts VALUES ('c', 'C', 1, printf('%.*c', 200000, 'x'))");
                }
            )
        );
        Assert.Contains("is full", fault.Message);
        Assert.Equal((fault, false), (database.Fault, fault.Passes));
        await database.Write((connection, _) => connection.Execute("INSERT INTO carts VALUES ('c', 'C', 1, 'small')"));
        Assert.Null(database.Fault);
    }

    [Fact]
    public async Task A_backup_of_a_store_in_use_is_one_whole_file_and_replaces_only_a_backup()
    {
        var database = new Database(Path.Combine(folder, "used.db"));
        database.Upgrade();
        var kept = new PromotionRepository(database, SystemClock.Instance);
        var backup = Path.Combine(folder, "backup.db");
        await new WholeShopRepository(database, SystemClock.Instance).Replace(
            new("", "", "", [], [], [new("p1", "live", "{}", null, [])], []),
            ""
        );
        var writing = Task.Run(async () =>
        {
            for (var number = 0; number < 100; number++)
                await kept.Begin(_ => "{}");
        });
        database.Backup(backup);
        await writing;
        database.Backup(backup);

        Assert.Equal([backup], Directory.GetFiles(folder, "backup*"));
        var restored = new Database(backup);
        restored.Upgrade();
        Assert.Equal(101, new PromotionRepository(restored, SystemClock.Instance).All().Count);

        var poem = Path.Combine(folder, "poem.txt");
        File.WriteAllText(poem, "roses are red");
        Assert.Contains("no backup", Assert.Throws<StorageFault>(() => database.Backup(poem)).Message);
        Assert.Contains("no store", Assert.Throws<StorageFault>(() => new Database(Path.Combine(folder, "none.db")).Backup(poem)).Message);
        Assert.Equal("roses are red", File.ReadAllText(poem));
    }

    [Fact]
    public void What_is_acknowledged_is_on_disk_and_what_is_deleted_is_overwritten()
    {
        var database = new Database(Path.Combine(folder, "sure.db"));
        database.Upgrade();
        using var connection = database.Open();
        // Source: sqlite.org/pragma.html: synchronous FULL is 2, with which a commit in WAL mode survives a loss of power; secure_delete ON
        // is 1.
        Assert.Equal(
            (2L, 1L, 1L, "wal"),
            (
                connection.ExecuteScalar<long>("PRAGMA synchronous"),
                connection.ExecuteScalar<long>("PRAGMA secure_delete"),
                connection.ExecuteScalar<long>("PRAGMA foreign_keys"),
                connection.ExecuteScalar<string>("PRAGMA journal_mode")
            )
        );
    }

    private static void Execute(string file, string sql)
    {
        using var connection = new SqliteConnection($"Data Source={file}");
        connection.Open();
        connection.Execute(sql);
    }
}
