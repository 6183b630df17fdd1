using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>A promotion as the desk opens it.</summary>
/// <param name="Document">What is being written: the draft, else the saved version.</param>
/// <param name="Saved">The saved version, if there is one.</param>
internal sealed record PromotionPage(
    string Id,
    string State,
    long Revision,
    long? Version,
    bool HasDraft,
    JsonElement Document,
    JsonElement? Saved,
    IReadOnlyList<Clause> Clauses,
    IReadOnlyList<Problem> Problems,
    string TouchedAt);

/// <summary>Somebody else wrote in the meantime; nothing was changed.</summary>
/// <param name="Theirs">The promotion as it is now.</param>
internal sealed record Conflict(string Message, PromotionPage Theirs);

/// <summary>A write says which revision it has seen.</summary>
internal sealed record WriteRequest(long Revision, JsonElement? Document);

/// <summary>What to begin a promotion with.</summary>
internal sealed record BeginRequest(JsonElement? Document);

/// <summary>Writing promotions: begin, keep the draft as typed, put live, pause, retire, copy, drop the draft.</summary>
internal static class PromotionEndpoints
{
    private const int LongestDraft = 1_000_000;

    public static void MapPromotions(this IEndpointRouteBuilder routes)
    {
        var group = routes.MapGroup("/api/promotions");
        group.MapGet("/", PromotionList.List).Produces<PromotionRows>().Produces<Refusal>(422).WithName("promotions");
        group.MapGet("/{id}", (string id, PromotionRepository promotions, OpenShop shop) =>
            promotions.Find(id) is { } stored ? Results.Ok(Page(stored, shop)) : Answers.NoPromotion(id))
            .Produces<PromotionPage>().Produces<Refusal>(404).WithName("promotion");
        group.MapPost("/", Begin).Produces<PromotionPage>().Produces<Refusal>(422).WithName("begin");
        group.MapPut("/{id}/draft", KeepDraft).Writes().WithName("keepDraft");
        group.MapDelete("/{id}/draft", DropDraft).Writes().Produces(204).WithName("dropDraft");
        group.MapPost("/{id}/live", PutLive).Writes().WithName("putLive");
        group.MapPost("/{id}/pause", (string id, WriteRequest request, PromotionRepository promotions, OpenShop shop) =>
            SetState(id, request.Revision, "paused", ["live"], promotions, shop)).Writes().WithName("pause");
        group.MapPost("/{id}/retire", (string id, WriteRequest request, PromotionRepository promotions, OpenShop shop) =>
            SetState(id, request.Revision, "archived", ["live", "paused"], promotions, shop)).Writes().WithName("retire");
        group.MapPost("/{id}/copy", Copy).Produces<PromotionPage>().Produces<Refusal>(404).WithName("copy");
    }

    public static PromotionPage Page(StoredPromotion stored, OpenShop shop)
    {
        var read = shop.Read(stored);
        return new(
            stored.Id,
            stored.State,
            stored.Revision,
            stored.Version,
            stored.Draft is not null,
            JsonDocument.Parse(stored.Shown).RootElement,
            stored.Document is { } saved ? JsonDocument.Parse(saved).RootElement : null,
            read.Clauses,
            read.Problems,
            stored.TouchedAt);
    }

    private static RouteHandlerBuilder Writes(this RouteHandlerBuilder route) =>
        route.Produces<PromotionPage>().Produces<Refusal>(404).Produces<Conflict>(409).Produces<Refusal>(422);

    private static IResult Begin(BeginRequest request, PromotionRepository promotions, OpenShop shop)
    {
        var draft = Draft(request.Document);
        return draft is null
            ? Answers.Refused("/document", ProblemCode.WrongType, "A promotion is an object.")
            : Results.Ok(Page(promotions.Begin(id => WithId(draft, id)), shop));
    }

