using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>A cart that a shop asks the price of.</summary>
/// <param name="Cart">As in a case, without <c>at</c>.</param>
/// <param name="Replaces">A held order of the same shopper that counts as if it were not there.</param>
internal sealed record QuoteRequest(JsonElement Cart, string? Replaces = null);

/// <summary>What a cart costs now.</summary>
/// <param name="Edition">The edition it was priced under.</param>
/// <param name="ValidUntil">When the next window begins or ends, at most midnight in the shop.</param>
/// <param name="Shown">What placing the order sends back.</param>
/// <param name="Result">What the shopper is told.</param>
/// <param name="Dropped">Picks that are no longer offered.</param>
internal sealed record Quote(long Edition, string ValidUntil, JsonObject Shown, JsonObject Result, IReadOnlyList<DroppedPick> Dropped);

/// <summary>An order to be placed.</summary>
/// <param name="Cart">As it was quoted.</param>
/// <param name="Shown">As it was shown: the order is placed only if it still is so.</param>
/// <param name="Id">The shop's own id for it; none: one is given.</param>
/// <param name="Replaces">A held order of the same shopper that this one takes the place of.</param>
/// <param name="Hold">How long it is held, in seconds, up to 14 days; none: as the store has set it (30 minutes unless said).</param>
/// <param name="Take">Whether it is paid already and taken at once.</param>
internal sealed record PlaceRequest(
    JsonElement Cart,
    JsonElement Shown,
    string? Id = null,
    string? Replaces = null,
    long? Hold = null,
    bool? Take = null
);

/// <summary>That an order was paid: there is nothing to say beside.</summary>
internal sealed record TakeRequest;

/// <summary>What comes back of an order.</summary>
/// <param name="Lines">Units by line; none: everything.</param>
internal sealed record GiveBackRequest(IReadOnlyList<ReturnedLine>? Lines = null);

/// <summary>Units of a line that come back.</summary>
/// <param name="Line">The line's place in the order, from 0; gifts come after the lines.</param>
/// <param name="Quantity">How many units.</param>
internal sealed record ReturnedLine(int Line, long Quantity);

/// <summary>Orders that changed.</summary>
/// <param name="Orders">In the order of their changes.</param>
/// <param name="After">The change to go on after.</param>
/// <param name="More">Whether there are more already.</param>
internal sealed record ChangedOrders(IReadOnlyList<JsonObject> Orders, long After, bool More);

/// <summary>Whether the store can be sold from.</summary>
/// <param name="Status">ready, or notStoring while writes do not come through.</param>
internal sealed record StoreHealth(string Status);

/// <summary>Shops have many shoppers at once, whose carts are small: their line is longer.</summary>
internal sealed class StoreGate(Processors processors) : PricingGate(processors, 128);

/// <summary>The store interface: what a shop's server calls to price carts and to place orders.</summary>
internal static class StoreEndpoints
{
    private const int MostChanges = 1_000;
    private const int UsualChanges = 200;

    public static void MapStore(this IEndpointRouteBuilder routes)
    {
        var store = routes.MapGroup("/store/v1");
        store
            .MapPost("/quote", (QuoteRequest request, Quoting quoting, OpenShop shop, StoreGate gate, HttpContext context) =>
                gate.Run(gone => Ask(request, quoting, shop, context, gone), context)
            )
            .Produces<Quote>()
            .Refuses(400, 401, 403, 413, 415, 422, 429, 503)
            .Says("quote", "store", "What a cart costs now");
        store
            .MapPost("/orders", Place)
            .Produces<JsonObject>(201)
            .Refuses(400, 401, 403, 409, 413, 415, 422, 503)
            .Says("placeOrder", "store", "Place an order as it was shown")
            .WithMetadata(new ForServers());
        store
            .MapPost(
                "/orders/{id}/take",
                (string id, TakeRequest? request, [FromHeader(Name = "Idempotency-Key")] string? key, Taking taking, HttpContext context) =>
                    Change(context, key, request ?? new(), call => taking.Take(id, call, context.RequestAborted))
            )
            .Produces<JsonObject>()
            .Refuses(400, 401, 403, 404, 409, 422, 503)
            .Says("takeOrder", "store", "An order was paid")
            .WithMetadata(new ForServers());
        store
            .MapPost(
                "/orders/{id}/give-back",
                (
                    string id,
                    GiveBackRequest? request,
                    [FromHeader(Name = "Idempotency-Key")] string? key,
                    GivingBack givingBack,
                    HttpContext context
                ) =>
                    Answers.EmptyPlace(request?.Lines, "/lines") is { } empty
                        ? Task.FromResult(empty)
                        : Change(context, key, request ?? new(), call => givingBack.GiveBack(id, request, call, context.RequestAborted))
            )
            .Produces<JsonObject>()
            .Refuses(400, 401, 403, 404, 409, 413, 415, 422, 503)
            .Says("giveBackOrder", "store", "Give an order back, all of it or some units")
            .WithMetadata(new ForServers());
        store
            .MapGet("/orders/{id}", OrderBook.Find)
            .Produces<JsonObject>()
            .Refuses(401, 403, 404)
            .Says("order", "store", "An order with its redemptions")
            .WithMetadata(new ForServers());
        store
            .MapGet("/orders", Changes)
            .Produces<ChangedOrders>()
            .Refuses(400, 401, 403, 422)
            .Says("changedOrders", "store", "Orders that changed since, in order")
            .WithMetadata(new ForServers());
        store
            .MapGet("/offers", OfferEndpoint.Find)
            .Produces<ShopOffers>()
            .Refuses(400, 401, 422, 429, 503)
            .Says("offers", "store", "Offers that a shop can show");
        store
            .MapGet("/health", (Database database) => Results.Ok(new StoreHealth(database.Fault is null ? "ready" : "notStoring")))
            .Produces<StoreHealth>()
            .Says("storeHealth", "store", "Whether the store can be sold from")
            .WithMetadata(new ForAnybody());
    }

