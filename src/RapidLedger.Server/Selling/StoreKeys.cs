using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Http.Features;
using RapidLedger.Formats;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>Who calls the store interface.</summary>
/// <param name="Id">The key's id.</param>
/// <param name="Kind">server, page, or counter: the program's own small shop, at which a clock may be set.</param>
/// <param name="Client">For whom codes are counted that nobody knows: an address, or whom a server names; null: the merchant's own counter,
/// where everything may be tried.</param>
/// <param name="Name">What the key is for, as whoever made it said.</param>
internal sealed record StoreCaller(string Id, string Kind, string? Client = null, string Name = "")
{
    public const string Server = "server";
    public const string Page = "page";
    public const string Counter = "counter";

    /// <summary>Whether it may say who buys, and place orders.</summary>
    public bool MayOrder => Kind != Page;
}

/// <summary>Keys of the store interface: bearer tokens (RFC 6750), of which the store keeps only a hash.</summary>
internal sealed class StoreKeys(KeyRepository keys)
{
    private const string Scheme = "Bearer ";

    /// <summary>The key of the counter that ships with the program; another at every start.</summary>
    public string Counter { get; } = Fresh();

    /// <summary>Makes a key.</summary>
    /// <param name="kind">server or page.</param>
    /// <param name="name">What it is for.</param>
    /// <returns>Its id, and the key itself, which is told only now.</returns>
    public async Task<(string Id, string Key)> Make(string kind, string name)
    {
        var key = Fresh();
        return (await keys.Add(kind, name, Hash(key)), key);
    }

    /// <summary>The largest body of a call, in bytes.</summary>
    public const int LargestBody = 1024 * 1024;

    /// <summary>Lets a call through that brings a good key, and says to it who calls: before anything of its body is read.</summary>
    public Task Admit(HttpContext context, RequestDelegate next)
    {
        // What is not there, and what anybody may ask, needs no key.
        if (
            !context.Request.Path.StartsWithSegments("/store")
            || context.GetEndpoint() is not RouteEndpoint endpoint
            || endpoint.Metadata.GetMetadata<ForAnybody>() is not null
        )
            return next(context);
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } body)
            body.MaxRequestBodySize = LargestBody;
        var brought = context.Request.Headers.Authorization.ToString();
        var key = brought.StartsWith(Scheme, StringComparison.OrdinalIgnoreCase) ? brought[Scheme.Length..].Trim() : null;
        if (key is null || Find(key) is not { } caller)
        {
            context.Response.Headers.WWWAuthenticate = key is null ? "Bearer" : "Bearer error=\"invalid_token\"";
            return Refuse(
                StatusCodes.Status401Unauthorized,
                key is null ? "A store key is needed: Authorization: Bearer KEY." : "This store key is not known, or was withdrawn."
            );
        }

        if (!caller.MayOrder && endpoint.Metadata.GetMetadata<ForServers>() is not null)
            return Refuse(
                StatusCodes.Status403Forbidden,
                "A page key may ask for prices and offers only. Use a server key, and never show it to a page."
            );
        context.Items[typeof(StoreCaller)] = caller with { Client = ClientOf(caller, context) };
        return next(context);

        Task Refuse(int status, string message) =>
            Answers.Refused(status, [new("", ProblemCode.NotAllowed, message)]).ExecuteAsync(context);
    }

    // For whom unknown codes are counted: whom a server names, else the server itself; a page's visitors by their address.
    private static string? ClientOf(StoreCaller caller, HttpContext context) =>
        caller.Kind switch
        {
            StoreCaller.Counter => null,
            StoreCaller.Server => $"{caller.Id} {context.Request.Headers["Store-Client"]}",
            _ => $"page {CodeGuard.At(context.Connection.RemoteIpAddress)}",
        };

    /// <summary>Who calls; only where calls were admitted.</summary>
    public static StoreCaller Of(HttpContext context) => (StoreCaller)context.Items[typeof(StoreCaller)]!;

    private StoreCaller? Find(string key)
    {
        if (CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(key), Encoding.UTF8.GetBytes(Counter)))
            return new("counter", StoreCaller.Counter);
        return keys.Find(Hash(key)) is { WithdrawnAt: null } known ? new(known.Id, known.Kind, Name: known.Name) : null;
    }

    private static string Fresh() => $"rl_{Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24))}";

    private static string Hash(string key) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(key)));
}

/// <summary>Marks what only a server key may do.</summary>
internal sealed class ForServers;

/// <summary>Marks what needs no key.</summary>
internal sealed class ForAnybody;
