using System.Globalization;
using System.Text.Json;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Selling;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.PastOrders;

/// <summary>An order from before, in the list.</summary>
/// <param name="Id">Its id here.</param>
/// <param name="Number">Its number where it comes from.</param>
/// <param name="PlacedAt">When, as an ISO 8601 instant.</param>
/// <param name="Who">Who bought: a name or an id; null: nobody that is known.</param>
/// <param name="Currency">In which it was paid.</param>
/// <param name="Total">What it came to, in the store's own currency.</param>
/// <param name="Codes">The codes that were entered.</param>
/// <param name="Assumed">Whether a price was not said and counts as it was on the day it was brought in.</param>
/// <param name="Next">What asks for those before it.</param>
internal sealed record PastOrderRow(
    long Id,
    string Number,
    string PlacedAt,
    string? Who,
    string Currency,
    string Total,
    IReadOnlyList<string> Codes,
    bool Assumed,
    string Next
);

/// <summary>Orders from before, the last first.</summary>
/// <param name="ReadAs">What was looked for, as it was read.</param>
/// <param name="HasMore">Whether there are more behind them.</param>
internal sealed record PastOrderRows(IReadOnlyList<PastOrderRow> Orders, IReadOnlyList<string> ReadAs, bool HasMore);

/// <summary>A line of an order from before.</summary>
/// <param name="Name">What the shop calls it; its SKU where it does not know it.</param>
/// <param name="Paid">What was paid for it, in the order's currency.</param>
internal sealed record PastOrderLine(string Sku, string Name, long Quantity, string Paid);

/// <summary>An order from before, whole.</summary>
internal sealed record PastOrderPage(
    string Number,
    string PlacedAt,
    string? Who,
    string Currency,
    string Total,
    string Delivery,
    string? Place,
    string? Channel,
    string? Method,
    IReadOnlyList<string> Codes,
    bool Assumed,
    IReadOnlyList<PastOrderLine> Lines
);

/// <summary>Orders that were brought in from before: found and read; nothing is done with them.</summary>
internal static class PastOrderEndpoints
{
    private const int AtOnce = 40;

    public static void MapPastOrders(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/past-orders", List)
            .Produces<PastOrderRows>()
            .Refuses(400, 422)
            .Says("pastOrders", "selling", "Orders from before that were brought in, the last first");
        routes
            .MapGet("/api/past-orders/{id}", Find)
            .Produces<PastOrderPage>()
            .Refuses(400, 404, 422)
            .Says("pastOrder", "selling", "An order from before");
    }

    private static IResult List(
        string? q,
        string? before,
        OpenShop shop,
        ShopRepository shoppers,
        PastOrderRepository past,
        Gatekeeper gate,
        IClock clock
    )
    {
        var typed = q?.Trim() ?? "";
        var (read, readAs) = OrderQuestion.Read(typed, shop, shoppers, clock.GetCurrentInstant());
        var found = past.Find(
            typed.Length == 0
                ? null
                : new(read.Beginning, Trigger.Normal(typed), read.Shoppers, [.. read.Skus, typed], read.Day, read.Amount),
            Behind(before),
            AtOnce + 1
        );
        return Results.Ok(
            new PastOrderRows([.. found.Take(AtOnce).Select(order => Row(order, shop, shoppers, gate))], readAs, found.Count > AtOnce)
        );
    }

    private static IResult Find(long id, OpenShop shop, ShopRepository shoppers, PastOrderRepository past, Gatekeeper gate)
    {
        if (past.Find(id) is not { } found)
            return Answers.NotFound(Formats.ProblemCode.UnknownName, "There is no such order from before.");
        var (order, currency) = (found.Order, Currency.Find(found.Order.Currency)!);
        return Results.Ok(
            new PastOrderPage(
                order.Number,
                Said(order.At),
                Who(order, shoppers, gate),
                order.Currency,
                shop.Store.Currency.Write(order.Total),
                currency.Write(order.Delivery),
                order.Place,
                order.Channel,
                order.Method,
                Codes(order),
                order.Assumed == 1,
                [
                    .. found.Lines.Select(line => new PastOrderLine(
                        line.Sku,
                        shop.Catalogue.Find(line.Sku) < 0 ? line.Sku : shop.Wording.Item(line.Sku),
                        line.Quantity,
                        currency.Write(line.Paid)
                    )),
                ]
            )
        );
    }

    private static PastOrderRow Row(StoredPastOrder order, OpenShop shop, ShopRepository shoppers, Gatekeeper gate) =>
        new(
            order.Id,
            order.Number,
            Said(order.At),
            Who(order, shoppers, gate),
            order.Currency,
            shop.Store.Currency.Write(order.Total),
            Codes(order),
            order.Assumed == 1,
            string.Create(CultureInfo.InvariantCulture, $"{order.Day} {order.Id}")
        );

    private static IReadOnlyList<string> Codes(StoredPastOrder order) => JsonSerializer.Deserialize<string[]>(order.Codes) ?? [];

    // Whoever gets here without a sign-in gets no names.
    private static string? Who(StoredPastOrder order, ShopRepository shoppers, Gatekeeper gate) =>
        order.Shopper is not { } id ? null
        : OrderTransaction.IsStandIn(id) ? "somebody forgotten"
        : !gate.IsPrivate ? id
        : shoppers.FindShopper(id)?.Name ?? id;

    private static string Said(long at) =>
        Instant.FromUnixTimeSeconds(at).ToString("uuuu-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);

    private static (string Day, long Id)? Behind(string? before) =>
        before?.Split(' ') is [var day, var number] && long.TryParse(number, CultureInfo.InvariantCulture, out var id) ? (day, id) : null;
}
