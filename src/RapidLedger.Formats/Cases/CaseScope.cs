using System.Runtime.CompilerServices;
using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>What a document may refer to: of a store and catalogue that are known, and of a case that is being read itself.</summary>
internal static class CaseScope
{
    private static readonly ConditionalWeakTable<CatalogueIndex, Scope> Scopes = [];

    /// <summary>A scope with what a store and catalogue name. Those do not change, so they are gathered once.</summary>
    public static Scope Of(CatalogueIndex index, IReadOnlySet<string> promotions) =>
        Scopes.GetValue(index, NamesOf) with
        {
            Promotions = new(promotions, "promotion", ProblemCode.UnknownPromotion),
        };

    private static Scope NamesOf(CatalogueIndex index)
    {
        var catalogue = index.Catalogue;
        return new()
        {
            Base = index.Store.Currency,
            Paid = index.Store.Currency,
            Store = index.Store,
            Zone = index.Store.Zone,
            Others = Others(index.Store),
            Categories = new(index.Categories.Keys.ToHashSet(StringComparer.Ordinal), "category", ProblemCode.UnknownCategory),
            Products = new(
                catalogue.Products.Select(product => product.Id).ToHashSet(StringComparer.Ordinal),
                "product",
                ProblemCode.UnknownProduct
            ),
            Skus = new(
                catalogue.Products.SelectMany(product => product.Variants, (_, variant) => variant.Sku).ToHashSet(StringComparer.Ordinal),
                "SKU",
                ProblemCode.UnknownSku
            ),
            Gone = GoneOf(catalogue),
            Families = new(
                index.Store.Families.Select(family => family.Name).ToHashSet(StringComparer.Ordinal),
                "family",
                ProblemCode.UnknownFamily
            ),
            Methods = new(
                index.Store.Shipping.Select(method => method.Id).ToHashSet(StringComparer.Ordinal),
                "method",
                ProblemCode.UnknownMethod
            ),
        };
    }

    /// <summary>The currencies of a store beside its own.</summary>
    public static Currency[] Others(Store store) => [.. store.Currencies.Skip(1)];

    /// <summary>The SKUs that were taken out.</summary>
    public static HashSet<string> GoneOf(Catalogue catalogue) =>
        catalogue
            .Products.SelectMany(product => product.Variants)
            .Where(variant => variant.Gone)
            .Select(variant => variant.Sku)
            .ToHashSet(StringComparer.Ordinal);

    /// <summary>The batches that a case names.</summary>
    public static Known BatchesIn(Node? node) =>
        node is null ? new(new HashSet<string>(), "batch", ProblemCode.UnknownBatch)
        : node.Value.ValueKind != JsonValueKind.Object ? Known.Anything
        : new(
            new Node(node.Value, Pointer.Root, new()).Dictionary()!.Select(entry => entry.Name).ToHashSet(StringComparer.Ordinal),
            "batch",
            ProblemCode.UnknownBatch
        );

    /// <summary>A scope with what a case names itself, whatever else is wrong with that.</summary>
    public static Scope Referring(Scope scope, Node? storeNode, Node? catalogueNode, Node? promotionsNode)
    {
        Node? MemberOf(Node? node, string name) =>
            node is { Value.ValueKind: JsonValueKind.Object } && node.Value.TryGetProperty(name, out var value)
                ? new Node(value, Pointer.Root, new())
                : null;

        var products = MemberOf(catalogueNode, "products");
        return scope with
        {
            Categories = Names(catalogueNode, MemberOf(catalogueNode, "categories"), "id", "category", ProblemCode.UnknownCategory),
            Products = Names(catalogueNode, products, "id", "product", ProblemCode.UnknownProduct),
            Skus = SkusIn(catalogueNode, products),
            Promotions = Names(promotionsNode, promotionsNode, "id", "promotion", ProblemCode.UnknownPromotion),
            Families = Names(storeNode, MemberOf(storeNode, "families"), "name", "family", ProblemCode.UnknownFamily),
            Methods = Names(storeNode, MemberOf(storeNode, "shipping"), "id", "method", ProblemCode.UnknownMethod),
        };

        static Known Names(Node? holder, Node? list, string member, string what, string code) =>
            holder is null || (holder != list && holder.Value.ValueKind != JsonValueKind.Object)
                ? Known.Anything
                : CatalogueReader.NamesIn(list, member, what, code);

        Known SkusIn(Node? holder, Node? list)
        {
            if (
                holder is null
                || holder.Value.ValueKind != JsonValueKind.Object
                || (list is not null && list.Value.ValueKind != JsonValueKind.Array)
            )
                return Known.Anything;
            var skus = new HashSet<string>(StringComparer.Ordinal);
            foreach (var product in list?.Items() ?? [])
            {
                if (
                    MemberOf(product, "variants") is not { } variants
                    || CatalogueReader.NamesIn(variants, "sku", "", "").Names is not { } names
                )
                    return Known.Anything;
                skus.UnionWith(names);
            }

            return new(skus, "SKU", ProblemCode.UnknownSku);
        }
    }

    /// <summary>The currency a cart names, without a word about what is wrong with it; null: it is none.</summary>
    public static Currency? PaidBy(Node? cart, Currency? inBase)
    {
        if (cart is not { Value.ValueKind: JsonValueKind.Object } || !cart.Value.TryGetProperty("currency", out var named))
            return inBase;
        return named.ValueKind == JsonValueKind.String && new Node(named, Pointer.Root, new()).Text() is { } code
            ? Currency.Find(code)
            : null;
    }

    /// <summary>The currency a cart is paid in; null: the store cannot be paid in it, which is told.</summary>
    public static Currency? PaidIn(Node cart, Currency? inBase, Store? store)
    {
        if (cart.Value.ValueKind != JsonValueKind.Object || !cart.Value.TryGetProperty("currency", out var named))
            return inBase;
        var position = cart.Value.EnumerateObject().TakeWhile(member => !member.NameEquals("currency"u8)).Count();
        var node = new Node(named, cart.At.Member("currency", position), cart.Problems);
        if (Scope.ReadCurrency(node) is not { } currency)
            return null;
        if (store is null || store.RateTo(currency) is not null)
            return currency;
        node.Fault(
            ProblemCode.NoRate,
            $"The store has no rate of exchange for {currency}. Add one to its rates, or price the cart in {store.Currency}."
        );
        return null;
    }
}
