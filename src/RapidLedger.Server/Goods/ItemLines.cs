using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>
/// Makes changes of rows of lines of items. Name, category, brand, tags and tax class are the product's: all lines of a product must say
/// the same of them. Lines without a product are a product each; categories that are named and not there are made.
/// </summary>
/// <param name="setup">The shop that they come into.</param>
/// <param name="isTyped">Whether somebody types them here: then a word is meant as it is called now.</param>
internal sealed class ItemLines(ShopSetup setup, bool isTyped = false) : IIncomingRows
{
    /// <summary>The members that a line may have.</summary>
    public static readonly string[] Members =
    [
        "sku",
        "product",
        "name",
        "category",
        "brand",
        "tags",
        "taxClass",
        "options",
        "regular",
        "price",
        "prices",
        "cost",
        "stock",
        "grams",
    ];

    public const long MostStock = 1_000_000_000;

    private const int LongestName = 200;
    private const int LongestTitle = 500;

    // The product's members, and what each is called in its document.
    private static readonly string[] OfProduct = ["name", "category", "brand", "tags", "taxClass"];
    private static readonly string[] OfVariant = ["options", "regular", "price", "prices", "cost", "grams"];

    private readonly Dictionary<string, RowChange> categories = new(StringComparer.Ordinal);
    private readonly Dictionary<string, (int Line, RowChange Change)> products = new(StringComparer.Ordinal);
    private readonly Dictionary<string, (int Line, RowChange Change)> variants = new(StringComparer.Ordinal);
    private readonly List<FreeStock> stocks = [];
    private readonly List<BadLine> bad = [];
    private readonly HashSet<int> isBad = [];
    private GoodsRules? rules;
    private Dictionary<(string? Parent, string Name), string>? categoriesByName;

    /// <summary>What is wrong with lines.</summary>
    public IReadOnlyList<BadLine> Bad => bad;

    /// <summary>What is free now of items that are known.</summary>
    public IReadOnlyList<FreeStock> Stocks => stocks;

    /// <summary>All changes, each row once: categories before products before variants.</summary>
    public IReadOnlyList<RowChange> Changes =>
        [
            .. categories.Values,
            .. products.Values.Select(product => product.Change).Where(change => change.Members.Count > 0 || !IsProduct(change.Id)),
            .. variants.Values.Select(variant => variant.Change),
        ];

    /// <summary>The categories that are made.</summary>
    public IReadOnlyCollection<RowChange> NewCategories => categories.Values;

    /// <summary>Takes a line in.</summary>
    public void Add(IncomingLine line)
    {
        var members = line.Members;
        foreach (var fault in line.UnknownMembers(Members))
            Fault(line, fault.Member, fault.Code, fault.Message);
        foreach (var (name, value) in members)
            if (MostOf(name) is { } most && LongestTextOf(value) > most)
                Fault(line, name, ProblemCode.OutOfRange, $"A text of at most {most} characters is expected here.");
        if (!isTyped)
            Rename(members);
        if (NameIn(line, "sku") is not { } sku)
        {
            if (members["sku"] is null)
                Fault(line, "sku", ProblemCode.Missing, "A SKU is needed here.");
            return;
        }

        if (!variants.TryAdd(sku, (line.Number, new("variant", sku, []))))
        {
            Fault(line, "sku", ProblemCode.Duplicate, $"'{sku}' stands in line {variants[sku].Line} already. Keep one of both.");
            return;
        }

        var number = setup.Catalogue.Find(sku);
        var product =
            members["product"] is not null ? NameIn(line, "product")
            : number >= 0 && !members.ContainsKey("product") ? setup.Catalogue.ProductOf(number).Id
            : sku;
        if (product is null)
            return;
        AddProduct(line, product);
        AddVariant(line, sku, product, number);
    }

