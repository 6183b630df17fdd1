using RapidLedger.Formats;
using RapidLedger.Server.Items;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>What there is of an item.</summary>
/// <param name="Free">What is left of it; null: without end.</param>
/// <param name="Sold">What orders have bought and been given of it since its stock was set.</param>
internal sealed record StockRow(string Sku, string Name, long? Free, long Sold);

/// <summary>The stock of an item: one of both.</summary>
/// <param name="Free">What was counted.</param>
/// <param name="By">By how much it moves; what was sold of it stays sold.</param>
internal sealed record StockRequest(long? Free = null, long? By = null);

/// <summary>What is left of items, looked at and set by the merchant.</summary>
internal static class StockEndpoints
{
    private const int MostRows = 40;
    private const long MostStock = 1_000_000_000;

    public static void MapStock(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/stock", (string? q, ItemSearch search, OrderRepository orders) =>
            {
                var items = search.Variants(q?.Trim() ?? "", null, MostRows);
                var sold = orders
                    .Read(transaction => transaction.Sold(items.Select(item => item.Sku)))
                    .ToDictionary(entry => entry.Sku, entry => entry.Units, StringComparer.Ordinal);
                return items.Select(item => new StockRow(item.Sku, item.Name, item.Stock, sold.GetValueOrDefault(item.Sku))).ToArray();
            })
            .Produces<StockRow[]>()
            .Says("stock", "selling", "What is left of items");
        routes
            .MapPut("/api/stock/{sku}", async (string sku, StockRequest request, OpenShop shop, OrderRepository orders) =>
            {
                if (shop.Catalogue.Find(sku) is not (>= 0 and var number))
                    return NoItem(sku);
                if (request.Free.HasValue == request.By.HasValue)
                    return Answers.Refused(
                        "/free",
                        ProblemCode.Missing,
                        "Say what was counted as 'free', or by how much it moves as 'by'."
                    );
                if (request.Free is < 0 or > MostStock)
                    return Answers.Refused("/free", ProblemCode.OutOfRange, $"A stock from 0 to {MostStock} is expected.");
                if (request.By is < -MostStock or > MostStock)
                    return Answers.Refused("/by", ProblemCode.OutOfRange, $"A stock moves by at most {MostStock}.");
                var moves = await orders.Write(transaction =>
                {
                    if (request.Free is { } counted)
                        transaction.SetStock(sku, counted);
                    // What there is no end to does not move.
                    else if (shop.Left(transaction.Sold([sku])).Count == 0 && shop.Catalogue.Variant(number).Stock is null)
                        return false;
                    else
                        transaction.MoveStock(sku, shop.Catalogue.Variant(number).Stock, request.By!.Value);
                    return true;
                });
                return moves
                    ? Results.NoContent()
                    : Answers.Refused("/by", ProblemCode.NotAllowed, "There is no end to this item: say what was counted as 'free'.");
            })
            .Produces(204)
            .Refuses(400, 404, 413, 415, 422, 503)
            .Says("setStock", "selling", "Set or move what is left of an item");
        routes
            .MapDelete("/api/stock/{sku}", async (string sku, OpenShop shop, OrderRepository orders) =>
            {
                if (shop.Catalogue.Find(sku) < 0)
                    return NoItem(sku);
                await orders.Write(transaction =>
                {
                    transaction.Uncount(sku);
                    return 0;
                });
                return Results.NoContent();
            })
            .Produces(204)
            .Refuses(404, 503)
            .Says("uncountStock", "selling", "Let the stock of an item be as the catalogue says");
    }

    private static IResult NoItem(string sku) => Answers.NotFound(ProblemCode.UnknownSku, $"There is no item {sku}.");
}
