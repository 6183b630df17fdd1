using System.Buffers;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>Makes a catalogue of stored goods, or of a known one and the rows that changed since: only those are read.</summary>
internal static class GoodsBook
{
    private static readonly Catalogue Nothing = new([], []);

    /// <summary>The catalogue of all rows.</summary>
    public static Catalogue Of(Store store, IReadOnlyList<GoodsRow> rows) => With(CatalogueIndex.Of(store, Nothing), rows);

    /// <summary>A known catalogue with changed rows put over it. What is new comes behind what is known.</summary>
    /// <exception cref="StorageFault">A stored row cannot be read.</exception>
    public static Catalogue With(CatalogueIndex known, IReadOnlyList<GoodsRow> rows)
    {
        var categories = Categories(known.Catalogue.Categories, rows);
        var ids = categories.Select(category => category.Id).ToHashSet(StringComparer.Ordinal);
        var products = known.Catalogue.Products.ToList();
        var places = new Dictionary<string, int>(products.Count, StringComparer.Ordinal);
        for (var place = 0; place < products.Count; place++)
            places[products[place].Id] = place;

        var documents = rows.Where(row => row.Kind == "product").ToDictionary(row => row.Id, row => row.Document, StringComparer.Ordinal);
        var variants = rows.Where(row => row.Kind == "variant").ToLookup(row => row.Product!, StringComparer.Ordinal);
        // A variant may have moved to another product.
        var moved = rows.Where(row =>
                row.Kind == "variant" && known.Find(row.Id) is >= 0 and var number && known.ProductOf(number).Id != row.Product
            )
            .ToLookup(row => known.ProductOf(known.Find(row.Id)).Id, row => row.Id, StringComparer.Ordinal);
        foreach (var gone in moved)
            products[places[gone.Key]] = products[places[gone.Key]] with
            {
                Variants = [.. products[places[gone.Key]].Variants.Where(variant => !gone.Contains(variant.Sku))],
            };

        foreach (var id in documents.Keys.Concat(variants.Select(group => group.Key)).Distinct(StringComparer.Ordinal))
        {
            var read = Read(id, documents.GetValueOrDefault(id), variants[id], known.Store, ids);
            if (places.TryGetValue(id, out var place))
            {
                products[place] = (documents.ContainsKey(id) ? read : products[place]) with
                {
                    Variants = Over(products[place].Variants, read.Variants),
                };
            }
            else
            {
                places[id] = products.Count;
                products.Add(read);
            }
        }

        return new(categories, [.. products]);
    }

    /// <summary>Goods as the catalogue of a case.</summary>
    public static JsonObject ToJson(IReadOnlyList<GoodsRow> rows)
    {
        var variants = rows.Where(row => row.Kind == "variant").ToLookup(row => row.Product, row => row.Document);
        return new()
        {
            ["categories"] = new JsonArray([.. rows.Where(row => row.Kind == "category").Select(row => JsonNode.Parse(row.Document))]),
            ["products"] = new JsonArray([
                .. rows.Where(row => row.Kind == "product").Select(row => JsonNode.Parse(Document(row.Id, row.Document, variants[row.Id]))),
            ]),
        };
    }

    /// <summary>A product's document as in a case, with the documents of variants.</summary>
    /// <param name="product">Without its variants; null: only its id is known.</param>
    public static string Document(string id, string? product, IEnumerable<string> variants)
    {
        // What is stored is an object with at least its id, so a member can follow.
        var head = product ?? new JsonObject { ["id"] = id, ["name"] = id }.ToJsonString();
        return $"{head[..head.LastIndexOf('}')]},\"variants\":[{string.Join(',', variants)}]}}";
    }

    /// <summary>A row as it stands in a case, where a variant stands in its product and does not name it.</summary>
    public static string WithoutProduct(JsonObject row)
    {
        var json = new ArrayBufferWriter<byte>();
        using (var writer = new Utf8JsonWriter(json))
        {
            writer.WriteStartObject();
            foreach (var (name, value) in row)
                if (name != "product")
                {
                    writer.WritePropertyName(name);
                    if (value is null)
                        writer.WriteNullValue();
                    else
                        value.WriteTo(writer);
                }

            writer.WriteEndObject();
        }

        return Encoding.UTF8.GetString(json.WrittenSpan);
    }

    private static Product Read(string id, string? product, IEnumerable<GoodsRow> variants, Store store, HashSet<string> categories)
    {
        var document = Document(id, product, variants.Select(variant => variant.Document));
        var reading = CaseReader.ReadProduct(Encoding.UTF8.GetBytes(document), store, categories);
        return reading.Value
            ?? throw new StorageFault(
                $"The stored product '{id}' cannot be read: {reading.Problems[0].At} {reading.Problems[0].Message} Put the last backup in its place."
            );
    }

    private static EquatableArray<Variant> Over(EquatableArray<Variant> known, EquatableArray<Variant> changed)
    {
        if (changed.Count == 0)
            return known;
        var bySku = changed.ToDictionary(variant => variant.Sku, StringComparer.Ordinal);
        var kept = known.Select(variant => bySku.Remove(variant.Sku, out var now) ? now : variant).ToList();
        kept.AddRange(changed.Where(variant => bySku.ContainsKey(variant.Sku)));
        return [.. kept];
    }

    private static EquatableArray<Category> Categories(EquatableArray<Category> known, IReadOnlyList<GoodsRow> rows)
    {
        var changed = rows.Where(row => row.Kind == "category").Select(row => row.Document).Select(Category).ToList();
        if (changed.Count == 0)
            return known;
        var byId = changed.ToDictionary(category => category.Id, StringComparer.Ordinal);
        var all = known.Select(category => byId.Remove(category.Id, out var now) ? now : category).ToList();
        all.AddRange(changed.Where(category => byId.ContainsKey(category.Id)));
        return [.. all];
    }

    private static Category Category(string document)
    {
        var row = JsonNode.Parse(document)!;
        return new((string)row["id"]!, (string)row["name"]!, (string?)row["parent"], (bool?)row["gone"] ?? false);
    }
}
