using System.Text.Json.Nodes;
using CsCheck;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>A shop as files: what is written and read again is the same, to the byte, whatever its names hold.</summary>
public class ArchiveTests
{
    private static readonly string[] Awkward = ["a.draft", "..", "CON", "=1+1", "'quoted", "x%2Fy", "b"];

    // What has a meaning in tables, file names, formulas and addresses, and letters of several scripts.
    private static readonly Gen<string> Word = Gen.OneOf(
        Gen.String[Gen.Char["ab Z9|=\\,;\"'+-@%/.é漢\n"], 1, 8],
        Gen.Int[0, 6].Select(place => Awkward[place])
    );

    private static readonly Gen<(
        string Id,
        bool Gone,
        string Price,
        string? Reduced,
        string? Own,
        int Stock,
        string[] Tags,
        string Option
    )> Item = Gen.Select(Word, Gen.Bool, Gen.Long[0, 1_000_000], Gen.Bool, Gen.Bool, Gen.Int[0, 9], Word.Array[0, 3], Word)
        .Select(
            (id, gone, price, isReduced, hasOwn, stock, tags, option) =>
                (id, gone, Money(price), isReduced ? Money(price / 2) : null, hasOwn ? Money(price / 3) : null, stock, tags, option)
        );

    [Fact]
    public void What_is_written_and_read_is_written_the_same_again()
    {
        Gen.Select(Item.Array[1, 6], Word.Array[0, 3], Word.Array[0, 3], Gen.Bool)
            .Sample(
                (items, promotions, shoppers, withStock) =>
                {
                    var shop = Shop(items, promotions, shoppers, withStock);
                    var written = Bytes(shop);
                    var (read, problems) = Read(written);
                    Assert.True(read is not null, string.Join('\n', problems));
                    var again = Bytes(read!);
                    Assert.Equal(written.Keys, again.Keys);
                    foreach (var (path, text) in written)
                        Assert.Equal(text, again[path]);
                    // No name of a file leads out of the folder, or means another on another system.
                    Assert.All(written.Keys, path => Assert.Matches("^([a-z]+/)?[a-z0-9._%A-F-]+$", path));
                    Assert.Equal(Named(shop.Catalogue), Named(read!.Catalogue));
                },
                iter: 2_000
            );
    }

    [Fact]
    public void What_is_wrong_is_told_with_its_file_and_line()
    {
        var files = new Dictionary<string, string>(StringComparer.Ordinal)
        {
            ["store.json"] =
                """{"store": {"currency": "EUR"}, "settings": {"name": "S", "locale": "en-GB", "colour": "red"}, "extra": 1}""",
            ["categories.csv"] = "id,name,parent\na,A,b\nb,B,a\n",
            ["items.csv"] =
                "product,name,sku,options,regular,price\np,P,A,size=1,2.00,\np,Q,B,size,1.00,3.00\n,,C,,x,\n\"p\",P,A,size=2,1.00,\n",
            ["promotions/one.json"] = """{"id": "two", "state": "on", "rewards": []}""",
            ["batches/b.csv"] = "code,used\nX,1\nx,many\n",
            ["carts/c.case.json"] = "{}",
            ["shoppers.csv"] = "id,spent\ns1,1.234\ns1,1\n",
            ["README.md"] = "not read",
        };
        var (shop, problems) = Read(files);
        Assert.Null(shop);
        var told = problems.Select(problem => problem.ToString()).ToArray();
        foreach (
            var beginning in (string[])
                [
                    "store.json/extra: ",
                    "store.json/settings/colour: ",
                    "categories.csv",
                    "items.csv, line 3: name: ",
                    "items.csv, line 3: options: ",
                    "items.csv, line 3: price: ",
                    "items.csv, line 4: regular: ",
                    "items.csv, line 5: sku: ",
                    "batches/b.csv: What batch this is says batches/b.json",
                    "carts/c.case.json/cart: ",
                    "shoppers.csv, line 2: spent: ",
                    "shoppers.csv, line 3: The shopper 's1' stands here a second time.",
                    "promotions/one.json/state: ",
                    "promotions/one.json/id: ",
                ]
        )
            Assert.True(told.Any(one => one.StartsWith(beginning, StringComparison.Ordinal)), $"{beginning} in\n{string.Join('\n', told)}");
        Assert.Equal(
            "store.json: There is no such file here, so these are not the files of a shop.",
            Assert.Single(Read(new() { ["items.csv"] = "" }).Problems).ToString()
        );
    }

