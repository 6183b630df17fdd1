using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>Takes orders that were paid. They are not priced again; one that lapsed is taken if all that it uses is still free.</summary>
internal sealed class Taking(OpenShop shop, OrderRepository orders, OrderLog log, IClock clock)
{
    /// <summary>Takes an order.</summary>
    /// <param name="id">Which.</param>
    /// <param name="call">The call that is answered the same when it comes again; null: it is moved by hand, which may be done
    /// twice.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public async Task<Answer> Take(string id, KeyedCall? call, CancellationToken gone)
    {
        StoredOrder? taken = null;
        var answer = await orders.Write(transaction => call.Once(transaction, () =>
                {
                    taken = null;
                    transaction.Lapse(clock.GetCurrentInstant().ToUnixTimeSeconds());
                    if (transaction.Find(id) is not { } order)
                        return OrderForm.None(id);
                    switch (order.State)
                    {
                        case "taken":
                            return Answer.Of(200, OrderForm.Of(order));
                        case "givenBack":
                            return Answer.Refused(
                                409,
                                "/state",
                                ProblemCode.Conflict,
                                "This order was given back; it cannot be taken any more."
                            );
                        case "lapsed" when Gone(transaction, order).ToArray() is { Length: > 0 } gone:
                            return Answer.Refused(409, gone);
                        default:
                            return Answer.Of(200, OrderForm.Of(taken = transaction.Move(order, "taken")));
                    }
                }), gone);
        if (taken is not null)
            log.Changed("taken", taken);
        return answer!;
    }

    // What of a lapsed order has been used up by others in the meantime, by the limits that its promotions have now, live or not.
    private IEnumerable<Problem> Gone(OrderTransaction transaction, StoredOrder order)
    {
        if (order.Rehearsal)
            return [];
        var result = JsonNode.Parse(order.Result)!;
        var (uses, usage) = (
            transaction.UsesOf(order.Id),
            transaction.Usage(order.Day, order.Shopper).ToDictionary(used => used.PromotionId, used => used.Usage, StringComparer.Ordinal)
        );
        return UsesGone(order, uses, usage)
            .Concat(CardsAndCodesGone(transaction, order, uses, usage, Currency.Find((string)result["currency"]!)!))
            .Concat(GiftsGone(transaction, order, result));
    }

    private IEnumerable<Problem> UsesGone(StoredOrder order, IReadOnlyList<PromotionUse> uses, Dictionary<string, Usage> usage)
    {
        foreach (var use in uses)
        {
            var at = $"/promotions/{Pointer.Escaped(use.Promotion)}";
            if (shop.Find(use.Promotion)?.InForce.Promotion is not { } promotion)
                yield return new(at, ProblemCode.Conflict, $"What the promotion '{use.Promotion}' allows can no longer be read.");
            else if (
                promotion.Limits is { } limits
                && usage.GetValueOrDefault(use.Promotion) is { } used
                && limits.Reached(used, order.Shopper is not null) is not null
            )
                yield return new(at, ProblemCode.Conflict, $"The promotion '{use.Promotion}' has been used up by others.");
        }
    }

    private IEnumerable<Problem> CardsAndCodesGone(
        OrderTransaction transaction,
        StoredOrder order,
        IReadOnlyList<PromotionUse> uses,
        Dictionary<string, Usage> usage,
        Currency currency
    )
    {
        var payments = transaction.PaymentsOf(order.Id);
        foreach (var payment in payments.Where(payment => payment.Bare is null))
            if (
                IsOverdrawn(
                    payment.Promotion,
                    usage.GetValueOrDefault(payment.Promotion)?.Drawn ?? 0,
                    uses.First(use => use.Promotion == payment.Promotion).Drawn,
                    currency
                )
            )
                yield return new(
                    $"/promotions/{Pointer.Escaped(payment.Promotion)}",
                    ProblemCode.Conflict,
                    "The credit has been drawn by others."
                );

        var codes = transaction.CodesOf(order.Id);
        var standing = transaction.Standing(codes.Select(code => code.Bare)).ToDictionary(code => code.Bare, StringComparer.Ordinal);
        foreach (var code in codes)
        {
            if (standing.GetValueOrDefault(code.Bare) is not { Void: false } known)
                yield return new("/codes", ProblemCode.Conflict, "A code of this order is no longer valid.");
            else if (
                payments.FirstOrDefault(payment => payment.Bare == code.Bare) is { } card
                    ? IsOverdrawn(card.Promotion, known.Drawn, code.Drawn, currency)
                    : known.Used >= known.UsesEach
            )
                yield return new("/codes", ProblemCode.Conflict, "A code of this order has been used by others.");
        }
    }

    // Whether a card no longer holds what an order would draw from it again.
    private bool IsOverdrawn(string promotion, long drawn, long again, Currency currency) =>
        shop.Find(promotion)?.InForce.Promotion?.Card is not { } credit
        || (credit.KeepRest ? drawn + again > credit.Worth(currency, shop.Store).InBase : drawn > 0);

    // Goods may pass their stock, gifts may not: of a SKU that was given all units of the order must still be there.
    private IEnumerable<Problem> GiftsGone(OrderTransaction transaction, StoredOrder order, JsonNode result)
    {
        var units = transaction.UnitsOf(order.Id).ToDictionary(unit => unit.Sku, unit => unit.Units, StringComparer.Ordinal);
        var given = result["gifts"]!
            .AsArray()
            .GroupBy(gift => (string)gift!["sku"]!, gift => (long)gift!["quantity"]!, StringComparer.Ordinal)
            .ToDictionary(gift => gift.Key, gift => gift.Sum(), StringComparer.Ordinal);
        var left = shop.Left(transaction.Sold(given.Keys));
        // Where the stock was set anew since, of which the order moves nothing, the gifts alone have to be there.
        foreach (var (sku, count) in given)
            if (
                shop.Catalogue.Find(sku) is >= 0 and var variant
                && shop.Catalogue.Variant(variant).Free(left) < units.GetValueOrDefault(sku, count)
            )
                yield return new("/gifts", ProblemCode.Conflict, $"The gift {sku} has run out.");
    }
}
