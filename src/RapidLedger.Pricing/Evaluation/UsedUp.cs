namespace RapidLedger.Pricing;

/// <summary>What an order of a priced cart uses up. Amounts in minor units of the store's base currency.</summary>
/// <param name="Promotions">Every promotion that applied, in order of application; one that only offered gifts to pick is none.</param>
/// <param name="Codes">The codes of batches that were used, each once.</param>
/// <param name="Payments">What credits paid, in the order in which they did.</param>
/// <param name="Units">Units bought and given, by SKU.</param>
/// <param name="Total">What the order comes to.</param>
public sealed record UsedUp(
    IReadOnlyList<PromotionUse> Promotions,
    IReadOnlyList<CodeUse> Codes,
    IReadOnlyList<CreditPayment> Payments,
    IReadOnlyList<UnitsUsed> Units,
    long Total
)
{
    internal static UsedUp Of(PricedCart priced, IReadOnlyList<PaidCredit> paid)
    {
        var (store, currency) = (priced.Catalogue.Store, priced.Currency);
        CreditPayment[] payments =
        [
            .. paid.SelectMany(one =>
                one.Cards.Where(card => card.Amount > 0)
                    .Select(card =>
                    {
                        var credit = one.Promotion.Credit!;
                        var (here, inBase) = credit.Worth(currency, store);
                        return new CreditPayment(
                            one.Promotion.Promotion.Id,
                            card.Code,
                            card.IsOwn ? null : Trigger.Bare(card.Code),
                            card.Amount,
                            here,
                            inBase,
                            credit.KeepRest
                        );
                    })
            ),
        ];
        return new(
            [
                .. priced
                    .Applied.Where(outcome => !OnlyOffers(outcome))
                    .Select(outcome => new PromotionUse(
                        outcome.Promotion.Id,
                        InBase(outcome.Amount),
                        payments
                            .Where(payment => payment.Bare is null && payment.Promotion == outcome.Promotion.Id)
                            .Sum(payment => payment.Drawn())
                    )),
            ],
            [
                .. priced
                    .Codes.Where(code => code is { Batch: not null, Reason: null, Promotion: not null })
                    .Select(code => Trigger.Bare(code.Code))
                    .Select(bare => new CodeUse(bare, payments.Where(payment => payment.Bare == bare).Sum(payment => payment.Drawn()))),
            ],
            payments,
            [
                .. priced
                    .Lines.Select(line => (line.Sku, Units: (long)line.Quantity))
                    .Concat(priced.Gifts.Select(gift => (gift.Sku, Units: gift.Quantity)))
                    .GroupBy(entry => entry.Sku, StringComparer.Ordinal)
                    .Select(group => new UnitsUsed(group.Key, group.Sum(entry => entry.Units))),
            ],
            InBase(priced.Totals.Total)
        );

        long InBase(long minor) => store.InBase(minor, currency, store.Rounding);
    }

    private static bool OnlyOffers(Outcome outcome) =>
        outcome is { Amount: 0, Units: 0, ToPick: not null } && outcome.Promotion.Rewards.All(reward => reward is Gift);
}

/// <summary>One use of a promotion.</summary>
/// <param name="Promotion">Its id.</param>
/// <param name="Amount">What it took off, or what it paid.</param>
/// <param name="Drawn">From the promotion's own card, if it is a credit.</param>
public sealed record PromotionUse(string Promotion, long Amount, long Drawn);

/// <summary>One use of a code of a batch.</summary>
/// <param name="Bare">The code in bare form.</param>
/// <param name="Drawn">From a card.</param>
public sealed record CodeUse(string Bare, long Drawn);

/// <summary>What one card paid. What it holds is kept as it was then, so that what comes back is reckoned as what was paid.</summary>
/// <param name="Promotion">The credit's id.</param>
/// <param name="Code">The card's code in normal form; empty: it has none.</param>
/// <param name="Bare">Of a batch: the code in bare form; null: the promotion's own card.</param>
/// <param name="Paid">In minor units of the order's currency, above zero.</param>
/// <param name="Here">What the card holds when new, in minor units of the order's currency, above zero.</param>
/// <param name="InBase">And in minor units of the base currency.</param>
/// <param name="KeepsRest">What is left after a draw stays; otherwise it lapses.</param>
public sealed record CreditPayment(string Promotion, string Code, string? Bare, long Paid, long Here, long InBase, bool KeepsRest)
{
    /// <summary>
    /// What is drawn from the card, in minor units of the base currency: what it pays in proportion to what it holds, rounded up.
    /// </summary>
    /// <param name="back">How much of what it paid has come back to it.</param>
    public long Drawn(long back = 0) => (long)((((Int128)(Paid - back) * InBase) + Here - 1) / Here);
}

/// <summary>Units of a SKU that leave the shop.</summary>
public sealed record UnitsUsed(string Sku, long Units);
