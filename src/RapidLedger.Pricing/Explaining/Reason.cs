using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>Why a live promotion did not apply to a cart.</summary>
public abstract record Reason
{
    private Reason()
    {
    }

    /// <summary>The name used in files.</summary>
    public abstract string Code { get; }

    /// <summary>None of its codes is in the cart.</summary>
    public sealed record CodeNotEntered : Reason
    {
        /// <inheritdoc/>
        public override string Code => "codeNotEntered";
    }

    /// <summary>Its window has not opened.</summary>
    public sealed record NotStarted(Instant Opens) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "notStarted";
    }

    /// <summary>Its window has closed.</summary>
    public sealed record Ended(Instant Closed) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "ended";
    }

    /// <summary>Its window repeats, and it is closed between two times.</summary>
    public sealed record BetweenOccurrences(Instant Opens) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "betweenOccurrences";
    }

    /// <summary>Its gifts have run out.</summary>
    public sealed record GiftOut : Reason
    {
        /// <inheritdoc/>
        public override string Code => "giftOut";
    }

    /// <summary>A credit with nothing left to pay.</summary>
    public sealed record NothingLeft : Reason
    {
        /// <inheritdoc/>
        public override string Code => "nothingLeft";
    }

    /// <summary>A limit is used up.</summary>
    public sealed record LimitReached(Limit Limit) : Reason
    {
        /// <inheritdoc/>
        public override string Code => Limit == Limit.PerShopper ? "shopperLimitReached" : "limitReached";
    }

    /// <summary>Its condition does not hold.</summary>
    /// <param name="Gaps">What would have to change.</param>
    public sealed record ConditionNotMet(EquatableArray<Gap> Gaps) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "conditionNotMet";
    }

    /// <summary>It would have no effect on this cart, even alone.</summary>
    public sealed record NoMatchingItems : Reason
    {
        /// <inheritdoc/>
        public override string Code => "noMatchingItems";
    }

    /// <summary>Promotions that were chosen rule it out.</summary>
    /// <param name="By">Those, in order of application.</param>
    public sealed record CannotMeet(EquatableArray<Promotion> By) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "cannotMeet";
    }

    /// <summary>The shopper is better off without it.</summary>
    public sealed record NotBetter : Reason
    {
        /// <inheritdoc/>
        public override string Code => "notBetter";
    }
}
