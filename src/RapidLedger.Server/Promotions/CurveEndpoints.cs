using System.Text.Json;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Tape;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Promotions;

/// <summary>A promotion as typed, and the cart in which one item becomes more and more.</summary>
/// <param name="Cart">As in a case; without <c>at</c> it is priced now.</param>
/// <param name="Sku">The item; none: the first of the cart that the promotion looks at, else the first of the catalogue.</param>
/// <param name="Most">How many units it goes to; none: as far as the promotion has something to show.</param>
internal sealed record CurveRequest(JsonElement Cart, JsonElement Draft, string? Sku = null, int? Most = null);

/// <summary>What a cart costs with more and more of an item. Amounts are decimal strings of the cart's currency.</summary>
/// <param name="Items">Items to choose from: those of the cart, then some that the promotion looks at.</param>
/// <param name="IsWhole">Whether it goes as far as was asked.</param>
internal sealed record CurveAnswer(
    string Currency,
    string Sku,
    string Name,
    IReadOnlyList<PrintedItem> Items,
    IReadOnlyList<PlottedPoint> Points,
    IReadOnlyList<PlottedMark> Marks,
    bool IsWhole
);

/// <summary>One place of a curve.</summary>
/// <param name="Spend">The goods of the whole cart at current prices.</param>
/// <param name="Before">The total without the promotion.</param>
/// <param name="After">The total with it.</param>
/// <param name="Margin">Null: not known.</param>
internal sealed record PlottedPoint(int Units, string Spend, string Before, string After, string? Margin);

/// <summary>Something worth knowing about a curve.</summary>
/// <param name="Kind">begins, step, flat, cliff or belowCost.</param>
internal sealed record PlottedMark(string Kind, IReadOnlyList<int> Places, string Sentence);

/// <summary>A sentence that a shopper reads, and when.</summary>
internal sealed record Said(string Situation, string Sentence);

/// <summary>What shoppers read in a language.</summary>
internal sealed record SaidIn(string Language, IReadOnlyList<Said> Sentences);

/// <summary>The price curve of a promotion being written, and what it says to shoppers.</summary>
internal static class CurveEndpoints
{
    private const int ItemsOffered = 12;

    public static void MapCurve(this IEndpointRouteBuilder routes)
    {
        routes
            .MapPost("/api/says", (CurveRequest request, OpenShop shop, IClock clock, BackgroundGate gate, HttpContext context) =>
                gate.Run(_ => Say(request, shop, clock), context)
            )
            .Produces<IReadOnlyList<SaidIn>>()
            .Refuses(400, 413, 415, 422, 429, 503)
            .Says("says", "review", "What a shopper reads of a promotion");
        routes
            .MapPost("/api/curve", (CurveRequest request, OpenShop shop, IClock clock, BackgroundGate gate, HttpContext context) =>
                gate.Run(gone => Plot(request, shop, clock, gone), context)
            )
            .Produces<CurveAnswer>()
            .Refuses(400, 413, 415, 422, 429, 503)
            .Says("curve", "review", "What is paid with more and more of an item");
    }

    // What a shopper reads, in each language that is spoken.
    private static IResult Say(CurveRequest request, OpenShop shop, IClock clock)
    {
        var (asked, problems) = Read(request, shop, clock);
        if (asked is null)
            return Answers.Refused(problems);
        var wording = shop.WordingIn(asked.Cart.Currency ?? shop.Store.Currency);
        var alone = Rulebook.Compile(shop.Catalogue, [asked.Started]);
        return Results.Ok(
            Wording
                .Languages.Select(language => new SaidIn(
                    language,
                    [
                        .. SaysPreview
                            .Of(alone, asked.Promotion, asked.Cart with { Language = language }, asked.Sku, wording)
                            .Select(said => new Said(said.Situation, said.Sentence)),
                    ]
                ))
                .ToArray()
        );
    }

