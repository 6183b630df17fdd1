using System.Text.Json;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>The rows of goods, shoppers and settings, and of the steps that change them, inside one transaction.</summary>
internal sealed class StepRows(SqliteConnection connection, SqliteTransaction? transaction)
{
    private const int Settled = 250;

    private readonly Dictionary<(string, string), GoodsRow?> fetched = [];

    // Asked once: inside one transaction no other step begins to count.
    private bool? isAnyUnsettled;

    private static readonly string[] Goods = ["category", "product", "variant"];

    public static JsonObject Parse(string json) => JsonNode.Parse(json)!.AsObject();

    /// <summary>Puts members over a document: null empties one, lists and objects are replaced whole.</summary>
    public static JsonObject Over(JsonObject? document, JsonObject members)
    {
        var merged = document is null ? [] : document.DeepClone().AsObject();
        foreach (var (name, value) in members)
            if (value is null)
                merged.Remove(name);
            else
                merged[name] = value.DeepClone();
        return merged;
    }

    /// <summary>
    /// A row as it is, steps that count but have not settled put over it; a variant with its product. Null: there is none.
    /// </summary>
    public JsonObject? Now(string kind, string id)
    {
        var row = Own(kind, id);
        if (
            !(
                isAnyUnsettled ??= connection.ExecuteScalar<bool>(
                    "SELECT EXISTS (SELECT 1 FROM steps WHERE NOT settled AND counted > 0)",
                    transaction: transaction
                )
            )
        )
            return row;
        foreach (
            var after in connection.Query<string>(
                """
                SELECT after FROM step_rows JOIN steps ON number = step
                WHERE kind = @kind AND id = @id AND counted IS NOT NULL AND NOT settled ORDER BY counted
                """,
                new { kind, id },
                transaction
            )
        )
            row = Over(row, Parse(after));
        return row;
    }

    /// <summary>What a change makes of a row; null: nothing differs.</summary>
    public ChangedRow? Changed(RowChange change)
    {
        var before = Now(change.Kind, change.Id);
        if (before is null)
        {
            // What is new is what is written of it: of a hundred thousand rows no second and third copy is kept.
            var written = change.Members.Any(member => member.Value is null) ? Over(null, change.Members) : change.Members;
            return new(change with { Members = written }, null, written);
        }

        var differing = new JsonObject();
        foreach (var (name, value) in change.Members)
            if (!JsonNode.DeepEquals(before[name], value))
                differing[name] = value?.DeepClone();
        // What is written again is there again.
        if (before["gone"] is not null && !change.Members.ContainsKey("gone"))
            differing["gone"] = null;
        if (differing.Count == 0)
            return null;
        return new(change with { Members = differing }, before, Over(before, differing));
    }

    public long Begin(StepSource source, string what, Instant at, long? takesBack) =>
        connection.ExecuteScalar<long>(
            """
            UPDATE written SET steps = steps + 1;
            INSERT INTO steps (number, source, who, what, at, takes_back)
            SELECT steps, @Kind, @Who, @what, @at, @takesBack FROM written RETURNING number
            """,
            new
            {
                source.Kind,
                source.Who,
                what,
                at = StepWriting.Say(at),
                takesBack,
            },
            transaction
        );

    /// <summary>Reads rows of goods ahead, all at once; each is asked for after it, and then known.</summary>
    public void Fetch(IEnumerable<(string Kind, string Id)> rows)
    {
        fetched.Clear();
        var ids = rows.Where(row => Goods.Contains(row.Kind)).ToArray();
        if (ids.Length == 0)
            return;
        foreach (var (kind, id) in ids)
            fetched[(kind, id)] = null;
        foreach (
            var row in connection.Query<GoodsRow>(
                """
                SELECT goods.kind, goods.id, product, document FROM json_each(@asked) AS asked
                JOIN goods ON goods.kind = asked.value ->> 0 AND goods.id = asked.value ->> 1
                """,
                new { asked = JsonSerializer.Serialize(ids.Select(row => new[] { row.Kind, row.Id })) },
                transaction
            )
        )
            fetched[(row.Kind, row.Id)] = row;
    }

