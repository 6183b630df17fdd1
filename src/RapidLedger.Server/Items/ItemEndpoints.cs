using System.Text.Json;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Items;

/// <summary>A term that a search found.</summary>
/// <param name="Kind">category, brand, product, sku or tag.</param>
/// <param name="Value">Its name in files.</param>
/// <param name="Name">Its name as people read it.</param>
/// <param name="Detail">What tells it from others of that name.</param>
/// <param name="Count">How many SKUs it holds.</param>
internal sealed record FoundTerm(string Kind, string Value, string Name, string Detail, int Count);

/// <summary>A variant with its price and what is earned on it.</summary>
/// <param name="MarginPercent">Margin of the price without tax, in percent of it; null: cost not known.</param>
internal sealed record ItemInfo(string Sku, string Name, string Regular, string Price, long? Stock, decimal? MarginPercent);

internal sealed record SelectionInfo(int Count, int Products, string Words, string[] In, string[] Out, IReadOnlyList<ItemInfo> Sample);

/// <summary>Searching the catalogue, and showing what a selection holds.</summary>
internal static class ItemEndpoints
{
    private const int SampleSize = 8;

    public static void MapItems(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/api/items/terms", (string? q, ItemSearch search) => search.Terms(q?.Trim() ?? "", 40)).WithName("terms");
        routes.MapGet("/api/items", (string? q, string? currency, ItemSearch search) => search.Variants(q?.Trim() ?? "", currency, 30)).WithName("items");
        routes.MapPost("/api/items/selection", (JsonElement selection, OpenShop shop, ItemSearch search) =>
        {
            var reading = CaseReader.ReadSelection(selection.Utf8(), shop.Catalogue);
            return reading.Value is { } read ? Results.Ok(Describe(read, shop, search)) : Answers.Refused(reading.Problems);
        }).Produces<SelectionInfo>().Refuses(400, 413, 415, 422).WithName("selection");
    }

    private static SelectionInfo Describe(Selection selection, OpenShop shop, ItemSearch search)
    {
        var selected = shop.Catalogue.Select(selection).ToArray();
        // Evenly from the whole, so that the sample shows its breadth.
        var step = Math.Max(1, selected.Length / SampleSize);
        var sample = selected.Where((_, place) => place % step == 0).Take(SampleSize).Select(number => search.Info(number, shop.Store.Currency));
        return new(
            selected.Length,
            selected.Select(number => shop.Catalogue.ProductOf(number).Id).Distinct().Count(),
            shop.Wording.Say(selection),
            [.. selection.In.Select(shop.Wording.Say)],
            [.. selection.Out.Select(shop.Wording.Say)],
            [.. sample]);
    }
}
