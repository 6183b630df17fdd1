using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using CsvHelper;

namespace RapidLedger.Formats;

/// <summary>
/// Categories and items of a shop as tables: <c>id, name, parent, gone</c>, and a variant a row. Tags and options stand in one cell with
/// bars between, <c>light|gift</c>, <c>size=L|colour=moss</c>; a bar, an equals sign or a backslash in a word has a backslash before it.
/// </summary>
internal static class ItemsTable
{
    private static readonly string[] OfProduct = ["name", "category", "brand", "taxClass"];

    public static void WriteCategories(JsonObject catalogue, Stream to)
    {
        using var csv = Writer(to);
        Row(csv, "id", "name", "parent", "gone");
        foreach (var category in (catalogue["categories"]?.AsArray() ?? []).OrderBy(one => (string)one!["id"]!, StringComparer.Ordinal))
            Row(
                csv,
                (string)category!["id"]!,
                (string?)category["name"] ?? "",
                (string?)category["parent"] ?? "",
                (bool?)category["gone"] == true ? "true" : ""
            );
    }

    public static void WriteItems(JsonObject catalogue, string currency, bool hasStock, Stream to)
    {
        var products = (catalogue["products"]?.AsArray() ?? []).Select(product => product!.AsObject()).ToArray();
        var others = products
            .SelectMany(product => product["variants"]!.AsArray())
            .SelectMany(variant => Prices(variant!.AsObject(), currency).Keys)
            .Where(code => code != currency)
            .Distinct(StringComparer.Ordinal)
            .Order(StringComparer.Ordinal)
            .ToArray();
        using var csv = Writer(to);
        Row(
            csv,
            [
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
                .. others.SelectMany(code => (string[])[$"regular {code}", $"price {code}"]),
                "cost",
                "grams",
                .. hasStock ? (string[])["stock"] : [],
                "gone",
            ]
        );
        foreach (var product in products.OrderBy(one => (string)one["id"]!, StringComparer.Ordinal))
        {
            string[] head =
            [
                (string)product["id"]!,
                (string?)product["name"] ?? "",
                (string?)product["category"] ?? "",
                (string?)product["brand"] ?? "",
                Join(product["tags"]?.AsArray().Select(tag => Escape((string)tag!)) ?? []),
                (string?)product["taxClass"] ?? "",
            ];
            var isGone = (bool?)product["gone"] == true;
            var variants = product["variants"]!.AsArray().Select(variant => variant!.AsObject()).ToArray();
            if (variants.Length == 0)
                Row(csv, [.. head, .. Enumerable.Repeat("", 6 + (2 * others.Length) + (hasStock ? 1 : 0)), isGone ? "product" : ""]);
            foreach (var variant in variants.OrderBy(one => (string)one["sku"]!, StringComparer.Ordinal))
            {
                var prices = Prices(variant, currency);
                Row(
                    csv,
                    [
                        .. head,
                        (string)variant["sku"]!,
                        Join(
                            variant["options"]
                                ?.AsObject()
                                .OrderBy(one => one.Key, StringComparer.Ordinal)
                                .Select(one => $"{Escape(one.Key)}={Escape((string)one.Value!)}")
                                ?? []
                        ),
                        prices.GetValueOrDefault(currency).Regular ?? "",
                        prices.GetValueOrDefault(currency).Price ?? "",
                        .. others.SelectMany(code =>
                            (string[])[prices.GetValueOrDefault(code).Regular ?? "", prices.GetValueOrDefault(code).Price ?? ""]
                        ),
                        (string?)variant["cost"] ?? "",
                        variant["grams"]?.ToJsonString() ?? "",
                        .. hasStock ? (string[])[variant["stock"]?.ToJsonString() ?? ""] : [],
                        isGone ? "product"
                        : (bool?)variant["gone"] == true ? "true"
                        : "",
                    ]
                );
            }
        }
    }

    public static JsonArray ReadCategories(string file, TextReader text, List<ArchiveProblem> problems)
    {
        var all = new JsonArray();
        foreach (var (_, cells) in Rows(file, text, problems, "id", "name"))
        {
            var category = new JsonObject
            {
                ["id"] = cells["id"],
                ["name"] = cells["name"],
                ["parent"] = cells.GetValueOrDefault("parent") is { Length: > 0 } parent ? parent : null,
            };
            if (cells.GetValueOrDefault("gone") is "true")
                category["gone"] = true;
            all.Add(category);
        }

        return all;
    }

