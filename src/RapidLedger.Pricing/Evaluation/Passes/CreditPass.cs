namespace RapidLedger.Pricing;

/// <summary>
/// The credit pass: what pays after everything else, each in order of application what it still holds of what is still due. The
/// after-conditions of a credit look at the running prices that the order pass leaves.
/// </summary>
internal static class CreditPass
{
    /// <summary>Lets the eligible credits pay.</summary>
    /// <param name="totals">Before anything is paid.</param>
    /// <param name="sheet">As the chosen promotions leave it.</param>
    /// <param name="credits">The eligible credits, in order of application.</param>
    /// <param name="chosen">The chosen promotions.</param>
    /// <param name="usage">What has been drawn.</param>
    /// <returns>The totals after it, and what became of each credit.</returns>
    public static (Totals Totals, List<(CompiledPromotion Promotion, Outcome Outcome)> Outcomes) Pay(
        Totals totals, Sheet sheet, IEnumerable<CompiledPromotion> credits, IEnumerable<CompiledPromotion> chosen, Eligibility usage)
    {
        var outcomes = new List<(CompiledPromotion, Outcome)>();
        List<CompiledPromotion> beside = [.. chosen];
        foreach (var promotion in credits)
        {
            var held = promotion.Credit!.Held(sheet.Cart.Currency, sheet.Cart.Catalogue.Store, usage.UsageOf(promotion).Drawn);
            var paid = Math.Min(held, totals.Due);
            var reason = WhyNot(promotion, held, paid, beside, sheet);
            outcomes.Add((promotion, new(promotion.Promotion, reason is null ? paid : 0, 0, reason)));
            if (reason is not null) continue;
            beside.Add(promotion);
            totals = totals with { Credit = totals.Credit + paid, Due = totals.Due - paid };
        }

        return (totals, outcomes);
    }

    private static Reason? WhyNot(CompiledPromotion promotion, long held, long paid, List<CompiledPromotion> beside, Sheet sheet)
    {
        if (held == 0) return new Reason.NoMatchingItems(new Idleness.CardUsedUp());
        var blocking = beside.Where(other => !promotion.CanMeet(other)).Select(other => other.Promotion).Order(Promotion.Order).ToEquatableArray();
        if (blocking.Count > 0) return new Reason.CannotMeet(blocking);
        foreach (var after in promotion.After) if (after.Gap(sheet, sheet.Runs) is { } gap) return new Reason.ConditionNotMet([gap]);
        return paid == 0 ? new Reason.NothingLeft() : null;
    }
}
