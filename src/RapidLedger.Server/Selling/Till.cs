using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
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
/// <param name="Dropped">Picks that are no longer offered, by promotion and SKU.</param>
/// <param name="Withheld">The codes that were not looked at, because too many unknown ones were tried.</param>
internal sealed record TillPrice(PricedCart Priced, LiveEdition Edition, JsonObject Cart, string? Shopper, IReadOnlyList<DroppedPick> Dropped, IReadOnlyList<string> Withheld);

/// <summary>A pick that is no longer offered.</summary>
internal sealed record DroppedPick(string Promotion, string Sku);

/// <summary>A call with an idempotency key.</summary>
/// <param name="Caller">Who calls.</param>
/// <param name="Key">The key.</param>
/// <param name="Asked">What is asked: method, path and a hash of the body.</param>
internal sealed record KeyedCall(StoreCaller Caller, string Key, string Asked);

/// <summary>Where carts of shops are priced, and orders placed, taken and given back: what is placed is what was shown, or it is not placed.</summary>
internal sealed class Till(OpenShop shop, OrderRepository orders, CodeGuard guard, IClock clock)
{
    /// <summary>The longest that an order may be held.</summary>
    public static readonly Duration LongestHold = Duration.FromDays(14);

    private const int MostHeld = 3;
    private const int Effort = 1;

    private static readonly Duration UsualHold = Duration.FromMinutes(30);

    /// <summary>Prices a cart as it would be placed now.</summary>
    public Outcome<TillPrice> Quote(JsonElement cart, string? replaces, StoreCaller caller, CancellationToken gone) =>
        orders.Read(transaction =>
        {
            var now = clock.GetCurrentInstant();
            // As a placing would find it: without the order that is replaced, and without holds that are over.
            var absent = transaction.Over(now.ToUnixTimeSeconds()).ToList();
            if (replaces is not null && transaction.Find(replaces) is { State: "held" } replaced && absent.TrueForAll(order => order.Id != replaced.Id)) absent.Add(replaced);
            return Price(transaction, cart, now, [.. absent.Where(order => !order.Rehearsal)], caller, gone);
        });

    /// <summary>Until when a price holds, as far as windows and days tell: at most to midnight in the shop.</summary>
    public Instant ValidUntil(LiveEdition edition, Instant at)
    {
        var zone = shop.Store.Zone;
        var midnight = at.InZone(zone).Date.PlusDays(1).AtStartOfDayInZone(zone).ToInstant();
        return edition.Rulebook.NextTurn(at) is { } turn && turn < midnight ? turn : midnight;
    }

    /// <summary>Places an order: in one transaction the cart is priced again, and refused if anything that was shown differs.</summary>
    public async Task<Answer> Place(PlaceRequest request, KeyedCall call, CancellationToken gone)
    {
        while (true)
        {
            try
            {
                return await orders.Write(transaction => Once(transaction, call, () => Place(transaction, request, call.Caller, gone)), gone);
            }
            catch (EditionBehind)
            {
                // Something was published in the same group of writes; in the next one it can be read.
            }
            catch (Refusing refusal)
            {
                return refusal.Answer;
            }
        }
    }

