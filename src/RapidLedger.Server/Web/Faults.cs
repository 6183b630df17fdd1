using System.Text.Json;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http.Features;
using RapidLedger.Formats;
using RapidLedger.Storage;

namespace RapidLedger.Server.Web;

/// <summary>
/// Turns what a request got wrong before it reached its endpoint, what the disk refuses, and bugs, into the same form as other refusals.
/// </summary>
internal static partial class Faults
{
    /// <summary>The largest request, in bytes.</summary>
    public const int LargestRequest = 16 * 1024 * 1024;

    public static async Task Answer(HttpContext context, RequestDelegate next)
    {
        try
        {
            await next(context);
            // What routing refused has no words yet.
            if (context.Response is { HasStarted: false, StatusCode: >= 400, ContentLength: null, ContentType: null })
                await Write(context, context.Response.StatusCode, Said(context));
        }
        catch (BadHttpRequestException error)
        {
            var (status, problem) = Told(error, context);
            await Write(context, status, problem);
        }
        catch (StorageFault fault)
        {
            Log(context).LogError(fault, "{Method} {Route} could not be stored", context.Request.Method, RouteOf(context));
            if (fault.Passes)
                context.Response.Headers.RetryAfter = "1";
            await Write(context, StatusCodes.Status503ServiceUnavailable, new("", ProblemCode.NotStored, fault.Message));
        }
        catch (OperationCanceledException) when (context.RequestAborted.IsCancellationRequested)
        {
            // There is nobody to answer any more.
        }
        catch (Exception error) when (!context.Response.HasStarted)
        {
            Log(context).LogError(error, "{Method} {Route} failed", context.Request.Method, RouteOf(context));
            await Write(
                context,
                StatusCodes.Status500InternalServerError,
                new("", ProblemCode.Failed, "The server failed at this; it has written down why. Nothing was changed. Try again.")
            );
        }
    }

    // The pattern, not the path: no id stands in it.
    private static string RouteOf(HttpContext context) => (context.GetEndpoint() as RouteEndpoint)?.RoutePattern.RawText ?? "a page";

    private static ILogger Log(HttpContext context) =>
        context.RequestServices.GetRequiredService<ILoggerFactory>().CreateLogger("RapidLedger");

    private static (int Status, Problem Problem) Told(BadHttpRequestException error, HttpContext context)
    {
        switch (error.StatusCode)
        {
            case StatusCodes.Status413PayloadTooLarge:
                return (error.StatusCode, TooLarge(context));
            case StatusCodes.Status415UnsupportedMediaType:
                return (error.StatusCode, new("", ProblemCode.NotJson, "Send this as application/json."));
            case StatusCodes.Status408RequestTimeout:
                return (error.StatusCode, new("", ProblemCode.NotJson, "The request did not arrive in time."));
        }

        if (error.InnerException is UnfitJsonException unfit)
            return (StatusCodes.Status422UnprocessableEntity, unfit.Problem with { At = PointerOf(unfit.Path) + unfit.Problem.At });
        if (error.InnerException is JsonException json)
        {
            // A document that breaks off has a place in lines; one of another shape has a way of names.
            var at = PointerOf(json.Path);
            var missing = Missing().Match(json.Message);
            // What the reader of JSON itself stumbles over is none, wherever it breaks off.
            if (json.InnerException is JsonException)
                return (error.StatusCode, new("", ProblemCode.NotJson, Broken(json)));
            // The way to an unknown member ends at what holds it.
            if (Unknown().Match(json.Message) is { Success: true } unknown)
                return (
                    StatusCodes.Status422UnprocessableEntity,
                    new(
                        $"{at[..(at.EndsWith($"/{Pointer.Escaped(unknown.Groups[1].Value)}", StringComparison.Ordinal) ? at.LastIndexOf('/') : at.Length)]}/{Pointer.Escaped(unknown.Groups[1].Value)}",
                        ProblemCode.UnknownName,
                        $"'{unknown.Groups[1].Value}' is not known here. Is it misspelt?"
                    )
                );
            return missing.Success
                    ? (
                        error.StatusCode,
                        new($"{at}/{missing.Groups[1].Value}", ProblemCode.Missing, $"'{missing.Groups[1].Value}' is missing here.")
                    )
                : at.Length > 0
                    ? (
                        error.StatusCode,
                        new(at, ProblemCode.WrongType, "Another kind of value is expected here; the OpenAPI document tells which.")
                    )
                : (error.StatusCode, new("", ProblemCode.NotJson, Broken(json)));
        }

        // Bound from the query or the path: its name and what stood there; the platform's own types are nobody's business.
        if (Bound().Match(error.Message) is { Success: true } bound)
            return (
                StatusCodes.Status422UnprocessableEntity,
                new($"/{Name(bound)}", ProblemCode.UnknownValue, $"'{bound.Groups[2].Value}' is not what '{Name(bound)}' takes.")
            );
        if (Required().Match(error.Message) is { Success: true } required)
            return (
                StatusCodes.Status422UnprocessableEntity,
                new($"/{Name(required)}", ProblemCode.Missing, $"'{Name(required)}' is missing.")
            );
        return (error.StatusCode, new("", ProblemCode.NotJson, "The request cannot be read: a JSON document is expected."));

        static string Broken(JsonException json) =>
            json.LineNumber is { } line
                ? $"This is not the JSON that is expected here: see line {line + 1}, byte {json.BytePositionInLine + 1}."
                : "This is not the JSON that is expected here.";

        // Members of a record are bound by names that begin with a capital; they are asked for without.
        static string Name(Match match) => char.ToLowerInvariant(match.Groups[1].Value[0]) + match.Groups[1].Value[1..];
    }

