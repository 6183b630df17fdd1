using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads cases.</summary>
public static class CaseReader
{
    private const int MostPromotions = 100_000;

    /// <summary>Reads a case from UTF-8 JSON; all problems are found, and with any nothing is read.</summary>
    public static Reading<Case> Read(ReadOnlyMemory<byte> json) => JsonText.Read(json, Read);

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
        JsonText.Read(json, root =>
            PromotionReader.Read(
                root,
                CaseScope.Of(catalogue, promotions) with
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
        JsonText.Read(json, root =>
        {
            var scope = CaseScope.Of(catalogue, promotions);
            var cart = CartReader.Read(root, scope with { Paid = CaseScope.PaidIn(root, scope.Base, catalogue.Store), Others = [] });
            if (cart is not null && root.Problems.Count == 0 && Magnitudes.FirstIn(catalogue, cart, []) is { } passed)
            {
                var at = passed.Line < 0 ? root.Member("method") : root.Member("lines").Items().ElementAt(passed.Line).Member("quantity");
                at.Fault(ProblemCode.OutOfRange, "With this the cart comes to more than can be counted.");
            }

            return cart;
        });

    /// <summary>Reads a selection of a store and catalogue from UTF-8 JSON.</summary>
    public static Reading<Selection> ReadSelection(ReadOnlyMemory<byte> json, CatalogueIndex catalogue) =>
        JsonText.Read(json, root => SelectionReader.Read(root, CaseScope.Of(catalogue, new HashSet<string>())));

    /// <summary>Reads a store from UTF-8 JSON.</summary>
    public static Reading<Store> ReadStore(ReadOnlyMemory<byte> json) =>
        JsonText.Read(json, root => StoreReader.Read(root, currency => new Scope { Base = currency, Paid = currency }));

    /// <summary>Reads an amount of a store from UTF-8 JSON.</summary>
    public static Reading<Amount> ReadAmount(ReadOnlyMemory<byte> json, Store store) => JsonText.Read(json, root => new Scope
            {
                Base = store.Currency,
                Paid = store.Currency,
                Store = store,
                Others = CaseScope.Others(store),
            }.Amount(root));

    /// <summary>Reads a catalogue from UTF-8 JSON.</summary>
    public static Reading<Catalogue> ReadCatalogue(ReadOnlyMemory<byte> json, Store store) =>
        JsonText.Read(json, root => CatalogueReader.Read(
                root,
                new Scope
                {
                    Base = store.Currency,
                    Paid = store.Currency,
                    Store = store,
                    Others = CaseScope.Others(store),
                },
                store
            ));

    /// <summary>Reads one product of a store with its variants, from UTF-8 JSON as in a catalogue.</summary>
    /// <param name="json">The document.</param>
    /// <param name="store">The store.</param>
    /// <param name="categories">The ids of the categories that there are.</param>
    public static Reading<Product> ReadProduct(ReadOnlyMemory<byte> json, Store store, IReadOnlySet<string> categories) =>
        JsonText.Read(json, root => CatalogueReader.ReadProduct(
                root,
                new Scope
                {
                    Base = store.Currency,
                    Paid = store.Currency,
                    Store = store,
                    Others = CaseScope.Others(store),
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
                scope = scope with { Base = currency, Paid = CaseScope.PaidBy(members["cart"], currency) };
                return scope;
            });
        }

        var cartNode = members.Required("cart");
        scope = scope with
        {
            Paid = cartNode is null ? scope.Base : CaseScope.PaidIn(cartNode, scope.Base, store),
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
        scope = CaseScope.Referring(scope, storeNode: members["store"], catalogueNode, promotionsNode) with
        {
            Batches = CaseScope.BatchesIn(members["batches"]),
        };
        var catalogue = catalogueNode is null ? null : CatalogueReader.Read(catalogueNode, scope, store);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var promotions =
            promotionsNode is { Value.ValueKind: JsonValueKind.Array } && promotionsNode.Value.GetArrayLength() > MostPromotions
                ? TooMany(promotionsNode)
                : promotionsNode?.Array(node => ReadOnce(node, scope, seen));
        var batchCodes = BatchReader.Read(members["batches"], promotions ?? [], scope);
        var usage = CartReader.ReadUsage(members["usage"], scope);
        var cart = cartNode is null
            ? null
            : CartReader.Read(cartNode, catalogue is null ? scope : scope with { Gone = CaseScope.GoneOf(catalogue) });
        if (store is null || catalogue is null || promotions is null || cart is null || root.Problems.Count > 0)
            return null;
        var index = CatalogueIndex.Of(store, catalogue);
        CaseMagnitudes.Refuse(root, index, cart, promotions);
        return root.Problems.Count > 0
            ? null
            : new(title, store, catalogue, promotions.ToEquatableArray(), usage, cart, members["expect"]?.Value.Clone())
            {
                Index = index,
                BatchCodes = batchCodes,
            };
    }

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
}
