using System.Runtime.CompilerServices;
using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>A self-contained unit of pricing.</summary>
/// <param name="Title">What it shows, if it says so.</param>
/// <param name="Store">The store.</param>
/// <param name="Catalogue">The catalogue.</param>
/// <param name="Promotions">The promotions, in the order written.</param>
/// <param name="Usage">What has been used so far, by promotion.</param>
/// <param name="Cart">The cart.</param>
/// <param name="Expect">Any part of the result it must have, if it says so.</param>
public sealed record Case(
    string? Title,
    Store Store,
    Catalogue Catalogue,
    EquatableArray<Promotion> Promotions,
    IReadOnlyDictionary<string, Usage> Usage,
    Cart Cart,
    JsonElement? Expect
)
{
    /// <summary>The store and catalogue made ready.</summary>
    public required CatalogueIndex Index { get; init; }

    /// <summary>The codes of batches, by their bare form.</summary>
    public required IReadOnlyDictionary<string, BatchCode> BatchCodes { get; init; }

    /// <summary>Prices the cart.</summary>
    /// <param name="effort">How much work may be put into the choice, as a multiple of the default.</param>
    /// <param name="gone">Says that nobody waits for the result any more.</param>
    public PricedCart Price(int effort = 1, CancellationToken gone = default) =>
        Rulebook.Compile(Index, Promotions).Price(Cart, Usage, effort, gone, BatchCodes);
}

/// <summary>Something read from a document, or what is wrong with it.</summary>
/// <param name="Value">Null if there are problems.</param>
/// <param name="Problems">All of them, as they stand in the document.</param>
public sealed record Reading<T>(T? Value, IReadOnlyList<Problem> Problems)
    where T : class;

/// <summary>Reads cases.</summary>
public static class CaseReader
{
    private const int MostPromotions = 100_000;

    private static readonly JsonDocumentOptions Options = new() { MaxDepth = Depth.Most };
    private static readonly ConditionalWeakTable<CatalogueIndex, Scope> Scopes = [];

    /// <summary>Reads a case from UTF-8 JSON; all problems are found, and with any nothing is read.</summary>
    public static Reading<Case> Read(ReadOnlyMemory<byte> json) => Parse(json, Read);

    /// <summary>Reads a promotion of a store and catalogue from UTF-8 JSON, all its amounts in the store's currency.</summary>
    /// <param name="json">The document.</param>
    /// <param name="catalogue">What it may refer to.</param>
    /// <param name="promotions">The ids of the other promotions it may refer to.</param>
    /// <param name="batches">The batches of codes it may refer to; null: any.</param>
    public static Reading<Promotion> ReadPromotion(
        ReadOnlyMemory<byte> json,
        CatalogueIndex catalogue,
        IReadOnlySet<string> promotions,
        IReadOnlySet<string>? batches = null
    ) =>
        Parse(json, root =>
            PromotionReader.Read(
                root,
                ScopeOf(catalogue, promotions) with
                {
                    Batches = batches is null ? Known.Anything : new(batches, "batch", ProblemCode.UnknownBatch),
                }
            )
        );

    /// <summary>Reads a cart of a store and catalogue from UTF-8 JSON.</summary>
    /// <param name="json">The document.</param>
    /// <param name="catalogue">What it may refer to.</param>
    /// <param name="promotions">The ids of the promotions it may refer to.</param>
    public static Reading<Cart> ReadCart(ReadOnlyMemory<byte> json, CatalogueIndex catalogue, IReadOnlySet<string> promotions) =>
        Parse(json, root =>
        {
            var scope = ScopeOf(catalogue, promotions);
            var cart = CartReader.Read(root, scope with { Paid = PaidIn(root, scope.Base, catalogue.Store), Others = [] });
            if (cart is not null && root.Problems.Count == 0 && Magnitudes.FirstIn(catalogue, cart, []) is { } passed)
            {
                var at = passed.Line < 0 ? root.Member("method") : root.Member("lines").Items().ElementAt(passed.Line).Member("quantity");
                at.Fault(ProblemCode.OutOfRange, "With this the cart comes to more than can be counted.");
            }

            return cart;
        });

    /// <summary>Reads a selection of a store and catalogue from UTF-8 JSON.</summary>
    public static Reading<Selection> ReadSelection(ReadOnlyMemory<byte> json, CatalogueIndex catalogue) =>
        Parse(json, root => SelectionReader.Read(root, ScopeOf(catalogue, new HashSet<string>())));

    /// <summary>Reads a store from UTF-8 JSON.</summary>
    public static Reading<Store> ReadStore(ReadOnlyMemory<byte> json) =>
        Parse(json, root => StoreReader.Read(root, currency => new Scope { Base = currency, Paid = currency }));

    /// <summary>Reads an amount of a store from UTF-8 JSON.</summary>
    public static Reading<Amount> ReadAmount(ReadOnlyMemory<byte> json, Store store) => Parse(json, root => new Scope
            {
                Base = store.Currency,
                Paid = store.Currency,
                Store = store,
                Others = Others(store),
            }.Amount(root));

