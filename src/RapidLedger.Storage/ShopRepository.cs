using System.Text.Json;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>A shopper as stored.</summary>
/// <param name="Id">Who it is.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Groups">The groups, with commas between.</param>
/// <param name="Orders">Past orders: those brought in, and those placed here that count.</param>
/// <param name="Spent">Lifetime spend likewise, in minor units of the base currency.</param>
/// <param name="Place">Where the shopper lives, if known.</param>
/// <param name="Language">What the shopper reads (BCP 47), if known.</param>
public sealed record StoredShopper(string Id, string Name, string Groups, long Orders, long Spent, string? Place, string? Language = null)
{
    /// <summary>The groups by their names.</summary>
    public string[] InGroups => Groups.Split(',', StringSplitOptions.RemoveEmptyEntries);

    // What is computed has no type where there are no rows: the members are set one by one.
    private StoredShopper()
        : this("", "", "", 0, 0, null, null) { }
}

/// <summary>A cart kept under a name.</summary>
/// <param name="Id">The name used in files.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Document">The cart as JSON, as in a case.</param>
public sealed record StoredCart(string Id, string Name, string Document);

/// <summary>The shop as stored.</summary>
/// <param name="Store">As in a case, JSON.</param>
/// <param name="Settings">What pricing does not need: name, locale, places, JSON.</param>
/// <param name="Goods">Its goods, in the order in which they came in.</param>
/// <param name="Numbers">How far it is.</param>
public sealed record StoredShop(string Store, string Settings, IReadOnlyList<GoodsRow> Goods, ShopNumbers Numbers);

/// <summary>
/// The numbers of the last change of goods, of settings and of the last rename, which changes promotions with them: each goes up with every
/// change.
/// </summary>
public sealed record ShopNumbers(long Goods, long Settings, long Renames);

/// <summary>A category, product or variant as stored.</summary>
/// <param name="Kind">category, product or variant.</param>
/// <param name="Id">Its id; of a variant the SKU.</param>
/// <param name="Product">Of a variant the product.</param>
/// <param name="Document">As in a case, JSON; a product without its variants.</param>
public sealed record GoodsRow(string Kind, string Id, string? Product, string Document);

/// <summary>The shop's settings, goods, shoppers and sample carts.</summary>
public sealed class ShopRepository(Database database)
{
    internal const string SelectShopper =
        "SELECT id, name, groups, orders + placed_orders AS orders, spent + placed_spent AS spent, place, language FROM shoppers";

    internal const string SelectNumbers = "SELECT goods, settings, (SELECT coalesce(max(number), 0) FROM renames) AS renames FROM written";

    internal const string SelectBroughtIn = "SELECT id, name, groups, orders, spent, place, language FROM shoppers";

    // The index knows three letters in a row and more; for fewer all are looked through.
    private const int FewestIndexed = 3;

    private static string IsMeant(string text) =>
        text.EnumerateRunes().Count() < FewestIndexed
            ? "(name LIKE @within ESCAPE '!' OR id LIKE @within ESCAPE '!' OR groups LIKE @within ESCAPE '!')"
            : "number IN (SELECT rowid FROM shopper_words WHERE shopper_words MATCH @phrase)";

    private static string Phrase(string text) => $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";

    // As a pattern that holds a text anywhere, with nothing in it that means more than itself.
    private static string Within(string text) =>
        $"%{text.Replace("!", "!!", StringComparison.Ordinal).Replace("%", "!%", StringComparison.Ordinal).Replace("_", "!_", StringComparison.Ordinal)}%";

