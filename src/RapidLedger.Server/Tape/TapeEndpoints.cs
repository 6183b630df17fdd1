using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
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
        routes.MapPost("/api/tape", (TapeRequest request, int? effort, OpenShop shop, TapePrinter printer, IClock clock, PricingGate gate, HttpContext context) =>
            gate.Run(gone => Print(request, effort, shop, printer, clock, gone), context)).Produces<TapeAnswer>().Refuses(400, 413, 415, 422, 429, 503).WithName("tape");
        routes.MapPost("/api/tape/case", AsCase).Produces<JsonElement>().Refuses(400, 413, 415, 422).WithName("tapeAsCase");
        routes.MapGet("/schemas/{name}.json", (string name) => name switch
        {
            "case" => Results.Json(Schemas.Case()),
            "promotion" => Results.Json(Schemas.Promotion()),
            "result" => Results.Json(Schemas.Result()),
            _ => Answers.NotFound(ProblemCode.UnknownName, "There are schemas of case, promotion and result."),
        }).Produces<JsonElement>().Refuses(404).WithName("schema");
        routes.MapPost("/api/price", async (HttpContext context, int? effort, PricingGate gate) =>
        {
            if (EffortFault(effort) is { } fault) return fault;
            using var body = new MemoryStream();
            await context.Request.Body.CopyToAsync(body, context.RequestAborted);
            return await gate.Run(gone => Price(body.GetBuffer().AsMemory(0, (int)body.Length), effort ?? 1, gone), context);
        }).Accepts<JsonElement>("application/json").Produces<JsonElement>().Refuses(413, 422, 429, 503).WithName("price");
    }

    private static IResult Price(ReadOnlyMemory<byte> document, int effort, CancellationToken gone)
    {
        var reading = CaseReader.Read(document);
        return reading.Value is null ? Answers.Refused(reading.Problems) : Results.Bytes(ResultWriter.Write(reading, effort, gone), "application/json");
    }

    // Pricing is broken off when its caller has gone away.
    private static IResult Print(TapeRequest request, int? effort, OpenShop shop, TapePrinter printer, IClock clock, CancellationToken gone)
    {
        if (EffortFault(effort) is { } fault) return fault;
        var read = request.Draft is { ValueKind: not JsonValueKind.Null } document ? shop.Read(document.GetRawText()) : null;
        var (draft, draftProblems, clauses) = (read?.Promotion, read?.Problems ?? [], read?.Clauses ?? []);
        var cart = CaseReader.ReadCart(WithClock(request.Cart, clock), shop.Catalogue, shop.Ids);
        if (draftProblems.Count > 0 || cart.Value is null) return Results.Ok(new TapeAnswer(null, null, draftProblems, cart.Problems, clauses, draft is null ? [] : Coming.Of(draft, clock.GetCurrentInstant(), shop)));

        var usage = shop.UsageAt(cart.Value.At, cart.Value.Shopper?.Id);
        var codes = shop.BatchCodes(cart.Value.Codes);
        var edition = shop.Live;
        var live = Metrics.Measured(() => edition.Rulebook.Price(cart.Value, usage, effort ?? 1, gone, codes, shop.Left(edition.Rulebook.Givable)));
        if (draft is null) return Results.Ok(new TapeAnswer(printer.Print(live, null, edition), null, [], [], [], []));
        var beside = edition.Rulebook.With(draft);
        var priced = Metrics.Measured(() => beside.Price(cart.Value, usage, effort ?? 1, gone, codes, shop.Left(beside.Givable)));
        return Results.Ok(new TapeAnswer(printer.Print(priced, live, edition), printer.Beside(live, priced), [], [], clauses, Coming.Of(draft, cart.Value.At, shop))
        {
            AsShopper = request.AsShopper == true ? StoreResult.Of(priced, shop.WordingIn(priced.Currency)) : null,
        });
    }

    private static IResult? EffortFault(int? effort) => effort is null or (>= 1 and <= Pricing.Rulebook.MostEffort)
        ? null
        : Answers.Refused("/effort", ProblemCode.OutOfRange, $"An effort from 1 to {Pricing.Rulebook.MostEffort} is expected, not {effort}.");

    /// <summary>Everything the tape was priced with, as one self-contained case.</summary>
    private static IResult AsCase(TapeRequest request, OpenShop shop, ShopRepository repository, PromotionRepository promotions, CodeRepository codes, IClock clock)
    {
        var cart = CaseReader.ReadCart(WithClock(request.Cart, clock), shop.Catalogue, shop.Ids);
        if (cart.Value is null) return Answers.Refused(cart.Problems);
        if (repository.Find() is not { } stored) return Answers.Refused("", ProblemCode.Missing, "There is no shop yet.");
        if (request.Draft is { ValueKind: not (JsonValueKind.Object or JsonValueKind.Null) }) return Answers.Refused("/draft", ProblemCode.WrongType, "A promotion is an object.");
        var draft = request.Draft is { ValueKind: JsonValueKind.Object } written ? JsonNode.Parse(written.GetRawText())!.AsObject() : null;
        // A case holds only what is priced: a draft that makes no sense yet would be refused wherever the case is read.
        if (draft is not null && shop.Read(draft.ToJsonString()) is { Promotion: null, Problems: var problems }) return Answers.Refused(problems.Under("/draft"));
        var live = promotions.Edition(promotions.NewestEdition()?.Number ?? 0).Select(document => JsonNode.Parse(document)!.AsObject());
        JsonObject[] listed = [.. live.Where(promotion => (string?)promotion["id"] != (string?)draft?["id"]), .. draft is null ? [] : new[] { draft }];
        foreach (var promotion in listed) promotion["state"] = "live";
        var ids = listed.Select(promotion => (string?)promotion["id"]).ToHashSet();
        var usage = shop.UsageAt(cart.Value.At, cart.Value.Shopper?.Id).Where(used => ids.Contains(used.Key));
        return Results.Json(new JsonObject
        {
            ["title"] = $"{shop.Settings.Name}, {cart.Value.At}",
            ["store"] = JsonNode.Parse(stored.Store),
            ["catalogue"] = JsonNode.Parse(stored.Catalogue),
            ["promotions"] = new JsonArray([.. listed]),
            ["batches"] = Batches(listed, cart.Value, shop, codes),
            ["usage"] = new JsonObject(usage.Select(used => KeyValuePair.Create<string, JsonNode?>(used.Key, new JsonObject
            {
                ["total"] = used.Value.Total,
                ["shopper"] = used.Value.Shopper,
                ["today"] = used.Value.Today,
                ["budget"] = shop.Store.Currency.Write(used.Value.Budget),
                ["drawn"] = shop.Store.Currency.Write(used.Value.Drawn),
            }))),
            ["cart"] = JsonNode.Parse(WithClock(request.Cart, clock)),
        });
    }

    // The batches that the promotions name, of their codes those that the cart holds.
    private static JsonObject Batches(JsonObject[] listed, Pricing.Cart cart, OpenShop shop, CodeRepository codes)
    {
        var (entered, batches) = (shop.BatchCodes(cart.Codes), new JsonObject());
        foreach (var promotion in listed)
        {
            var holdsCards = promotion["rewards"] is JsonArray { Count: > 0 } rewards && (string?)rewards[0]?["kind"] == "credit";
            foreach (var id in (promotion["trigger"]?["batches"] as JsonArray ?? []).Select(id => (string)id!))
            {
                if (codes.FindBatch(id) is not { } batch || batches.ContainsKey(id)) continue;
                var form = new JsonObject { ["void"] = batch.Void };
                if (!holdsCards) form["usesEach"] = batch.UsesEach is { } each ? each : "any";
                if (batch.LastDay is { } day) form["lastDay"] = day;
                form["codes"] = new JsonObject(entered.Where(code => code.Value.Batch == id).Select(code => KeyValuePair.Create<string, JsonNode?>(
                    code.Key, holdsCards ? new JsonObject { ["void"] = code.Value.IsVoid, ["drawn"] = shop.Store.Currency.Write(code.Value.Drawn) } : new JsonObject { ["void"] = code.Value.IsVoid, ["used"] = code.Value.Used })));
                batches[id] = form;
            }
        }

        return batches;
    }

    /// <summary>A cart as it is read: without a moment of its own it is priced now.</summary>
    public static byte[] WithClock(JsonElement cart, IClock clock)
    {
        if (cart.ValueKind != JsonValueKind.Object || cart.TryGetProperty("at", out _)) return cart.Utf8();
        var whole = JsonObject.Create(cart.Clone())!;
        whole["at"] = clock.GetCurrentInstant().ToString();
        return JsonSerializer.SerializeToUtf8Bytes(whole);
    }
}
