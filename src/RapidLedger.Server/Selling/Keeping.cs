using RapidLedger.Formats;
using RapidLedger.Server.Items;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>A key of the store interface: never the key itself.</summary>
/// <param name="Kind">server: may place orders; page: may only ask for prices and offers.</param>
/// <param name="WithdrawnAt">Null: it is good.</param>
internal sealed record KeyRow(string Id, string Kind, string Name, string MadeAt, string? WithdrawnAt);

/// <summary>A key to be made.</summary>
/// <param name="Kind">server or page.</param>
/// <param name="Name">What it is for.</param>
internal sealed record KeyRequest(string Kind, string? Name);

/// <summary>A key that was made. It is told this once.</summary>
internal sealed record MadeKey(string Id, string Key);

/// <summary>What there is of an item.</summary>
/// <param name="Free">What is left of it; null: without end.</param>
/// <param name="Sold">What orders have bought and been given of it since its stock was set.</param>
internal sealed record StockRow(string Sku, string Name, long? Free, long Sold);

/// <summary>The stock of an item: one of both.</summary>
/// <param name="Free">What was counted.</param>
/// <param name="By">By how much it moves; what was sold of it stays sold.</param>
internal sealed record StockRequest(long? Free = null, long? By = null);

/// <summary>Somebody was forgotten.</summary>
/// <param name="Orders">In how many orders another id stands in the place of theirs.</param>
/// <param name="Backups">The backups, written by this program, that still hold the id.</param>
internal sealed record Forgotten(long Orders, IReadOnlyList<string> Backups);

/// <summary>What is kept for selling beside the promotions: keys of the store interface, stock, and who has bought.</summary>
internal static class Keeping
{
    private const int MostName = 100;
    private const int MostRows = 40;
    private const long MostStock = 1_000_000_000;

    public static void MapKeeping(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/api/keys", (KeyRepository keys) => keys.All().Select(key => new KeyRow(key.Id, key.Kind, key.Name, key.MadeAt, key.WithdrawnAt)).ToArray()).Produces<KeyRow[]>().Says("keys", "selling", "The keys of the store interface");
        routes.MapPost("/api/keys", async (KeyRequest request, StoreKeys keys) =>
        {
            if (request.Kind is not (StoreCaller.Server or StoreCaller.Page)) return Answers.Refused("/kind", ProblemCode.UnknownValue, "A key is of the kind server or page.");
            var name = request.Name?.Trim() ?? "";
            if (name.Length is 0 or > MostName) return Answers.Refused("/name", ProblemCode.OutOfRange, $"Say in 1 to {MostName} characters what the key is for, so that it is known which to withdraw.");
            var (id, key) = await keys.Make(request.Kind, name);
            return Results.Json(new MadeKey(id, key), statusCode: StatusCodes.Status201Created);
        }).Produces<MadeKey>(201).Refuses(400, 413, 415, 422, 503).Says("makeKey", "selling", "Make a key of the store interface");
        routes.MapDelete("/api/keys/{id}", async (string id, KeyRepository keys) =>
            await keys.Withdraw(id) ? Results.NoContent() : Answers.NotFound(ProblemCode.UnknownName, $"There is no good key {id}. It may have been withdrawn already.")).Produces(204).Refuses(404, 503).Says("withdrawKey", "selling", "Withdraw a key");

        routes.MapGet("/api/stock", (string? q, ItemSearch search, OrderRepository orders) =>
        {
            var items = search.Variants(q?.Trim() ?? "", null, MostRows);
            var sold = orders.Read(transaction => transaction.Sold(items.Select(item => item.Sku))).ToDictionary(entry => entry.Sku, entry => entry.Units, StringComparer.Ordinal);
            return items.Select(item => new StockRow(item.Sku, item.Name, item.Stock, sold.GetValueOrDefault(item.Sku))).ToArray();
        }).Produces<StockRow[]>().Says("stock", "selling", "What is left of items");
        routes.MapPut("/api/stock/{sku}", async (string sku, StockRequest request, OpenShop shop, OrderRepository orders) =>
        {
            if (shop.Catalogue.Find(sku) is not (>= 0 and var number)) return NoItem(sku);
            if (request.Free.HasValue == request.By.HasValue) return Answers.Refused("/free", ProblemCode.Missing, "Say what was counted as 'free', or by how much it moves as 'by'.");
            if (request.Free is < 0 or > MostStock) return Answers.Refused("/free", ProblemCode.OutOfRange, $"A stock from 0 to {MostStock} is expected.");
            if (request.By is < -MostStock or > MostStock) return Answers.Refused("/by", ProblemCode.OutOfRange, $"A stock moves by at most {MostStock}.");
            var moves = await orders.Write(transaction =>
            {
                if (request.Free is { } counted) transaction.SetStock(sku, counted);
                // What there is no end to does not move.
                else if (shop.Left(transaction.Sold([sku])).Count == 0 && shop.Catalogue.Variant(number).Stock is null) return false;
                else transaction.MoveStock(sku, shop.Catalogue.Variant(number).Stock, request.By!.Value);
                return true;
            });
            return moves ? Results.NoContent() : Answers.Refused("/by", ProblemCode.NotAllowed, "There is no end to this item: say what was counted as 'free'.");
        }).Produces(204).Refuses(400, 404, 413, 415, 422, 503).Says("setStock", "selling", "Set or move what is left of an item");
        routes.MapDelete("/api/stock/{sku}", async (string sku, OpenShop shop, OrderRepository orders) =>
        {
            if (shop.Catalogue.Find(sku) < 0) return NoItem(sku);
            await orders.Write(transaction =>
            {
                transaction.Uncount(sku);
                return 0;
            });
            return Results.NoContent();
        }).Produces(204).Refuses(404, 503).Says("uncountStock", "selling", "Let the stock of an item be as the catalogue says");

        routes.MapPost("/api/shoppers/{id}/forget", async (string id, OrderRepository orders, Database database) =>
        {
            if (await orders.Write(transaction => transaction.Forget(id)) is not { } count) return Answers.NotFound(ProblemCode.UnknownName, $"There is no shopper {id}. They may have been forgotten already.");
            // What was deleted is overwritten in the file; what the log beside it still holds goes with it.
            if (!await database.EmptyLog()) throw new StorageFault("The shopper was forgotten, but another program reads the store, and its log beside it still holds the id. It goes when the store is closed.", passes: true);
            return Results.Ok(new Forgotten(count, [.. database.Backups().Where(File.Exists)]));
        }).Produces<Forgotten>().Refuses(404, 503).Says("forgetShopper", "selling", "Forget a shopper");
    }

    private static IResult NoItem(string sku) => Answers.NotFound(ProblemCode.UnknownSku, $"There is no item {sku}.");
}
