using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>
/// Renames words of the shop: goods, shoppers, settings, promotions, drafts and carts in one write, with one edition where what is live
/// changes. Taking it back is renaming it back. Saved versions keep their words and are read through the renames that came after them.
/// </summary>
public sealed class RenameRepository(Database database, StepRepository steps, PromotionRepository promotions)
{
    /// <summary>Renames a word.</summary>
    /// <param name="rename">Which.</param>
    /// <param name="source">Who does it.</param>
    /// <param name="what">What is done, in words; also why the edition was published.</param>
    /// <param name="takesBack">The step that it takes back; null: none.</param>
    public Task<StepOutcome> Rename(WordRename rename, StepSource source, string what, long? takesBack = null) =>
        steps.WriteWith(
            source,
            what,
            () => Rows(rename),
            (connection, transaction, step) =>
            {
                connection.Execute(
                    "INSERT INTO renames (step, kind, option, was, becomes) VALUES (@step, @Kind, @Option, @Word, @Becomes)",
                    new
                    {
                        step,
                        rename.Was.Kind,
                        rename.Was.Option,
                        rename.Was.Word,
                        rename.Becomes,
                    },
                    transaction
                );
                promotions.Rename(rename, what, connection, transaction);
                RenameInCarts(rename, connection, transaction);
            },
            takesBack
        );

    /// <summary>Takes a step back that renamed a word.</summary>
    /// <param name="step">The step.</param>
    /// <param name="what">What is done, in words.</param>
    /// <returns>Null: the step renamed nothing, or it was taken back already.</returns>
    public async Task<StepOutcome?> TakeBack(long step, string what)
    {
        if (steps.Find(step) is not { TakenBack: null })
            return null;
        WordRename? rename;
        using (var connection = database.Open())
            rename = Read(connection, "WHERE step = @step", new { step }).SingleOrDefault();
        return rename is null ? null : await Rename(rename.Back, StepSource.App, what, step);
    }

    internal static IReadOnlyList<WordRename> Read(SqliteConnection connection, string where, object? parameters) =>
        [
            .. connection
                .Query<(string Kind, string? Option, string Was, string Becomes)>(
                    $"SELECT kind, option, was, becomes FROM renames {where} ORDER BY number",
                    parameters
                )
                .Select(row => new WordRename(new(row.Kind, row.Option, row.Was), row.Becomes)),
        ];

    private List<RowChange> Rows(WordRename rename)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        var changes = new List<RowChange>();
        switch (rename.Was.Kind)
        {
            case "tag":
                changes.AddRange(Goods("product", row => Renamed(row["tags"], rename) is { } tags ? new() { ["tags"] = tags } : null));
                break;
            case "brand":
                changes.AddRange(
                    Goods("product", row => (string?)row["brand"] == rename.Was.Word ? new() { ["brand"] = rename.Becomes } : null)
                );
                break;
            case "option":
                changes.AddRange(Goods("variant", row => Options(row["options"], rename)));
                break;
            case "group":
                changes.AddRange(
                    connection
                        .Query<(string Id, string Groups)>(
                            "SELECT id, groups FROM shoppers WHERE ',' || groups || ',' LIKE @within ESCAPE '!'",
                            new { within = $"%,{Escaped(rename.Was.Word)},%" },
                            transaction
                        )
                        .Select(row => (row.Id, Groups: Renamed(List(row.Groups.Split(',')), rename)))
                        .Where(row => row.Groups is not null)
                        .Select(row => new RowChange("shopper", row.Id, new() { ["groups"] = row.Groups }))
                );
                changes.AddRange(Setting("groups"));
                break;
            case "channel":
                changes.AddRange(Setting("channels"));
                break;
            case "family":
                changes.AddRange(Families());
                break;
        }

        return changes;

        IEnumerable<RowChange> Goods(string kind, Func<JsonObject, JsonObject?> members)
        {
            foreach (var row in GoodsRows.All(connection, transaction).Where(row => row.Kind == kind))
                if (members(StepRows.Parse(row.Document)) is { } changed)
                    yield return new(kind, row.Id, changed);
        }

        IEnumerable<RowChange> Setting(string member)
        {
            if (
                new StepRows(connection, transaction).Now("store", "settings") is { } settings
                && Renamed(settings[member], rename) is { } words
            )
                yield return new("store", "settings", new() { [member] = words });
        }

        IEnumerable<RowChange> Families()
        {
            if (new StepRows(connection, transaction).Now("store", "store")?["families"] is not JsonArray families)
                yield break;
            var renamed = families.DeepClone().AsArray();
            foreach (var family in renamed.Where(family => (string?)family!["name"] == rename.Was.Word))
                family!["name"] = rename.Becomes;
            yield return new("store", "store", new() { ["families"] = renamed });
        }
    }

    private static void RenameInCarts(WordRename rename, SqliteConnection connection, SqliteTransaction transaction)
    {
        foreach (var (id, document) in connection.Query<(string, string)>("SELECT id, document FROM carts", transaction: transaction))
        {
            var cart = JsonNode.Parse(document);
            if (rename.In(cart))
                connection.Execute(
                    "UPDATE carts SET document = @written WHERE id = @id",
                    new { id, written = cart!.ToJsonString() },
                    transaction
                );
        }
    }

    private static JsonArray List(IEnumerable<string> words) => new([.. words.Select(word => JsonValue.Create(word))]);

    // The list with the word renamed; null: it does not hold it.
    private static JsonArray? Renamed(JsonNode? words, WordRename rename) =>
        words is JsonArray list && list.Any(word => (string?)word == rename.Was.Word)
            ? List(list.Select(word => (string?)word == rename.Was.Word ? rename.Becomes : (string)word!).Distinct(StringComparer.Ordinal))
            : null;

    private static JsonObject? Options(JsonNode? options, WordRename rename)
    {
        if (options is not JsonObject members || (string?)members[rename.Was.Option!] != rename.Was.Word)
            return null;
        var renamed = members.DeepClone().AsObject();
        renamed[rename.Was.Option!] = rename.Becomes;
        return new() { ["options"] = renamed };
    }

    private static string Escaped(string word) =>
        word.Replace("!", "!!", StringComparison.Ordinal)
            .Replace("%", "!%", StringComparison.Ordinal)
            .Replace("_", "!_", StringComparison.Ordinal);
}
