using System.Text.Json.Nodes;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Tape;

/// <summary>The live rules, a cart and all that surrounds its pricing, as one self-contained case that prices the same anywhere.</summary>
internal static class LiveCase
{
    /// <summary>The case.</summary>
    /// <param name="shop">The shop.</param>
    /// <param name="stored">Its documents.</param>
    /// <param name="written">The cart as it was read.</param>
    /// <param name="cart">The same, read.</param>
    /// <param name="draft">What is being written, in the place of its live self; null: nothing.</param>
    /// <param name="promotions">Where the live edition is kept.</param>
    /// <param name="codes">Where batches are kept.</param>
    public static JsonObject Of(
        OpenShop shop,
        StoredShop stored,
        JsonObject written,
        Cart cart,
        JsonObject? draft,
        PromotionRepository promotions,
        CodeRepository codes
    )
    {
        var live = promotions.Edition(promotions.NewestEdition()?.Number ?? 0).Select(document => JsonNode.Parse(document)!.AsObject());
        JsonObject[] listed =
        [
            .. live.Where(promotion => (string?)promotion["id"] != (string?)draft?["id"]),
            .. draft is null ? [] : new[] { draft },
        ];
        foreach (var promotion in listed)
            promotion["state"] = "live";
        var ids = listed.Select(promotion => (string?)promotion["id"]).ToHashSet();
        var context = shop.ContextOf(cart, [.. shop.Catalogue.Skus]);
        var usage = context.Usage.Where(used => ids.Contains(used.Key));
        return new JsonObject
        {
            ["title"] = $"{shop.Settings.Name}, {cart.At}",
            ["store"] = JsonNode.Parse(stored.Store),
            ["catalogue"] = WithStock(GoodsBook.ToJson(stored.Goods), context.Left),
            ["promotions"] = new JsonArray([.. listed]),
            ["batches"] = Batches(listed, context.Codes, shop, codes),
            ["usage"] = new JsonObject(
                usage.Select(used =>
                    KeyValuePair.Create<string, JsonNode?>(
                        used.Key,
                        new JsonObject
                        {
                            ["total"] = used.Value.Total,
                            ["shopper"] = used.Value.Shopper,
                            ["today"] = used.Value.Today,
                            ["budget"] = shop.Store.Currency.Write(used.Value.Budget),
                            ["drawn"] = shop.Store.Currency.Write(used.Value.Drawn),
                        }
                    )
                )
            ),
            ["cart"] = written,
        };
    }

    // The batches that the promotions name, of their codes those that the cart holds.
    private static JsonObject Batches(
        JsonObject[] listed,
        IReadOnlyDictionary<string, BatchCode> entered,
        OpenShop shop,
        CodeRepository codes
    )
    {
        var batches = new JsonObject();
        foreach (var promotion in listed)
        {
            var holdsCards = shop.Read(promotion.ToJsonString()).Promotion?.Card is not null;
            foreach (var id in (promotion["trigger"]?["batches"] as JsonArray ?? []).Select(id => (string)id!))
            {
                if (codes.FindBatch(id) is not { } batch || batches.ContainsKey(id))
                    continue;
                var form = new JsonObject { ["void"] = batch.Void };
                if (!holdsCards)
                    form["usesEach"] = batch.UsesEach is { } each ? each : "any";
                if (batch.LastDay is { } day)
                    form["lastDay"] = day;
                form["codes"] = new JsonObject(
                    entered
                        .Where(code => code.Value.Batch == id)
                        .Select(code =>
                            KeyValuePair.Create<string, JsonNode?>(
                                code.Key,
                                holdsCards
                                    ? new JsonObject
                                    {
                                        ["void"] = code.Value.IsVoid,
                                        ["drawn"] = shop.Store.Currency.Write(code.Value.Drawn),
                                    }
                                    : new JsonObject { ["void"] = code.Value.IsVoid, ["used"] = code.Value.Used }
                            )
                        )
                );
                batches[id] = form;
            }
        }

        return batches;
    }

    // The stock that is left now, where orders or a count moved it.
    private static JsonObject WithStock(JsonObject catalogue, IReadOnlyDictionary<string, long> left)
    {
        foreach (var variant in catalogue["products"]!.AsArray().SelectMany(product => product!["variants"]!.AsArray()))
            if (left.TryGetValue((string)variant!["sku"]!, out var rest))
                variant["stock"] = Math.Max(0, rest);
        return catalogue;
    }
}
