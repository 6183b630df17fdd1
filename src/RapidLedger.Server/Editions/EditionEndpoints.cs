using System.Text.Json;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Server.Promotions;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Editions;

/// <summary>Some editions, the newest first.</summary>
/// <param name="All">How many there are.</param>
internal sealed record EditionRows(IReadOnlyList<EditionChanges> Rows, long All);

/// <summary>A clause that says something else in one edition than in the other.</summary>
/// <param name="Before">What it says in the first; null: the promotion is not live there.</param>
/// <param name="After">What it says in the second; null: the promotion is not live there.</param>
internal sealed record ClauseDifference(string Name, string? Before, string? After);

/// <summary>A promotion that differs between two editions.</summary>
/// <param name="Kind">joined, changed or gone.</param>
internal sealed record PromotionDifference(string Promotion, string Name, string Kind, IReadOnlyList<ClauseDifference> Clauses);

/// <summary>What two editions differ in.</summary>
internal sealed record EditionComparison(long From, long To, IReadOnlyList<PromotionDifference> Promotions);

/// <summary>What a cart comes to under an edition.</summary>
internal sealed record PricedUnder(long Edition, string Due, string Saving, string? Margin);

/// <summary>A cart under two editions, at the same clock and with the same uses.</summary>
internal sealed record EditionPrices(string Currency, PricedUnder From, PricedUnder To);

/// <summary>A cart, as in a case; without <c>at</c> it is priced now.</summary>
internal sealed record CartRequest(JsonElement Cart);

/// <summary>Which edition is to be live again, by somebody who has seen this one as the newest.</summary>
internal sealed record RestoreRequest(long Seen, string? Reason = null);

/// <summary>
/// Editions: numbered sets of live promotions that never change; any two compared, and an old one put live again as a new one.
/// </summary>
internal static class EditionEndpoints
{
    private const int MostRows = 500;

