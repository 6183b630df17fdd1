using System.Text;
using CsCheck;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage.Tests;

/// <summary>Shoppers are found by what stands anywhere in their name, id or group, whatever was added, renamed, forgotten or compacted.</summary>
public sealed class ShopperSearchTests : IDisposable
{
    // Few letters, so that much is found; among them all that means something to a pattern or a phrase.
    private const string Letters = "aAbÉé-_%!\"* ";

    private static readonly Gen<string> Texts = Gen.Char[Letters].Array[1, 6].Select(letters => new string(letters));
    private static readonly Gen<(int Who, string? Name, string? Group, bool IsCompacted)[]> Deeds = Gen.Select(
        Gen.Int[0, 7],
        Gen.Frequency((5, Texts.Select(text => (string?)text)), (1, Gen.Const((string?)null))),
        Gen.Frequency((1, Texts.Select(text => (string?)text)), (1, Gen.Const((string?)null))),
        Gen.Frequency((8, Gen.Const(false)), (1, Gen.Const(true)))
    ).Array[1, 12];

    private readonly string folder = Directory.CreateTempSubdirectory("shoppers-").FullName;

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public void Whoever_holds_the_text_is_found_and_nobody_else()
    {
        var found = 0;
        Gen.Select(Deeds, Texts.Array[4])
            .Sample(
                (deeds, texts) =>
                {
                    using var database = new Database(Path.Combine(folder, $"{Guid.NewGuid():n}.db"));
                    database.Upgrade();
                    var (repository, model) = (new ShopRepository(database), new Dictionary<string, (string Name, string Group)>());
                    using var connection = database.Open();
                    foreach (var (who, name, group, isCompacted) in deeds)
                        Do($"a{who}", name, group ?? "", isCompacted);
                    // What somebody is called finds them, so that every draw finds something.
                    foreach (var text in texts.Concat(model.Values.Select(entry => entry.Name)))
                    {
                        string[] expected =
                        [
                            .. model
                                .Where(entry => new[] { entry.Key, entry.Value.Name, entry.Value.Group }.Any(part => Holds(part, text)))
                                .Select(entry => entry.Key)
                                .Order(StringComparer.Ordinal),
                        ];
                        Assert.Equal(
                            expected,
                            repository.SearchShoppers(text, 100).Select(shopper => shopper.Id).Order(StringComparer.Ordinal)
                        );
                        Assert.Equal(expected.Length, repository.Shoppers(text, "", 0, 100).Count);
                        found += expected.Length;
                    }

                    connection.Execute("INSERT INTO shopper_words (shopper_words, rank) VALUES ('integrity-check', 1)");

                    void Do(string id, string? name, string group, bool isCompacted)
                    {
                        if (name is null)
                            connection.Execute("DELETE FROM shoppers WHERE id = @id", new { id });
                        else
                            connection.Execute(
                                """
                                INSERT INTO shoppers (id, name, groups, orders, spent) VALUES (@id, @name, @group, 0, 0)
                                ON CONFLICT (id) DO UPDATE SET name = excluded.name, groups = excluded.groups
                                """,
                                new
                                {
                                    id,
                                    name,
                                    group,
                                }
                            );
                        if (isCompacted)
                            connection.Execute("VACUUM");
                        model.Remove(id);
                        if (name is not null)
                            model[id] = (name, group);
                    }
                },
                iter: 40,
                threads: 1
            );
        Assert.True(found > 40, $"{found}");
    }

    [Fact]
    public void Of_who_is_forgotten_no_letters_stay_in_the_file()
    {
        var file = Path.Combine(folder, "shop.db");
        using (var database = new Database(file))
        {
            database.Upgrade();
            using var connection = database.Open();
            connection.Execute("INSERT INTO shoppers (id, name, groups, orders, spent) VALUES ('k', 'Zyqxwv', '', 0, 0)");
            Assert.Single(new ShopRepository(database).SearchShoppers("yqxw", 5));
            connection.Execute("DELETE FROM shoppers WHERE id = 'k'");
            connection.Execute("PRAGMA wal_checkpoint(TRUNCATE)");
        }

        var bytes = Encoding.Latin1.GetString(File.ReadAllBytes(file));
        Assert.All(new[] { "Zyqxwv", "zyq", "yqx", "qxw", "xwv" }, letters =>
            Assert.DoesNotContain(letters, bytes, StringComparison.Ordinal)
        );
    }

    // One or two letters are looked for as SQLite compares them: capitals of ASCII alone are the same as small letters.
    private static bool Holds(string part, string text) =>
        text.Length < 3
            ? Ascii(part).Contains(Ascii(text), StringComparison.Ordinal)
            : part.Contains(text, StringComparison.OrdinalIgnoreCase);

    private static string Ascii(string text) =>
        string.Concat(text.Select(letter => char.IsAsciiLetterUpper(letter) ? char.ToLowerInvariant(letter) : letter));
}
