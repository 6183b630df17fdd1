namespace RapidLedger.Pricing;

/// <summary>What an order of a priced cart uses up. Amounts in minor units of the store's base currency.</summary>
/// <param name="Promotions">Every promotion that applied, in order of application; one that only offered gifts to pick is none.</param>
/// <param name="Codes">The codes of batches that were used, each once.</param>
/// <param name="Units">Units bought and given, by SKU.</param>
/// <param name="Total">What the order comes to.</param>
public sealed record UsedUp(IReadOnlyList<PromotionUse> Promotions, IReadOnlyList<CodeUse> Codes, IReadOnlyList<UnitsUsed> Units, long Total)
{
    internal static UsedUp Of(PricedCart priced, IReadOnlyList<PaidCredit> paid)
    {
        var (store, currency) = (priced.Catalogue.Store, priced.Currency);
        var rate = store.RateTo(currency);
        return new(
            [
                .. priced.Applied.Where(outcome => !OnlyOffers(outcome)).Select(outcome => new PromotionUse(
                    outcome.Promotion.Id, InBase(outcome.Amount), CardsOf(outcome.Promotion).Where(card => card.IsOwn).Sum(card => Drawn(outcome.Promotion, card.Amount)))),
            ],
            [
                .. priced.Codes.Where(code => code is { Batch: not null, Reason: null, Promotion: not null })
                    .Select(code => new CodeUse(Trigger.Bare(code.Code), code.Paid is { } amount ? Drawn(code.Promotion!, amount) : 0)),
            ],
            [
                .. priced.Lines.Select(line => (line.Sku, Units: (long)line.Quantity)).Concat(priced.Gifts.Select(gift => (gift.Sku, Units: gift.Quantity)))
                    .GroupBy(entry => entry.Sku, StringComparer.Ordinal).Select(group => new UnitsUsed(group.Key, group.Sum(entry => entry.Units))),
            ],
            InBase(priced.Totals.Total));

        long InBase(long minor) => currency == store.Currency ? minor : rate!.ToBase(minor, store.Currency, currency, store.Rounding);

        IEnumerable<CardPayment> CardsOf(Promotion promotion) => paid.Where(one => one.Promotion.Promotion.Id == promotion.Id).SelectMany(one => one.Cards);

        // In proportion to what it holds when new, here and in the base currency, rounded up.
        long Drawn(Promotion promotion, long amount)
        {
            if (promotion.Rewards is not [Credit credit] || amount == 0) return 0;
            var (here, inBase) = (credit.Amount.For(currency, store) ?? 0, credit.Amount.For(store.Currency, store));
            return currency == store.Currency || here == 0 || inBase is null ? InBase(amount) : (long)((((Int128)amount * inBase.Value) + here - 1) / here);
        }
    }

    private static bool OnlyOffers(Outcome outcome) => outcome is { Amount: 0, Units: 0, ToPick: not null } && outcome.Promotion.Rewards.All(reward => reward is Gift);
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

/// <summary>Units of a SKU that leave the shop.</summary>
public sealed record UnitsUsed(string Sku, long Units);
