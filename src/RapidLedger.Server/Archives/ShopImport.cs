using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Archives;

/// <summary>Puts the files of a shop into a store.</summary>
internal static class ShopImport
{
    private const int DaysOfAWeek = 7;

    /// <summary>
    /// The live promotions whose uses begin at none when they come in so: those with limits, and credits. By name.
    /// </summary>
    public static IReadOnlyList<string> BeginningAnew(ShopArchive archive) =>
        [
            .. archive
                .Promotions.Where(promotion => promotion is { State: "live", Document: { } document } && IsCounted(document))
                .Select(promotion => (promotion.Document!["name"] as JsonValue)?.ToString() is { Length: > 0 } name ? name : promotion.Id),
        ];

    /// <summary>The shop as it is stored, with its dates moved by whole weeks where they were written for a day.</summary>
    /// <param name="archive">The shop.</param>
    /// <param name="now">To which moment they are moved.</param>
    public static WholeShop Whole(ShopArchive archive, Instant now)
    {
        var store = CaseReader.ReadStore(Bytes(archive.Store)).Value!;
        var days = archive.WrittenOn is { } written
            ? Weeks(LocalDatePattern.Iso.Parse(written).Value, now.InZone(store.Zone).Date).Coming
            : 0;
        return new(
            archive.Store.ToJsonString(),
            archive.Settings.ToJsonString(),
            archive.Catalogue.ToJsonString(),
            [
                .. (archive.Shoppers ?? []).Select(shopper => new StoredShopper(
                    shopper.Id,
                    shopper.Name,
                    string.Join(',', shopper.Groups),
                    shopper.Orders,
                    shopper.Spent,
                    shopper.Place,
                    shopper.Language
                )),
            ],
            [.. archive.Carts.Select(cart => new StoredCart(cart.Id, cart.Name, cart.Cart.ToJsonString()))],
            [
                .. archive.Promotions.Select(promotion => new IncomingPromotion(
                    promotion.Id,
                    promotion.State,
                    promotion.Document is { } document ? Moved(document, days).ToJsonString() : null,
                    promotion.Draft is { } draft ? Moved(draft, days).ToJsonString() : null,
                    promotion.Meant
                )),
            ],
            [
                .. archive.Batches.Select(batch => new IncomingBatch(
                    batch.Id,
                    batch.Note,
                    batch.UsesEach,
                    batch.LastDay is { } last ? LocalDatePattern.Iso.Format(LocalDatePattern.Iso.Parse(last).Value.PlusDays(days)) : null,
                    batch.Void,
                    batch.Codes is { } codes
                        ?
                        [
                            .. codes.Select(code => new IncomingCode(
                                Trigger.Bare(Trigger.Normal(code.Code)),
                                code.Code,
                                code.Used,
                                code.Drawn,
                                code.Void,
                                code.Note
                            )),
                        ]
                        : null
                )),
            ]
        );
    }

    /// <summary>That codes are of a promotion and of a batch, in words.</summary>
    public static string Say(IReadOnlyList<string> taken) =>
        $"These codes are a promotion's own and in a batch, too: {string.Join(", ", taken.Take(20))}. Take them out of one of both.";

    /// <summary>From one day to another in whole weeks, so that a Friday stays a Friday.</summary>
    /// <returns>In days: to the last such day that has been, and to the next that comes.</returns>
    public static (int Past, int Coming) Weeks(LocalDate from, LocalDate to)
    {
        var since = Period.DaysBetween(from, to);
        // Down to a whole week, also before that day.
        var past = since - (((since % DaysOfAWeek) + DaysOfAWeek) % DaysOfAWeek);
        return (past, past == since ? since : past + DaysOfAWeek);
    }

