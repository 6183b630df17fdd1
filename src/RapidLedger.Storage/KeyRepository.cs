using Dapper;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>A key of the store interface as stored: never the key itself.</summary>
/// <param name="Id">The name used to withdraw it.</param>
/// <param name="Kind">server or page.</param>
/// <param name="Name">What it is for.</param>
/// <param name="MadeAt">When, as an ISO 8601 instant.</param>
/// <param name="WithdrawnAt">When it was withdrawn; null: it is good.</param>
public sealed record StoredKey(string Id, string Kind, string Name, string MadeAt, string? WithdrawnAt);

/// <summary>Keys of the store interface.</summary>
public sealed class KeyRepository(Database database, IClock clock)
{
    private const string Select = "SELECT id, kind, name, made_at AS MadeAt, withdrawn_at AS WithdrawnAt FROM store_keys";

    /// <summary>All of them, the newest first.</summary>
    public IReadOnlyList<StoredKey> All()
    {
        using var connection = database.Open();
        return connection.Query<StoredKey>($"{Select} ORDER BY made_at DESC, id DESC").AsList();
    }

    /// <summary>The one of a hash, or null.</summary>
    public StoredKey? Find(string hash)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredKey>($"{Select} WHERE hash = @hash", new { hash });
    }

    /// <summary>Keeps a key.</summary>
    /// <returns>Its id.</returns>
    public Task<string> Add(string kind, string name, string hash) =>
        database.Write(
            (connection, transaction) =>
            {
                var next = connection.ExecuteScalar<long>(
                    "SELECT coalesce(max(CAST(substr(id, 2) AS INTEGER)), 0) + 1 FROM store_keys",
                    transaction: transaction
                );
                var id = $"k{next}";
                connection.Execute(
                    "INSERT INTO store_keys (id, kind, name, hash, made_at) VALUES (@id, @kind, @name, @hash, @now)",
                    new
                    {
                        id,
                        kind,
                        name,
                        hash,
                        now = clock.GetCurrentInstant().ToString(),
                    },
                    transaction
                );
                return id;
            }
        );

    /// <summary>Withdraws a key.</summary>
    /// <returns>Whether there is one that was good.</returns>
    public Task<bool> Withdraw(string id) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute(
                    "UPDATE store_keys SET withdrawn_at = @now WHERE id = @id AND withdrawn_at IS NULL",
                    new { id, now = clock.GetCurrentInstant().ToString() },
                    transaction
                ) == 1
        );
}