    /// <summary>Reads a catalogue from UTF-8 JSON.</summary>
    public static Reading<Catalogue> ReadCatalogue(ReadOnlyMemory<byte> json, Store store) => Parse(json, root => CatalogueReader.Read(
                root,
                new Scope
                {
                    Base = store.Currency,
                    Paid = store.Currency,
                    Store = store,
                    Others = Others(store),
                },
                store
            ));

    /// <summary>Reads one product of a store with its variants, from UTF-8 JSON as in a catalogue.</summary>
    /// <param name="json">The document.</param>
    /// <param name="store">The store.</param>
    /// <param name="categories">The ids of the categories that there are.</param>
    public static Reading<Product> ReadProduct(ReadOnlyMemory<byte> json, Store store, IReadOnlySet<string> categories) =>
        Parse(json, root => CatalogueReader.ReadProduct(
                root,
                new Scope
                {
                    Base = store.Currency,
                    Paid = store.Currency,
                    Store = store,
                    Others = Others(store),
                    Categories = new(categories, "category", ProblemCode.UnknownCategory),
                },
                store
            ));

    private static Case? Read(Node root)
    {
        if (root.Object("$schema", "title", "store", "catalogue", "promotions", "batches", "usage", "cart", "expect") is not { } members)
            return null;
        var title = members["title"]?.Text();
        Store? store = null;
        var scope = new Scope();
        if (members.Required("store") is { } storeNode)
        {
            store = StoreReader.Read(storeNode, currency =>
            {
                scope = scope with { Base = currency, Paid = PaidBy(members["cart"], currency) };
                return scope;
            });
        }

        var cartNode = members.Required("cart");
        scope = scope with
        {
            Paid = cartNode is null ? scope.Base : PaidIn(cartNode, scope.Base, store),
            Store = store,
            Zone = store?.Zone,
        };
        var isTooMuch = false;
        if (store is not null && scope.Paid is { } paid && paid != scope.Base)
        {
            // One rate makes all of them too much: that is told once.
            var rate = members["store"]!.Member("rates").Member(paid.Code);
            scope = scope with { Others = [paid], TooMuch = (_, currency) => isTooMuch = TellRate(rate, currency, isTooMuch) };
        }

        var catalogueNode = members.Required("catalogue");
        var promotionsNode = members.Required("promotions");
        scope = Referring(scope, storeNode: members["store"], catalogueNode, promotionsNode) with
        {
            Batches = BatchesIn(members["batches"]),
        };
        var catalogue = catalogueNode is null ? null : CatalogueReader.Read(catalogueNode, scope, store);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var promotions =
            promotionsNode is { Value.ValueKind: JsonValueKind.Array } && promotionsNode.Value.GetArrayLength() > MostPromotions
                ? TooMany(promotionsNode)
                : promotionsNode?.Array(node => ReadOnce(node, scope, seen));
        var batchCodes = BatchReader.Read(members["batches"], promotions ?? [], scope);
        var usage = CartReader.ReadUsage(members["usage"], scope);
        var cart = cartNode is null ? null : CartReader.Read(cartNode, catalogue is null ? scope : scope with { Gone = GoneOf(catalogue) });
        if (store is null || catalogue is null || promotions is null || cart is null || root.Problems.Count > 0)
            return null;
        var index = CatalogueIndex.Of(store, catalogue);
        RefuseTooMuch(root, index, cart, promotions);
        return root.Problems.Count > 0
            ? null
            : new(title, store, catalogue, promotions.ToEquatableArray(), usage, cart, members["expect"]?.Value.Clone())
            {
                Index = index,
                BatchCodes = batchCodes,
            };
    }

    private static Known BatchesIn(Node? node) =>
        node is null ? new(new HashSet<string>(), "batch", ProblemCode.UnknownBatch)
        : node.Value.ValueKind != JsonValueKind.Object ? Known.Anything
        : new(
            new Node(node.Value, Pointer.Root, new()).Dictionary()!.Select(entry => entry.Name).ToHashSet(StringComparer.Ordinal),
            "batch",
            ProblemCode.UnknownBatch
        );

    private static List<Promotion>? TooMany(Node promotions)
    {
        promotions.Fault(ProblemCode.OutOfRange, $"A case holds at most {MostPromotions} promotions.");
        return null;
    }

    private static bool TellRate(Node rate, Currency currency, bool isTold)
    {
        if (!isTold)
            rate.Fault(
                ProblemCode.OutOfRange,
                $"At this rate an amount comes to more in {currency} than can be counted. Lower the rate, or the amount."
            );
        return true;
    }