    /// <summary>Writes rows of a step.</summary>
    /// <param name="step">The step.</param>
    /// <param name="place">The place of the first.</param>
    /// <param name="rows">The rows, in order.</param>
    public void Add(long step, int place, IReadOnlyList<ChangedRow> rows)
    {
        if (rows.Count == 0)
            return;
        connection.Execute(
            """
            INSERT INTO step_rows (step, place, kind, id, before, after)
            SELECT @step, @place + key, value ->> 0, value ->> 1, value ->> 2, value ->> 3 FROM json_each(@rows)
            """,
            new
            {
                step,
                place,
                rows = JsonSerializer.Serialize(
                    rows.Select(row =>
                        new[] { row.Change.Kind, row.Change.Id, Before(row)?.ToJsonString(), row.Change.Members.ToJsonString() }
                    )
                ),
            },
            transaction
        );
    }

    public int Drop(long step) => connection.Execute("DELETE FROM steps WHERE number = @step", new { step }, transaction);

    /// <summary>The last step of somebody, if it was begun since; null: none, or it was taken back.</summary>
    public long? LastOf(StepSource source, Instant since) =>
        connection.ExecuteScalar<long?>(
            """
            SELECT number FROM steps WHERE source = @Kind AND who = @Who AND counted IS NOT NULL AND part_of IS NULL AND at >= @since
                AND taken_back IS NULL ORDER BY counted DESC LIMIT 1
            """,
            new
            {
                source.Kind,
                source.Who,
                since = StepWriting.Say(since),
            },
            transaction
        );

    /// <summary>Makes a step part of another.</summary>
    public void Join(long step, long whole) =>
        connection.Execute(
            """
            UPDATE steps SET part_of = @whole WHERE number = @step;
            UPDATE steps SET what = (SELECT what FROM steps WHERE number = @step) WHERE number = @whole;
            """,
            new { step, whole },
            transaction
        );

    /// <summary>What a step changed, its parts put together: what was before is that of the first, what is then that of the last.</summary>
    public IReadOnlyList<StoredStepRow> RowsOf(long whole)
    {
        var rows = new Dictionary<(string, string), StoredStepRow>();
        foreach (
            var row in connection.Query<StoredStepRow>(
                """
                SELECT step, kind, id, before, after FROM step_rows JOIN steps ON number = step
                WHERE number = @whole OR part_of = @whole ORDER BY counted, place
                """,
                new { whole },
                transaction
            )
        )
            rows[(row.Kind, row.Id)] = rows.TryGetValue((row.Kind, row.Id), out var first)
                ? row with
                {
                    Before = first.Before is null || row.Before is null ? first.Before : Kept(Parse(row.Before), Parse(first.Before)),
                    After = Kept(Parse(first.After), Parse(row.After)),
                }
                : row;
        return [.. rows.Values];
    }

    /// <summary>Makes a step count.</summary>
    /// <exception cref="StorageFault">It is not there any more.</exception>
    public void Count(long step, long? takesBack)
    {
        // A program that starts beside this one takes what does not count yet for the rest of a crash.
        if (!connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM steps WHERE number = @step)", new { step }, transaction))
            throw new StorageFault(
                "Another program was started over the same file meanwhile, and dropped what was being written. Do it again."
            );
        connection.Execute(
            """
            UPDATE written SET steps = steps + 1;
            UPDATE steps SET counted = (SELECT steps FROM written), settled = 0 WHERE number = @step;
            UPDATE written SET goods = steps WHERE EXISTS (SELECT 1 FROM step_rows WHERE step = @step AND kind IN @Goods);
            UPDATE written SET settings = steps WHERE EXISTS (SELECT 1 FROM step_rows WHERE step = @step AND kind = 'store');
            UPDATE steps SET taken_back = @step WHERE number = @takesBack;
            """,
            new
            {
                step,
                takesBack,
                Goods,
            },
            transaction
        );
    }

    /// <summary>Forgets the steps that can no longer be taken back.</summary>
    /// <param name="kept">How many of the shop's server stay, and how many of the others.</param>
    public void ForgetOld(int kept) =>
        connection.Execute(
            """
            CREATE TEMP TABLE IF NOT EXISTS old_steps (number INTEGER, counted INTEGER);
            DELETE FROM old_steps;
            INSERT INTO old_steps SELECT number, counted FROM steps WHERE settled AND coalesce(part_of, number) IN (
                SELECT whole FROM (
                    SELECT coalesce(part_of, number) AS whole,
                        row_number() OVER (PARTITION BY source = 'server' ORDER BY max(counted) DESC) AS place
                    FROM steps WHERE counted IS NOT NULL GROUP BY whole
                ) WHERE place > @kept
            );
            UPDATE written SET forgotten = max(forgotten, coalesce((SELECT max(counted) FROM old_steps), 0));
            DELETE FROM steps WHERE number IN (SELECT number FROM old_steps);
            """,
            new { kept },
            transaction
        );