    /// <summary>The products, at which line each variant stands, by product and variant, and whether stock is told.</summary>
    public static (JsonArray Products, IReadOnlyList<IReadOnlyList<int>> Lines, bool HasStock) ReadItems(
        string file,
        TextReader text,
        List<ArchiveProblem> problems
    )
    {
        var (products, lines, places) = (new JsonArray(), new List<List<int>>(), new Dictionary<string, int>(StringComparer.Ordinal));
        var hasStock = false;
        foreach (var (line, cells) in Rows(file, text, problems, "sku", "regular"))
        {
            hasStock |= cells.ContainsKey("stock");
            string? Cell(string column) => cells.GetValueOrDefault(column) is { Length: > 0 } cell ? cell : null;
            void Fault(string column, string message) => problems.Add(new(file, line, "", $"{column}: {message}"));
            var id = Cell("product") ?? cells["sku"];
            var head = new JsonObject { ["id"] = id, ["name"] = Cell("name") ?? id };
            foreach (var member in OfProduct.Skip(1))
                if (Cell(member) is { } word)
                    head[member] = word;
            if (Cell("tags") is { } tags)
                head["tags"] = new JsonArray([.. Split(tags, '|').Select(tag => (JsonNode)Plain(tag))]);
            if (Cell("gone") is "product")
                head["gone"] = true;
            if (!places.TryGetValue(id, out var place))
            {
                places[id] = place = products.Count;
                lines.Add([]);
                head["variants"] = new JsonArray();
                products.Add((JsonNode)head);
            }
            else
                foreach (var (member, value) in head)
                    if (!JsonNode.DeepEquals(products[place]![member], value))
                        Fault(member, $"the product '{id}' has another one in an earlier row. Write the same in all its rows.");
            if (cells["sku"].Length == 0)
                continue;
            var variant = new JsonObject { ["sku"] = cells["sku"] };
            if (Options(Cell("options"), Fault) is { Count: > 0 } options)
                variant["options"] = options;
            var own = new JsonObject();
            foreach (var (column, cell) in cells)
                if (cell.Length > 0 && column.Split(' ') is [var member, { Length: 3 } code] && (member is "regular" or "price"))
                {
                    if (own[code] is not JsonObject prices)
                        own[code] = prices = [];
                    prices[member] = cell;
                }

            foreach (var member in (string[])["regular", "price", "cost"])
                if (Cell(member) is { } amount)
                    variant[member] = amount;
            if (own.Count > 0)
                variant["prices"] = own;
            foreach (var member in (string[])["grams", "stock"])
                if (Cell(member) is { } number)
                {
                    if (long.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var whole))
                        variant[member] = whole;
                    else
                        Fault(member, $"'{number}' is not a whole number.");
                }

            if (Cell("gone") is "true")
                variant["gone"] = true;
            products[place]!["variants"]!.AsArray().Add((JsonNode)variant);
            lines[place].Add(line);
        }

        return (products, lines, hasStock);
    }

    /// <summary>The rows of a table that may be broken: then that is what is wrong with it.</summary>
    public static IEnumerable<(int Line, IReadOnlyDictionary<string, string> Cells)> Rows(
        string file,
        TextReader text,
        List<ArchiveProblem> problems,
        params string[] columns
    )
    {
        using var rows = CsvTable.AllRows(text, columns).GetEnumerator();
        while (true)
        {
            try
            {
                if (!rows.MoveNext())
                    yield break;
            }
            catch (Exception error) when (error is FormatException or CsvHelperException)
            {
                problems.Add(new(file, null, "", error is FormatException ? error.Message : "This is not a table in CSV (RFC 4180)."));
                yield break;
            }

            yield return rows.Current;
        }
    }

    public static CsvWriter Writer(Stream to) =>
        new(new StreamWriter(to, SteadyJson.Utf8) { NewLine = "\n" }, CsvTable.Written with { NewLine = "\n" });

    public static void Row(CsvWriter csv, params IEnumerable<string> cells)
    {
        foreach (var cell in cells)
            csv.WriteField(cell);
        csv.NextRecord();
    }

    public static string Join(IEnumerable<string> words) => string.Join('|', words);

    public static string Escape(string word)
    {
        var escaped = new StringBuilder();
        foreach (var letter in word)
            (letter is '|' or '=' or '\\' ? escaped.Append('\\') : escaped).Append(letter);
        return escaped.ToString();
    }

    /// <summary>The parts between dividers that have no backslash before them, still as written.</summary>
    public static IReadOnlyList<string> Split(string cell, char divider)
    {
        var (parts, part) = (new List<string>(), new StringBuilder());
        for (var place = 0; place < cell.Length; place++)
            if (cell[place] == '\\' && place + 1 < cell.Length)
                part.Append(cell[place]).Append(cell[++place]);
            else if (cell[place] == divider)
            {
                parts.Add(part.ToString());
                part.Clear();
            }
            else
                part.Append(cell[place]);
        parts.Add(part.ToString());
        return parts;
    }

    /// <summary>A word without the backslashes before its signs.</summary>
    public static string Plain(string word)
    {
        var plain = new StringBuilder();
        for (var place = 0; place < word.Length; place++)
            plain.Append(word[place] == '\\' && place + 1 < word.Length ? word[++place] : word[place]);
        return plain.ToString();
    }

    private static JsonObject Options(string? cell, Action<string, string> fault)
    {
        var options = new JsonObject();
        foreach (var option in cell is null ? [] : Split(cell, '|'))
            if (Split(option, '=') is [{ Length: > 0 } name, var value])
                options[Plain(name)] = Plain(value);
            else
                fault("options", $"'{option}' is not of the form name=value.");
        return options;
    }

    // Regular and current price by currency, whichever of the two forms they have.
    private static Dictionary<string, (string? Regular, string? Price)> Prices(JsonObject variant, string currency)
    {
        var prices = new Dictionary<string, (string? Regular, string? Price)>(StringComparer.Ordinal);
        void Put(string member, string code, string amount) =>
            prices[code] =
                member == "regular" ? (amount, prices.GetValueOrDefault(code).Price) : (prices.GetValueOrDefault(code).Regular, amount);
        foreach (var member in (string[])["regular", "price"])
            if (variant[member] is JsonObject byCurrency)
                foreach (var (code, amount) in byCurrency)
                    Put(member, code, (string)amount!);
            else if (variant[member] is { } amount)
                Put(member, currency, (string)amount!);
        foreach (var (code, own) in variant["prices"]?.AsObject() ?? [])
        foreach (var (member, amount) in own!.AsObject())
            Put(member, code, (string)amount!);
        return prices;
    }
}
