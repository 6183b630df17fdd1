using System.Net;
using System.Net.NetworkInformation;
using Microsoft.Extensions.Primitives;
using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>
/// Answers only to the program's own names, and only its own pages and programs that are no pages: a page of another origin can neither
/// read nor write, also where its name was made to lead here. Says on every answer how browsers are to treat it.
/// </summary>
/// <param name="bound">The address it listens on.</param>
/// <param name="named">Further names it may be called by.</param>
/// <param name="storePort">The port that answers nothing but the store interface; null: there is none.</param>
internal sealed class Gatekeeper(IPAddress bound, IEnumerable<string> named, int? storePort = null)
{
    private static readonly (string Name, StringValues Value)[] Headers =
    [
        (
            "Content-Security-Policy",
            "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
        ),
        ("X-Content-Type-Options", "nosniff"),
        ("X-Frame-Options", "DENY"),
        ("Referrer-Policy", "no-referrer"),
        ("Cross-Origin-Resource-Policy", "same-origin"),
        ("Cross-Origin-Opener-Policy", "same-origin"),
    ];

    private readonly HashSet<string> names = [.. Own(bound).Concat(named).Select(name => name.Trim('[', ']').ToLowerInvariant())];

    /// <summary>Whether only this machine can reach the address.</summary>
    public bool IsPrivate { get; } = IPAddress.IsLoopback(bound);

    public Task Admit(HttpContext context, RequestDelegate next)
    {
        foreach (var (name, value) in Headers)
            context.Response.Headers[name] = value;
        var (request, host) = (context.Request, context.Request.Host);
        if (context.Connection.LocalPort == storePort)
            return AdmitToStore(context, next);
        // Whoever looks whether it lives may do so by whatever name or address.
        var looks = request.Path == "/healthz" || request.Path == "/readyz";
        if (!looks && !names.Contains(host.Host.Trim('[', ']').ToLowerInvariant()))
            return Refuse(
                context,
                StatusCodes.Status421MisdirectedRequest,
                $"'{host.Host}' is not a name of this server. Start it with --host {host.Host} if it is to be one."
            );
        var isForeign = request.Headers.Origin is { Count: > 0 } origin
            ? !(
                Uri.TryCreate(origin, UriKind.Absolute, out var from)
                && string.Equals(from.Authority, host.Value, StringComparison.OrdinalIgnoreCase)
            )
            // Browsers say so also where they send no origin (w3.org/TR/fetch-metadata); following a link to a page is no harm.
            : request.Headers["Sec-Fetch-Site"] is [not ("same-origin" or "none")]
                && !(HttpMethods.IsGet(request.Method) && request.Headers["Sec-Fetch-Mode"] == "navigate");
        return isForeign
            ? Refuse(context, StatusCodes.Status403Forbidden, "A page of another origin can neither read nor write here.")
            : next(context);
    }

    // There a key is what counts, which no browser sends by itself: pages of any shop may ask, whatever the server is called there.
    private static Task AdmitToStore(HttpContext context, RequestDelegate next)
    {
        var (request, headers) = (context.Request, context.Response.Headers);
        if (!request.Path.StartsWithSegments("/store"))
            return Refuse(context, StatusCodes.Status404NotFound, "This port answers nothing but the store interface, /store/v1.");
        headers["Access-Control-Allow-Origin"] = "*";
        headers["Access-Control-Expose-Headers"] = "Retry-After, WWW-Authenticate";
        headers["Cross-Origin-Resource-Policy"] = "cross-origin";
        if (!HttpMethods.IsOptions(request.Method))
            return next(context);
        headers["Access-Control-Allow-Methods"] = "GET, POST";
        headers["Access-Control-Allow-Headers"] = "Authorization, Content-Type, Idempotency-Key, Store-Client";
        headers["Access-Control-Max-Age"] = "600";
        context.Response.StatusCode = StatusCodes.Status204NoContent;
        return Task.CompletedTask;
    }

    private static Task Refuse(HttpContext context, int status, string message) =>
        Answers.Refused(status, [new("", ProblemCode.NotAllowed, message)]).ExecuteAsync(context);

    private static IEnumerable<string> Own(IPAddress bound)
    {
        string[] here = ["localhost", "127.0.0.1", "::1", bound.ToString()];
        // Listening everywhere, it is called by whatever the machine is.
        return bound.Equals(IPAddress.Any) || bound.Equals(IPAddress.IPv6Any)
            ? here.Append(Dns.GetHostName())
                .Concat(
                    NetworkInterface
                        .GetAllNetworkInterfaces()
                        .SelectMany(card => card.GetIPProperties().UnicastAddresses)
                        .Select(own => own.Address.ToString())
                )
            : here;
    }
}
