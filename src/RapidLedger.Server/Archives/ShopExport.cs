using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Archives;

/// <summary>What goes out with a shop beside its rules.</summary>
/// <param name="Stock">What is left of each item.</param>
/// <param name="Shoppers">Its shoppers.</param>
/// <param name="Codes">The codes of its batches.</param>
/// <param name="Orders">Its orders, without what was given back.</param>
internal sealed record ExportParts(bool Stock, bool Shoppers, bool Codes, bool Orders);

/// <summary>Reads a whole shop from its store, to be written as files.</summary>
internal sealed class ShopExport(
    OpenShop shop,
    ShopRepository repository,
    PromotionRepository promotions,
    CodeRepository codes,
    ArchivedOrders orders
)
{
    /// <summary>The files of the shop as it is at one moment: what is written while it is read makes it be read again.</summary>
    /// <exception cref="StorageFault">There is no shop, or it was written all the while.</exception>
    public IEnumerable<ArchiveFile> Files(ExportParts parts)
    {
        for (var attempt = 0; attempt < 10; attempt++)
        {
            var before = (repository.Numbers(), promotions.Written());
            var archive = Read(parts, out var currency);
            if (before == (repository.Numbers(), promotions.Written()))
                return ArchiveWriter.Files(archive, currency, parts.Orders ? orders.All(currency) : null);
        }

        throw new StorageFault("The shop was written while it was being read, ten times in a row. Try again in a moment.");
    }

    private ShopArchive Read(ExportParts parts, out Currency currency)
    {
        var stored = repository.Find() ?? throw new StorageFault("There is no shop in this file yet. Open one first.");
        var store = JsonNode.Parse(stored.Store)!.AsObject();
        currency = CaseReader.ReadStore(System.Text.Encoding.UTF8.GetBytes(stored.Store)).Value!.Currency;
        var settings = JsonNode.Parse(stored.Settings)!.AsObject();
        foreach (
            var name in settings.Where(member => member.Value is null || member.Key == "writtenOn").Select(member => member.Key).ToArray()
        )
            settings.Remove(name);
        return new(
            store,
            settings,
            Goods(stored.Goods, parts.Stock),
            [.. promotions.All().Select(Promotion)],
            [.. codes.Batches().Select(batch => Batch(batch, parts.Codes))],
            [.. repository.Carts().Select(cart => new ArchivedCart(cart.Id, cart.Name, JsonNode.Parse(cart.Document)!.AsObject()))],
            parts.Shoppers ? [.. repository.Shoppers().Select(Shopper)] : null,
            parts.Stock
        );
    }

    // Stock goes out as what is free now, or not at all.
    private JsonObject Goods(IReadOnlyList<GoodsRow> rows, bool withStock)
    {
        var catalogue = GoodsBook.ToJson(rows);
        var variants = catalogue["products"]!.AsArray().SelectMany(product => product!["variants"]!.AsArray()).ToArray();
        var left = withStock ? shop.Left([.. variants.Select(variant => (string)variant!["sku"]!)]) : null;
        foreach (var variant in variants)
            if (left is null)
                variant!.AsObject().Remove("stock");
            else if (left.TryGetValue((string)variant!["sku"]!, out var free))
                variant["stock"] = Math.Max(0, free);
        return catalogue;
    }

    private ArchivedPromotion Promotion(StoredPromotion stored) =>
        new(
            stored.Id,
            stored.State,
            stored.Document is { } document ? JsonNode.Parse(document)!.AsObject() : null,
            stored.Draft is { } draft ? JsonNode.Parse(draft)!.AsObject() : null,
            [.. promotions.Meant(stored.Id).Select(meant => (meant.Finding, meant.Words))]
        );

    private ArchivedBatch Batch(StoredBatch batch, bool withCodes) =>
        new(
            batch.Id,
            batch.Note,
            batch.UsesEach,
            batch.LastDay,
            batch.Void,
            withCodes
                ? [.. codes.CodesOf(batch.Id).Select(code => new ArchivedCode(code.Written, code.Used, code.Drawn, code.Void, code.Note))]
                : null
        );

    private static ArchivedShopper Shopper(StoredShopper shopper) =>
        new(shopper.Id, shopper.Name, shopper.InGroups, shopper.Orders, shopper.Spent, shopper.Place, shopper.Language);
}
