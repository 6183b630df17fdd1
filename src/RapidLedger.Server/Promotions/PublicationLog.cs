using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>Writes down what was published, by whom as far as is known, and makes it ready before the answer goes out.</summary>
internal sealed partial class PublicationLog(ILogger<PublicationLog> log, OpenShop shop)
{
    private const int LongestReason = 200;

    /// <summary>What is wrong with the reason that is given for an edition; null: nothing.</summary>
    public static IResult? FaultOf(string? reason) =>
        reason?.Length > LongestReason
            ? Answers.Refused("/reason", ProblemCode.OutOfRange, $"A reason has at most {LongestReason} characters.")
            : null;

    /// <summary>A reason as it is kept: none where nothing is said.</summary>
    public static string? Reason(string? reason) => string.IsNullOrWhiteSpace(reason) ? null : reason.Trim();

    public void Published(WriteOutcome outcome, string state, HttpContext context)
    {
        if (outcome is not { Conflict: false, Current: { } now })
            return;
        Write(log, now.Id, state, now.Version, shop.Live.Number, context.Connection.RemoteIpAddress?.ToString() ?? "here");
    }

    public void Restored(long edition, HttpContext context) =>
        WriteRestored(log, edition, shop.Live.Number, context.Connection.RemoteIpAddress?.ToString() ?? "here");

    [LoggerMessage(Level = LogLevel.Information, Message = "Edition {Old} is live again as edition {Edition}; asked for from {Address}")]
    private static partial void WriteRestored(ILogger log, long old, long edition, string address);

    [LoggerMessage(
        Level = LogLevel.Information,
        Message = "Promotion {Promotion} is {State}, version {Version}; edition {Edition} is live; asked for from {Address}"
    )]
    private static partial void Write(ILogger log, string promotion, string state, long? version, long edition, string address);
}
