using Dapper;

namespace RapidLedger.Storage;

/// <summary>A shopper as stored.</summary>
/// <param name="Id">Who it is.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Groups">The groups, with commas between.</param>
/// <param name="Orders">Past orders: those brought in, and those placed here that count.</param>
/// <param name="Spent">Lifetime spend likewise, in minor units of the base currency.</param>
/// <param name="Place">Where the shopper lives, if known.</param>
public sealed record StoredShopper(string Id, string Name, string Groups, long Orders, long Spent, string? Place)
{
    /// <summary>The groups by their names.</summary>
    public string[] InGroups => Groups.Split(',', StringSplitOptions.RemoveEmptyEntries);

    // What is computed has no type where there are no rows: the members are set one by one.
    private StoredShopper()
        : this("", "", "", 0, 0, null) { }
}

/// <summary>A cart kept under a name.</summary>
/// <param name="Id">The name used in files.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Document">The cart as JSON, as in a case.</param>
public sealed record StoredCart(string Id, string Name, string Document);

/// <summary>The documents of the shop, as JSON.</summary>
/// <param name="Store">As in a case.</param>
/// <param name="Settings">What pricing does not need: name, locale, places.</param>
/// <param name="Catalogue">As in a case.</param>
public sealed record StoredShop(string Store, string Settings, string Catalogue);

/// <summary>The shop's settings, goods, shoppers and sample carts.</summary>
public sealed class ShopRepository(Database database)
{
    internal const string SelectShopper =
        "SELECT id, name, groups, orders + placed_orders AS orders, spent + placed_spent AS spent, place FROM shoppers";

    /// <summary>The shop, or null if the database holds none yet.</summary>
    public StoredShop? Find()
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredShop>(
            """
            SELECT store.document AS Store, store.settings AS Settings, catalogue.document AS Catalogue
            FROM store JOIN catalogue ON catalogue.id = store.id
            """
        );
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
    public Task Fill(StoredShop shop, IEnumerable<StoredShopper> shoppers, IEnumerable<StoredCart> carts) =>
        database.Write(
            (connection, transaction) =>
            {
                connection.Execute("INSERT INTO store (id, document, settings) VALUES (1, @Store, @Settings)", shop, transaction);
                connection.Execute("INSERT INTO catalogue (id, document) VALUES (1, @Catalogue)", shop, transaction);
                connection.Execute(
                    "INSERT INTO shoppers (id, name, groups, orders, spent, place) VALUES (@Id, @Name, @Groups, @Orders, @Spent, @Place)",
                    shoppers,
                    transaction
                );
                return connection.Execute(
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
        );

    /// <summary>Shoppers whose name, id or group holds a text, at most so many, by name.</summary>
    public IReadOnlyList<StoredShopper> SearchShoppers(string text, int most)
    {
        using var connection = database.Open();
        return connection
            .Query<StoredShopper>(
                $"""
                {SelectShopper}
                WHERE instr(lower(name), @text) OR instr(lower(id), @text) OR instr(lower(groups), @text)
                ORDER BY name, id LIMIT @most
                """,
                new { text = text.ToLowerInvariant(), most }
            )
            .AsList();
    }

    /// <summary>One shopper, or null.</summary>
    public StoredShopper? FindShopper(string id)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredShopper>($"{SelectShopper} WHERE id = @id", new { id });
    }

    /// <summary>The carts kept under a name, in order.</summary>
    public IReadOnlyList<StoredCart> Carts()
    {
        using var connection = database.Open();
        return connection.Query<StoredCart>("SELECT id, name, document FROM carts ORDER BY position").AsList();
    }
}
