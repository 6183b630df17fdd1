using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Promotions;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Tape;

/// <summary>A cart to price, beside a draft if one is being written.</summary>
/// <param name="Cart">As in a case; without <c>at</c> it is priced now.</param>
/// <param name="Draft">A promotion as typed; it takes part as if it were live.</param>
/// <param name="AsShopper">Whether it is also told what a shopper would be, as the store interface tells it.</param>
internal sealed record TapeRequest(JsonElement Cart, JsonElement? Draft = null, bool? AsShopper = null);

/// <summary>Pricing: a cart of the shop for the tape, and any case whole.</summary>
internal static class TapeEndpoints
{
    public static void MapTape(this IEndpointRouteBuilder routes)
    {
        routes
            .MapPost(
                "/api/tape",
                (
                    TapeRequest request,
                    int? effort,
                    OpenShop shop,
                    TapePrinter printer,
                    LiveSide side,
                    OrderRepository orders,
                    IClock clock,
                    PricingGate gate,
                    HttpContext context
                ) => gate.Run(gone => Print(request, effort, shop, printer, side, orders, clock, gone), context)
            )
            .Produces<TapeAnswer>()
            .Refuses(400, 413, 415, 422, 429, 503)
            .Says("tape", "tape", "Price a cart beside what is being written");
        routes
            .MapPost("/api/tape/case", AsCase)
            .Produces<JsonElement>()
            .Refuses(400, 413, 415, 422)
            .Says("tapeAsCase", "tape", "All that the tape was priced with, as a case");
        routes
            .MapGet("/schemas/{name}.json", (string name) => name switch
                {
                    "case" => Results.Json(Schemas.Case()),
                    "promotion" => Results.Json(Schemas.Promotion()),
                    "result" => Results.Json(Schemas.Result()),
                    _ => Answers.NotFound(ProblemCode.UnknownName, "There are schemas of case, promotion and result."),
                })
            .Produces<JsonElement>()
            .Refuses(404)
            .Says("schema", "files", "The JSON Schema of a case, a promotion or a result");
        routes
            .MapPost("/api/price", async (HttpContext context, int? effort, PricingGate gate) =>
            {
                if (EffortFault(effort) is { } fault)
                    return fault;
                using var body = new MemoryStream();
                await context.Request.Body.CopyToAsync(body, context.RequestAborted);
                return await gate.Run(gone => Price(body.GetBuffer().AsMemory(0, (int)body.Length), effort ?? 1, gone), context);
            })
            .Accepts<JsonElement>("application/json")
            .Produces<JsonElement>()
            .Refuses(413, 422, 429, 503)
            .Says("price", "files", "Price a case");
    }

    private static IResult Price(ReadOnlyMemory<byte> document, int effort, CancellationToken gone)
    {
        var reading = CaseReader.Read(document);
        return reading.Value is null
            ? Answers.Refused(reading.Problems)
            : Results.Bytes(ResultWriter.Write(reading, effort, gone), "application/json");
    }

    // Pricing is broken off when its caller has gone away.
    private static async Task<IResult> Print(
        TapeRequest request,
        int? effort,
        OpenShop shop,
        TapePrinter printer,
        LiveSide side,
        OrderRepository orders,
        IClock clock,
        CancellationToken gone
    )
    {
        if (EffortFault(effort) is { } fault)
            return fault;
        var read = request.Draft is { ValueKind: not JsonValueKind.Null } document ? shop.Read(document.GetRawText()) : null;
        var (draft, draftProblems, clauses) = (read?.Promotion, read?.Problems ?? [], read?.Clauses ?? []);
        var now = clock.GetCurrentInstant();
        await orders.Lapse(now.ToUnixTimeSeconds());
        var cart = shop.ReadCart(request.Cart, now);
        if (draftProblems.Count > 0 || cart.Value is null)
            return Results.Ok(
                new TapeAnswer(null, null, draftProblems, cart.Problems, clauses, draft is null ? [] : NextOpening.Of(draft, now, shop))
            );

        var edition = shop.Live;
        var beside = draft is null ? edition.Rulebook : edition.Rulebook.With(draft);
        var context = shop.ContextOf(cart.Value, [.. beside.Givable.Union(edition.Rulebook.Givable)], effort: effort);
        var asLive = side.Price(edition.Rulebook, cart.Value, context, draft is not null, gone);
        if (draft is null)
            return Results.Ok(new TapeAnswer(printer.Print(await asLive, null, edition), null, [], [], [], []));
        var priced = Metrics.Measured(() => context.Price(beside, cart.Value, gone));
        var live = await asLive;
        return Results.Ok(
            new TapeAnswer(
                printer.Print(priced, live, edition),
                printer.Beside(live, priced),
                [],
                [],
                clauses,
                NextOpening.Of(draft, cart.Value.At, shop)
            )
            {
                AsShopper = request.AsShopper == true ? StoreResult.Of(priced, shop.WordingIn(priced.Currency)) : null,
            }
        );
    }

    private static IResult? EffortFault(int? effort) =>
        effort is null or (>= 1 and <= Rulebook.MostEffort)
            ? null
            : Answers.Refused("/effort", ProblemCode.OutOfRange, $"An effort from 1 to {Rulebook.MostEffort} is expected, not {effort}.");

    /// <summary>Everything the tape was priced with, as one self-contained case.</summary>
    private static async Task<IResult> AsCase(
        TapeRequest request,
        OpenShop shop,
        ShopRepository repository,
        PromotionRepository promotions,
        CodeRepository codes,
        OrderRepository orders,
        IClock clock
    )
    {
        var now = clock.GetCurrentInstant();
        await orders.Lapse(now.ToUnixTimeSeconds());
        if (request.Cart.ValueKind != JsonValueKind.Object)
            return Answers.Refused("/cart", ProblemCode.WrongType, "A cart is an object.");
        var written = JsonObject.Create(request.Cart.Clone())!;
        var cart = shop.ReadCart(written, now);
        if (cart.Value is null)
            return Answers.Refused(cart.Problems);
        if (repository.Find() is not { } stored)
            return Answers.Refused("", ProblemCode.Missing, "There is no shop yet.");
        if (request.Draft is { ValueKind: not (JsonValueKind.Object or JsonValueKind.Null) })
            return Answers.Refused("/draft", ProblemCode.WrongType, "A promotion is an object.");
        var draft = request.Draft is { ValueKind: JsonValueKind.Object } typed ? JsonNode.Parse(typed.GetRawText())!.AsObject() : null;
        // A case holds only what is priced: a draft that makes no sense yet would be refused wherever the case is read.
        if (draft is not null && shop.Read(draft.ToJsonString()) is { Promotion: null, Problems: var problems })
            return Answers.Refused(problems.Under("/draft"));
        return Results.Json(LiveCase.Of(shop, stored, written, cart.Value, draft, promotions, codes));
    }
}
