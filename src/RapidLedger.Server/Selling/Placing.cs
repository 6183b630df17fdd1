using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>Places orders: what is placed is what was shown, or it is not placed.</summary>
internal sealed class Placing(OpenShop shop, OrderRepository orders, Quoting quoting, OrderLog log, IClock clock)
{
    /// <summary>The longest that an order may be held.</summary>
    public static readonly Duration LongestHold = Duration.FromMinutes(ShopSettings.LongestHold);

    private const int MostHeld = 3;

    /// <summary>Places an order: in one transaction the cart is priced again, and refused if anything that was shown differs.</summary>
    public async Task<Answer> Place(PlaceRequest request, KeyedCall call, CancellationToken gone)
    {
        while (true)
        {
            // Where something was published in the same group of writes, it can be read in the next one.
            // Told once it is on disk, and only by whoever placed it.
            StoredOrder? placed = null;
            if (
                await orders.Write(
                    transaction => call.Once(transaction, () => Place(transaction, request, call.Caller, gone, out placed)),
                    gone
                )
                is not { } answer
            )
            {
                await shop.FollowSetup();
                continue;
            }

            if (placed is not null)
                log.Changed("placed", placed);
            else if (answer.Status >= 400)
                log.Refused(answer.Status);
            return answer;
        }
    }

    // Null: an edition was published, or goods or settings were written, that are not read yet.
    private Answer? Place(
        OrderTransaction transaction,
        PlaceRequest request,
        StoreCaller caller,
        CancellationToken gone,
        out StoredOrder? placed
    )
    {
        placed = null;
        var now = clock.GetCurrentInstant();
        transaction.Lapse(now.ToUnixTimeSeconds());
        if (transaction.NewestEdition() != shop.Live.Number || transaction.Numbers() != shop.Setup.Numbers)
            return null;
        if (request.Id is { } own && transaction.Find(own) is not null)
            return Answer.Refused(409, "/id", ProblemCode.Duplicate, $"There is an order '{own}' already. Give this one another id.");
        var replaced = request.Replaces is { } other ? transaction.Find(other) : null;
        if (request.Replaces is not null && replaced is not { State: "held" })
            return Answer.Refused(
                409,
                "/replaces",
                ProblemCode.Conflict,
                replaced is null
                    ? $"There is no order '{request.Replaces}'."
                    : $"The order '{request.Replaces}' is no longer held: it is {OrderForm.Words(replaced.State)}."
            );

        var outcome = quoting.Price(transaction, request.Cart, replaced, now, caller, gone);
        if (outcome.Value is not { } quoted)
            return Answer.Refused(422, outcome.Problems);
        if (replaced is not null && replaced.Shopper != quoted.Shopper)
            return Answer.Refused(409, "/replaces", ProblemCode.Conflict, "The order to replace is another shopper's.");
        var (priced, wording) = (quoted.Priced, shop.WordingIn(quoted.Priced.Currency));
        var (shown, asked) = (StoreResult.Shown(priced), JsonSerializer.SerializeToNode(request.Shown));
        if (!JsonNode.DeepEquals(shown, asked))
            return Answer.Of(
                409,
                Differs(shown, asked as JsonObject, StoreResult.Of(priced, wording, withheld: quoted.Withheld), quoted.Edition.Number)
            );
        if (priced.Lines.Count == 0)
            return Answer.Refused(422, "/cart/lines", ProblemCode.Empty, "An order needs something in the cart.");
        if (
            quoted is { Shopper: { } shopper, IsRehearsal: false }
            && request.Take != true
            && transaction.HeldBy(shopper) - (replaced is { Rehearsal: false } ? 1 : 0) >= MostHeld
        )
            return Answer.Refused(
                409,
                "/cart/shopper",
                ProblemCode.Conflict,
                $"This shopper holds {MostHeld} orders already. Take them, or give one back."
            );

        // Only now, so that what would be replaced by an order that is refused stays held.
        if (replaced is not null)
            transaction.Move(replaced, "givenBack");
        var used = priced.UsesUp();
        var hold = request.Hold is { } seconds ? Duration.FromSeconds(seconds) : Duration.FromMinutes(shop.Settings.HoldMinutes);
        var order = new StoredOrder(
            request.Id ?? $"o{Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(8))}",
            request.Take == true ? "taken" : "held",
            now.ToUnixTimeSeconds(),
            shop.DayOf(priced.Cart.At),
            request.Take == true ? null : (now + hold).ToUnixTimeSeconds(),
            quoted.Edition.Number,
            quoted.Shopper,
            quoted.IsRehearsal,
            used.Total,
            quoted.Cart.ToJsonString(),
            StoreResult.Of(priced, wording, isOrder: true, quoted.Withheld).ToJsonString(),
            null,
            0
        );
        transaction.Place(order, used, OrderFigures.Of(priced));
        placed = transaction.Find(order.Id)!;
        return Answer.Of(201, OrderForm.Of(placed));
    }

    private static JsonObject Differs(JsonObject shown, JsonObject? asked, JsonObject result, long edition)
    {
        var problems = shown
            .Where(member => !JsonNode.DeepEquals(member.Value, asked?[member.Key]))
            .Select(member => new Problem(
                $"/shown/{member.Key}",
                ProblemCode.Conflict,
                $"{Capital(member.Key)} {(member.Key.EndsWith('s') ? "are" : "is")} no longer as shown{(member.Value is JsonValue now ? $": {now} in place of {asked?[member.Key]?.ToString() ?? "nothing"}" : "")}."
            ))
            .DefaultIfEmpty(new("/shown", ProblemCode.UnknownName, "What was shown has members that a quote does not have."))
            .ToArray();
        var refusal = JsonSerializer
            .SerializeToNode(new Refusal(StatusCodes.Status409Conflict, problems), JsonSerializerOptions.Web)!
            .AsObject();
        refusal["edition"] = edition;
        refusal["shown"] = shown;
        refusal["result"] = result;
        return refusal;
    }

    private static string Capital(string text) => char.ToUpper(text[0], CultureInfo.InvariantCulture) + text[1..];
}
