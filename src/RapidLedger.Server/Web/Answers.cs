using System.Text.Json;
using RapidLedger.Formats;

namespace RapidLedger.Server.Shop;

/// <summary>Why a request was refused: what is wrong, and where.</summary>
internal sealed record Refusal(IReadOnlyList<Problem> Problems);

/// <summary>Answers that several places give.</summary>
internal static class Answers
{
    public static IResult Refused(IReadOnlyList<Problem> problems) => Results.Json(new Refusal(problems), statusCode: StatusCodes.Status422UnprocessableEntity);

    public static IResult Refused(string at, string code, string message) => Refused([new(at, code, message)]);

    public static IResult NoPromotion(string id) =>
        Results.Json(new Refusal([new("", ProblemCode.UnknownPromotion, $"There is no promotion '{id}'. It may have been thrown away in another window.")]), statusCode: StatusCodes.Status404NotFound);

    /// <summary>The UTF-8 text of a JSON value.</summary>
    public static byte[] Utf8(this JsonElement element) => JsonSerializer.SerializeToUtf8Bytes(element);
}
