using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>An order as the shop's server and the merchant read it.</summary>
internal static class OrderForm
{
    private const int MostIdCharacters = 64;

    /// <summary>The order.</summary>
    /// <param name="order">As stored.</param>
    /// <param name="returned">What came back of it, where that is told in more detail than it is kept.</param>
    public static JsonObject Of(StoredOrder order, JsonObject? returned = null)
    {
        var told = new JsonObject
        {
            ["id"] = order.Id,
            ["state"] = order.State,
            ["placedAt"] = Instant.FromUnixTimeSeconds(order.PlacedAt).ToString(),
            ["heldUntil"] = order.State == "held" && order.HeldUntil is { } until ? Instant.FromUnixTimeSeconds(until).ToString() : null,
            ["edition"] = order.Edition,
            ["rehearsal"] = order.Rehearsal,
            ["change"] = order.Change,
            ["result"] = JsonNode.Parse(order.Result),
        };
        if (returned is not null)
            told["returned"] = returned;
        else if (order.Returned is { } written)
            told["returned"] = JsonNode.Parse(written);
        return told;
    }

    /// <summary>The order with its redemptions, in amounts of the base currency, as limits count them.</summary>
    public static JsonObject Whole(StoredOrder order, IEnumerable<PromotionUse> uses, Currency inBase)
    {
        var told = Of(order);
        told["redemptions"] = new JsonArray([
            .. uses.Select(use => new JsonObject
            {
                ["promotion"] = use.Promotion,
                ["amount"] = inBase.Write(use.Amount),
                ["drawn"] = inBase.Write(use.Drawn),
            }),
        ]);
        return told;
    }

    /// <summary>
    /// What is wrong with an id that a shop gives; null: nothing. Whatever it is, it can stand in a path (RFC 3986, 2.3: unreserved
    /// characters).
    /// </summary>
    public static Problem? FaultOf(string id) =>
        id is "." or ".."
        || id.Length is 0 or > MostIdCharacters
        || !id.All(letter => char.IsAsciiLetterOrDigit(letter) || letter is '.' or '_' or '~' or '-')
            ? new(
                "/id",
                ProblemCode.OutOfRange,
                $"An id holds 1 to {MostIdCharacters} of A-Z a-z 0-9 . _ ~ - and is not . or .., so that it can stand in an address."
            )
            : null;

    /// <summary>That there is no such order.</summary>
    public static Answer None(string id) => Answer.Refused(404, "", ProblemCode.UnknownName, $"There is no order '{id}'.");

    /// <summary>A state in words.</summary>
    public static string Words(string state) =>
        state switch
        {
            "givenBack" => "given back",
            var plain => plain,
        };
}
