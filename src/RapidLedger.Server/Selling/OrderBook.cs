using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
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
/// <param name="ReadAs">What was looked for, as it was read: "promotion Spring", "day 3 Dec 2026"; empty: nothing was.</param>
/// <param name="HasMore">Whether there are more behind them.</param>
internal sealed record OrderRows(IReadOnlyList<OrderRow> Orders, IReadOnlyList<string> ReadAs, bool HasMore);

/// <summary>A promotion of an order, by its rule as it stood then.</summary>
/// <param name="Id">Which.</param>
/// <param name="Name">What the merchant calls it.</param>
/// <param name="Clauses">Its rule as it stood in that edition; empty where that cannot be read any more.</param>
/// <param name="IsSame">Whether it is live now and says the same.</param>
internal sealed record RuleThen(string Id, string Name, IReadOnlyList<string> Clauses, bool IsSame);

/// <summary>By which rules an order was priced.</summary>
/// <param name="Edition">The edition that was live; 0: none.</param>
/// <param name="PublishedAt">When it was put live.</param>
/// <param name="Promotions">Those that applied.</param>
internal sealed record OrderRules(long Edition, string? PublishedAt, IReadOnlyList<RuleThen> Promotions);

/// <summary>The shop's orders as the merchant looks them up: what was bought, what applied, and moved on by hand.</summary>
internal static class OrderBook
{
    private const int AtOnce = 40;

    public static void MapOrderBook(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/orders", Rows)
            .Produces<OrderRows>()
            .Refuses(400, 422)
            .Says("orderRows", "selling", "Orders, those that changed last first");
        routes.MapGet("/api/orders/{id}", Find).Produces<JsonObject>().Refuses(404).Says("orderPage", "selling", "An order");
        routes
            .MapGet("/api/orders/{id}/rules", Rules)
            .Produces<OrderRules>()
            .Refuses(404)
            .Says("orderRules", "selling", "The rules by which an order was priced, as they stood then");
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

    private static async Task<IResult> Rows(
        string? q,
        string? state,
        string? shopper,
        string? promotion,
        string? from,
        string? to,
        long? before,
        OpenShop shop,
        ShopRepository shoppers,
        OrderRepository orders,
        Gatekeeper gate,
        IClock clock
    )
    {
        if (state is not (null or "" or "held" or "taken" or "givenBack" or "lapsed"))
            return Answers.Refused("/state", ProblemCode.UnknownValue, "Known are: held, taken, givenBack, lapsed.");
        foreach (var (at, day) in new[] { ("/from", from), ("/to", to) })
            if (day is { Length: > 0 } && !LocalDatePattern.Iso.Parse(day).Success)
                return Answers.Refused(at, ProblemCode.WrongType, "A day is expected here, such as 2026-12-28.");
        var now = clock.GetCurrentInstant();
        // Of one shopper: theirs and nobody's whose id begins alike.
        var (query, readAs) = string.IsNullOrEmpty(shopper)
            ? OrderQuestion.Read(q?.Trim() ?? "", shop, shoppers, now)
            : (OrderQuery.All with { Shoppers = [shopper] }, []);
        return Results.Ok(await orders.ReadAt(now.ToUnixTimeSeconds(), transaction =>
            {
                var found = transaction.Find(
                    query with
                    {
                        State = Given(state),
                        Of = Given(promotion),
                        From = Given(from),
                        To = Given(to),
                    },
                    before,
                    AtOnce + 1
                );
                return new OrderRows(
                    [.. found.Take(AtOnce).Select(order => Row(order, Who(order, transaction, gate)))],
                    readAs,
                    found.Count > AtOnce
                );
            }));
    }

    private static string? Given(string? text) => string.IsNullOrEmpty(text) ? null : text;

    // The promotions that applied, read from the edition of the order; names and items are called as they are now.
    private static IResult Rules(string id, OrderRepository orders, OpenShop shop, PromotionRepository promotions)
    {
        var (order, uses) = orders.Read(transaction => (transaction.Find(id), transaction.UsesOf(id)));
        if (order is null)
            return OrderForm.None(id).Result;
        var ids = uses.Select(use => use.Promotion).ToArray();
        var now = promotions.Documents(promotions.NewestEdition()?.Number ?? 0, ids);
        return Results.Ok(
            new OrderRules(
                order.Edition,
                promotions.PublishedAt(order.Edition),
                [
                    .. promotions
                        .Documents(order.Edition, ids)
                        .Select(one =>
                        {
                            var read = shop.Read(one.Value);
                            return new RuleThen(
                                one.Key,
                                read.Promotion?.Named ?? one.Key,
                                [.. read.Clauses.Where(clause => !clause.Quiet).Select(clause => clause.Text)],
                                now.GetValueOrDefault(one.Key) == one.Value
                            );
                        }),
                ]
            )
        );
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

    private static string? Who(StoredOrder order, OrderTransaction transaction, Gatekeeper gate) =>
        order.Shopper switch
        {
            null => null,
            var guest when guest.StartsWith(OrderTransaction.Guest, StringComparison.Ordinal) => "a guest",
            var forgotten when forgotten.StartsWith(OrderTransaction.Forgotten, StringComparison.Ordinal) => "somebody forgotten",
            // Whoever gets here without a sign-in gets no names.
            var id when !gate.IsPrivate => id,
            var id => transaction.Shopper(id)?.Name ?? id,
        };
}
