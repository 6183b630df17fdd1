using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>An order in the list.</summary>
/// <param name="State">held, taken, givenBack or lapsed.</param>
/// <param name="HeldUntil">When a hold is over.</param>
/// <param name="Who">Who bought: a name, "a guest", "somebody forgotten"; null: nobody that is known.</param>
/// <param name="Due">What was to pay, in its own currency.</param>
/// <param name="Saving">What promotions took off.</param>
/// <param name="Promotions">What applied, as the shopper read it.</param>
/// <param name="Change">Goes up with every change of any order.</param>
internal sealed record OrderRow(
    string Id,
    string State,
    string PlacedAt,
    string? HeldUntil,
    string? Who,
    bool Rehearsal,
    string Currency,
    string Due,
    string Saving,
    IReadOnlyList<string> Promotions,
    long Change
);

/// <summary>Orders, those that changed last first.</summary>
/// <param name="HasMore">Whether there are more behind them.</param>
internal sealed record OrderRows(IReadOnlyList<OrderRow> Orders, bool HasMore);

/// <summary>The shop's orders as the merchant looks them up: what was bought, what applied, and moved on by hand.</summary>
internal static class OrderBook
{
    private const int AtOnce = 40;
    private const int MostShoppers = 20;
    private const int MostMeant = 200;

    public static void MapOrderBook(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/orders", async (string? q, long? before, ShopRepository shoppers, OrderRepository orders, IClock clock) =>
                await Rows(q?.Trim() ?? "", before, shoppers, orders, clock)
            )
            .Produces<OrderRows>()
            .Refuses(400, 422)
            .Says("orderRows", "selling", "Orders, those that changed last first");
        routes.MapGet("/api/orders/{id}", Find).Produces<JsonObject>().Refuses(404).Says("orderPage", "selling", "An order");
        routes
            .MapPost("/api/orders/{id}/take", async (string id, Taking taking, HttpContext context) =>
                (await taking.Take(id, null, context.RequestAborted)).Result
            )
            .Produces<JsonObject>()
            .Refuses(404, 409, 503)
            .Says("takeByHand", "selling", "An order was paid, by hand");
        routes
            .MapPost(
                "/api/orders/{id}/give-back",
                async (string id, GiveBackRequest? request, GivingBack givingBack, HttpContext context) =>
                    Answers.EmptyPlace(request?.Lines, "/lines")
                    ?? (await givingBack.GiveBack(id, request, null, context.RequestAborted)).Result
            )
            .Produces<JsonObject>()
            .Refuses(400, 404, 409, 413, 415, 422, 503)
            .Says("giveBackByHand", "selling", "Give an order back, by hand");
    }

    // One order, with its redemptions. What the document says of it stands at each route.
    public static async Task<IResult> Find(string id, OrderRepository orders, OpenShop shop, IClock clock)
    {
        var (order, uses) = await orders.ReadAt(clock.GetCurrentInstant().ToUnixTimeSeconds(), transaction =>
            (transaction.Find(id), transaction.UsesOf(id))
        );
        return order is null ? OrderForm.None(id).Result : Results.Ok(OrderForm.Whole(order, uses, shop.Store.Currency));
    }

    private static Task<OrderRows> Rows(string q, long? before, ShopRepository shoppers, OrderRepository orders, IClock clock)
    {
        string[] named = q.Length == 0 ? [] : [.. shoppers.SearchShoppers(q, MostShoppers).Select(shopper => shopper.Id), q];
        return orders.ReadAt(clock.GetCurrentInstant().ToUnixTimeSeconds(), transaction =>
        {
            var found = transaction.Newest(
                before,
                q.Length == 0 ? null : transaction.Meant(q, named, Trigger.Bare(Trigger.Normal(q)), MostMeant),
                AtOnce + 1
            );
            return new OrderRows([.. found.Take(AtOnce).Select(order => Row(order, Who(order, transaction)))], found.Count > AtOnce);
        });
    }

    private static OrderRow Row(StoredOrder order, string? who)
    {
        var told = OrderForm.Of(order);
        var (result, totals) = (told["result"]!, told["result"]!["totals"]!);
        return new(
            order.Id,
            order.State,
            (string)told["placedAt"]!,
            (string?)told["heldUntil"],
            who,
            order.Rehearsal,
            (string)result["currency"]!,
            (string)totals["due"]!,
            (string)totals["saving"]!,
            [.. result["promotions"]!.AsArray().Select(promotion => (string)promotion!["label"]!)],
            order.Change
        );
    }

    private static string? Who(StoredOrder order, OrderTransaction transaction) =>
        order.Shopper switch
        {
            null => null,
            var guest when guest.StartsWith(OrderTransaction.Guest, StringComparison.Ordinal) => "a guest",
            var forgotten when forgotten.StartsWith(OrderTransaction.Forgotten, StringComparison.Ordinal) => "somebody forgotten",
            var id => transaction.Shopper(id)?.Name ?? id,
        };
}
