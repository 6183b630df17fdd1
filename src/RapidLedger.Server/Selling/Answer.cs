using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>An answer as it goes out, and as it is kept.</summary>
internal sealed record Answer(int Status, string Body)
{
    public static Answer Of(int status, JsonObject body) => new(status, body.ToJsonString());

    public static Answer Refused(int status, string at, string code, string message) => Refused(status, [new(at, code, message)]);

    public static Answer Refused(int status, IReadOnlyList<Problem> problems) =>
        new(status, JsonSerializer.Serialize(new Refusal(status, problems), JsonSerializerOptions.Web));

    public IResult Result => Results.Text(Body, Status is >= 200 and < 300 ? "application/json" : Refusal.MediaType, Encoding.UTF8, Status);
}

/// <summary>A call that may come again: it carries an idempotency key.</summary>
/// <param name="Caller">Who calls.</param>
/// <param name="Key">The key.</param>
/// <param name="Asked">What is asked: method, path and a hash of the body.</param>
internal sealed record KeyedCall(StoreCaller Caller, string Key, string Asked);

/// <summary>Calls that come again.</summary>
internal static class KeyedCalls
{
    /// <summary>A call that carries a key.</summary>
    /// <param name="context">The call.</param>
    /// <param name="key">The key.</param>
    /// <param name="body">What it sends: the same key with another body is another call.</param>
    public static KeyedCall Of(HttpContext context, string key, byte[] body) =>
        new(
            StoreKeys.Of(context),
            key,
            $"{context.Request.Method} {context.Request.Path} {Convert.ToHexStringLower(SHA256.HashData(body))}"
        );

    /// <summary>
    /// Does what a call asks for once: one that comes again gets the answer that it got. What was refused is not kept, so that it may be
    /// tried again.
    /// </summary>
    /// <param name="call">The call; null: it carries no key, and is done as often as it comes.</param>
    /// <param name="transaction">In which it is done.</param>
    /// <param name="work">What it asks for; null: it is to be tried anew in another transaction.</param>
    public static Answer? Once(this KeyedCall? call, OrderTransaction transaction, Func<Answer?> work)
    {
        if (call is not var (caller, key, asked))
            return work();
        if (transaction.Answer(caller.Id, key) is { } before)
            return before.Asked == asked
                ? new(before.Status, before.Answer)
                : Answer.Refused(
                    422,
                    "/Idempotency-Key",
                    ProblemCode.Duplicate,
                    "This Idempotency-Key was used for another call. Use a new one."
                );
        var answer = work();
        if (answer is { Status: >= 200 and < 300 })
            transaction.Keep(caller.Id, key, new(asked, answer.Status, answer.Body));
        return answer;
    }
}
