using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Editions;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>Other dates for a promotion, by somebody who has seen this revision. What is not said stays.</summary>
/// <param name="Days">Both dates go by so many days; then nothing else is said.</param>
/// <param name="EndDays">The end alone goes by so many days.</param>
/// <param name="Start">Local time in the shop's zone.</param>
/// <param name="End">Likewise.</param>
/// <param name="NoStart">Without a start.</param>
/// <param name="NoEnd">Without an end.</param>
/// <param name="Reason">Why, to be kept with the edition.</param>
internal sealed record DatesRequest(
    long Revision,
    int? Days = null,
    int? EndDays = null,
    string? Start = null,
    string? End = null,
    bool? NoStart = null,
    bool? NoEnd = null,
    string? Reason = null
);

/// <summary>A finding of a second look that is meant as written, or no longer.</summary>
/// <param name="Finding">The check, and the place in the document.</param>
/// <param name="Words">What was found, as it was said.</param>
internal sealed record MeanRequest(string Finding, string Words, bool Meant);

/// <summary>A time over which a version was live.</summary>
internal sealed record LiveSpan(long Edition, string Since, string? Why, string? Until, string? WhyNot);

/// <summary>A saved version of a promotion.</summary>
/// <param name="Differences">In which clauses it says something else than the one before.</param>
internal sealed record PastVersion(long Version, string SavedAt, IReadOnlyList<ClauseDifference> Differences, IReadOnlyList<LiveSpan> Live);

/// <summary>A finding that is meant as written.</summary>
/// <param name="Finding">The check, and the place in the document.</param>
/// <param name="Words">What was found, as it was said.</param>
internal sealed record Meaning(string Finding, string Words, string Since);

/// <summary>What became of a promotion since it was first saved, the newest first, and what is meant as written.</summary>
internal sealed record PromotionHistory(IReadOnlyList<PastVersion> Versions, IReadOnlyList<Meaning> Meant);

/// <summary>The life of a promotion: other dates without writing it anew, what is meant as written, and its history.</summary>
internal static class LifeEndpoints
{
    private const int MostDays = 3_660;
    private const int LongestFinding = 300;
    private const int LongestWords = 2_000;

    public static void MapLife(this RouteGroupBuilder group)
    {
        group.MapPost("/{id}/dates", Redate).Writes().Says("redate", "promotions", "Give a promotion other dates");
        group
            .MapPut("/{id}/meant", async (string id, MeanRequest request, PromotionRepository promotions) => request
                    is not { Finding.Length: > 0 and <= LongestFinding, Words.Length: > 0 and <= LongestWords }
                    ? Answers.Refused(
                        "",
                        ProblemCode.OutOfRange,
                        $"A finding is named in 1 to {LongestFinding} characters, and said in 1 to {LongestWords}."
                    )
                : await promotions.Mean(id, request.Finding, request.Words, request.Meant) ? Results.NoContent()
                : Answers.NoPromotion(id))
            .Produces(204)
            .Refuses(400, 404, 413, 415, 422, 503)
            .Says("mean", "promotions", "Say that a finding is meant as written");
        group
            .MapGet("/{id}/history", History)
            .Produces<PromotionHistory>()
            .Refuses(404)
            .Says("history", "promotions", "A promotion's versions, and when each was live");
    }

    // The saved version gets other dates, and so does what is being written beside it.
    private static async Task<IResult> Redate(
        string id,
        DatesRequest request,
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
        var moves = request.Days is not null || request.EndDays is not null;
        if (
            moves == (request.Start is not null || request.End is not null || request.NoStart == true || request.NoEnd == true)
            || (request.Days is not null && request.EndDays is not null)
        )
            return Answers.Refused(
                "",
                ProblemCode.ExactlyOne,
                "Either both dates or the end go by so many days, or a start or an end is said."
            );
        if (request.Days is < -MostDays or > MostDays || request.EndDays is < -MostDays or > MostDays)
            return Answers.Refused("/days", ProblemCode.OutOfRange, $"Dates go by at most {MostDays} days.");
        var (document, draft) = (Redated(stored.Document, request), Redated(stored.Draft, request));
        if (moves && document is null && draft is null)
            return Answers.Refused(
                "/days",
                ProblemCode.Missing,
                request.Days is null ? "It has no end that could be moved." : "It has neither start nor end that could be moved."
            );
        foreach (var text in new[] { document, stored.Document is null ? draft : null }.OfType<string>())
            if (
                shop.Read(text) is { Promotion: null, Problems: var problems }
                && (stored.Document is not null || problems.Any(problem => problem.At.StartsWith("/window", StringComparison.Ordinal)))
            )
                return Answers.Refused(problems);
        var outcome = await promotions.Rewrite(
            id,
            request.Revision,
            document,
            draft ?? stored.Draft,
            PublicationLog.Reason(request.Reason)
        );
        if (document is not null)
            publications.Published(outcome, stored.State, context);
        return PromotionEndpoints.Answer(id, outcome, shop);
    }

    // Null: there is nothing to change.
    private static string? Redated(string? document, DatesRequest request)
    {
        if (document is null || JsonNode.Parse(document) is not JsonObject promotion)
            return null;
        var window = promotion["window"] as JsonObject ?? [];
        var before = window.ToJsonString();
        var moves = request.Days is not null || request.EndDays is not null;
        foreach (
            var (name, given, none, by) in new[]
            {
                ("start", request.Start, request.NoStart, request.Days),
                ("end", request.End, request.NoEnd, request.Days ?? request.EndDays),
            }
        )
        {
            if (moves)
            {
                if (by is not { } days)
                    continue;
                if (window[name] is JsonValue value && value.TryGetValue<string>(out var text) && LocalTimes.Read(text) is { } local)
                    window[name] = LocalTimes.Write(local.PlusDays(days));
            }
            else if (none == true)
                window.Remove(name);
            else if (given is not null)
                window[name] = given;
        }

        if (window.ToJsonString() == before)
            return null;
        if (window.Count == 0)
            promotion.Remove("window");
        else if (window.Parent is null)
            promotion["window"] = window;
        return promotion.ToJsonString();
    }

    private static IResult History(string id, PromotionRepository promotions, OpenShop shop)
    {
        if (promotions.Find(id) is null)
            return Answers.NoPromotion(id);
        var (versions, spans) = promotions.History(id);
        var read = versions.Select(version => shop.Read(version.Document)).ToArray();
        return Results.Ok(
            new PromotionHistory(
                [
                    .. versions.Select(
                        (version, place) =>
                            new PastVersion(
                                version.Version,
                                version.SavedAt,
                                place + 1 < read.Length ? EditionEndpoints.Differences(read[place + 1], read[place]) : [],
                                [
                                    .. spans
                                        .Where(span => span.Version == version.Version)
                                        .Select(span => new LiveSpan(span.First, span.Since, span.Why, span.Until, span.WhyNot)),
                                ]
                            )
                    ),
                ],
                [.. promotions.Meant(id).Select(meaning => new Meaning(meaning.Finding, meaning.Words, meaning.MeantAt))]
            )
        );
    }
}