    public static void MapEditions(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/editions", (int? skip, int? take, PromotionRepository promotions) =>
            {
                if (skip < 0)
                    return Answers.Refused("/skip", ProblemCode.Negative, "So many editions cannot be left out.");
                if (take is < 0 or > MostRows)
                    return Answers.Refused("/take", ProblemCode.OutOfRange, $"At most {MostRows} editions are given at once.");
                var (all, rows) = promotions.Editions(skip ?? 0, take ?? MostRows);
                return Results.Ok(new EditionRows(rows, all));
            })
            .Produces<EditionRows>()
            .Refuses(422)
            .Says("editions", "editions", "The editions, the newest first");
        routes
            .MapGet("/api/editions/{from:long}/compare/{to:long}", Compare)
            .Produces<EditionComparison>()
            .Refuses(404, 422)
            .Says("compareEditions", "editions", "What two editions differ in");
        routes
            .MapPost(
                "/api/editions/{from:long}/compare/{to:long}/price",
                (
                    long from,
                    long to,
                    CartRequest request,
                    PromotionRepository promotions,
                    OpenShop shop,
                    IClock clock,
                    BackgroundGate gate,
                    HttpContext context
                ) => gate.Run(gone => Price(from, to, request, promotions, shop, clock, gone), context)
            )
            .Produces<EditionPrices>()
            .Refuses(400, 404, 413, 415, 422, 429, 503)
            .Says("priceEditions", "editions", "A cart under two editions");
        routes
            .MapPost("/api/editions/{number:long}/restore", Restore)
            .Produces<NowLive>()
            .Refuses(400, 404, 409, 413, 415, 422, 503)
            .Says("restoreEdition", "editions", "Put an old edition live again, as a new one");
    }

    private static IResult Compare(long from, long to, PromotionRepository promotions, OpenShop shop)
    {
        if (Missing(promotions, from, to) is { } missing)
            return missing;
        // What moved between the two, in whichever order they stand, with its document in each.
        var (low, high) = (Math.Min(from, to), Math.Max(from, to));
        var late = promotions.Changes(low, high).ToDictionary(change => change.Id, change => change.Document, StringComparer.Ordinal);
        var early = promotions.Documents(low, late.Keys);
        var differences = late.Select(change =>
                (
                    change.Key,
                    Before: from <= to ? early.GetValueOrDefault(change.Key) : change.Value,
                    After: from <= to ? change.Value : early.GetValueOrDefault(change.Key)
                )
            )
            .Where(change => change.Before != change.After)
            .Select(change => Difference(change.Key, change.Before, change.After, shop))
            .OrderBy(difference => difference.Name, StringComparer.Create(shop.Culture, System.Globalization.CompareOptions.None))
            .ToArray();
        return Results.Ok(new EditionComparison(from, to, differences));
    }

    private static IResult Price(
        long from,
        long to,
        CartRequest request,
        PromotionRepository promotions,
        OpenShop shop,
        IClock clock,
        CancellationToken gone
    )
    {
        if (Missing(promotions, from, to) is { } missing)
            return missing;
        var cart = shop.ReadCart(request.Cart, clock.GetCurrentInstant());
        if (cart.Value is null)
            return Answers.Refused(cart.Problems.Under("/cart"));
        return Results.Ok(new EditionPrices((cart.Value.Currency ?? shop.Store.Currency).Code, Under(from), Under(to)));

        PricedUnder Under(long number)
        {
            var rulebook = shop.At(number).Rulebook;
            var priced = shop.ContextOf(cart.Value, rulebook.Givable).Price(rulebook, cart.Value, gone);
            string Money(long minor) => priced.Currency.Write(minor);
            return new(
                number,
                Money(priced.Totals.Due),
                Money(priced.Totals.Saving),
                priced.Totals.Margin is { } margin ? Money(margin) : null
            );
        }
    }

    private static async Task<IResult> Restore(
        long number,
        RestoreRequest request,
        PromotionRepository promotions,
        OpenShop shop,
        Database database,
        Publishing publishing,
        PublicationLog publications,
        HttpContext context
    )
    {
        var newest = promotions.NewestEdition()?.Number ?? 0;
        if (number < 1 || number > newest)
            return NoEdition(number, newest);
        if (PublicationLog.FaultOf(request.Reason) is { } fault)
            return fault;
        // What becomes live again, or is live in another version, is looked at as if it were put live anew.
        var (then, moved) = (
            shop.At(number),
            promotions.Changes(number, newest).Select(change => change.Id).ToHashSet(StringComparer.Ordinal)
        );
        ToBeLive[] fresh =
        [
            .. then
                .Rulebook.Promotions.Where(promotion => moved.Contains(promotion.Id))
                .Select(promotion => new ToBeLive(promotion, $"/promotions/{Pointer.Escaped(promotion.Id)}")),
        ];
        if (then.Unreadable.FirstOrDefault() is { Key: { } id, Value: [var first, ..] })
            return Answers.Refused(
                $"/promotions/{Pointer.Escaped(id)}{first.At}",
                first.Code,
                $"“{id}” of that edition can no longer be read: {first.Message}"
            );
        var outcome = await publishing.Publish(
            fresh,
            _ => then.Rulebook,
            check => promotions.Restore(number, request.Seen, PublicationLog.Reason(request.Reason), check)
        );
        if (outcome.Value is not var (now, done))
            return Answers.Refused(outcome.Problems);
        if (!done)
            return Answers.Refused(
                StatusCodes.Status409Conflict,
                [
                    new(
                        "/seen",
                        ProblemCode.Conflict,
                        $"Edition {now} was published since you looked. Look at it first; nothing was changed."
                    ),
                ]
            );
        publications.Restored(number, context);
        return Results.Ok(NowLive.Of(database, promotions, shop));
    }

    // Of 0, where nothing is live, up to the newest.
    private static IResult? Missing(PromotionRepository promotions, params ReadOnlySpan<long> numbers)
    {
        var newest = promotions.NewestEdition()?.Number ?? 0;
        foreach (var number in numbers)
            if (number < 0 || number > newest)
                return NoEdition(number, newest);
        return null;
    }

    private static IResult NoEdition(long number, long newest) =>
        Answers.NotFound(ProblemCode.UnknownName, $"There is no edition {number}; the newest is {newest}.");

    private static PromotionDifference Difference(string id, string? before, string? after, OpenShop shop)
    {
        var (was, now) = (Read(before, shop), Read(after, shop));
        var named = now?.Promotion?.Named ?? was?.Promotion?.Named ?? id;
        return new(
            id,
            named,
            before is null ? "joined"
                : after is null ? "gone"
                : "changed",
            Differences(was, now)
        );
    }

    /// <summary>The clauses in which two documents of a promotion say something else; null: there is none.</summary>
    public static IReadOnlyList<ClauseDifference> Differences(ReadPromotion? was, ReadPromotion? now)
    {
        var clauses = new List<ClauseDifference>();
        Add("name", was?.Promotion?.Name, now?.Promotion?.Name);
        Add("label", was?.Promotion?.Label, now?.Promotion?.Label);
        foreach (var name in (was?.Clauses ?? []).Concat(now?.Clauses ?? []).Select(clause => clause.Name).Distinct())
            Add(
                name,
                was?.Clauses.FirstOrDefault(clause => clause.Name == name)?.Text,
                now?.Clauses.FirstOrDefault(clause => clause.Name == name)?.Text
            );
        return clauses;

        void Add(string name, string? said, string? says)
        {
            if (said != says)
                clauses.Add(new(name, said, says));
        }
    }

    private static ReadPromotion? Read(string? document, OpenShop shop) => document is null ? null : shop.Read(document);
}