    // Orders that changed, in order; without "after" from the first, with "after=end" from now on.
    private static async Task<IResult> Changes(string? after, int? take, OrderRepository orders, IClock clock)
    {
        if (take is < 1 or > MostChanges)
            return Answers.Refused("/take", ProblemCode.OutOfRange, $"From 1 to {MostChanges} orders are given at once.");
        return await orders.ReadAt(clock.GetCurrentInstant().ToUnixTimeSeconds(), transaction =>
        {
            var newest = transaction.NewestChange();
            if (after == "end")
                return Results.Ok(new ChangedOrders([], newest, false));
            var from = 0L;
            if (after is not null && (!long.TryParse(after, NumberStyles.None, CultureInfo.InvariantCulture, out from) || from > newest))
                return Answers.Refused(
                    "/after",
                    ProblemCode.OutOfRange,
                    $"The changes go up to {newest}; '{after}' was never given here. If the store was put back from a backup, read its orders anew from the beginning; 'end' begins with what comes next."
                );
            var changed = transaction.ChangedAfter(from, (take ?? UsualChanges) + 1);
            var told = changed.Take(take ?? UsualChanges).ToArray();
            return Results.Ok(
                new ChangedOrders(
                    [.. told.Select(order => OrderForm.Of(order))],
                    told.Length == 0 ? from : told[^1].Change,
                    changed.Count > told.Length
                )
            );
        });
    }

    private static async Task<IResult> Ask(
        QuoteRequest request,
        Quoting quoting,
        OpenShop shop,
        HttpContext context,
        CancellationToken gone
    )
    {
        var caller = StoreKeys.Of(context);
        if (request.Replaces is not null && !caller.MayOrder)
            return Answers.Refused("/replaces", ProblemCode.NotAllowed, "Only a server key may name an order to replace.");
        var outcome = await quoting.Quote(request, caller, gone);
        if (outcome.Value is not { } priced)
            return Answers.Refused(outcome.Problems);
        var result = StoreResult.Of(priced.Priced, shop.WordingIn(priced.Priced.Currency), withheld: priced.Withheld);
        return Results.Ok(
            new Quote(
                priced.Edition.Number,
                shop.ValidUntil(priced.Edition.Rulebook, priced.Priced.Cart.At).ToString(),
                StoreResult.Shown(priced.Priced),
                result,
                priced.Dropped
            )
        );
    }

    private static Task<IResult> Place(
        PlaceRequest request,
        [FromHeader(Name = "Idempotency-Key")] string? key,
        Placing placing,
        HttpContext context
    )
    {
        if (request.Hold is { } hold && (hold < 1 || hold > Placing.LongestHold.TotalSeconds))
            return Task.FromResult(
                Answers.Refused(
                    "/hold",
                    ProblemCode.OutOfRange,
                    $"An order is held for 1 second to {Placing.LongestHold.TotalDays} days, told in seconds."
                )
            );
        if (request.Id is { } id && OrderForm.FaultOf(id) is { } fault)
            return Task.FromResult(Answers.Refused([fault]));
        return Change(context, key, request, call => placing.Place(request, call, context.RequestAborted));
    }

    private static async Task<IResult> Change(HttpContext context, string? key, object body, Func<KeyedCall, Task<Answer>> change)
    {
        if (string.IsNullOrWhiteSpace(key) || key.Length > 255)
            return Answers.Refused(
                StatusCodes.Status400BadRequest,
                [
                    new(
                        "/Idempotency-Key",
                        ProblemCode.Missing,
                        "A call that changes something carries an Idempotency-Key of its own, of at most 255 characters, so that it can be sent again."
                    ),
                ]
            );
        return (await change(KeyedCalls.Of(context, key, JsonSerializer.SerializeToUtf8Bytes(body)))).Result;
    }
}
