using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a catalogue.</summary>
internal static class CatalogueReader
{
    public static Catalogue? Read(Node node, Scope scope, Store? store)
    {
        if (node.Object("categories", "products") is not { } members)
            return null;
        var categories = ReadCategories(members["categories"]);
        var known = NamesIn(members["categories"], "id", "category", ProblemCode.UnknownCategory);
        var products = new HashSet<string>(StringComparer.Ordinal);
        var skus = new HashSet<string>(StringComparer.Ordinal);
        var read = members["products"]?.Array(product => ReadProduct(product, scope with { Categories = known }, store, products, skus))
            ?? [];
        return new(categories.ToEquatableArray(), read.ToEquatableArray());
    }

    /// <summary>The names that stand in a list of objects, to be referred to; anything, if one of them cannot be read.</summary>
    public static Known NamesIn(Node? list, string member, string what, string code)
    {
        var names = new HashSet<string>(StringComparer.Ordinal);
        // Problems here are those of the list's own reader, so they go nowhere.
        foreach (var entry in (list ?? Nowhere).Items())
        {
            if (
                entry.Value.ValueKind != System.Text.Json.JsonValueKind.Object
                || !entry.Value.TryGetProperty(member, out var value)
                || new Node(value, Pointer.Root, new()).Text() is not { } name
            )
                return Known.Anything;
            names.Add(name);
        }

        return list is null || list.Value.ValueKind == System.Text.Json.JsonValueKind.Array ? new(names, what, code) : Known.Anything;
    }

    private static Node Nowhere => new(default, Pointer.Root, new());

    private static List<Category> ReadCategories(Node? node)
    {
        var known = NamesIn(node, "id", "category", ProblemCode.UnknownCategory);
        var parents = new Dictionary<string, string?>(StringComparer.Ordinal);
        var at = new List<(string Id, Node Parent)>();
        var categories = node?.Array(entry =>
        {
            if (entry.Object("id", "name", "parent", "gone") is not { } members)
                return null;
            var id = members.Required("id")?.Name();
            var name = members.Required("name")?.Text();
            var parent = members["parent"] is { Value.ValueKind: not System.Text.Json.JsonValueKind.Null } above ? known.Read(above) : null;
            if (id is null)
                return null;
            if (!parents.TryAdd(id, parent))
                members["id"]!.Fault(ProblemCode.Duplicate, $"There is a category '{id}' already.");
            else if (parent is not null)
                at.Add((id, members["parent"]!));
            return name is null ? null : new Category(id, name, parent, members["gone"]?.Flag() ?? false);
        })
            ?? [];

        var faulty = new HashSet<string>(StringComparer.Ordinal);
        foreach (var (id, parent) in at)
        {
            // One report for each circle: at the first of its categories.
            var passed = new List<string>();
            for (var step = id; step is not null && !faulty.Contains(step); step = parents.GetValueOrDefault(step))
            {
                if (passed.Contains(step))
                {
                    if (step == id)
                    {
                        parent.Fault(ProblemCode.Cycle, $"'{id}' would lie in itself. Give it another parent.");
                        faulty.UnionWith(passed);
                    }

                    break;
                }

                passed.Add(step);
            }
        }

        return categories;
    }

    /// <summary>Reads one product with its variants.</summary>
    public static Product? ReadProduct(Node node, Scope scope, Store? store) => ReadProduct(node, scope, store, [], []);

    private static Product? ReadProduct(Node node, Scope scope, Store? store, HashSet<string> products, HashSet<string> skus)
    {
        if (node.Object("id", "name", "category", "brand", "tags", "taxClass", "gone", "variants") is not { } members)
            return null;
        var id = members.Required("id")?.Name();
        if (id is not null && !products.Add(id))
            members["id"]!.Fault(ProblemCode.Duplicate, $"There is a product '{id}' already.");
        var name = members.Required("name")?.Text();
        var category = members["category"] is { } of ? scope.Categories.Read(of) : null;
        var brand = members["brand"]?.Name();
        var tags = members["tags"]?.Array(tag => tag.Name()) ?? [];
        var taxClass = members["taxClass"]?.Name();
        var gone = members["gone"]?.Flag() ?? false;
        var variants = members.Required("variants")?.Array(variant => ReadVariant(variant, scope, store, skus)) ?? [];
        return id is null || name is null
            ? null
            : new(
                id,
                name,
                variants.Select(variant => gone ? variant with { Gone = true } : variant).ToEquatableArray(),
                category,
                brand,
                tags.ToEquatableArray(),
                taxClass,
                gone
            );
    }

