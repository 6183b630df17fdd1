namespace RapidLedger.Pricing;

/// <summary>Pays for the order: a means of payment, not a discount. Stands alone in its promotion.</summary>
/// <param name="Amount">What it holds when new.</param>
/// <param name="KeepRest">What is left after a draw stays; otherwise it lapses.</param>
public sealed record Credit(Amount Amount, bool KeepRest) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Credit];

    /// <summary>
    /// What it still holds, in minor units of a cart's currency: its amount there times the share not yet drawn, rounded down; once
    /// drawn, nothing if the rest lapses.
    /// </summary>
    /// <param name="currency">The cart's.</param>
    /// <param name="store">The shop, whose base currency the draws are kept in.</param>
    /// <param name="drawn">In minor units of the base currency.</param>
    public long Held(Currency currency, Store store, long drawn)
    {
        var (amount, inBase) = Worth(currency, store);
        if (drawn == 0)
            return amount;
        return !KeepRest || drawn >= inBase ? 0 : (long)((Int128)amount * (inBase - drawn) / inBase);
    }

    /// <summary>What it holds when new: in minor units of a cart's currency, and of the base currency.</summary>
    /// <param name="currency">The cart's.</param>
    /// <param name="store">The shop.</param>
    public (long Here, long InBase) Worth(Currency currency, Store store)
    {
        var here = Amount.For(currency, store) ?? 0;
        // Where nothing is named in the base currency, its amount there is what it holds here at the rate.
        return (
            here,
            Amount.For(store.Currency, store) ?? store.RateTo(currency)?.ToBase(here, store.Currency, currency, store.Rounding) ?? 0
        );
    }

    /// <inheritdoc/>
    public override bool SetsUnitPrices => false;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Credit;

    internal override string Say(Wording wording) => CreditWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => Reach.Nothing;

    // It acts after the passes, see CreditPass, so there is nothing to choose by.
    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) => [];
}
