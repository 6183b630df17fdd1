using RapidLedger.Formats;
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

/// <summary>Keys of the store interface, made and withdrawn by the merchant.</summary>
internal static class KeyEndpoints
{
    private const int MostName = 100;

    public static void MapKeys(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/keys", (KeyRepository keys) =>
                keys.All().Select(key => new KeyRow(key.Id, key.Kind, key.Name, key.MadeAt, key.WithdrawnAt)).ToArray()
            )
            .Produces<KeyRow[]>()
            .Says("keys", "selling", "The keys of the store interface");
        routes
            .MapPost("/api/keys", async (KeyRequest request, StoreKeys keys) =>
            {
                if (request.Kind is not (StoreCaller.Server or StoreCaller.Page))
                    return Answers.Refused("/kind", ProblemCode.UnknownValue, "A key is of the kind server or page.");
                var name = request.Name?.Trim() ?? "";
                if (name.Length is 0 or > MostName)
                    return Answers.Refused(
                        "/name",
                        ProblemCode.OutOfRange,
                        $"Say in 1 to {MostName} characters what the key is for, so that it is known which to withdraw."
                    );
                var (id, key) = await keys.Make(request.Kind, name);
                return Results.Json(new MadeKey(id, key), statusCode: StatusCodes.Status201Created);
            })
            .Produces<MadeKey>(201)
            .Refuses(400, 413, 415, 422, 503)
            .Says("makeKey", "selling", "Make a key of the store interface");
        routes
            .MapDelete("/api/keys/{id}", async (string id, KeyRepository keys) =>
                await keys.Withdraw(id)
                    ? Results.NoContent()
                    : Answers.NotFound(ProblemCode.UnknownName, $"There is no good key {id}. It may have been withdrawn already.")
            )
            .Produces(204)
            .Refuses(404, 503)
            .Says("withdrawKey", "selling", "Withdraw a key");
    }
}