    /// <summary>The rows that the goods and settings of an archive change in a shop that is there, and what is free then.</summary>
    public static (IReadOnlyList<RowChange> Rows, IReadOnlyList<FreeStock> Stocks) Changes(
        ShopArchive archive,
        ShopSetup setup,
        StoredShop stored
    )
    {
        var rows = new List<RowChange>
        {
            new("store", "settings", Whole(archive.Settings, JsonNode.Parse(stored.Settings)!.AsObject(), "isDemo")),
            new("store", "store", Whole(archive.Store, JsonNode.Parse(stored.Store)!.AsObject())),
        };
        var known = stored.Goods.ToDictionary(row => (row.Kind, row.Id), row => JsonNode.Parse(row.Document)!.AsObject());
        var stocks = new List<FreeStock>();
        void Put(string kind, string id, JsonObject document)
        {
            known.Remove((kind, id), out var before);
            rows.Add(new(kind, id, Whole(document, before ?? [], "stock")));
        }

        foreach (var category in archive.Catalogue["categories"]!.AsArray())
            Put("category", (string)category!["id"]!, category.AsObject());
        foreach (var product in archive.Catalogue["products"]!.AsArray().Select(one => one!.AsObject()))
        {
            var id = (string)product["id"]!;
            var alone = product.DeepClone().AsObject();
            alone.Remove("variants");
            Put("product", id, alone);
            foreach (var variant in product["variants"]!.AsArray().Select(one => one!.AsObject()))
            {
                var document = variant.DeepClone().AsObject();
                document.Remove("stock");
                document["product"] = id;
                var sku = (string)variant["sku"]!;
                Put("variant", sku, document);
                if (archive.HasStock)
                    stocks.Add(new(sku, (long?)variant["stock"]));
            }
        }

        foreach (var ((kind, id), document) in known)
            if (document["gone"] is null)
                rows.Add(new(kind, id, new() { ["gone"] = true }));
        return (rows, stocks);
    }

    /// <summary>The goods of a shop's files as they are priced by.</summary>
    public static CatalogueIndex CatalogueOf(ShopArchive archive)
    {
        var store = CaseReader.ReadStore(Bytes(archive.Store)).Value!;
        return CatalogueIndex.Of(store, CaseReader.ReadCatalogue(Bytes(archive.Catalogue), store).Value!);
    }

    /// <summary>The live promotions of a shop's files, with what is said there to be meant as written.</summary>
    public static IReadOnlyList<(Promotion Promotion, IReadOnlyList<(string Finding, string Words)> Meant)> LiveOf(
        ShopArchive archive,
        CatalogueIndex catalogue
    )
    {
        var ids = archive.Promotions.Select(promotion => promotion.Id).ToHashSet(StringComparer.Ordinal);
        var batches = archive.Batches.Select(batch => batch.Id).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. archive
                .Promotions.Where(promotion => promotion.State == "live")
                .Select(promotion =>
                    (CaseReader.ReadPromotion(Bytes(promotion.Document!), catalogue, ids, batches).Value!, promotion.Meant)
                ),
        ];
    }

    // All members, those that were there and are not any more emptied; but for one that stands apart.
    private static JsonObject Whole(JsonObject document, JsonObject before, string? apart = null)
    {
        var members = document.DeepClone().AsObject();
        foreach (var (name, _) in before)
            if (name != apart && name != "gone" && !members.ContainsKey(name))
                members[name] = null;
        return members;
    }

    private static JsonObject Moved(JsonObject promotion, int days)
    {
        var moved = promotion.DeepClone().AsObject();
        if (days != 0 && moved["window"] is JsonObject window)
            foreach (var end in (string[])["start", "end"])
                if ((window[end] as JsonValue)?.ToString() is { } written && LocalTimes.Read(written) is { } local)
                    window[end] = LocalTimes.Write(local.PlusDays(days));
        return moved;
    }

    private static bool IsCounted(JsonObject document) =>
        document["limits"] is JsonObject { Count: > 0 }
        || (document["rewards"] as JsonArray)?.Any(reward => (reward?["kind"] as JsonValue)?.ToString() == "credit") == true;

    /// <summary>A document as it is read.</summary>
    public static byte[] Bytes(JsonNode document) => System.Text.Encoding.UTF8.GetBytes(document.ToJsonString());
}