    /// <summary>Whether the file holds a shop.</summary>
    public bool IsThere()
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM store)");
    }

    /// <summary>The shop as it is at one moment, or null if the database holds none yet.</summary>
    public StoredShop? Find()
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        var rows = new StepRows(connection, transaction);
        if (rows.Now("store", "store") is not { } store)
            return null;
        var numbers = connection.QuerySingle<ShopNumbers>(SelectNumbers, transaction: transaction);
        return new(store.ToJsonString(), rows.Now("store", "settings")!.ToJsonString(), GoodsRows.All(connection, transaction), numbers);
    }

    /// <summary>All words that were renamed, in their order.</summary>
    public IReadOnlyList<WordRename> Renames()
    {
        using var connection = database.Open();
        return RenameRepository.Read(connection, "", null);
    }

    /// <summary>What pricing does not need of the settings and what it needs, or null if the database holds no shop yet.</summary>
    /// <param name="settings">Members put over the first, as a step would; null: none.</param>
    /// <param name="store">Members put over the second.</param>
    public (JsonObject Settings, JsonObject Store)? Settings(JsonObject? settings = null, JsonObject? store = null)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        var rows = new StepRows(connection, transaction);
        return rows.Now("store", "store") is { } stands
            ? (StepRows.Over(rows.Now("store", "settings"), settings ?? []), StepRows.Over(stands, store ?? []))
            : null;
    }

    /// <summary>The numbers of the last changes of goods and settings.</summary>
    public ShopNumbers Numbers()
    {
        using var connection = database.Open();
        return connection.QuerySingle<ShopNumbers>(SelectNumbers);
    }

    /// <summary>The rows of goods that changed since a number; null: so much has happened since that all is to be read anew.</summary>
    public (long Number, IReadOnlyList<GoodsRow> Rows)? ChangedSince(long goods)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        return GoodsRows.Since(goods, connection, transaction);
    }

    /// <summary>The groups that some shopper is in.</summary>
    public IReadOnlySet<string> GroupsInUse()
    {
        using var connection = database.Open();
        return connection
            .Query<string>("SELECT DISTINCT groups FROM shoppers WHERE groups <> ''")
            .SelectMany(groups => groups.Split(',', StringSplitOptions.RemoveEmptyEntries))
            .ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>Fills an empty database with a shop.</summary>
    /// <param name="store">As in a case, JSON.</param>
    /// <param name="settings">What pricing does not need, JSON.</param>
    /// <param name="catalogue">As in a case, JSON.</param>
    /// <param name="shoppers">Its shoppers.</param>
    /// <param name="carts">Its sample carts.</param>
    public Task Fill(string store, string settings, string catalogue, IEnumerable<StoredShopper> shoppers, IEnumerable<StoredCart> carts) =>
        database.Write(
            (connection, transaction) =>
            {
                Fill(store, settings, catalogue, shoppers, carts, connection, transaction);
                return 0;
            }
        );

    internal static void Fill(
        string store,
        string settings,
        string catalogue,
        IEnumerable<StoredShopper> shoppers,
        IEnumerable<StoredCart> carts,
        SqliteConnection connection,
        SqliteTransaction transaction
    )
    {
        connection.Execute(
            """
            INSERT INTO store (id, document, settings) VALUES (1, @store, @settings);
            UPDATE written SET steps = steps + 1;
            UPDATE written SET settings = steps, goods = steps, forgotten = steps
            """,
            new { store, settings },
            transaction
        );
        GoodsRows.Fill(catalogue, connection, transaction);
        connection.Execute(
            """
            INSERT INTO shoppers (id, name, groups, orders, spent, place, language)
            VALUES (@Id, @Name, @Groups, @Orders, @Spent, @Place, @Language)
            """,
            shoppers,
            transaction
        );
        PutCarts(carts, connection, transaction);
    }

    internal static void PutCarts(IEnumerable<StoredCart> carts, SqliteConnection connection, SqliteTransaction transaction)
    {
        connection.Execute("DELETE FROM carts", transaction: transaction);
        connection.Execute(
            "INSERT INTO carts (id, name, position, document) VALUES (@Id, @Name, @position, @Document)",
            carts.Select(
                (cart, position) =>
                    new
                    {
                        cart.Id,
                        cart.Name,
                        position,
                        cart.Document,
                    }
            ),
            transaction
        );
    }

    /// <summary>
    /// All shoppers as they were brought in, by id: without what orders placed here add, and without those whom only an order made known.
    /// </summary>
    public IReadOnlyList<StoredShopper> Shoppers()
    {
        using var connection = database.Open();
        return connection
            .Query<StoredShopper>(
                $"""
                {SelectBroughtIn}
                WHERE name <> id OR groups <> '' OR orders > 0 OR spent > 0 OR place IS NOT NULL OR language IS NOT NULL
                    OR NOT EXISTS (SELECT 1 FROM orders WHERE shopper = shoppers.id)
                ORDER BY id
                """
            )
            .AsList();
    }

    /// <summary>Shoppers whose name, id or group holds a text, at most so many, by name.</summary>
    public IReadOnlyList<StoredShopper> SearchShoppers(string text, int most)
    {
        using var connection = database.Open();
        return connection
            .Query<StoredShopper>(
                $"""
                {SelectShopper}
                WHERE {IsMeant(text)}
                ORDER BY name, id LIMIT @most
                """,
                new
                {
                    within = Within(text),
                    phrase = Phrase(text),
                    most,
                }
            )
            .AsList();
    }

    /// <summary>Some shoppers by name, with how many match and how many there are.</summary>
    /// <param name="text">What name, id or group holds; empty: anything.</param>
    /// <param name="group">In which group they are; empty: any.</param>
    /// <param name="from">How many are passed over.</param>
    /// <param name="take">At most so many.</param>
    public (IReadOnlyList<StoredShopper> Found, long Count, long All) Shoppers(string text, string group, int from, int take)
    {
        var asked = new List<string>();
        if (text.Length > 0)
            asked.Add(IsMeant(text));
        if (group.Length > 0)
            asked.Add("instr(',' || groups || ',', ',' || @group || ',')");
        var where = asked.Count == 0 ? "" : $"WHERE {string.Join(" AND ", asked)}";
        var parameters = new
        {
            within = Within(text),
            phrase = Phrase(text),
            group,
            from,
            take,
        };
        using var connection = database.Open();
        var all = connection.ExecuteScalar<long>("SELECT count(*) FROM shoppers");
        return (
            connection.Query<StoredShopper>($"{SelectShopper} {where} ORDER BY name, id LIMIT @take OFFSET @from", parameters).AsList(),
            asked.Count == 0 ? all : connection.ExecuteScalar<long>($"SELECT count(*) FROM shoppers {where}", parameters),
            all
        );
    }

    /// <summary>How many shoppers are in each group that somebody is in.</summary>
    public IReadOnlyDictionary<string, long> GroupSizes()
    {
        using var connection = database.Open();
        return connection
            .Query<(string Groups, long Count)>("SELECT groups, count(*) FROM shoppers WHERE groups <> '' GROUP BY groups")
            .SelectMany(row => row.Groups.Split(',', StringSplitOptions.RemoveEmptyEntries).Select(name => (name, row.Count)))
            .GroupBy(one => one.name, StringComparer.Ordinal)
            .ToDictionary(one => one.Key, one => one.Sum(part => part.Count), StringComparer.Ordinal);
    }

    /// <summary>One shopper, or null.</summary>
    public StoredShopper? FindShopper(string id)
    {
        using var connection = database.Open();
        return ShopperDocument.Find(id, connection, null);
    }

    /// <summary>What the columns of files with these headings were said to be; null: nothing was said.</summary>
    public IReadOnlyList<string>? FieldsOf(IEnumerable<string> headings)
    {
        using var connection = database.Open();
        return
            connection.ExecuteScalar<string?>(
                "SELECT fields FROM column_matches WHERE headings = @key",
                new { key = JsonSerializer.Serialize(headings) }
            )
                is { } fields
            ? JsonSerializer.Deserialize<string[]>(fields)
            : null;
    }

    /// <summary>Keeps what the columns of files with these headings are.</summary>
    public Task KeepFields(IEnumerable<string> headings, IEnumerable<string> fields) =>
        database.Write(
            (connection, transaction) =>
                connection.Execute(
                    "INSERT INTO column_matches VALUES (@key, @fields) ON CONFLICT DO UPDATE SET fields = excluded.fields",
                    new { key = JsonSerializer.Serialize(headings), fields = JsonSerializer.Serialize(fields) },
                    transaction
                )
        );

    /// <summary>The carts kept under a name, in order.</summary>
    public IReadOnlyList<StoredCart> Carts()
    {
        using var connection = database.Open();
        return connection.Query<StoredCart>("SELECT id, name, document FROM carts ORDER BY position").AsList();
    }
}