    private static ShopArchive Shop(
        (string Id, bool Gone, string Price, string? Reduced, string? Own, int Stock, string[] Tags, string Option)[] items,
        string[] promotions,
        string[] shoppers,
        bool withStock
    )
    {
        var products = new JsonArray();
        foreach (var item in items.DistinctBy(item => Shown(item.Id)))
        {
            var variant = new JsonObject { ["sku"] = Shown(item.Id), ["regular"] = item.Price };
            if (item.Reduced is { } reduced)
                variant["price"] = reduced;
            if (item.Own is { } own)
                variant["prices"] = new JsonObject { ["GBP"] = new JsonObject { ["regular"] = own } };
            if (withStock)
                variant["stock"] = item.Stock;
            variant["options"] = new JsonObject { [Shown(item.Option)] = item.Option };
            if (item.Gone)
                variant["gone"] = true;
            var product = new JsonObject { ["id"] = $"p{Shown(item.Id)}", ["name"] = item.Id };
            if (item.Tags.Length > 0)
                product["tags"] = new JsonArray([.. item.Tags.Distinct().Select(tag => JsonValue.Create(tag))]);
            product["variants"] = new JsonArray(variant);
            products.Add((JsonNode)product);
        }

        return new(
            JsonNode.Parse("""{"rates": {"GBP": "0.85"}, "currency": "EUR"}""")!.AsObject(),
            JsonNode.Parse("""{"name": "S", "locale": "en-GB"}""")!.AsObject(),
            new() { ["categories"] = new JsonArray(), ["products"] = products },
            [
                .. promotions
                    .Select(Shown)
                    .Distinct()
                    .Select(
                        (id, place) =>
                            new ArchivedPromotion(
                                id,
                                place == 0 ? "paused" : "draft",
                                place == 0 ? Rule(id) : null,
                                place == 0 && id.Length % 2 == 0 ? null : Rule(id),
                                place == 0 ? [] : [("limits", "as written")]
                            )
                    ),
            ],
            [new("b1", "cards", null, "2027-03-31", true, [new("AB-C", 2, 150, true, "=note"), new("D", 0, 0, false, null)])],
            [new("c2", "Two", new() { ["lines"] = new JsonArray() }), new("c1", "One", new() { ["lines"] = new JsonArray() })],
            [.. shoppers.Select(Shown).Distinct().Select(id => new ArchivedShopper(id, id, [id, "club"], 3, 12_345, null, "de"))],
            withStock
        );
    }

    // What is empty or only space is no name of anything.
    private static string Shown(string word) =>
        word.Trim().Length == 0 ? "x"
        : word.Replace("\n", "", StringComparison.Ordinal).Trim() is { Length: > 0 } shown ? shown
        : "x";

    private static JsonObject Rule(string name) =>
        JsonNode.Parse("""{"rewards": [{"points": 1, "kind": "points", "each": "1.00"}], "label": {"de": "D", "en": "E"}}""")!.AsObject()
            is var rule
            ? With(rule, name)
            : [];

    private static JsonObject With(JsonObject rule, string name)
    {
        rule["name"] = name;
        return rule;
    }

    private static SortedDictionary<string, string> Bytes(ShopArchive shop)
    {
        var files = new SortedDictionary<string, string>(StringComparer.Ordinal);
        foreach (var file in ArchiveWriter.Files(shop, Currency.Find("EUR")!))
        {
            using var bytes = new MemoryStream();
            file.Write(bytes);
            files[file.Path] = System.Text.Encoding.UTF8.GetString(bytes.ToArray());
            Assert.DoesNotContain('\r', files[file.Path]);
        }

        return files;
    }

    private static (ShopArchive? Shop, IReadOnlyList<ArchiveProblem> Problems) Read(IReadOnlyDictionary<string, string> files) =>
        ArchiveReader.Read(
            files
                .Where(file => ArchivePaths.IsOfShop(file.Key))
                .ToDictionary(
                    file => file.Key,
                    file => (Func<Stream>)(() => new MemoryStream(System.Text.Encoding.UTF8.GetBytes(file.Value))),
                    StringComparer.Ordinal
                )
        );

    private static (ShopArchive? Shop, IReadOnlyList<ArchiveProblem> Problems) Read(Dictionary<string, string> files) =>
        Read((IReadOnlyDictionary<string, string>)files);

    // Products by what they are called, with their tags and options: whatever stands between them in a cell.
    private static IEnumerable<string> Named(JsonObject catalogue) =>
        catalogue["products"]!
            .AsArray()
            .Select(product =>
                $"{product!["name"]} {product["tags"]?.ToJsonString()} {product["variants"]![0]!["options"]!.ToJsonString()} {product["variants"]![0]!["prices"]?.ToJsonString()}"
            )
            .Order(StringComparer.Ordinal);

    private static string Money(long cents) => (cents / 100m).ToString("0.00", System.Globalization.CultureInfo.InvariantCulture);
}
