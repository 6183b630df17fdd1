using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <summary>
/// Reads a catalogue from two CSV files: categories (<c>id, name, parent</c>) and items, one variant a row
/// (<c>product, name, category, brand, tags, taxClass, sku, options, regular, price, cost, grams, stock</c>).
/// </summary>
/// <remarks>Tags and options stand in one cell with bars between: <c>light|gift</c>, <c>size=L|colour=moss</c>.</remarks>
public static class CatalogueCsv
{
    /// <summary>The catalogue as the JSON of a case, to be read like one.</summary>
    /// <exception cref="FormatException">A column is missing, or a cell does not hold what its column needs.</exception>
    public static JsonObject ToJson(TextReader categories, TextReader items)
    {
        var tree = new JsonArray();
        foreach (var (_, row) in CsvTable.Rows(categories, "id", "name", "parent"))
            tree.Add(
                new JsonObject
                {
                    ["id"] = row["id"],
                    ["name"] = row["name"],
                    ["parent"] = row["parent"].Length > 0 ? row["parent"] : null,
                }
            );

        var products = new JsonArray();
        string? current = null;
        JsonArray variants = [];
        foreach (
            var (line, row) in CsvTable.Rows(
                items,
                "product",
                "name",
                "category",
                "brand",
                "tags",
                "taxClass",
                "sku",
                "options",
                "regular",
                "price",
                "cost",
                "grams",
                "stock"
            )
        )
        {
            if (row["product"] != current)
            {
                current = row["product"];
                variants = [];
                var product = new JsonObject { ["id"] = current, ["name"] = row["name"] };
                AddText(product, row, "category", "brand", "taxClass");
                product["tags"] = new JsonArray([
                    .. row["tags"].Split('|', StringSplitOptions.RemoveEmptyEntries).Select(tag => (JsonNode)tag),
                ]);
                product["variants"] = variants;
                products.Add(product);
            }

            var variant = new JsonObject { ["sku"] = row["sku"], ["regular"] = row["regular"] };
            AddText(variant, row, "price", "cost");
            AddNumber(variant, row, line, "grams", "stock");
            variant["options"] = Options(row["options"], line);
            variants.Add(variant);
        }

        return new() { ["categories"] = tree, ["products"] = products };
    }

    private static void AddText(JsonObject to, IReadOnlyDictionary<string, string> row, params ReadOnlySpan<string> columns)
    {
        foreach (var column in columns)
            if (row[column].Length > 0)
                to[column] = row[column];
    }

    private static void AddNumber(JsonObject to, IReadOnlyDictionary<string, string> row, int line, params ReadOnlySpan<string> columns)
    {
        foreach (var column in columns)
        {
            if (row[column].Length == 0)
                continue;
            to[column] = long.TryParse(row[column], System.Globalization.CultureInfo.InvariantCulture, out var number)
                ? number
                : throw new FormatException($"Line {line}, column {column}: '{row[column]}' is not a whole number.");
        }
    }

    private static JsonObject Options(string cell, int line)
    {
        var options = new JsonObject();
        foreach (var option in cell.Split('|', StringSplitOptions.RemoveEmptyEntries))
        {
            var split = option.IndexOf('=', StringComparison.Ordinal);
            if (split < 1)
                throw new FormatException($"Line {line}, column options: '{option}' is not of the form name=value.");
            options[option[..split]] = option[(split + 1)..];
        }

        return options;
    }
}
