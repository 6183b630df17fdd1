using System.Text.Json;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Promotions;

/// <summary>Something that a second look finds.</summary>
/// <param name="Severity">error, doubt or remark.</param>
/// <param name="At">Where in the draft: a JSON pointer.</param>
/// <param name="Mend">What would put it right in one press, if there is such a thing.</param>
/// <param name="Other">The other promotion that it is about, if it is about one.</param>
internal sealed record FoundInDraft(string Check, string Severity, string At, string Sentence, MendOfDraft? Mend, string? Other);

/// <summary>A change that puts a finding right.</summary>
/// <param name="Value">What stands at the place then: a text or a number; null: nothing.</param>
internal sealed record MendOfDraft(string Words, string At, JsonElement? Value);

/// <summary>A promotion as typed.</summary>
/// <param name="Draft">The promotion.</param>
/// <param name="Cart">The cart that somebody has before them, as in a case; none: no figures on it.</param>
internal sealed record LookRequest(JsonElement Draft, JsonElement? Cart = null);

/// <summary>The second look at a promotion of the open shop: asked for beside the tape, which does not wait for it.</summary>
internal static class SecondLook
{
    public static void MapSecondLook(this IEndpointRouteBuilder routes) =>
        routes
            .MapPost("/api/review", (LookRequest request, OpenShop shop, IClock clock, BackgroundGate gate, HttpContext context) =>
                gate.Run(gone => Look(request, shop, clock, gone), context)
            )
            .Produces<IReadOnlyList<FoundInDraft>>()
            .Refuses(400, 413, 415, 422, 429, 503)
            .Says("review", "review", "A second look at a promotion");

    private static IResult Look(LookRequest request, OpenShop shop, IClock clock, CancellationToken gone)
    {
        var read = shop.Read(request.Draft.GetRawText());
        if (read.Promotion is not { } draft)
            return Answers.Refused(read.Problems.Under("/draft"));
        if (request.Cart is not { ValueKind: not JsonValueKind.Null } sent)
            return Results.Ok(Found(draft, shop.Around(draft, clock.GetCurrentInstant()) with { Gone = gone }));
        var cart = shop.ReadCart(sent, clock.GetCurrentInstant());
        return cart.Value is { } tape
            ? Results.Ok(Found(draft, shop.Around(draft, clock.GetCurrentInstant(), tape) with { Gone = gone }))
            : Answers.Refused(cart.Problems.Under("/cart"));
    }

    private static IReadOnlyList<FoundInDraft> Found(Promotion promotion, Surroundings around) =>
        [
            .. Review
                .Of(promotion, around)
                .Select(finding => new FoundInDraft(
                    finding.Check,
                    finding.Severity.ToString().ToLowerInvariant(),
                    finding.At,
                    finding.Sentence,
                    finding.Mend is { } mend
                        ? new(mend.Words, mend.At, mend.Value is null ? null : JsonSerializer.SerializeToElement(mend.Value))
                        : null,
                    finding.Other
                )),
        ];
}
