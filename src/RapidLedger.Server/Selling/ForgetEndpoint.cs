using RapidLedger.Formats;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>Somebody was forgotten.</summary>
/// <param name="Orders">In how many orders another id stands in the place of theirs.</param>
/// <param name="Backups">The backups, written by this program, that still hold the id.</param>
internal sealed record Forgotten(long Orders, IReadOnlyList<string> Backups);

/// <summary>Forgetting a shopper.</summary>
internal static class ForgetEndpoint
{
    public static void MapForget(this IEndpointRouteBuilder routes)
    {
        routes
            .MapPost("/api/shoppers/{id}/forget", Forget)
            .Produces<Forgotten>()
            .Refuses(404, 503)
            .Says("forgetShopper", "selling", "Forget a shopper");
    }

    // What the document says of it stands at each route.
    public static async Task<IResult> Forget(string id, OrderRepository orders, Database database)
    {
        if (await orders.Write(transaction => transaction.Forget(id)) is not { } count)
            return Answers.NotFound(ProblemCode.UnknownName, $"There is no shopper {id}. They may have been forgotten already.");
        // What was deleted is overwritten in the file; what the log beside it still holds goes with it.
        if (!await database.EmptyLog())
            throw new StorageFault(
                "The shopper was forgotten, but another program reads the store, and its log beside it still holds the id. It goes when the store is closed.",
                passes: true
            );
        return Results.Ok(new Forgotten(count, [.. database.Backups().Where(File.Exists)]));
    }
}
