using RapidLedger.Formats;

namespace RapidLedger.Server.Shop;

/// <summary>Turns what a request got wrong before it reached its endpoint, and bugs, into the same form as other problems.</summary>
internal static class Faults
{
    public static async Task Answer(HttpContext context, RequestDelegate next)
    {
        try
        {
            await next(context);
        }
        catch (BadHttpRequestException error)
        {
            var because = error.InnerException?.Message ?? error.Message;
            await Write(context, error.StatusCode, ProblemCode.NotJson, $"The request cannot be read: {because}");
        }
        catch (OperationCanceledException) when (context.RequestAborted.IsCancellationRequested)
        {
            // There is nobody to answer any more.
        }
        catch (Exception error) when (error is not OperationCanceledException && !context.Response.HasStarted)
        {
            context.RequestServices.GetRequiredService<ILoggerFactory>().CreateLogger("RapidLedger").LogError(error, "{Method} {Path} failed", context.Request.Method, context.Request.Path);
            await Write(context, StatusCodes.Status500InternalServerError, "failed", "The server failed at this; it has written down why. Nothing was changed. Try again.");
        }
    }

    private static Task Write(HttpContext context, int status, string code, string message) =>
        Results.Json(new Refusal([new("", code, message)]), statusCode: status).ExecuteAsync(context);
}
