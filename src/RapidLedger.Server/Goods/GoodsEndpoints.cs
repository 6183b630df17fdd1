using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Goods.Importing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>The place Goods: looked at, written, taken back.</summary>
internal static class GoodsEndpoints
{
    private const int MostAtOnce = 500;
    private static readonly int[] Quantities = [1, 2, 3, 5, 10];

    private const int MostWritten = 50_000;

    public static void MapGoods(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/goods", List)
            .Produces<GoodsPage>()
            .Refuses(400, 422)
            .Says("goods", "goods", "Items as their merchant sees them");
        routes
            .MapPost("/api/goods", Write)
            .Produces<GoodsWritten>()
            .Refuses(400, 413, 415, 422, 503)
            .Says("writeGoods", "goods", "Put items in, or change them");
        routes
            .MapGet("/api/goods/items/{sku}", Detail)
            .Produces<GoodsDetail>()
            .Refuses(404)
            .Says("goodsItem", "goods", "An item, the promotions that touch it, and what changed of it");
        routes
            .MapDelete("/api/goods/items/{sku}", async (string sku, GoodsWriter goods) =>
                await goods.TakeOut(StepSource.App, sku) is { } outcome
                    ? Results.Ok(new GoodsWritten(outcome.Number, outcome.Changed, []))
                    : NoItem(sku)
            )
            .Produces<GoodsWritten>()
            .Refuses(404, 503)
            .Says("takeOut", "goods", "Take an item out of the shop");
        routes
            .MapGet("/api/goods/steps", (StepRepository steps) => steps.Steps().Select(Step).ToArray())
            .Produces<GoodsStep[]>()
            .Says("goodsSteps", "goods", "What was done to goods and shoppers, the last first");
        routes
            .MapPost("/api/goods/steps/{number}/back", async (long number, GoodsWriter goods, StepRepository steps) => await goods.TakeBack(
                    number,
                    $"taken back: {steps.Find(number)?.What}"
                )
                    is not { } back
                    ? Answers.NotFound(ProblemCode.UnknownName, "There is no such step any more, or it was taken back already.")
                : back.Problems.Count > 0 ? Answers.Refused(back.Problems)
                : Results.Ok(new StepTakenBack(back.Outcome.Number, back.Outcome.Changed, back.Outcome.Kept)))
            .Produces<StepTakenBack>()
            .Refuses(400, 404, 422, 503)
            .Says("takeStepBack", "goods", "Take a step back");
    }

    private static IResult List(string? q, string? category, string? filter, int? from, int? take, OpenShop shop)
    {
        if (take is < 1 or > MostAtOnce)
            return Answers.Refused("/take", ProblemCode.OutOfRange, $"From 1 to {MostAtOnce} items are given at once.");
        if (filter is not (null or "" or "reduced" or "noCost" or "out" or "belowFloor" or "touched"))
            return Answers.Refused("/filter", ProblemCode.UnknownValue, "Known are: reduced, noCost, out, belowFloor, touched.");
        var setup = shop.Setup;
        var catalogue = setup.Catalogue;
        var held = string.IsNullOrEmpty(category) ? null : catalogue.Select(new([new Term.InCategory(category)])).ToHashSet();
        var all = Enumerable.Range(0, catalogue.Count).Where(number => !catalogue.Variant(number).Gone).ToArray();
        var found = (string.IsNullOrWhiteSpace(q) ? all : setup.Search.Numbers(q.Trim()))
            .Where(number => held is null || held.Contains(number))
            .Where(Filter(filter, shop))
            .ToArray();
        var page = found.Skip(Math.Max(0, from ?? 0)).Take(take ?? 100).ToArray();
        var left = shop.Left([.. page.Select(number => catalogue.Variant(number).Sku)]);
        return Results.Ok(new GoodsPage([.. page.Select(number => Item(number, setup, left))], found.Length, all.Length));
    }

    private static Func<int, bool> Filter(string? filter, OpenShop shop)
    {
        var (catalogue, currency) = (shop.Catalogue, shop.Store.Currency);
        var prices = catalogue.PricesIn(currency);
        switch (filter)
        {
            case "reduced":
                return number => prices.Current(number) < prices.Regular(number);
            case "noCost":
                return number => prices.Cost(number) is null;
            case "out":
                var left = shop.Left([.. catalogue.Skus]);
                return number => catalogue.Variant(number).Free(left) is 0;
            case "belowFloor":
                var floor = (shop.Store.MarginFloor?.Value ?? 0) / 100;
                return number => catalogue.MarginShare(number, prices.Current(number), currency) < floor;
            case "touched":
                var live = shop.Live.Rulebook;
                return number => live.LooksAt(catalogue.Variant(number).Sku);
            default:
                return _ => true;
        }
    }

    private static async Task<IResult> Write(
        WriteGoodsRequest request,
        GoodsWriter goods,
        StepRepository steps,
        OpenShop shop,
        IClock clock
    )
    {
        if (request.Items.Count is 0 or > MostWritten)
            return Answers.Refused("/items", ProblemCode.OutOfRange, $"From 1 to {MostWritten} items are written at once.");
        await shop.FollowSetup();
        var lines = new ItemLines(shop.Setup, isTyped: true);
        for (var place = 0; place < request.Items.Count; place++)
            if (request.Items[place].ValueKind == JsonValueKind.Object)
                lines.Add(new(place + 1, JsonObject.Create(request.Items[place])!));
            else
                return Answers.Refused($"/items/{place}", ProblemCode.WrongType, "An item is expected here.");
        if (lines.Bad.Count > 0)
            return Refused(lines.Bad);
        // What would be sold below cost is said, and written all the same: the merchant sees it at once.
        var rows = steps.Preview(lines.Changes).OfType<ChangedRow>().Where(lines.Accepts).ToArray();
        if (lines.Bad.Count > 0)
            return Refused(lines.Bad);
        var effects = rows.Length is > 0 and <= MostAtOnce ? ImportEffects.BelowCost(rows, shop, clock.GetCurrentInstant()) : [];
        var (outcome, bad) = await goods.Write(StepSource.App, request.What ?? $"{rows.Length} changed", lines);
        return bad.Count > 0 ? Refused(bad) : Results.Ok(new GoodsWritten(outcome.Number, outcome.Changed, effects));
    }

