namespace RapidLedger.Pricing;

/// <summary>Pays for the order: a means of payment, not a discount. Stands alone in its promotion.</summary>
/// <param name="Amount">What it holds when new.</param>
/// <param name="KeepRest">What is left after a draw stays; otherwise it lapses.</param>
public sealed record Credit(Amount Amount, bool KeepRest) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Credit];

    /// <summary>What it still holds, in minor units of a cart's currency.</summary>
    public long Held(Currency currency, Store store, long drawn)
    {
        if (drawn > 0 && !KeepRest) return 0;
        var gone = drawn == 0 ? 0 : Amount.In(store.Currency, drawn).For(currency, store) ?? 0;
        return Math.Max(0, (Amount.For(currency, store) ?? 0) - gone);
    }

    // It acts after the passes, so there is nothing to choose by.
    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) => [];
}
