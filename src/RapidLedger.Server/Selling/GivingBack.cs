using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>Gives orders back, all of them or some units, over money and cards as these paid.</summary>
internal sealed class GivingBack(OpenShop shop, OrderRepository orders, OrderLog log, IClock clock)
{
    /// <summary>Gives an order back.</summary>
    /// <param name="id">Which.</param>
    /// <param name="request">What of it; null: all that is left.</param>
    /// <param name="call">The call that is answered the same when it comes again; null: it is moved by hand, which may be done
    /// twice.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public async Task<Answer> GiveBack(string id, GiveBackRequest? request, KeyedCall? call, CancellationToken gone)
    {
        StoredOrder? moved = null;
        var answer = await orders.Write(transaction => call.Once(transaction, () =>
                {
                    moved = null;
                    var now = clock.GetCurrentInstant();
                    transaction.Lapse(now.ToUnixTimeSeconds());
                    if (transaction.Find(id) is not { } order)
                        return OrderForm.None(id);
                    if (order.State == "lapsed")
                        return Answer.Refused(409, "/state", ProblemCode.Conflict, "This order has lapsed; there is nothing to give back.");
                    var payments = transaction.PaymentsOf(id);
                    var account = ReturnAccount.Of(order, payments, shop.Store.Currency);
                    if (order.State != "givenBack")
                    {
                        if (account.Return(request?.Lines) is { } problem)
                            return Answer.Refused(422, [problem]);
                        for (var place = 0; place < payments.Count; place++)
                            transaction.Draw(order, payments[place], payments[place].Drawn(account.BackTo(place)));
                        order = moved = transaction.Move(
                            order,
                            account.IsAllBack ? "givenBack" : order.State,
                            account.Written,
                            account.BackOf(order.Total)
                        );
                    }

                    return Answer.Of(
                        200,
                        OrderForm.Of(order, account.Told(payment => IsUsable(payment, account.Currency, now, transaction)))
                    );
                }), gone);
        if (moved is not null)
            log.Changed("givenBack", moved);
        return answer!;
    }

    // Whether a card can be used again: something is on it, its code is good, and its promotion is live and not over.
    private bool IsUsable(CreditPayment payment, Currency currency, Instant now, OrderTransaction transaction)
    {
        var today = now.InZone(shop.Store.Zone);
        if (shop.Find(payment.Promotion) is not { Stored.State: "live", InForce.Promotion: { Card: { } credit } promotion })
            return false;
        if (promotion.Window?.End is { } end && end <= today.LocalDateTime)
            return false;
        if (payment.Bare is null)
            return credit.Held(
                    currency,
                    shop.Store,
                    transaction.Usage("", null).FirstOrDefault(used => used.PromotionId == payment.Promotion)?.Drawn ?? 0
                ) > 0;
        return OpenShop.Standing(transaction.Standing([payment.Bare])).GetValueOrDefault(payment.Bare) is { } card
            && card.FaultOn(today.Date, credit.Held(currency, shop.Store, card.Drawn)) is null;
    }
}