    /// <summary>Brings the rows of a step to where they belong, all of them.</summary>
    public void SettleAll(long step) => Settle(step, -1, () => false);

    /// <summary>Brings the next rows of a step to where they belong. Doing it again changes nothing.</summary>
    /// <returns>Where to go on; null: it has settled.</returns>
    public long? Settle(long step, long behind, Func<bool> isEnough)
    {
        while (true)
        {
            var rows = connection
                .Query<(long Place, string Kind, string Id, string After)>(
                    "SELECT place, kind, id, after FROM step_rows WHERE step = @step AND place > @behind ORDER BY place LIMIT @Settled",
                    new
                    {
                        step,
                        behind,
                        Settled,
                    },
                    transaction
                )
                .AsList();
            Fetch(rows.Select(row => (row.Kind, row.Id)));
            Put([.. rows.Select(row => (row.Kind, row.Id, Over(Own(row.Kind, row.Id), Parse(row.After))))]);
            if (rows.Count < Settled)
            {
                connection.Execute("UPDATE steps SET settled = 1 WHERE number = @step", new { step }, transaction);
                return null;
            }

            behind = rows[^1].Place;
            if (isEnough())
                return behind;
        }
    }

    /// <summary>What is free now of SKUs: what was sold of them before moves it no longer.</summary>
    public void Set(IReadOnlyList<FreeStock> stocks) => new OrderTransaction(connection, transaction!).SetStock(stocks);

    private static string Kept(JsonObject first, JsonObject over)
    {
        foreach (var (name, value) in over)
            first[name] = value?.DeepClone();
        return first.ToJsonString();
    }

    // A row as it stands where it belongs.
    private JsonObject? Own(string kind, string id)
    {
        switch (kind)
        {
            case "store":
                return
                    connection.ExecuteScalar<string>(
                        $"SELECT {(id == "store" ? "document" : "settings")} FROM store",
                        transaction: transaction
                    )
                        is { } settings
                    ? Parse(settings)
                    : null;
            case "shopper":
                return
                    connection.QuerySingleOrDefault<StoredShopper>(
                        $"{ShopRepository.SelectBroughtIn} WHERE id = @id",
                        new { id },
                        transaction
                    )
                        is { } shopper
                    ? ShopperDocument.Of(shopper)
                    : null;
            default:
                if (!fetched.TryGetValue((kind, id), out var row))
                    row = connection.QuerySingleOrDefault<GoodsRow>(
                        "SELECT kind, id, product, document FROM goods WHERE kind = @kind AND id = @id",
                        new { kind, id },
                        transaction
                    );
                if (row is null)
                    return null;
                var document = Parse(row.Document);
                if (row.Product is not null)
                    document["product"] = row.Product;
                return document;
        }
    }

    private void Put(IReadOnlyList<(string Kind, string Id, JsonObject Document)> rows)
    {
        var goods = new List<string?[]>();
        foreach (var (kind, id, document) in rows)
            switch (kind)
            {
                case "store":
                    connection.Execute(
                        $"UPDATE store SET {(id == "store" ? "document" : "settings")} = @written",
                        new { written = document.ToJsonString() },
                        transaction
                    );
                    break;
                case "shopper":
                    ShopperDocument.Put(id, document, connection, transaction!);
                    break;
                default:
                    var product = (string?)document["product"];
                    document.Remove("product");
                    goods.Add([kind, id, product, document.ToJsonString()]);
                    break;
            }

        if (goods.Count > 0)
            connection.Execute(
                """
                INSERT INTO goods (kind, id, product, document)
                SELECT value ->> 0, value ->> 1, value ->> 2, value ->> 3 FROM json_each(@goods) WHERE true
                ON CONFLICT DO UPDATE SET product = excluded.product, document = excluded.document
                """,
                new { goods = JsonSerializer.Serialize(goods) },
                transaction
            );
    }

    // The members that a change writes, as they were; null: there was no such row.
    private static JsonObject? Before(ChangedRow row) =>
        row.Before is null
            ? null
            : new(row.Change.Members.Select(member => KeyValuePair.Create(member.Key, row.Before[member.Key]?.DeepClone())));
}
