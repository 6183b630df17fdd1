using System.Text.Json;
using Microsoft.AspNetCore.WebUtilities;
using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>Why a request was refused, as problem details (RFC 9457); the product's own list tells what is wrong, and where.</summary>
/// <param name="Type">Always <c>about:blank</c>: the status says what kind it is.</param>
/// <param name="Title">The status in words.</param>
/// <param name="Status">The HTTP status.</param>
/// <param name="Detail">The first problem in a sentence.</param>
/// <param name="Problems">All problems, by JSON pointers into what was sent.</param>
internal record Refusal(string Type, string Title, int Status, string Detail, IReadOnlyList<Problem> Problems)
{
    /// <summary>The media type of all refusals.</summary>
    public const string MediaType = "application/problem+json";

    public Refusal(int status, IReadOnlyList<Problem> problems)
        : this("about:blank", ReasonPhrases.GetReasonPhrase(status), status, problems[0].Message, problems) { }
}

/// <summary>Answers that several places give.</summary>
internal static class Answers
{
    public static IResult Refused(IReadOnlyList<Problem> problems) => Refused(StatusCodes.Status422UnprocessableEntity, problems);

    public static IResult Refused(string at, string code, string message) => Refused([new(at, code, message)]);

    public static IResult Refused(int status, IReadOnlyList<Problem> problems) => Json(new Refusal(status, problems));

    public static IResult Json<T>(T refusal)
        where T : Refusal => Results.Json(refusal, statusCode: refusal.Status, contentType: Refusal.MediaType);

    public static IResult NotFound(string code, string message) => Refused(StatusCodes.Status404NotFound, [new("", code, message)]);

    public static IResult NoPromotion(string id) =>
        NotFound(ProblemCode.UnknownPromotion, $"There is no promotion '{id}'. It may have been thrown away in another window.");

    /// <summary>That a list holds nothing at a place; null: it does not.</summary>
    public static IResult? EmptyPlace(IReadOnlyList<object?>? list, string at)
    {
        for (var place = 0; place < (list?.Count ?? 0); place++)
            if (list![place] is null)
                return Refused($"{at}/{place}", ProblemCode.WrongType, "Nothing stands here. Take it out of the list.");
        return null;
    }

    /// <summary>Problems of a part of what was sent, told where they stand in all of it.</summary>
    public static IReadOnlyList<Problem> Under(this IReadOnlyList<Problem> problems, string pointer) =>
        [.. problems.Select(problem => problem with { At = $"{pointer}{problem.At}" })];

    /// <summary>Adds what a call may be refused with to its description.</summary>
    public static RouteHandlerBuilder Refuses(this RouteHandlerBuilder route, params ReadOnlySpan<int> statuses)
    {
        foreach (var status in statuses)
            route.Produces<Refusal>(status, Refusal.MediaType);
        return route;
    }

    /// <summary>Says of a call in its description what it is called, under which heading it stands, and what it does.</summary>
    public static RouteHandlerBuilder Says(this RouteHandlerBuilder route, string name, string heading, string what) =>
        route.WithName(name).WithTags(heading).WithSummary(what);

    /// <summary>The UTF-8 text of a JSON value.</summary>
    public static byte[] Utf8(this JsonElement element) => JsonSerializer.SerializeToUtf8Bytes(element);
}
