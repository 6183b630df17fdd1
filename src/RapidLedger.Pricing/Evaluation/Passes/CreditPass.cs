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
    public static (Totals Totals, List<PaidCredit> Paid) Pay(
        Totals totals,
        Sheet sheet,
        IEnumerable<CompiledPromotion> credits,
        IEnumerable<CompiledPromotion> chosen,
        Eligibility usage
    )
    {
        var outcomes = new List<PaidCredit>();
        List<CompiledPromotion> beside = [.. chosen];
        foreach (var promotion in credits)
        {
            var cards = CardsOf(promotion, sheet.Cart, usage);
            var held = cards.Sum(card => card.Held);
            var paid = Math.Min(held, totals.Due);
            var reason = WhyNot(promotion, held, paid, beside, sheet);
            outcomes.Add(
                new(promotion, new(promotion.Promotion, reason is null ? paid : 0, 0, reason), [.. Drawn(cards, reason is null ? paid : 0)])
            );
            if (reason is not null)
                continue;
            beside.Add(promotion);
            totals = totals with { Credit = totals.Credit + paid, Due = totals.Due - paid };
        }

        return (totals, outcomes);
    }

    // Its own code, or none, is one card; every good code of a batch is one of its own.
    private static List<CardPayment> CardsOf(CompiledPromotion promotion, CartView cart, Eligibility usage)
    {
        EnteredCode[] codes = promotion.IsAutomatic ? [new("", null)] : [.. usage.GoodCodesOf(promotion, cart)];
        var cards = new List<CardPayment>();
        foreach (var code in codes)
        {
            var isOwn = promotion.IsAutomatic || promotion.Codes.Contains(code.Normal);
            if (isOwn && cards.Exists(card => card.IsOwn))
                continue;
            cards.Add(new(code.Normal, isOwn, usage.Held(promotion, code, cart), 0));
        }

        return cards;
    }

    private static IEnumerable<CardPayment> Drawn(List<CardPayment> cards, long paid)
    {
        foreach (var card in cards)
        {
            var amount = Math.Min(card.Held, paid);
            paid -= amount;
            yield return card with
            {
                Amount = amount,
            };
        }
    }

    private static Reason? WhyNot(CompiledPromotion promotion, long held, long paid, List<CompiledPromotion> beside, Sheet sheet)
    {
        if (held == 0)
            return new Reason.NoMatchingItems(new Idleness.CardUsedUp());
        var blocking = beside
            .Where(other => !promotion.CanMeet(other))
            .Select(other => other.Promotion)
            .Order(Promotion.Order)
            .ToEquatableArray();
        if (blocking.Count > 0)
            return new Reason.CannotMeet(blocking);
        foreach (var after in promotion.After)
            if (after.Gap(sheet, sheet.Runs) is { } gap)
                return new Reason.ConditionNotMet([gap]);
        return paid == 0 ? new Reason.NothingLeft() : null;
    }
}

/// <summary>What became of an eligible credit.</summary>
/// <param name="Promotion">Which.</param>
/// <param name="Outcome">What became of it.</param>
/// <param name="Cards">Its cards in the order in which they pay.</param>
internal sealed record PaidCredit(CompiledPromotion Promotion, Outcome Outcome, CardPayment[] Cards);

/// <summary>What one card paid, in minor units of the cart's currency.</summary>
/// <param name="Code">Its code in normal form; empty: it has none.</param>
/// <param name="IsOwn">It is the promotion's own, not of a batch.</param>
/// <param name="Held">What it held before.</param>
/// <param name="Amount">What it paid.</param>
internal sealed record CardPayment(string Code, bool IsOwn, long Held, long Amount);