    private static IResult KeepDraft(string id, WriteRequest request, PromotionRepository promotions, OpenShop shop)
    {
        if (Draft(request.Document) is not { } draft) return Answers.Refused("/document", ProblemCode.WrongType, "A promotion is an object.");
        var text = WithId(draft, id);
        return text.Length > LongestDraft
            ? Answers.Refused("/document", ProblemCode.OutOfRange, $"This draft is longer than {LongestDraft} characters.")
            : Answer(id, promotions.KeepDraft(id, request.Revision, text), shop);
    }

    private static IResult DropDraft(string id, long revision, PromotionRepository promotions, OpenShop shop)
    {
        if (promotions.Find(id) is null) return Answers.NoPromotion(id);
        var outcome = promotions.DropDraft(id, revision);
        return outcome.Current is null ? Results.NoContent() : Answer(id, outcome, shop);
    }

    private static IResult PutLive(string id, WriteRequest request, PromotionRepository promotions, OpenShop shop)
    {
        if (promotions.Find(id) is not { } stored) return Answers.NoPromotion(id);
        if (Draft(request.Document) is not { } draft) return Answers.Refused("/document", ProblemCode.WrongType, "A promotion is an object.");
        draft["state"] = "live";
        var text = WithId(draft, id);
        var read = shop.Read(text);
        // The same words again only change the state, so that versions count changes.
        return read.Promotion is null
            ? Answers.Refused(read.Problems)
            : Answer(id, stored.Document == text ? promotions.SetState(id, request.Revision, "live") : promotions.Save(id, request.Revision, text, "live"), shop);
    }

    private static IResult SetState(string id, long revision, string state, string[] from, PromotionRepository promotions, OpenShop shop)
    {
        if (promotions.Find(id) is not { } stored) return Answers.NoPromotion(id);
        return from.Contains(stored.State)
            ? Answer(id, promotions.SetState(id, revision, state), shop)
            : Answers.Refused("/state", ProblemCode.NotAllowed, $"A promotion that is {stored.State} cannot become {state}.");
    }

    private static IResult Copy(string id, PromotionRepository promotions, OpenShop shop, IClock clock)
    {
        if (promotions.Find(id) is not { } stored) return Answers.NoPromotion(id);
        var copy = JsonNode.Parse(stored.Shown)!.AsObject();
        copy["state"] = "draft";
        if (copy["name"] is JsonValue name && name.TryGetValue<string>(out var text)) copy["name"] = $"{text}, copy";
        DropPastDates(copy, clock.GetCurrentInstant().InZone(shop.Store.Zone).LocalDateTime);
        return Results.Ok(Page(promotions.Begin(fresh => WithId(copy, fresh)), shop));
    }

    // A copied end that has passed would make the copy expire the moment it is put live.
    private static void DropPastDates(JsonObject promotion, LocalDateTime now)
    {
        if (promotion["window"] is not JsonObject window) return;
        if (IsPast("end"))
        {
            window.Remove("end");
            window.Remove("start");
        }

        bool IsPast(string member) =>
            window[member] is JsonValue value && value.TryGetValue<string>(out var text)
            && LocalDateTimePattern.CreateWithInvariantCulture("uuuu'-'MM'-'dd'T'HH':'mm").Parse(text).TryGetValue(default, out var local) && local <= now;
    }

    private static JsonObject? Draft(JsonElement? document) => document is { ValueKind: JsonValueKind.Object } given ? JsonObject.Create(given.Clone()) : null;

    private static string WithId(JsonObject draft, string id)
    {
        draft["id"] = id;
        return draft.ToJsonString();
    }

    private static IResult Answer(string id, WriteOutcome outcome, OpenShop shop) => outcome switch
    {
        { Current: null } => Answers.NoPromotion(id),
        { Conflict: true } => Results.Json(
            new Conflict("Somebody wrote this promotion in another window since you opened it. Nothing of yours is lost: choose which to keep.", Page(outcome.Current, shop)),
            statusCode: StatusCodes.Status409Conflict),
        _ => Results.Ok(Page(outcome.Current, shop)),
    };
}
