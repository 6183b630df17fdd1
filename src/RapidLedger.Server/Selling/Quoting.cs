using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>A cart of a shop, priced under the live edition.</summary>
/// <param name="Priced">The result.</param>
/// <param name="Edition">The edition.</param>
/// <param name="Cart">The cart as it was read, with what the store knows of the shopper.</param>
/// <param name="Shopper">Who buys: an id, or a guest's hashed key; null: nobody that is known.</param>
/// <param name="IsRehearsal">Whether it stands at another clock than now.</param>
/// <param name="Dropped">Picks that are no longer offered, by promotion and SKU.</param>
/// <param name="Withheld">The codes that were not looked at, because too many unknown ones were tried.</param>
internal sealed record QuotedCart(
    PricedCart Priced,
    LiveEdition Edition,
    JsonObject Cart,
    string? Shopper,
    bool IsRehearsal,
    IReadOnlyList<DroppedPick> Dropped,
    IReadOnlyList<string> Withheld
);

/// <summary>A pick that is no longer offered.</summary>
internal sealed record DroppedPick(string Promotion, string Sku);

/// <summary>Prices carts of shops as they would be placed now: quoting and placing both come through here.</summary>
internal sealed class Quoting(OpenShop shop, OrderRepository orders, CodeGuard guard, IClock clock)
{
    /// <summary>Prices a cart as it would be placed now.</summary>
    /// <param name="request">The cart, and the order that it would replace.</param>
    /// <param name="caller">Who asks.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public async Task<Outcome<QuotedCart>> Quote(QuoteRequest request, StoreCaller caller, CancellationToken gone)
    {
        while (true)
        {
            var now = clock.GetCurrentInstant();
            var quoted = await orders.ReadAt(now.ToUnixTimeSeconds(), transaction =>
            {
                // A shopper of the store's and rules of this process by other words would not meet.
                var renames = transaction.Numbers().Renames;
                if (renames != shop.Setup.Numbers.Renames)
                    return null;
                var priced = Price(transaction, request.Cart, request.Replaces is { } id ? transaction.Find(id) : null, now, caller, gone);
                return renames == shop.Setup.Numbers.Renames ? priced : null;
            });
            if (quoted is not null)
                return quoted;
            await shop.FollowSetup();
        }
    }

    /// <summary>Prices a cart inside a transaction.</summary>
    /// <param name="transaction">In which it is read what has been used.</param>
    /// <param name="document">The cart.</param>
    /// <param name="replaced">An order that counts as if it were absent, if it is held by the same shopper; null: none.</param>
    /// <param name="now">The server's clock.</param>
    /// <param name="caller">Who asks.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public Outcome<QuotedCart> Price(
        OrderTransaction transaction,
        JsonElement document,
        StoredOrder? replaced,
        Instant now,
        StoreCaller caller,
        CancellationToken gone
    )
    {
        if (document.ValueKind != JsonValueKind.Object)
            return new([new("/cart", ProblemCode.WrongType, "A cart is an object.")]);
        var whole = JsonObject.Create(document.Clone())!;
        if (Refused(whole, caller) is { } refused)
            return new([refused]);
        var (edition, dropped) = (shop.Live, new List<DroppedPick>());
        DropPicks(whole, dropped);
        var absent = replaced is { State: "held", Rehearsal: false } ? replaced : null;
        var read = shop.ReadCart(whole, now, transaction, absent);
        if (read.Value is not { } cart)
            return new(read.Problems.Under("/cart"));
        var shopper = OpenShop.ShopperOf(cart, transaction);
        var context = shop.ContextOf(cart, edition.Rulebook.Givable, transaction, absent?.Shopper == shopper ? absent : null);
        PricedCart Priced() => Metrics.Measured(() => context.Price(edition.Rulebook, cart, gone));

        // Who tries out codes is told no more of any; the cart is priced all the same, without them.
        string[] withheld = [];
        if (caller.Client is { } client && guard.IsClosedTo(client))
            (cart, withheld) = (cart with { Codes = [] }, [.. cart.Codes.Select(Trigger.Normal).Distinct(StringComparer.Ordinal)]);
        var priced = Priced();
        if (
            caller.Client is { } who
            && guard.Admitted(who, [.. priced.Codes.Select(code => (code.Code, code.Status == "unknown"))]) is var admitted
            && admitted < priced.Codes.Count
        )
        {
            string[] told = [.. priced.Codes.Select(code => code.Code)];
            (cart, withheld) = (cart with { Codes = [.. told[..admitted]] }, told[admitted..]);
            priced = Priced();
        }

        Metrics.Entered(priced, withheld.Length);
        foreach (var picks in cart.Picks)
            if (priced.Applied.All(outcome => outcome.Promotion.Id != picks.Promotion))
                dropped.AddRange(picks.Skus.Select(sku => new DroppedPick(picks.Promotion, sku)));
        // What stands for a guest is kept hashed only.
        if (shopper is not null && cart.GuestKey is not null)
            whole.Remove("guestKey");
        return new(new QuotedCart(priced, edition, whole, shopper, cart.At != now, dropped, withheld));
    }

    // What only some callers may say.
    private static Problem? Refused(JsonObject cart, StoreCaller caller)
    {
        if (cart.ContainsKey("at") && caller.Kind != StoreCaller.Counter)
            return new("/cart/at", ProblemCode.NotAllowed, "A cart of a shop is priced now. Leave 'at' away.");
        if (caller.MayOrder)
            return null;
        foreach (var member in (string[])["shopper", "guestKey"])
            if (cart.ContainsKey(member))
                return new($"/cart/{member}", ProblemCode.NotAllowed, "Only a server key may say who buys.");
        return null;
    }

    private void DropPicks(JsonObject cart, List<DroppedPick> dropped)
    {
        if (cart["picks"] is not JsonObject picks)
            return;
        foreach (var (promotion, list) in picks.ToArray())
        {
            if (shop.Find(promotion) is { Stored.State: "live" } || list is not JsonArray skus)
                continue;
            dropped.AddRange(skus.Select(sku => new DroppedPick(promotion, sku?.ToString() ?? "")));
            picks.Remove(promotion);
        }
    }
}
