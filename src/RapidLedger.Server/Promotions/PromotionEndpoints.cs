using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>A promotion as the desk opens it.</summary>
/// <param name="Document">What is being written: the draft, else the saved version.</param>
/// <param name="Saved">The saved version, if there is one.</param>
/// <param name="Meant">What a second look found and is meant as written: the check and the place of each.</param>
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
    string TouchedAt,
    IReadOnlyList<string> Meant
);

/// <summary>Somebody else wrote in the meantime; nothing was changed.</summary>
/// <param name="Theirs">The promotion as it is now.</param>
internal sealed record Conflict(PromotionPage Theirs)
    : Refusal(
        StatusCodes.Status409Conflict,
        [
            new(
                "/revision",
                ProblemCode.Conflict,
                "Somebody wrote this promotion in another window since you opened it. Nothing of yours is lost: choose which to keep."
            ),
        ]
    );

/// <summary>A write says which revision it has seen.</summary>
/// <param name="Reason">Of what changes what is live: why, to be kept with the edition.</param>
internal sealed record WriteRequest(long Revision, JsonElement? Document = null, string? Reason = null);

/// <summary>What to begin a promotion with.</summary>
internal sealed record BeginRequest(JsonElement Document);

/// <summary>Writing promotions: begin, keep the draft as typed, put live, pause, retire, copy, drop the draft.</summary>
internal static class PromotionEndpoints
{
    private const int LongestDraft = 1_000_000;