    // Told at the amount, the weight or the reward with which a sum of the cart passes what can be counted.
    private static void RefuseTooMuch(Node root, CatalogueIndex index, Cart cart, List<Promotion> promotions)
    {
        Promotion[] live = [.. promotions.Where(promotion => promotion.State == State.Live)];
        if (Magnitudes.FirstIn(index, cart, live) is not { } passed)
            return;
        if (passed.Line >= 0)
        {
            var sku = cart.Lines[passed.Line].Sku;
            var product = index
                .Catalogue.Products.Select((product, place) => (product, place))
                .First(entry => entry.product.Variants.Any(variant => variant.Sku == sku));
            var variant = product
                .product.Variants.Select((variant, place) => (variant, place))
                .First(entry => entry.variant.Sku == sku)
                .place;
            var at = root.Member("catalogue")
                .Member("products")
                .Items()
                .ElementAt(product.place)
                .Member("variants")
                .Items()
                .ElementAt(variant);
            var member = passed.What switch
            {
                Magnitude.Regular => "regular",
                Magnitude.Cost => "cost",
                _ => "grams",
            };
            at.Member(member)
                .Fault(
                    ProblemCode.OutOfRange,
                    $"With the cart's units of '{sku}' this comes to more than can be counted. Lower it, or the quantity."
                );
            return;
        }

        if (passed.What == Magnitude.Delivery)
        {
            root.Member("cart")
                .Member("method")
                .Fault(ProblemCode.OutOfRange, "The charge or the cost of this delivery is more than can be counted.");
            return;
        }

        var reward = root.Member("promotions")
            .Items()
            .ElementAt(promotions.IndexOf(live[passed.Promotion]))
            .Member("rewards")
            .Items()
            .ElementAt(passed.Reward);
        string[] makes = ["quantity", "points", "fixed"];
        var what = makes.FirstOrDefault(name => reward.Value.TryGetProperty(name, out _));
        (what is null ? reward : reward.Member(what)).Fault(
            ProblemCode.OutOfRange,
            "What this gives could come to more in this cart than can be counted. Lower it."
        );
    }

    private static Promotion? ReadOnce(Node node, Scope scope, HashSet<string> seen)
    {
        var promotion = PromotionReader.Read(node, scope);
        // By the written id, so that a promotion that is faulty elsewhere still counts.
        if (
            node.Value.ValueKind == JsonValueKind.Object
            && node.Value.TryGetProperty("id", out var id)
            && id.ValueKind == JsonValueKind.String
            && new Node(id, node.At, new()).Text() is { } text
            && !seen.Add(text)
        )
        {
            var position = node.Value.EnumerateObject().TakeWhile(member => !member.NameEquals("id"u8)).Count();
            node.Problems.Add(
                node.At.Member("id", position),
                ProblemCode.Duplicate,
                $"There is a promotion '{text}' already. Give this one another id."
            );
        }

        return promotion;
    }

    private static Scope Referring(Scope scope, Node? storeNode, Node? catalogueNode, Node? promotionsNode)
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

    // The currency a cart names, without a word about what is wrong with it.
    private static Currency? PaidBy(Node? cart, Currency? inBase)
    {
        if (cart is not { Value.ValueKind: JsonValueKind.Object } || !cart.Value.TryGetProperty("currency", out var named))
            return inBase;
        return named.ValueKind == JsonValueKind.String && new Node(named, Pointer.Root, new()).Text() is { } code
            ? Currency.Find(code)
            : null;
    }

    private static Currency? PaidIn(Node cart, Currency? inBase, Store? store)
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

    // The names of a catalogue do not change, so they are gathered once.
    private static Scope ScopeOf(CatalogueIndex index, IReadOnlySet<string> promotions) =>
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

    private static HashSet<string> GoneOf(Catalogue catalogue) =>
        catalogue
            .Products.SelectMany(product => product.Variants)
            .Where(variant => variant.Gone)
            .Select(variant => variant.Sku)
            .ToHashSet(StringComparer.Ordinal);

    private static Currency[] Others(Store store) => [.. store.Currencies.Skip(1)];

    internal static Reading<T> Parse<T>(ReadOnlyMemory<byte> json, Func<Node, T?> read)
        where T : class
    {
        json = ByteOrderMark.Utf8(json);
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(json, Options);
        }
        catch (JsonException error)
        {
            if (Depth.FirstTooDeep(json.Span) is { } deep)
                return new(null, [new(deep, ProblemCode.TooDeep, $"This nests deeper than {Depth.Most} levels. Take some of them away.")]);
            return new(
                null,
                [
                    new(
                        "",
                        ProblemCode.NotJson,
                        $"This is not a JSON document: line {error.LineNumber + 1}, byte {error.BytePositionInLine + 1}. {Plain(error.Message)}"
                    ),
                ]
            );
        }

        using (document)
        {
            var problems = new ProblemList();
            var value = read(new(document.RootElement, Pointer.Root, problems));
            return problems.Count == 0 ? new(value, []) : new(null, problems.InOrder());
        }
    }

    // The parser's own sentence without its trailer of positions.
    private static string Plain(string message) =>
        message.IndexOf(" LineNumber", StringComparison.Ordinal) is > 0 and var end ? message[..end] : message;
}
