using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads what promotions have in common: selections, takes, places.</summary>
internal static class SelectionReader
{
    /// <summary>A selection.</summary>
    public static Selection? Read(Node node, Scope scope)
    {
        if (node.Object("in", "out", "fullPriceOnly", "priceFrom", "priceTo") is not { } members)
            return null;
        var taken = members
            .Required("in")
            ?.Array(term => ReadTerm(term, scope), orEmpty: false, whenEmpty: "Nothing is chosen yet: take in some items, or every item.");
        var left = members["out"]?.Array(term => ReadTerm(term, scope)) ?? [];
        var fullPrice = members["fullPriceOnly"]?.Flag() ?? false;
        var from = members["priceFrom"] is { } least ? scope.Amount(least) : null;
        var to = members["priceTo"] is { } most ? scope.Amount(most) : null;
        return new(taken?.ToEquatableArray() ?? [], left.ToEquatableArray(), fullPrice, from, to);
    }

    /// <summary>How a price comes down.</summary>
    public static Take? ReadTake(Node node, Scope scope) =>
        node.One("percent", "amount", "price") switch
        {
            ("percent", var percent) => percent.Percent() is { } value ? new Take.Percentage(value) : null,
            ("amount", var amount) => scope.Amount(amount) is { } value ? new Take.Off(value) : null,
            ("price", var price) => scope.Amount(price) is { } value ? new Take.To(value) : null,
            _ => null,
        };

    /// <summary>Places taken in and left out.</summary>
    public static Places? ReadPlaces(Node node)
    {
        if (node.Object("in", "out") is not { } members)
            return null;
        var taken = members["in"]?.Array(Scope.ReadPlace, orEmpty: false);
        var left = members["out"]?.Array(Scope.ReadPlace) ?? [];
        return new(taken?.ToEquatableArray(), left.ToEquatableArray());
    }

    private static Term.WithOption? ReadOption(Node node, Scope scope)
    {
        if (node.Object("name", "value", "product") is not { } members)
            return null;
        var (name, value) = (members.Required("name")?.Name(), members.Required("value")?.Name());
        var product = members["product"] is { } named ? scope.Products.Read(named) : null;
        return name is null || value is null || (product is null && members["product"] is not null) ? null : new(name, value, product);
    }

    private static Term? ReadTerm(Node node, Scope scope)
    {
        switch (node.One("all", "category", "brand", "product", "sku", "tag", "option"))
        {
            case ("all", var all):
                if (all.Flag() == false)
                    all.Fault(ProblemCode.UnknownValue, "Everything is said by true; to leave it out, take the term away.");
                return new Term.All();
            case ("category", var category):
                return scope.Categories.Read(category) is { } id ? new Term.InCategory(id) : null;
            case ("brand", var brand):
                return brand.Name() is { } name ? new Term.OfBrand(name) : null;
            case ("product", var product):
                return scope.Products.Read(product) is { } productId ? new Term.OfProduct(productId) : null;
            case ("sku", var sku):
                return scope.Skus.Read(sku) is { } skuId ? new Term.OfSku(skuId) : null;
            case ("tag", var tag):
                return tag.Name() is { } word ? new Term.Tagged(word) : null;
            case ("option", var option):
                return ReadOption(option, scope);
            default:
                return null;
        }
    }
}