    // A file may call things by the names they had.
    private void Rename(JsonObject members)
    {
        var words = setup.Renamed;
        if (Said(members["brand"]) is { } brand)
            members["brand"] = words.Now("brand", brand);
        if (members["tags"] is JsonArray tags)
            for (var place = 0; place < tags.Count; place++)
                if (Said(tags[place]) is { } tag)
                    tags[place] = words.Now("tag", tag);
        if (members["options"] is JsonObject options)
            foreach (var (name, value) in options.ToArray())
                if (Said(value) is { } word)
                    options[name] = words.Now("option", word, name);

        static string? Said(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;
    }

    /// <summary>Takes out every item that no line named.</summary>
    public void TakeOutOthers()
    {
        for (var number = 0; number < setup.Catalogue.Count; number++)
            if (setup.Catalogue.Variant(number) is { Gone: false } variant && !variants.ContainsKey(variant.Sku))
                variants.Add(variant.Sku, (0, new("variant", variant.Sku, new() { ["gone"] = true })));
    }

    /// <summary>What is wrong with a row as it will be; told at the line that brought it.</summary>
    /// <returns>Whether nothing is.</returns>
    public bool Accepts(ChangedRow row)
    {
        // What a line says by itself is told already.
        if (isBad.Contains(LineOf(row.Change)))
            return false;
        var problems = (rules ??= new(setup, categories.Keys)).Problems(row);
        foreach (var problem in problems)
            bad.Add(new(LineOf(row.Change), problem.At.TrimStart('/'), problem.Code, problem.Message));
        return problems.Count == 0;
    }

    private int LineOf(RowChange change) =>
        change.Kind switch
        {
            "variant" => variants[change.Id].Line,
            "product" => products[change.Id].Line,
            _ => 0,
        };

    private void AddProduct(IncomingLine line, string product)
    {
        var isFirst = products.TryAdd(product, (line.Number, new("product", product, [])));
        var (first, change) = products[product];
        if (isFirst && !IsProduct(product))
        {
            change.Members["id"] = product;
            change.Members["name"] = product;
            // Goods that come in without a class are of the class of delivery.
            if (setup.Catalogue.Store.Tax?.ShippingClass is { } usual)
                change.Members["taxClass"] = usual;
        }

        foreach (var name in OfProduct)
        {
            if (!line.Members.TryGetPropertyValue(name, out var value))
                continue;
            // In lists of variants the product is often said in its first row alone.
            if (value is null && (!isFirst || (name == "name" && !IsProduct(product))))
                continue;
            if (name == "name" && value is null)
            {
                Fault(line, name, ProblemCode.Missing, "A product needs a name. Leave it out to keep the one it has.");
                continue;
            }

            if (name == "category" && value is not null)
            {
                if (Category(line, value) is not { } category)
                    continue;
                value = category;
            }

            if (isFirst || !change.Members.ContainsKey(name))
                change.Members[name] = value?.DeepClone();
            else if (!JsonNode.DeepEquals(change.Members[name], value))
                Fault(
                    line,
                    name,
                    ProblemCode.Conflict,
                    $"'{name}' is the product's, and line {first} says another one of '{product}'. Write the same in both, or give this one a product of its own."
                );
        }
    }

    private void AddVariant(IncomingLine line, string sku, string product, int number)
    {
        var change = variants[sku].Change;
        if (number < 0)
            change.Members["sku"] = sku;
        if (number < 0 || setup.Catalogue.ProductOf(number).Id != product)
            change.Members["product"] = product;
        foreach (var name in OfVariant)
            if (line.Members.TryGetPropertyValue(name, out var value))
                change.Members[name] = value?.DeepClone();
        if (line.Members.ContainsKey("regular") ? line.Members["regular"] is null : number < 0)
            Fault(line, "regular", ProblemCode.Missing, "A regular price is needed here.");
        if (!line.Members.TryGetPropertyValue("stock", out var stock))
            return;
        if (stock is not null && !(stock is JsonValue whole && whole.TryGetValue<long>(out var count) && count is >= 0 and <= MostStock))
        {
            Fault(
                line,
                "stock",
                ProblemCode.OutOfRange,
                $"A stock is a whole number from 0 to {MostStock}, or nothing where there is no end to it."
            );
            return;
        }

        if (number < 0)
            change.Members["stock"] = stock?.DeepClone();
        else
            AddStock(sku, number, (long?)stock, change);
    }

    // What is free now replaces the count; it is part of no step.
    private void AddStock(string sku, int number, long? free, RowChange change)
    {
        stocks.Add(new(sku, free));
        if (free is null && setup.Catalogue.Variant(number).Stock is not null)
            change.Members["stock"] = null;
    }

    // A category by its id, or by names from the top; those that are not there are made.
    private string? Category(IncomingLine line, JsonNode value)
    {
        if (value is JsonValue single && single.TryGetValue<string>(out var id))
        {
            if (setup.Catalogue.Categories.ContainsKey(id) || categories.ContainsKey(id))
                return id;
            Fault(
                line,
                "category",
                ProblemCode.UnknownCategory,
                $"There is no category '{id}'. Write its names from the top to have it made."
            );
            return null;
        }

        if (
            value is not JsonArray { Count: > 0 and <= 20 } path
            || !path.All(name => name is JsonValue text && text.TryGetValue<string>(out var word) && word.Trim().Length > 0)
        )
        {
            Fault(line, "category", ProblemCode.WrongType, "A category is its id, or a list of names from the top.");
            return null;
        }

        categoriesByName ??= setup
            .Catalogue.Catalogue.Categories.Where(category => !category.Gone)
            .GroupBy(category => (category.Parent, category.Name.Trim()))
            .ToDictionary(group => group.Key, group => group.First().Id);
        string? parent = null;
        foreach (var name in path.Select(name => ((string)name!).Trim()))
        {
            if (!categoriesByName.TryGetValue((parent, name), out var known))
            {
                categoriesByName[(parent, name)] = known = CategoryId.Of(name, id =>
                    setup.Catalogue.Categories.ContainsKey(id) || categories.ContainsKey(id)
                );
                categories[known] = new(
                    "category",
                    known,
                    new()
                    {
                        ["id"] = known,
                        ["name"] = name,
                        ["parent"] = parent,
                    }
                );
            }

            parent = known;
        }

        return parent;
    }

    // SKU and product are asked for theirs where they are read.
    private static int? MostOf(string member) =>
        member switch
        {
            "name" => LongestTitle,
            "category" or "brand" or "tags" or "taxClass" or "options" => LongestName,
            _ => null,
        };

    private static int LongestTextOf(JsonNode? value) =>
        value switch
        {
            JsonValue one when one.TryGetValue<string>(out var text) => text.Length,
            JsonArray many => many.Select(LongestTextOf).DefaultIfEmpty().Max(),
            JsonObject named => named.Select(member => Math.Max(member.Key.Length, LongestTextOf(member.Value))).DefaultIfEmpty().Max(),
            _ => 0,
        };

    private bool IsProduct(string id) => setup.Products.ContainsKey(id);

    private string? NameIn(IncomingLine line, string member)
    {
        if (
            line.Members[member] is JsonValue value
            && value.TryGetValue<string>(out var text)
            && text.Trim() is { Length: > 0 and <= LongestName } name
        )
            return name;
        if (line.Members[member] is not null)
            Fault(line, member, ProblemCode.WrongType, $"A text of 1 to {LongestName} characters is expected here.");
        return null;
    }

    private void Fault(IncomingLine line, string member, string code, string message)
    {
        bad.Add(new(line.Number, member, code, message));
        isBad.Add(line.Number);
    }
}
