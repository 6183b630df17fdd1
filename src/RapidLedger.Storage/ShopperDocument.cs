using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>A shopper as what is brought in says it; what orders placed here add stands apart and stays.</summary>
internal static class ShopperDocument
{
    public static JsonObject Of(StoredShopper shopper)
    {
        var document = new JsonObject
        {
            ["name"] = shopper.Name,
            ["groups"] = new JsonArray([.. shopper.InGroups.Select(group => JsonValue.Create(group))]),
            ["orders"] = shopper.Orders,
            ["spent"] = shopper.Spent,
        };
        if (shopper.Place is { } place)
            document["place"] = place;
        if (shopper.Language is { } language)
            document["language"] = language;
        return document;
    }

    /// <summary>A shopper with what orders placed here add, or null.</summary>
    public static StoredShopper? Find(string id, SqliteConnection connection, SqliteTransaction? transaction)
    {
        var stored = connection.QuerySingleOrDefault<StoredShopper>(
            $"{ShopRepository.SelectShopper} WHERE id = @id",
            new { id },
            transaction
        );
        // Only while a step settles is there anything to put over it.
        if (
            !connection.ExecuteScalar<bool>(
                "SELECT EXISTS (SELECT 1 FROM steps WHERE NOT settled AND counted > 0)",
                transaction: transaction
            )
        )
            return stored;
        var now = new StepRows(connection, transaction).Now("shopper", id);
        if (now is null)
            return stored;
        if (now["gone"] is not null)
            return null;
        var own = connection.QuerySingleOrDefault<(long, long)>(
            "SELECT placed_orders, placed_spent FROM shoppers WHERE id = @id",
            new { id },
            transaction
        );
        return new(
            id,
            (string?)now["name"] ?? id,
            string.Join(',', now["groups"]?.AsArray().Select(group => (string)group!) ?? []),
            ((long?)now["orders"] ?? 0) + own.Item1,
            ((long?)now["spent"] ?? 0) + own.Item2,
            (string?)now["place"],
            (string?)now["language"]
        );
    }

    public static void Put(string id, JsonObject document, SqliteConnection connection, SqliteTransaction transaction)
    {
        if (document["gone"] is not null)
        {
            // Whoever has bought here since stays, as one of whom no more is known.
            connection.Execute(
                """
                DELETE FROM shoppers WHERE id = @id AND placed_orders = 0;
                UPDATE shoppers SET name = id, groups = '', orders = 0, spent = 0, place = NULL, language = NULL WHERE id = @id;
                """,
                new { id },
                transaction
            );
            return;
        }

        connection.Execute(
            """
            INSERT INTO shoppers (id, name, groups, orders, spent, place, language)
            VALUES (@id, @name, @groups, @orders, @spent, @place, @language)
            ON CONFLICT DO UPDATE SET name = excluded.name, groups = excluded.groups, orders = excluded.orders, spent = excluded.spent,
                place = excluded.place, language = excluded.language
            """,
            new
            {
                id,
                name = (string?)document["name"] ?? id,
                groups = string.Join(',', document["groups"]?.AsArray().Select(group => (string)group!) ?? []),
                orders = (long?)document["orders"] ?? 0,
                spent = (long?)document["spent"] ?? 0,
                place = (string?)document["place"],
                language = (string?)document["language"],
            },
            transaction
        );
    }
}