    private static Problem TooLarge(HttpContext context) =>
        new(
            "",
            ProblemCode.OutOfRange,
            $"This is larger than the {(context.Features.Get<IHttpMaxRequestBodySizeFeature>()?.MaxRequestBodySize ?? LargestRequest) / 1024 / 1024} MB that are taken at once."
        );

    private static Problem Said(HttpContext context) =>
        context.Response.StatusCode switch
        {
            StatusCodes.Status404NotFound => new("", ProblemCode.UnknownName, $"There is nothing at {context.Request.Path}."),
            StatusCodes.Status405MethodNotAllowed => new(
                "",
                ProblemCode.NotAllowed,
                $"{context.Request.Method} is not done at {context.Request.Path}, only: {context.Response.Headers.Allow}."
            ),
            StatusCodes.Status413PayloadTooLarge => TooLarge(context),
            StatusCodes.Status415UnsupportedMediaType => new("", ProblemCode.NotJson, "Send this as application/json."),
            _ => new("", ProblemCode.NotAllowed, "This cannot be done."),
        };

    // "$.cart['lines'][2].sku" as a JSON pointer (RFC 6901).
    private static string PointerOf(string? path) =>
        path is null
            ? ""
            : string.Concat(
                Step()
                    .Matches(path)
                    .Select(step => "/" + Pointer.Escaped(step.Groups[1].Value + step.Groups[2].Value + step.Groups[3].Value))
            );

    private static Task Write(HttpContext context, int status, Problem problem) => Answers.Refused(status, [problem]).ExecuteAsync(context);

    [GeneratedRegex(@"\.([^.\[]+)|\['((?:[^'\\]|\\.)*)'\]|\[(\d+)\]")]
    private static partial Regex Step();

    [GeneratedRegex("""parameter "\S+ (\w+)" from "(.*)"\.$""", RegexOptions.Singleline)]
    private static partial Regex Bound();

    [GeneratedRegex("^The JSON property '(.*)' could not be mapped", RegexOptions.Singleline)]
    private static partial Regex Unknown();

    [GeneratedRegex("""parameter "\S+ (\w+)" was not provided""")]
    private static partial Regex Required();

    [GeneratedRegex("missing required properties.*?: '([^']+)'")]
    private static partial Regex Missing();
}