    private static IResult Detail(string sku, OpenShop shop, StepRepository steps, IClock clock)
    {
        var setup = shop.Setup;
        if (setup.Catalogue.Find(sku) is not (>= 0 and var number) || setup.Catalogue.Variant(number).Gone)
            return NoItem(sku);
        var today = clock.GetCurrentInstant().InZone(shop.Store.Zone).LocalDateTime;
        return Results.Ok(
            new GoodsDetail(
                Item(number, setup, shop.Left([sku])),
                [
                    .. shop
                        .Live.Rulebook.LookingAt(sku)
                        .Where(promotion => promotion.Window?.End is not { } end || end > today)
                        .Select(promotion => Alone(promotion, number, setup, today)),
                ],
                [.. Quantities.Select(units => Priced(units, sku, shop, clock.GetCurrentInstant()))],
                [
                    // Name, category, brand and tags are its product's.
                    .. steps
                        .ChangesOf("variant", sku)
                        .Concat(steps.ChangesOf("product", setup.Catalogue.ProductOf(number).Id))
                        .OrderByDescending(change => change.At, StringComparer.Ordinal)
                        .Select(change => new ItemChange(
                            By(change.Source, change.Who),
                            change.What,
                            change.At,
                            change.Before,
                            change.After
                        )),
                ]
            )
        );
    }

    private static QuantityPrice Priced(int units, string sku, OpenShop shop, Instant now)
    {
        var net = shop.Live.Rulebook.Price(new(now, [new Line(sku, units)])).Lines[0].Net;
        var (catalogue, currency) = (shop.Catalogue, shop.Store.Currency);
        var number = catalogue.Find(sku);
        var untaxed = catalogue.WithoutTax(number, net);
        return new(
            units,
            currency.Write(net),
            currency.Write(net / units),
            untaxed > 0 && catalogue.PricesIn(currency).Cost(number) is { } cost
                ? Margin((untaxed - (units * cost)) / (decimal)untaxed)
                : null
        );
    }

    // One that begins later is priced as at its beginning.
    private static GoodsPromotion Alone(Promotion promotion, int number, ShopSetup setup, LocalDateTime today)
    {
        var (currency, zone) = (setup.Catalogue.Store.Currency, setup.Catalogue.Store.Zone);
        var from = promotion.Window?.Start is { } start && start > today ? promotion.Window.Start : null;
        var cart = new Cart(
            (from ?? today).InZoneLeniently(zone).ToInstant(),
            [new Line(setup.Catalogue.Variant(number).Sku, 1)],
            Codes: [.. promotion.Trigger?.Codes.Take(1) ?? []]
        );
        var net = Rulebook.Compile(setup.Catalogue, [promotion with { State = State.Live }]).Price(cart).Lines[0].Net;
        return new(
            promotion.Id,
            promotion.Named,
            currency.Write(net),
            Margin(setup.Catalogue.MarginShare(number, net, currency)),
            from is { } begins ? setup.Wording.Say(begins) : null
        );
    }

    private static GoodsItem Item(int number, ShopSetup setup, IReadOnlyDictionary<string, long> left)
    {
        var (catalogue, currency) = (setup.Catalogue, setup.Catalogue.Store.Currency);
        var (variant, product, prices) = (catalogue.Variant(number), catalogue.ProductOf(number), catalogue.PricesIn(currency));
        return new(
            variant.Sku,
            setup.Wording.Item(variant.Sku),
            product.Id,
            product.Name,
            product.Category is { } id ? catalogue.Categories[id].Name : null,
            product.Category,
            product.Brand,
            [.. product.Tags],
            product.TaxClass,
            currency.Write(prices.Regular(number)),
            prices.Current(number) < prices.Regular(number) ? currency.Write(prices.Current(number)) : null,
            prices.Cost(number) is { } cost ? currency.Write(cost) : null,
            Margin(catalogue.MarginShare(number, prices.Current(number), currency)),
            variant.Free(left),
            variant.Grams,
            [.. variant.Options.Select(option => new ItemOption(option.Name, option.Value))]
        );
    }

    private static decimal? Margin(decimal? share) => share is { } known ? Math.Round(known * 100, 1) : null;

    private static GoodsStep Step(StoredStep step) =>
        new(step.Number, By(step.Source, step.Who), step.What, step.At, step.Rows, step.TakesBack, step.TakenBack);

    private static string By(string source, string who) =>
        source switch
        {
            "app" => "here",
            "file" => $"from {who}",
            _ => $"by {who}",
        };

    private static IResult Refused(IReadOnlyList<BadLine> bad) =>
        Answers.Refused([
            .. bad.Select(one => new Problem(
                one.Line == 0 ? $"/{one.Member}" : $"/items/{one.Line - 1}/{one.Member}",
                one.Code,
                one.Message
            )),
        ]);

    private static IResult NoItem(string sku) => Answers.NotFound(ProblemCode.UnknownSku, $"There is no item {sku}.");
}