    private static Variant? ReadVariant(Node node, Scope scope, Store? store, HashSet<string> skus)
    {
        if (node.Object("sku", "options", "regular", "price", "prices", "cost", "grams", "stock", "gone") is not { } members)
            return null;
        var sku = members.Required("sku")?.Name();
        if (sku is not null && !skus.Add(sku))
            members["sku"]!.Fault(ProblemCode.Duplicate, $"There is a SKU '{sku}' already.");
        var options = new List<VariantOption>();
        foreach (var (name, value) in members["options"]?.Dictionary() ?? [])
            if (value.Text() is { } text)
                options.Add(new(name, text));
        var regular = members.Required("regular") is { } full ? scope.Amount(full) : null;
        var price = members["price"] is { } reduced ? scope.Amount(reduced) : null;
        var cost = members["cost"] is { } spent ? scope.Amount(spent) : null;
        foreach (var (code, entry) in members["prices"]?.Dictionary() ?? [])
            ReadPrices(code, entry, store, ref regular, ref price);
        var grams = members["grams"]?.Integer(0) ?? 0;
        var stock = members["stock"]?.Integer(0);
        if (regular is not null && price is not null && members["price"] is { } lowered && IsAbove(price, regular, scope, store))
            lowered.Fault(ProblemCode.AboveRegular, "The reduced price is above the regular one. Lower it, or leave it out.");
        return sku is null || regular is null
            ? null
            : new(sku, regular, price, cost, grams, stock, options.ToEquatableArray(), members["gone"]?.Flag() ?? false);
    }

    // Prices of its own in one other currency: a regular one, and a reduced one if it is reduced there.
    private static void ReadPrices(string code, Node node, Store? store, ref Amount? regular, ref Amount? price)
    {
        if (node.Object("regular", "price") is not { } members)
            return;
        if (Currency.Find(code) is not { } currency)
        {
            node.Fault(ProblemCode.UnknownCurrency, $"'{code}' is not a currency of ISO 4217.");
            return;
        }

        if (store is not null && (currency == store.Currency || store.RateTo(currency) is null))
        {
            node.Fault(
                ProblemCode.NoRate,
                currency == store.Currency
                    ? $"The prices in {currency}, the store's own currency, are 'regular' and 'price' of the item."
                    : $"The store cannot be paid in {currency}. Add a rate of exchange for it, or leave these prices out."
            );
            return;
        }

        if (members.Required("regular") is not { } own || Scope.Minor(own, currency) is not { } full)
            return;
        long? reduced = members["price"] is { } lowered ? Scope.Minor(lowered, currency) : null;
        if (reduced > full)
            members["price"]!.Fault(ProblemCode.AboveRegular, "The reduced price is above the regular one. Lower it, or leave it out.");
        if (regular?.Find(currency) is not null || price?.Find(currency) is not null)
        {
            node.Fault(ProblemCode.Duplicate, $"The price in {currency} is named twice. Leave one of them out.");
            return;
        }

        regular = With(regular, currency, full);
        if (reduced is { } minor)
            price = With(price, currency, minor);
    }

    private static Amount With(Amount? amount, Currency currency, long minor) =>
        new([.. amount?.Named ?? [], new NamedAmount(currency, minor)]);

    private static bool IsAbove(Amount price, Amount regular, Scope scope, Store? store)
    {
        foreach (var entry in price.Named)
            if (entry.Minor > regular.Find(entry.Currency))
                return true;
        return store is not null
            && scope.Paid is { } paid
            && new Variant("", regular, price).ReducedIn(paid, store) > regular.For(paid, store);
    }
}