    private static (Asked? Asked, IReadOnlyList<Problem> Problems) Read(CurveRequest request, OpenShop shop, IClock clock)
    {
        var read = shop.Read(request.Draft.GetRawText());
        if (read.Promotion is not { } promotion)
            return (null, read.Problems.Under("/draft"));
        var cart = shop.ReadCart(request.Cart, clock.GetCurrentInstant());
        if (cart.Value is null)
            return (null, cart.Problems.Under("/cart"));
        if (request.Sku is { } asked && shop.Catalogue.Find(asked) < 0)
            return (null, [new("/sku", ProblemCode.UnknownSku, $"There is no item {asked}.")]);
        if (request.Most is < 1 or > PriceCurve.Most)
            return (null, [new("/most", ProblemCode.OutOfRange, $"From 1 to {PriceCurve.Most} units are expected, not {request.Most}.")]);

        // What it does, not whether it may.
        var started = promotion.AsIfOpen();
        var items = Items(started, cart.Value, shop);
        return (request.Sku ?? items.FirstOrDefault()) is { } sku
            ? (new(promotion, started, cart.Value, sku, items), [])
            : (null, [new("/sku", ProblemCode.Empty, "There is no item in the catalogue yet.")]);
    }

    private static IResult Plot(CurveRequest request, OpenShop shop, IClock clock, CancellationToken gone)
    {
        var (asked, problems) = Read(request, shop, clock);
        if (asked is null)
            return Answers.Refused(problems);
        var (live, cart) = (shop.Live.Rulebook, asked.Cart);
        var price = shop.Catalogue.PricesIn(shop.Store.Currency).Current(shop.Catalogue.Find(asked.Sku));
        var curve = PriceCurve.Of(
            live.With(asked.Started),
            live.With([], [asked.Promotion.Id]),
            cart,
            asked.Sku,
            request.Most ?? UnitSteps.Reach(asked.Promotion, price, shop.Store),
            shop.WordingIn(cart.Currency ?? shop.Store.Currency),
            shop.ContextOf(cart, []).Usage,
            gone
        );
        return Results.Ok(Answer(curve, asked.Items, cart.Currency ?? shop.Store.Currency, shop));
    }

    // A promotion as if it were started, open and with uses left, and what it is tried with.
    private sealed record Asked(Promotion Promotion, Promotion Started, Cart Cart, string Sku, IReadOnlyList<string> Items);

    private static CurveAnswer Answer(PriceCurve curve, IReadOnlyList<string> items, Currency currency, OpenShop shop) =>
        new(
            currency.Code,
            curve.Sku,
            shop.Wording.Item(curve.Sku),
            [.. items.Select(item => new PrintedItem(item, shop.Wording.Item(item)))],
            [
                .. curve.Points.Select(point => new PlottedPoint(
                    point.Units,
                    currency.Write(point.Spend),
                    currency.Write(point.Before),
                    currency.Write(point.After),
                    point.Margin is { } margin ? currency.Write(margin) : null
                )),
            ],
            [
                .. curve.Marks.Select(mark => new PlottedMark(
                    JsonNamingPolicy.CamelCase.ConvertName(mark.Kind.ToString()),
                    mark.Places,
                    mark.Sentence
                )),
            ],
            curve.IsWhole
        );

    // Those of the cart that it looks at, then some of the catalogue that it does, then what else is in the cart or the catalogue.
    private static List<string> Items(Promotion promotion, Cart cart, OpenShop shop)
    {
        var alone = Rulebook.Compile(shop.Catalogue, [promotion]);
        string[] inCart = [.. cart.Lines.Select(line => line.Sku).Distinct(StringComparer.Ordinal)];
        return
        [
            .. inCart
                .Where(alone.LooksAt)
                .Concat(shop.Catalogue.Skus.Where(alone.LooksAt).Take(ItemsOffered))
                .Concat(inCart)
                .Concat(shop.Catalogue.Skus.Take(1))
                .Distinct(StringComparer.Ordinal)
                .Take(ItemsOffered),
        ];
    }
}