    /// <summary>Takes an order that was paid. It is not priced again; one that lapsed is taken if all that it uses is still free.</summary>
    /// <param name="id">Which.</param>
    /// <param name="call">The call that is answered the same when it comes again; null: it is moved by hand, which may be done twice.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public Task<Answer> Take(string id, KeyedCall? call, CancellationToken gone) => orders.Write(
        transaction => Once(transaction, call, () =>
        {
            transaction.Lapse(clock.GetCurrentInstant().ToUnixTimeSeconds());
            if (transaction.Find(id) is not { } order) return NoOrder(id);
            switch (order.State)
            {
                case "taken": return Answer.Of(200, Told(order));
                case "givenBack": return Answer.Refused(409, "/state", ProblemCode.Conflict, "This order was given back; it cannot be taken any more.");
                case "lapsed" when Gone(transaction, order) is { Count: > 0 } gone: return Answer.Refused(409, gone);
                default: return Answer.Of(200, Told(transaction.Move(order, "taken")));
            }
        }),
        gone);

    /// <summary>Gives an order back, all of it or some units.</summary>
    public Task<Answer> GiveBack(string id, GiveBackRequest? request, KeyedCall? call, CancellationToken gone) => orders.Write(
        transaction => Once(transaction, call, () =>
        {
            transaction.Lapse(clock.GetCurrentInstant().ToUnixTimeSeconds());
            if (transaction.Find(id) is not { } order) return NoOrder(id);
            if (order.State == "lapsed") return Answer.Refused(409, "/state", ProblemCode.Conflict, "This order has lapsed; there is nothing to give back.");
            var account = ReturnAccount.Of(order);
            if (order.State == "givenBack") return Answer.Of(200, Told(order, account.Answer(null)));
            if (account.Return(request?.Lines) is { } problem) return Answer.Refused(422, [problem]);
            var moved = transaction.Move(order, account.IsAllBack ? "givenBack" : order.State, account.Written, account.BackOf(order.Total));
            return Answer.Of(200, Told(moved, account.Answer(CardsOf(transaction, order))));
        }),
        gone);

    /// <summary>An order as the shop's server reads it.</summary>
    public static JsonObject Told(StoredOrder order, JsonObject? returned = null)
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
        if (returned is not null) told["returned"] = returned;
        else if (order.Returned is { } written) told["returned"] = JsonNode.Parse(written);
        return told;
    }

    /// <summary>An order with its redemptions, in amounts of the base currency, as limits count them.</summary>
    public static IResult Find(string id, OrderRepository orders, OpenShop shop)
    {
        var found = orders.Read(transaction => (Order: transaction.Find(id), Uses: transaction.UsesOf(id)));
        if (found.Order is not { } order) return NoOrder(id).Result;
        var told = Told(order);
        told["redemptions"] = new JsonArray([.. found.Uses.Select(use => new JsonObject { ["promotion"] = use.Promotion, ["amount"] = shop.Store.Currency.Write(use.Amount), ["drawn"] = shop.Store.Currency.Write(use.Drawn) })]);
        return Results.Ok(told);
    }

    private static Answer NoOrder(string id) => Answer.Refused(404, "", ProblemCode.UnknownName, $"There is no order '{id}'.");

    // A call that comes again gets the answer that it got.
    private static Answer Once(OrderTransaction transaction, KeyedCall? call, Func<Answer> work)
    {
        if (call is not var (caller, key, asked)) return work();
        if (transaction.Answer(caller.Id, key) is { } before)
            return before.Asked == asked
                ? new(before.Status, before.Answer)
                : Answer.Refused(422, "/Idempotency-Key", ProblemCode.Duplicate, "This Idempotency-Key was used for another call. Use a new one.");
        var answer = work();
        if (answer.Status is >= 200 and < 300) transaction.Keep(caller.Id, key, new(asked, answer.Status, answer.Body));
        return answer;
    }

    private Answer Place(OrderTransaction transaction, PlaceRequest request, StoreCaller caller, CancellationToken gone)
    {
        var now = clock.GetCurrentInstant();
        transaction.Lapse(now.ToUnixTimeSeconds());
        if (transaction.NewestEdition() != shop.Live.Number) throw new EditionBehind();
        if (request.Id is { } own && transaction.Find(own) is not null) return Answer.Refused(409, "/id", ProblemCode.Duplicate, $"There is an order '{own}' already. Give this one another id.");
        StoredOrder? replaced = null;
        if (request.Replaces is { } other)
        {
            replaced = transaction.Find(other);
            if (replaced is not { State: "held" }) return Answer.Refused(409, "/replaces", ProblemCode.Conflict, replaced is null ? $"There is no order '{other}'." : $"The order '{other}' is no longer held: it is {Words(replaced.State)}.");
            transaction.Move(replaced, "givenBack");
        }

        // If it is refused the order that it would replace stays held: all of this is rolled back.
        Answer Refuse(Answer answer) => replaced is null ? answer : throw new Refusing(answer);
        var outcome = Price(transaction, request.Cart, now, [], caller, gone);
        if (outcome.Value is not { } priced) return Refuse(Answer.Refused(422, outcome.Problems));
        if (replaced is not null && replaced.Shopper != priced.Shopper) return Refuse(Answer.Refused(409, "/replaces", ProblemCode.Conflict, "The order to replace is another shopper's."));
        var shown = StoreResult.Shown(priced.Priced);
        var wording = shop.WordingIn(priced.Priced.Currency);
        var asked = JsonSerializer.SerializeToNode(request.Shown);
        if (!JsonNode.DeepEquals(shown, asked)) return Refuse(Answer.Of(409, Differs(shown, asked as JsonObject, StoreResult.Of(priced.Priced, wording, withheld: priced.Withheld), priced.Edition.Number)));
        var rehearsal = priced.Priced.Cart.At != now;
        if (priced.Priced.Lines.Count == 0) return Refuse(Answer.Refused(422, "/cart/lines", ProblemCode.Empty, "An order needs something in the cart."));
        if (priced.Shopper is { } shopper && !rehearsal && request.Take != true && transaction.HeldBy(shopper) >= MostHeld)
            return Refuse(Answer.Refused(409, "/cart/shopper", ProblemCode.Conflict, $"This shopper holds {MostHeld} orders already. Take them, or give one back."));

        var used = priced.Priced.UsesUp();
        var hold = request.Hold is { } seconds ? Duration.FromSeconds(seconds) : UsualHold;
        var order = new StoredOrder(
            request.Id ?? $"o{Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(8))}",
            request.Take == true ? "taken" : "held",
            now.ToUnixTimeSeconds(),
            LocalDatePattern.Iso.Format((rehearsal ? priced.Priced.Cart.At : now).InZone(shop.Store.Zone).Date),
            request.Take == true ? null : (now + hold).ToUnixTimeSeconds(),
            priced.Edition.Number,
            priced.Shopper,
            rehearsal,
            used.Total,
            priced.Cart.ToJsonString(),
            StoreResult.Of(priced.Priced, wording, isOrder: true, priced.Withheld).ToJsonString(),
            null,
            0);
        transaction.Place(order, used);
        return Answer.Of(201, Told(transaction.Find(order.Id)!));
    }

    private Outcome<TillPrice> Price(
        OrderTransaction transaction, JsonElement document, Instant now, IReadOnlyList<StoredOrder> absent, StoreCaller caller, CancellationToken gone)
    {
        if (document.ValueKind != JsonValueKind.Object) return new([new("/cart", ProblemCode.WrongType, "A cart is an object.")]);
        var whole = JsonObject.Create(document.Clone())!;
        if (whole.ContainsKey("at") && caller.Kind != StoreCaller.Counter) return new([new("/cart/at", ProblemCode.NotAllowed, "A cart of a shop is priced now. Leave 'at' away.")]);
        if (!caller.MayOrder && whole.ContainsKey("shopper")) return new([new("/cart/shopper", ProblemCode.NotAllowed, "Only a server key may say who buys.")]);
        if (!whole.ContainsKey("at")) whole["at"] = now.ToString();
        var (edition, dropped) = (shop.Live, new List<DroppedPick>());
        DropPicks(whole, dropped);
        FillIn(whole, absent, transaction);
        var read = CaseReader.ReadCart(Encoding.UTF8.GetBytes(whole.ToJsonString()), shop.Catalogue, shop.Ids);
        if (read.Value is not { } cart) return new(read.Problems.Under("/cart"));

        var shopper = cart.Shopper is not null ? cart.Shopper.Id : cart.GuestKey is { } guest ? Hashed(guest, transaction) : null;
        var day = LocalDatePattern.Iso.Format(cart.At.InZone(shop.Store.Zone).Date);
        var used = UsedBefore.Of(transaction, day, shopper, cart.Codes, edition, shop);
        foreach (var order in absent) used.TakeOut(order, day, shopper, transaction);
        PricedCart Priced() => Metrics.Measured(() => edition.Rulebook.Price(cart, used.Promotions, Effort, gone, used.Codes, used.Left));

        // Who tries out codes is told no more of any; the cart is priced all the same, without them.
        string[] withheld = [];
        if (caller.Client is { } client && guard.IsClosedTo(client)) (cart, withheld) = (cart with { Codes = [] }, [.. cart.Codes.Select(Trigger.Normal).Distinct(StringComparer.Ordinal)]);
        var priced = Priced();
        if (caller.Client is { } who && guard.Admitted(who, [.. priced.Codes.Select(code => (code.Code, code.Status == "unknown"))]) is var admitted && admitted < priced.Codes.Count)
        {
            string[] told = [.. priced.Codes.Select(code => code.Code)];
            (cart, withheld) = (cart with { Codes = [.. told[..admitted]] }, told[admitted..]);
            priced = Priced();
        }

        foreach (var picks in cart.Picks)
            if (priced.Applied.All(outcome => outcome.Promotion.Id != picks.Promotion)) dropped.AddRange(picks.Skus.Select(sku => new DroppedPick(picks.Promotion, sku)));
        // What stands for a guest is kept hashed only.
        if (shopper is not null && cart.GuestKey is not null) whole.Remove("guestKey");
        return new(new TillPrice(priced, edition, whole, shopper, dropped, withheld));
    }

    /// <summary>What has been used by others when a cart is priced.</summary>
    private sealed record UsedBefore(Dictionary<string, Usage> Promotions, Dictionary<string, BatchCode> Codes, Dictionary<string, long> Left)
    {
        public static UsedBefore Of(OrderTransaction transaction, string day, string? shopper, IEnumerable<string> codes, LiveEdition edition, OpenShop shop) => new(
            transaction.Usage(day, shopper).ToDictionary(
                used => used.PromotionId, used => new Usage(used.Total, used.Shopper, used.Today, used.Budget, used.Drawn), StringComparer.Ordinal),
            OpenShop.Standing(transaction.Standing(codes.Select(code => Trigger.Bare(Trigger.Normal(code))))),
            shop.Left(transaction.Sold(edition.Rulebook.Givable)));

        /// <summary>Takes out what an order uses that counts as if it were not there.</summary>
        public void TakeOut(StoredOrder absent, string day, string? shopper, OrderTransaction transaction)
        {
            foreach (var use in transaction.UsesOf(absent.Id))
                if (Promotions.TryGetValue(use.Promotion, out var used))
                    Promotions[use.Promotion] = new(
                        used.Total - 1, shopper is not null && absent.Shopper == shopper ? used.Shopper - 1 : used.Shopper, absent.Day == day ? used.Today - 1 : used.Today, used.Budget - use.Amount, used.Drawn - use.Drawn);
            foreach (var code in transaction.CodesOf(absent.Id))
                if (Codes.TryGetValue(code.Bare, out var used)) Codes[code.Bare] = used with { Used = used.Used - 1, Drawn = used.Drawn - code.Drawn };
            foreach (var unit in transaction.UnitsOf(absent.Id))
                if (Left.TryGetValue(unit.Sku, out var left)) Left[unit.Sku] = left + unit.Units;
        }
    }

    // What of a lapsed order has been used up by others in the meantime.
    private List<Problem> Gone(OrderTransaction transaction, StoredOrder order)
    {
        var gone = new List<Problem>();
        if (order.Rehearsal) return gone;
        var usage = transaction.Usage(order.Day, order.Shopper).ToDictionary(used => used.PromotionId, StringComparer.Ordinal);
        var live = shop.Live.Rulebook.Promotions.ToDictionary(promotion => promotion.Id, StringComparer.Ordinal);
        // What a credit holds in the base currency; where it is no longer live its draws are not held against anybody.
        long? HeldBy(Promotion? promotion) => promotion?.Rewards is [Credit credit] ? credit.Amount.For(shop.Store.Currency, shop.Store) : null;

        foreach (var use in transaction.UsesOf(order.Id))
        {
            var (promotion, used) = (live.GetValueOrDefault(use.Promotion), usage.GetValueOrDefault(use.Promotion));
            if (use.Drawn > 0 && HeldBy(promotion) is { } held && (used?.Drawn ?? 0) + use.Drawn > held)
                gone.Add(new($"/promotions/{Pointer.Escaped(use.Promotion)}", ProblemCode.Conflict, "The credit has been drawn by others."));
            if (promotion?.Limits is not { } limits || used is null) continue;
            if (limits.Reached(new(used.Total, used.Shopper, used.Today, used.Budget), order.Shopper is not null) is not null)
                gone.Add(new($"/promotions/{Pointer.Escaped(use.Promotion)}", ProblemCode.Conflict, $"The promotion '{use.Promotion}' has been used up by others."));
        }

        var codes = transaction.CodesOf(order.Id);
        var standing = transaction.Standing(codes.Select(code => code.Bare)).ToDictionary(code => code.Bare, StringComparer.Ordinal);
        foreach (var code in codes)
        {
            if (standing.GetValueOrDefault(code.Bare) is not { } known) continue;
            var isDrawn = code.Drawn > 0 && HeldBy(live.Values.FirstOrDefault(promotion => promotion.Trigger?.Batches.Contains(known.BatchId) == true)) is { } held && known.Drawn + code.Drawn > held;
            if (isDrawn || (code.Drawn == 0 && known.Used >= known.UsesEach)) gone.Add(new("/codes", ProblemCode.Conflict, "A code of this order has been used by others."));
        }

        // Goods may pass their stock, gifts may not: of a SKU that was given all units of the order must still be there.
        var units = transaction.UnitsOf(order.Id).ToDictionary(unit => unit.Sku, unit => unit.Units, StringComparer.Ordinal);
        var given = JsonNode.Parse(order.Result)!["gifts"]!.AsArray().GroupBy(gift => (string)gift!["sku"]!, gift => (long)gift!["quantity"]!, StringComparer.Ordinal).ToDictionary(gift => gift.Key, gift => gift.Sum(), StringComparer.Ordinal);
        var left = shop.Left(transaction.Sold(given.Keys));
        // Where the stock was set anew since, of which the order moves nothing, the gifts alone have to be there.
        foreach (var (sku, count) in given)
            if (shop.Catalogue.Find(sku) is >= 0 and var variant && shop.Catalogue.Variant(variant).Free(left) < units.GetValueOrDefault(sku, count))
                gone.Add(new("/gifts", ProblemCode.Conflict, $"The gift {sku} has run out."));
        return gone;
    }

    private JsonArray CardsOf(OrderTransaction transaction, StoredOrder order) => new([.. transaction.Standing(transaction.CodesOf(order.Id).Where(code => code.Drawn > 0).Select(code => code.Bare))
        .Select(code => new JsonObject { ["code"] = code.Bare, ["usable"] = !code.Void && (code.LastDay is null || string.CompareOrdinal(code.LastDay, LocalDatePattern.Iso.Format(clock.GetCurrentInstant().InZone(shop.Store.Zone).Date)) >= 0) })]);

    private void DropPicks(JsonObject cart, List<DroppedPick> dropped)
    {
        if (cart["picks"] is not JsonObject picks) return;
        var live = shop.Live.Rulebook.Promotions.Select(promotion => promotion.Id).ToHashSet(StringComparer.Ordinal);
        foreach (var (promotion, list) in picks.ToArray())
        {
            if (live.Contains(promotion) || list is not JsonArray skus) continue;
            dropped.AddRange(skus.Select(sku => new DroppedPick(promotion, sku?.ToString() ?? "")));
            picks.Remove(promotion);
        }
    }

    // What the cart says of its shopper stands; the store fills in the rest by the id.
    private void FillIn(JsonObject cart, IReadOnlyList<StoredOrder> absent, OrderTransaction transaction)
    {
        if (cart["shopper"] is not JsonObject named || named["id"] is not JsonValue value || !value.TryGetValue<string>(out var id) || transaction.Shopper(id) is not { } known) return;
        if (!named.ContainsKey("groups")) named["groups"] = new JsonArray([.. known.Groups.Split(',', StringSplitOptions.RemoveEmptyEntries).Select(group => JsonValue.Create(group))]);
        if (!named.ContainsKey("orders")) named["orders"] = Math.Max(0, known.Orders - absent.Count(order => order.Shopper == id));
        if (!named.ContainsKey("spent")) named["spent"] = shop.Store.Currency.Write(known.Spent);
    }

    private static string Hashed(string guest, OrderTransaction transaction) =>
        OrderTransaction.Guest + Convert.ToHexStringLower(HMACSHA256.HashData(transaction.GuestSecret(), Encoding.UTF8.GetBytes(guest)));

    private static JsonObject Differs(JsonObject shown, JsonObject? asked, JsonObject result, long edition)
    {
        var problems = shown.Where(member => !JsonNode.DeepEquals(member.Value, asked?[member.Key]))
            .Select(member => new Problem($"/shown/{member.Key}", ProblemCode.Conflict, $"{Capital(member.Key)} {(member.Key.EndsWith('s') ? "are" : "is")} no longer as shown{(member.Value is JsonValue now ? $": {now} in place of {asked?[member.Key]?.ToString() ?? "nothing"}" : "")}."))
            .DefaultIfEmpty(new("/shown", ProblemCode.UnknownName, "What was shown has members that a quote does not have.")).ToArray();
        var refusal = JsonSerializer.SerializeToNode(new Refusal(StatusCodes.Status409Conflict, problems), JsonSerializerOptions.Web)!.AsObject();
        refusal["edition"] = edition;
        refusal["shown"] = shown.DeepClone();
        refusal["result"] = result.DeepClone();
        return refusal;
    }

    private static string Words(string state) => state switch { "givenBack" => "given back", var plain => plain };

    private static string Capital(string text) => char.ToUpper(text[0], CultureInfo.InvariantCulture) + text[1..];

    private sealed class EditionBehind : Exception;

    private sealed class Refusing(Answer answer) : Exception
    {
        public Answer Answer => answer;
    }
}

/// <summary>Something, or what is wrong.</summary>
internal sealed record Outcome<T>(T? Value, IReadOnlyList<Problem> Problems)
    where T : class
{
    public Outcome(T value)
        : this(value, [])
    {
    }

    public Outcome(IReadOnlyList<Problem> problems)
        : this(null, problems)
    {
    }
}

/// <summary>An answer as it goes out, and as it is kept.</summary>
internal sealed record Answer(int Status, string Body)
{
    public static Answer Of(int status, JsonObject body) => new(status, body.ToJsonString());

    public static Answer Refused(int status, string at, string code, string message) => Refused(status, [new(at, code, message)]);

    public static Answer Refused(int status, IReadOnlyList<Problem> problems) => new(status, JsonSerializer.Serialize(new Refusal(status, problems), JsonSerializerOptions.Web));

    public IResult Result => Results.Text(Body, Status is >= 200 and < 300 ? "application/json" : Refusal.MediaType, Encoding.UTF8, Status);
}
