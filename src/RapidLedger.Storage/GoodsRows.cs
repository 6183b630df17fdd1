using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>Reads goods as they count, steps that have not settled put over them.</summary>
internal static class GoodsRows
{
    // What of a step that is not settled counts; all there is of it is put over what stands in goods.
    private const string Unsettled = """
        SELECT step, kind, id, before, after FROM step_rows JOIN steps ON number = step
        WHERE counted IS NOT NULL AND NOT settled AND kind IN ('category', 'product', 'variant') ORDER BY counted, place
        """;

    public static IReadOnlyList<GoodsRow> All(SqliteConnection connection, SqliteTransaction transaction)
    {
        var rows = connection
            .Query<GoodsRow>("SELECT kind, id, product, document FROM goods ORDER BY position", transaction: transaction)
            .AsList();
        return Over(rows, connection.Query<StoredStepRow>(Unsettled, transaction: transaction));
    }

    public static (long Number, IReadOnlyList<GoodsRow> Rows)? Since(long goods, SqliteConnection connection, SqliteTransaction transaction)
    {
        var (now, forgotten) = connection.QuerySingle<(long, long)>("SELECT goods, forgotten FROM written", transaction: transaction);
        if (forgotten > goods)
            return null;
        var rows = connection
            .Query<GoodsRow>(
                """
                SELECT kind, id, product, document FROM goods WHERE (kind, id) IN (
                    SELECT kind, id FROM step_rows JOIN steps ON number = step WHERE counted > @goods
                ) ORDER BY position
                """,
                new { goods },
                transaction
            )
            .AsList();
        return (now, Over(rows, connection.Query<StoredStepRow>(Unsettled, transaction: transaction)));
    }

    public static void Fill(string catalogue, SqliteConnection connection, SqliteTransaction transaction)
    {
        void Put(string kind, string id, string? product, JsonObject document) =>
            connection.Execute(
                "INSERT INTO goods (kind, id, product, document) VALUES (@kind, @id, @product, @document)",
                new
                {
                    kind,
                    id,
                    product,
                    document = document.ToJsonString(),
                },
                transaction
            );

        var whole = StepRows.Parse(catalogue);
        foreach (var category in whole["categories"]?.AsArray() ?? [])
            Put("category", (string)category!["id"]!, null, category.AsObject());
        foreach (var product in (whole["products"]?.AsArray() ?? []).Select(product => product!.AsObject()))
        {
            var (id, variants) = ((string)product["id"]!, product["variants"]!.AsArray());
            product.Remove("variants");
            Put("product", id, null, product);
            foreach (var variant in variants)
                Put("variant", (string)variant!["sku"]!, id, variant.AsObject());
        }
    }

    private static List<GoodsRow> Over(List<GoodsRow> rows, IEnumerable<StoredStepRow> changes)
    {
        Dictionary<(string, string), int>? places = null;
        foreach (var change in changes)
        {
            if (places is null)
            {
                places = [];
                for (var place = 0; place < rows.Count; place++)
                    places[(rows[place].Kind, rows[place].Id)] = place;
            }

            var isNew = !places.TryGetValue((change.Kind, change.Id), out var at);
            var document = StepRows.Over(isNew ? null : StepRows.Parse(rows[at].Document), StepRows.Parse(change.After));
            var product = (string?)document["product"] ?? (isNew ? null : rows[at].Product);
            document.Remove("product");
            var row = new GoodsRow(change.Kind, change.Id, product, document.ToJsonString());
            if (isNew)
            {
                places[(row.Kind, row.Id)] = rows.Count;
                rows.Add(row);
            }
            else
            {
                rows[at] = row;
            }
        }

        return rows;
    }
}
