using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage.Tests;

/// <summary>
/// A file of every older program, filled as that one filled it, is brought up to date: nothing is lost, and all counters agree.
/// </summary>
public sealed class OlderFileTests : IDisposable
{
    // What programs wrote since which script, in the tables as they then were.
    private static readonly (int Since, string Sql)[] Fillings =
    [
        (
            1,
            """
            INSERT INTO store (id, document, settings) VALUES (1, '{"currency": "EUR"}', '{"name": "Old", "locale": "en-GB", "channels": [], "groups": [], "places": []}');
            INSERT INTO catalogue (id, document) VALUES (1, '{"categories": [{"id": "c", "name": "C", "parent": null}], "products": [{"id": "p", "name": "P", "variants": [{"sku": "A", "regular": "10.00", "stock": 20}]}]}');
            INSERT INTO shoppers (id, name, groups, orders, spent) VALUES ('anna', 'Anna', 'club', 4, 9000);
            INSERT INTO carts VALUES ('c', 'A cart', 1, '{"lines": []}');
            """
        ),
        (
            2,
            """
            INSERT INTO promotions (id, state, version, draft, revision, touched_at) VALUES ('a', 'live', 1, NULL, 1, '2027-01-01T00:00:00Z'), ('p7', 'draft', NULL, '{"half": "typed"}', 3, '2027-01-01T00:00:00Z');
            INSERT INTO versions VALUES ('a', 1, '{"id": "a", "trigger": {"codes": ["OWN"]}, "rewards": [{"kind": "credit", "amount": "50.00", "keepRest": false}]}', '2027-01-01T00:00:00Z');
            INSERT INTO editions (number, published_at) VALUES (1, '2027-01-01T00:00:00Z');
            INSERT INTO edition_spans (promotion_id, version, first) VALUES ('a', 1, 1);
            INSERT INTO redemptions (promotion_id, shopper_id, at, amount) VALUES ('a', 'anna', 1800000000, 500), ('a', NULL, 1800003600, 700);
            """
        ),
        (
            4,
            """
            INSERT INTO batches (id, note, made_at, codes) VALUES ('b1', 'cards', '2027-01-01T00:00:00Z', 2);
            INSERT INTO codes (bare, written, batch_id) VALUES ('CARD1', 'CARD-1', 'b1'), ('CARD2', 'CARD-2', 'b1');
            INSERT INTO orders (id, state, placed_at, day, held_until, edition, shopper, rehearsal, total, cart, result, change) VALUES
                ('o1', 'taken', 1800000000, '2027-01-15', NULL, 1, 'anna', 0, 3000, '{}',
                 '{"currency": "EUR", "codes": [{"code": "CARD-1", "status": "applied", "promotion": "a", "amount": "12.50"}, {"code": "OWN", "status": "applied", "promotion": "a", "amount": "5.00"}, {"code": "NO", "status": "unknown"}], "promotions": [{"id": "a", "amount": "17.50", "from": "credit"}]}', 1);
            INSERT INTO redemptions (promotion_id, shopper_id, at, amount, order_id, day, drawn) VALUES ('a', 'anna', 1800000000, 1750, 'o1', '2027-01-15', 500);
            INSERT INTO order_codes VALUES ('o1', 'CARD1', 1250);
            UPDATE codes SET used = 1, drawn = 1250 WHERE bare = 'CARD1';
            INSERT INTO order_units VALUES ('o1', 'A', 3);
            INSERT INTO sold (sku, units) VALUES ('A', 3);
            UPDATE shoppers SET orders = orders + 1, spent = spent + 3000 WHERE id = 'anna';
            """
        ),
    ];

    private readonly string folder = Directory.CreateTempSubdirectory("older-").FullName;

    public static TheoryData<int> Scripts => [.. Enumerable.Range(1, Names().Length)];

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }

    [Theory]
    [MemberData(nameof(Scripts))]
    public void Is_brought_up_to_date_with_all_that_it_holds(int newest)
    {
        var file = Path.Combine(folder, "shop.db");
        using (var connection = new SqliteConnection($"Data Source={file};Pooling=False"))
        {
            connection.Open();
            // Before there were promotions no file was known by its tables.
            if (newest == 1)
                connection.Execute("PRAGMA application_id = 0x524C6564");
            // As DbUp notes what it has run.
            connection.Execute(
                "CREATE TABLE SchemaVersions (SchemaVersionID INTEGER CONSTRAINT 'PK_SchemaVersions_SchemaVersionID' PRIMARY KEY AUTOINCREMENT NOT NULL, ScriptName TEXT NOT NULL, Applied DATETIME NOT NULL)"
            );
            for (var number = 1; number <= newest; number++)
            {
                var name = Names()[number - 1];
                using var reader = new StreamReader(typeof(Database).Assembly.GetManifestResourceStream(name)!);
                connection.Execute(reader.ReadToEnd());
                connection.Execute("INSERT INTO SchemaVersions (ScriptName, Applied) VALUES (@name, '2027-01-01')", new { name });
                // Filled by the program that came with the script.
                foreach (var (since, sql) in Fillings)
                    if (since == number)
                        connection.Execute($"BEGIN; {sql} COMMIT;");
            }
        }

        using var database = new Database(file);
        database.Upgrade();
        Assert.Empty(new CounterCheck(database).Differences());
        var (shops, promotions, orders) = (
            new ShopRepository(database),
            new PromotionRepository(database, SystemClock.Instance),
            new OrderRepository(database)
        );
        Assert.Equal(
            [
                new("category", "c", null, """{"id":"c","name":"C","parent":null}"""),
                new("product", "p", null, """{"id":"p","name":"P"}"""),
                new GoodsRow("variant", "A", "p", """{"sku":"A","regular":"10.00","stock":20}"""),
            ],
            shops.Find()!.Goods
        );
        // What was brought in and what was bought here add up as before.
        Assert.Equal(newest < 4 ? (4, 9_000) : (5, 12_000), shops.FindShopper("anna") is { } anna ? (anna.Orders, anna.Spent) : default);
        if (newest < 2)
            return;
        Assert.Equal(["a", "p7"], promotions.All().Select(promotion => promotion.Id));
        Assert.Equal("{\"half\": \"typed\"}", promotions.Find("p7")!.Draft);
        Assert.Equal(
            newest < 4 ? (2, 1_200) : (3, 2_950),
            orders.Read(transaction => transaction.Usage("2027-01-15", null)).Single() is var used ? (used.Total, used.Budget) : default
        );
        if (newest < 4)
            return;
        // What cards had paid is known, in the order in which they did, and so is what was drawn for it.
        Assert.Equal(
            [
                new("a", "CARD-1", "CARD1", 1_250, 1_250, 1_250, false),
                new Pricing.CreditPayment("a", "CARD-1", null, 1_750, 1_750, 500, false),
            ],
            orders.Read(transaction => transaction.PaymentsOf("o1"))
        );
        Assert.Equal(
            (3L, 500L),
            orders.Read(transaction => (transaction.Sold(["A"]).Single().Units, transaction.UsesOf("o1").Single().Drawn))
        );
    }

    private static string[] Names() =>
        [
            .. typeof(Database)
                .Assembly.GetManifestResourceNames()
                .Where(name => name.EndsWith(".sql", StringComparison.Ordinal))
                .Order(StringComparer.Ordinal),
        ];
}