    public static void MapPromotions(this IEndpointRouteBuilder routes)
    {
        var group = routes.MapGroup("/api/promotions");
        group
            .MapGet("/", PromotionList.List)
            .Produces<PromotionRows>()
            .Refuses(422)
            .Says("promotions", "promotions", "The promotions, as listed");
        group
            .MapGet("/findings", (string ids, OpenShop shop, IClock clock, BackgroundGate gate, HttpContext context) =>
                gate.Run(gone => PromotionList.Findings(ids, shop, clock, gone), context)
            )
            .Produces<RowFindings[]>()
            .Refuses(400, 422, 429, 503)
            .Says("findings", "promotions", "What second looks at several promotions find");
        group
            .MapGet("/{id}", (string id, PromotionRepository promotions, OpenShop shop) =>
                promotions.Find(id) is { } stored ? Results.Ok(Page(stored, shop)) : Answers.NoPromotion(id)
            )
            .Produces<PromotionPage>()
            .Refuses(404)
            .Says("promotion", "promotions", "A promotion");
        group
            .MapPost("/", Begin)
            .Produces<PromotionPage>()
            .Refuses(400, 413, 415, 422, 503)
            .Says("begin", "promotions", "Begin a promotion");
        group.MapPut("/{id}/draft", KeepDraft).Writes().Says("keepDraft", "promotions", "Keep a draft as typed");
        group.MapDelete("/{id}/draft", DropDraft).Writes().Produces(204).Says("dropDraft", "promotions", "Throw a draft away");
        group.MapPost("/{id}/live", PutLive).Writes().Says("putLive", "promotions", "Put a promotion live");
        group
            .MapPost(
                "/{id}/pause",
                (
                    string id,
                    WriteRequest request,
                    PromotionRepository promotions,
                    OpenShop shop,
                    PublicationLog publications,
                    HttpContext context
                ) => SetState(id, request, "paused", ["live", "archived"], promotions, shop, publications, context)
            )
            .Writes()
            .Says("pause", "promotions", "Pause a promotion");
        group
            .MapPost(
                "/{id}/retire",
                (
                    string id,
                    WriteRequest request,
                    PromotionRepository promotions,
                    OpenShop shop,
                    PublicationLog publications,
                    HttpContext context
                ) => SetState(id, request, "archived", ["live", "paused"], promotions, shop, publications, context)
            )
            .Writes()
            .Says("retire", "promotions", "Retire a promotion");
        group.MapPost("/{id}/resume", Resume).Writes().Says("resume", "promotions", "Let a promotion go on");
        group.MapLife();
        group.MapPost("/{id}/copy", Copy).Produces<PromotionPage>().Refuses(404, 503).Says("copy", "promotions", "Copy a promotion");
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
            stored.TouchedAt,
            [.. shop.Meant(stored.Id)]
        );
    }

    internal static RouteHandlerBuilder Writes(this RouteHandlerBuilder route) =>
        route.Produces<PromotionPage>().Produces<Conflict>(409, Refusal.MediaType).Refuses(400, 404, 413, 415, 422, 503);

    private static async Task<IResult> Begin(BeginRequest request, PromotionRepository promotions, OpenShop shop)
    {
        var (draft, fault) = Draft(request.Document);
        return draft is null ? fault! : Results.Ok(Page(await promotions.Begin(id => WithId(draft, id)), shop));
    }

    private static async Task<IResult> KeepDraft(string id, WriteRequest request, PromotionRepository promotions, OpenShop shop)
    {
        var (draft, fault) = Draft(request.Document);
        if (draft is null)
            return fault!;
        // What says the same as the saved version is no draft beside it; the state is the promotion's, not something that was written.
        var text = WithId(draft, id);
        var isSaved = promotions.Find(id)?.Document is { } saved && SaysTheSame(draft, saved);
        return Answer(id, await promotions.KeepDraft(id, request.Revision, isSaved ? null : text), shop);
    }

    // What others name is not taken away unless whoever does it knows.
    private static async Task<IResult> DropDraft(string id, long revision, bool? confirmed, PromotionRepository promotions, OpenShop shop)
    {
        if (promotions.Find(id) is not { } stored)
            return Answers.NoPromotion(id);
        var naming = stored.Version is null && confirmed != true ? NamingIt(id, shop) : [];
        if (naming.Length > 0)
        {
            return Answers.Refused(
                "/confirmed",
                ProblemCode.InUse,
                $"{string.Join(", ", naming.Take(5))}{(naming.Length > 5 ? $" and {naming.Length - 5} more" : "")} {(naming.Length == 1 ? "names" : "name")} this one among what may meet it. Thrown away, it is nothing there."
            );
        }

        var outcome = await promotions.DropDraft(id, revision);
        return outcome.Current is null ? Results.NoContent() : Answer(id, outcome, shop);
    }

    private static string[] NamingIt(string id, OpenShop shop) =>
        [
            .. shop
                .Promotions.Where(promotion =>
                    promotion.Stored.Id != id
                    && promotion.Read.Promotion?.Stacking?.With.Any(entry => entry is StackingEntry.OfPromotion(var named) && named == id)
                        == true
                )
                .Select(promotion => promotion.Name)
                .Order(StringComparer.Ordinal),
        ];

    private static async Task<IResult> PutLive(
        string id,
        WriteRequest request,
        PromotionRepository promotions,
        OpenShop shop,
        Publishing publishing,
        PublicationLog publications,
        HttpContext context
    )
    {
        if (promotions.Find(id) is not { } stored)
            return Answers.NoPromotion(id);
        if (PublicationLog.FaultOf(request.Reason) is { } tooLong)
            return tooLong;
        var (draft, fault) = Draft(request.Document);
        if (draft is null)
            return fault!;
        draft["state"] = "live";
        var text = WithId(draft, id);
        var read = shop.Read(text);
        if (read.Promotion is not { } promotion)
            return Answers.Refused(read.Problems);
        // The same words again only change the state, so that versions count changes.
        return await Publish(
            id,
            promotion,
            check =>
                stored.Document == text
                    ? promotions.SetState(id, request.Revision, "live", dropsDraft: true, PublicationLog.Reason(request.Reason), check)
                    : promotions.Save(id, request.Revision, text, "live", PublicationLog.Reason(request.Reason), check),
            shop,
            publishing,
            publications,
            context
        );
    }

    // The saved version is live again; a draft beside it stays one.
    private static async Task<IResult> Resume(
        string id,
        WriteRequest request,
        PromotionRepository promotions,
        OpenShop shop,
        Publishing publishing,
        PublicationLog publications,
        HttpContext context
    )
    {
        if (promotions.Find(id) is not { } stored)
            return Answers.NoPromotion(id);
        if (PublicationLog.FaultOf(request.Reason) is { } fault)
            return fault;
        if (StateFault(stored, "live", ["paused", "archived"]) is { } wrong)
            return wrong;
        var read = shop.Read(stored.Document!);
        if (read.Promotion is not { } promotion)
            return Answers.Refused(read.Problems);
        return await Publish(
            id,
            promotion,
            check => promotions.SetState(id, request.Revision, "live", reason: PublicationLog.Reason(request.Reason), check: check),
            shop,
            publishing,
            publications,
            context
        );
    }

    private static async Task<IResult> Publish(
        string id,
        Promotion promotion,
        Func<LiveCheck, Task<WriteOutcome>> write,
        OpenShop shop,
        Publishing publishing,
        PublicationLog publications,
        HttpContext context
    )
    {
        var outcome = await publishing.Publish(
            [new(promotion, "")],
            edition => edition.Rulebook.With(promotion with { State = State.Live }),
            write
        );
        if (outcome.Value is not { } written)
            return Answers.Refused(outcome.Problems);
        publications.Published(written, "live", context);
        return Answer(id, written, shop);
    }

    private static IResult? StateFault(StoredPromotion stored, string state, string[] from) =>
        from.Contains(stored.State)
            ? null
            : Answers.Refused("/state", ProblemCode.NotAllowed, $"A promotion that is {stored.State} cannot become {state}.");

    private static async Task<IResult> SetState(
        string id,
        WriteRequest request,
        string state,
        string[] from,
        PromotionRepository promotions,
        OpenShop shop,
        PublicationLog publications,
        HttpContext context
    )
    {
        if (promotions.Find(id) is not { } stored)
            return Answers.NoPromotion(id);
        if (PublicationLog.FaultOf(request.Reason) is { } fault)
            return fault;
        if (StateFault(stored, state, from) is { } wrong)
            return wrong;
        var outcome = await promotions.SetState(id, request.Revision, state, reason: PublicationLog.Reason(request.Reason));
        publications.Published(outcome, state, context);
        return Answer(id, outcome, shop);
    }

    private static async Task<IResult> Copy(string id, PromotionRepository promotions, OpenShop shop, IClock clock)
    {
        if (promotions.Find(id) is not { } stored)
            return Answers.NoPromotion(id);
        var copy = JsonNode.Parse(stored.Shown)!.AsObject();
        copy["state"] = "draft";
        if (copy["name"] is JsonValue name && name.TryGetValue<string>(out var text))
            copy["name"] = $"{text}, copy";
        // One code starts one promotion: the copy's own is still to be chosen.
        if (copy["trigger"] is JsonObject trigger && trigger["codes"] is JsonArray)
            trigger["codes"] = new JsonArray();
        DropPastDates(copy, clock.GetCurrentInstant().InZone(shop.Store.Zone).LocalDateTime);
        return Results.Ok(Page(await promotions.Begin(fresh => WithId(copy, fresh)), shop));
    }

    // A copied end that has passed would make the copy expire the moment it is put live.
    private static void DropPastDates(JsonObject promotion, LocalDateTime now)
    {
        if (promotion["window"] is not JsonObject window)
            return;
        if (IsPast("end"))
        {
            window.Remove("end");
            window.Remove("start");
        }

        bool IsPast(string member) =>
            window[member] is JsonValue value && value.TryGetValue<string>(out var text) && LocalTimes.Read(text) <= now;
    }

    // The draft as an object to be kept, or why it cannot be.
    private static (JsonObject? Draft, IResult? Fault) Draft(JsonElement? document) =>
        document switch
        {
            not { ValueKind: JsonValueKind.Object } => (
                null,
                Answers.Refused("/document", ProblemCode.WrongType, "A promotion is an object.")
            ),
            { } given when given.GetRawText().Length > LongestDraft => (
                null,
                Answers.Refused("/document", ProblemCode.OutOfRange, $"This draft is longer than {LongestDraft} characters.")
            ),
            { } given => (JsonObject.Create(given.Clone()), null),
        };

    private static bool SaysTheSame(JsonObject draft, string saved)
    {
        var known = JsonNode.Parse(saved)!.AsObject();
        known.Remove("state");
        draft.Remove("state");
        return JsonNode.DeepEquals(known, draft);
    }

    private static string WithId(JsonObject draft, string id)
    {
        draft["id"] = id;
        return draft.ToJsonString();
    }

    internal static IResult Answer(string id, WriteOutcome outcome, OpenShop shop) =>
        outcome switch
        {
            { Current: null } => Answers.NoPromotion(id),
            { Conflict: true } => Answers.Json(new Conflict(Page(outcome.Current, shop))),
            _ => Results.Ok(Page(outcome.Current, shop)),
        };
}
