using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>What has been used so far, from the counters: it takes the same however many redemptions there are.</summary>
internal static class UsageCounters
{
    private const string Query = """
        SELECT uses.promotion_id, uses.uses, coalesce(own.uses, 0), coalesce(today.uses, 0), amount, drawn
        FROM uses
        LEFT JOIN day_uses AS today ON today.day = @day AND today.promotion_id = uses.promotion_id
        LEFT JOIN shopper_uses AS own ON own.shopper_id = @shopper AND own.promotion_id = uses.promotion_id
        WHERE uses.uses > 0
        """;

    /// <summary>By promotion: in all, by a shopper, on one of the store's days.</summary>
    public static IReadOnlyList<StoredUsage> Read(SqliteConnection connection, SqliteTransaction? transaction, string day, string? shopper)
    {
        using var reader = connection.ExecuteReader(Query, new { day, shopper }, transaction);
        var used = new List<StoredUsage>();
        while (reader.Read())
            used.Add(
                new(reader.GetString(0), reader.GetInt64(1), reader.GetInt64(2), reader.GetInt64(3), reader.GetInt64(4), reader.GetInt64(5))
            );
        return used;
    }
}
