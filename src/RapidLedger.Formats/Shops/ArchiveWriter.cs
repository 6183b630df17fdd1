using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>A file of a shop, written when it is asked for.</summary>
/// <param name="Path">Where it stands, with / between folders.</param>
/// <param name="Write">Writes it.</param>
public sealed record ArchiveFile(string Path, Action<Stream> Write);

/// <summary>
/// Writes a shop as files. The same shop gives the same bytes: rows by id, members in one order, line feeds, no date of writing.
/// </summary>
public static class ArchiveWriter
{
    /// <summary>The files of a shop.</summary>
    /// <param name="shop">The shop.</param>
    /// <param name="currency">Its base currency.</param>
    /// <param name="orders">Its orders, by number; null: they do not go out.</param>
    public static IEnumerable<ArchiveFile> Files(ShopArchive shop, Currency currency, IEnumerable<ArchivedOrder>? orders = null)
    {
        var head = new JsonObject { ["settings"] = shop.Settings.DeepClone(), ["store"] = shop.Store.DeepClone() };
        if (shop.Carts.Count > 0)
            head["carts"] = new JsonArray([.. shop.Carts.Select(cart => JsonValue.Create(cart.Id))]);
        if (shop.WrittenOn is { } day)
            head["writtenOn"] = day;
        yield return Document(ArchivePaths.Store, head);
        yield return new(ArchivePaths.Categories, to => ItemsTable.WriteCategories(shop.Catalogue, to));
        yield return new(ArchivePaths.Items, to => ItemsTable.WriteItems(shop.Catalogue, currency.Code, shop.HasStock, to));
        foreach (var promotion in shop.Promotions.OrderBy(one => one.Id, StringComparer.Ordinal))
        {
            var path = ArchivePaths.Promotions + ArchivePaths.Escape(promotion.Id);
            if (promotion.Document is { } saved)
                yield return Document(path + ArchivePaths.Json, WithMeant(Named(saved, promotion.Id, promotion.State), promotion.Meant));
            if (promotion.Draft is { } draft)
                yield return Document(
                    path + ArchivePaths.Draft,
                    promotion.Document is null ? WithMeant(Named(draft, promotion.Id, "draft"), promotion.Meant) : draft
                );
        }

        foreach (var batch in shop.Batches.OrderBy(one => one.Id, StringComparer.Ordinal))
        {
            var path = ArchivePaths.Batches + ArchivePaths.Escape(batch.Id);
            var about = new JsonObject { ["id"] = batch.Id, ["note"] = batch.Note };
            if (batch.UsesEach is not 1)
                about["usesEach"] = batch.UsesEach is { } uses ? uses : "any";
            if (batch.LastDay is { } last)
                about["lastDay"] = last;
            if (batch.Void)
                about["void"] = true;
            yield return Document(path + ArchivePaths.Json, about);
            if (batch.Codes is { } codes)
                yield return new(path + ArchivePaths.Csv, to => WriteCodes(codes, currency, to));
        }

        foreach (var cart in shop.Carts.OrderBy(one => one.Id, StringComparer.Ordinal))
            yield return Document(
                ArchivePaths.Carts + ArchivePaths.Escape(cart.Id) + ArchivePaths.Case,
                new() { ["title"] = cart.Name, ["cart"] = cart.Cart.DeepClone() }
            );
        if (shop.Shoppers is { } shoppers)
            yield return new(ArchivePaths.Shoppers, to => WriteShoppers(shoppers, currency, to));
        if (orders is not null)
            yield return new(ArchivePaths.Orders, to => OrdersFile.Write(orders, to));
    }

    private static ArchiveFile Document(string path, JsonObject document) => new(path, to => to.Write(SteadyJson.Write(document)));

    private static JsonObject Named(JsonObject document, string id, string state)
    {
        var named = document.DeepClone().AsObject();
        (named["id"], named["state"]) = (id, state);
        return named;
    }

    private static JsonObject WithMeant(JsonObject document, IReadOnlyList<(string Finding, string Words)> meant)
    {
        if (meant.Count > 0)
            document["meant"] = new JsonObject(
                meant
                    .OrderBy(one => one.Finding, StringComparer.Ordinal)
                    .Select(one => KeyValuePair.Create(one.Finding, (JsonNode?)JsonValue.Create(one.Words)))
            );
        return document;
    }

    private static void WriteCodes(IReadOnlyList<ArchivedCode> codes, Currency currency, Stream to)
    {
        using var csv = ItemsTable.Writer(to);
        ItemsTable.Row(csv, "code", "used", "drawn", "void", "note");
        foreach (var code in codes.OrderBy(one => one.Code, StringComparer.Ordinal))
            ItemsTable.Row(
                csv,
                code.Code,
                code.Used.ToString(System.Globalization.CultureInfo.InvariantCulture),
                code.Drawn == 0 ? "" : currency.Write(code.Drawn),
                code.Void ? "true" : "",
                code.Note ?? ""
            );
    }

    private static void WriteShoppers(IReadOnlyList<ArchivedShopper> shoppers, Currency currency, Stream to)
    {
        using var csv = ItemsTable.Writer(to);
        ItemsTable.Row(csv, "id", "name", "groups", "orders", "spent", "place", "language");
        foreach (var shopper in shoppers.OrderBy(one => one.Id, StringComparer.Ordinal))
            ItemsTable.Row(
                csv,
                shopper.Id,
                shopper.Name,
                ItemsTable.Join(shopper.Groups.Order(StringComparer.Ordinal).Select(ItemsTable.Escape)),
                shopper.Orders.ToString(System.Globalization.CultureInfo.InvariantCulture),
                currency.Write(shopper.Spent),
                shopper.Place ?? "",
                shopper.Language ?? ""
            );
    }
}
