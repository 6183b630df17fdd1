using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>
/// Tells which limits, budgets, cards and codes are passed, by what promotions allow now. That is no fault of the counters: a limit may
/// have
/// been lowered since, and a budget may be passed by its last order.
/// </summary>
internal static class PassedLimits
{
    /// <summary>What is passed, in sentences.</summary>
    public static IReadOnlyList<string> Of(OpenShop shop, OrderTransaction transaction)
    {
        var usage = transaction.Usage("", null).ToDictionary(used => used.PromotionId, StringComparer.Ordinal);
        var told = new List<string>();
        foreach (var shelved in shop.Promotions.OrderBy(promotion => promotion.Stored.Id, StringComparer.Ordinal))
        {
            if (shelved.InForce.Promotion is not { } promotion)
                continue;
            var (limits, used) = (promotion.Limits, usage.GetValueOrDefault(promotion.Id));
            var (onADay, byAShopper) = limits is null ? (0, 0) : transaction.MostUses(promotion.Id);
            if (used?.Total > limits?.Total)
                Tell($"was used {used.Total} times of {limits.Total}");
            if (onADay > limits?.PerDay)
                Tell($"was used {onADay} times on one day, of {limits.PerDay}");
            if (byAShopper > limits?.PerShopper)
                Tell($"was used {byAShopper} times by one shopper, of {limits.PerShopper}");
            if (used?.Budget > limits?.Budget)
                Tell($"gave {shop.Wording.Say(used.Budget)} of {shop.Wording.Say(limits.Budget.Value)}");
            if (promotion.Card is not { } card)
                continue;
            var holds = card.Worth(shop.Store.Currency, shop.Store).InBase;
            if (used?.Drawn > holds)
                Tell($"has paid {shop.Wording.Say(used.Drawn)} of the {shop.Wording.Say(holds)} on its card");
            foreach (var code in (promotion.Trigger?.Batches ?? []).SelectMany(batch => transaction.Overdrawn(batch, holds)))
                Tell($"has a card, {code}, that paid more than the {shop.Wording.Say(holds)} on it");

            void Tell(string what) => told.Add($"“{promotion.Named}” {what}.");
        }

        told.AddRange(transaction.UsedTooOften().Select(code => $"The code {code} was used more often than it may be."));
        return told;
    }
}
