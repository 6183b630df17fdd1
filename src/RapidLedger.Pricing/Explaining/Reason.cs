using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>Why a live promotion did not apply to a cart.</summary>
public abstract record Reason
{
    private Reason() { }

    /// <summary>The name used in files.</summary>
    public abstract string Code { get; }

    /// <summary>Something went wrong with it: a fault of this program, kept from the others.</summary>
    /// <param name="What">As the fault says of itself.</param>
    public sealed record Failed(string What) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "failed";
    }

    /// <summary>None of its codes is in the cart.</summary>
    public sealed record CodeNotEntered : Reason
    {
        /// <inheritdoc/>
        public override string Code => "codeNotEntered";
    }

    /// <summary>A code of a batch that cannot be used any more.</summary>
    /// <param name="Entered">The code, in normal form.</param>
    /// <param name="Fault">Why.</param>
    /// <param name="LastDay">The last day on which it was good, if it had one.</param>
    public sealed record CodeSpent(string Entered, CodeFault Fault, LocalDate? LastDay) : Reason
    {
        /// <inheritdoc/>
        public override string Code =>
            Fault switch
            {
                CodeFault.UsedUp => "codeUsedUp",
                CodeFault.Void => "codeVoid",
                _ => "codeEnded",
            };
    }

    /// <summary>A good code in whose place another one was used.</summary>
    public sealed record NotNeeded : Reason
    {
        /// <inheritdoc/>
        public override string Code => "notNeeded";
    }

    /// <summary>Its window has not opened.</summary>
    /// <param name="Opens">As written.</param>
    /// <param name="GraceMinutes">By which it opens earlier.</param>
    public sealed record NotStarted(LocalDateTime Opens, int GraceMinutes) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "notStarted";
    }

    /// <summary>Its window has closed, or the last of its times is over.</summary>
    /// <param name="Closed">As written.</param>
    /// <param name="GraceMinutes">By which it closed later.</param>
    public sealed record Ended(LocalDateTime Closed, int GraceMinutes) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "ended";
    }

    /// <summary>Its window repeats, and it is closed between two times.</summary>
    /// <param name="Opens">When it starts the next time, as the rule has it.</param>
    /// <param name="GraceMinutes">By which it opens earlier.</param>
    public sealed record BetweenOccurrences(LocalDateTime Opens, int GraceMinutes) : Reason
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
    /// <param name="Limit">Which.</param>
    /// <param name="Used">What has been used: orders, or minor units of the base currency.</param>
    /// <param name="Of">Of how many, or of how much.</param>
    public sealed record LimitReached(Limit Limit, long Used, long Of) : Reason
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
    /// <param name="Why">What it lacks.</param>
    public sealed record NoMatchingItems(Idleness Why) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "noMatchingItems";
    }

    /// <summary>Promotions that were chosen rule it out.</summary>
    /// <param name="By">Those, in order of application.</param>
    /// <param name="SavesMore">By how much the cart saves more with them than with it in their place; null: that was not told.</param>
    /// <param name="ByRank">They were taken first because of their rank.</param>
    public sealed record CannotMeet(EquatableArray<Promotion> By, long? SavesMore = null, bool ByRank = false) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "cannotMeet";
    }

    /// <summary>The choice is not greater with it.</summary>
    /// <param name="Verdict">What it would be.</param>
    /// <param name="Beside">The chosen promotions that this is about, in order of application.</param>
    /// <param name="SavesLess">By how much the cart would save less, where it would.</param>
    /// <param name="ByRank">Those were taken first because of their rank.</param>
    public sealed record NotBetter(Verdict Verdict, EquatableArray<Promotion> Beside, long SavesLess = 0, bool ByRank = false) : Reason
    {
        /// <inheritdoc/>
        public override string Code => "notBetter";
    }
}

/// <summary>What a choice would be with a promotion that was not chosen.</summary>
public enum Verdict
{
    /// <summary>It would come to the same.</summary>
    Same,

    /// <summary>It would be worth less.</summary>
    Less,

    /// <summary>Beside the chosen ones nothing is left for it to take.</summary>
    LeftNothing,

    /// <summary>Others would have no effect any more, or their conditions would not hold.</summary>
    StopsOthers,

    /// <summary>Another markdown gives as low a price or a lower one.</summary>
    OtherMarkdown,

    /// <summary>It was not looked at again, for the work was over.</summary>
    Unknown,
}

/// <summary>What a promotion lacks that has no effect on a cart.</summary>
public abstract record Idleness
{
    private Idleness() { }

    /// <summary>The cart is empty.</summary>
    public sealed record EmptyCart : Idleness;

    /// <summary>Nothing that it is on is in the cart.</summary>
    public sealed record NothingOfIt(Selection Of) : Idleness;

    /// <summary>Fewer units than it needs.</summary>
    /// <param name="Of">Of what.</param>
    /// <param name="Have">How many there are.</param>
    /// <param name="Need">How many it needs.</param>
    /// <param name="ForSet">For one set.</param>
    /// <param name="OfOne">Of one and the same item.</param>
    public sealed record TooFew(Selection Of, long Have, long Need, bool ForSet = false, bool OfOne = false) : Idleness;

    /// <summary>So many units more are needed.</summary>
    public sealed record LacksUnits(Selection Of, long Missing) : Idleness;

    /// <summary>The units come to less than it needs.</summary>
    public sealed record ComesToTooLittle(Selection Of, long Spent, long Need) : Idleness;

    /// <summary>No set can be filled, for its slots ask for the same units.</summary>
    public sealed record SetNeedsMore : Idleness;

    /// <summary>There is no delivery charge to lower.</summary>
    /// <param name="NoMethod">Because no method is chosen yet.</param>
    public sealed record NoDelivery(bool NoMethod) : Idleness;

    /// <summary>It is for other delivery methods.</summary>
    public sealed record OtherMethod(EquatableArray<string> Wanted) : Idleness;

    /// <summary>A higher step of the ladder counts in its place.</summary>
    public sealed record HigherStepCounts : Idleness;

    /// <summary>What it is on is there, and it takes nothing off.</summary>
    public sealed record NothingToTake(Selection? Of) : Idleness;

    /// <summary>Nothing is left to take from.</summary>
    public sealed record NothingLeftToTake : Idleness;

    /// <summary>Too little is paid for one point.</summary>
    public sealed record PaysTooLittle(long Net, long Each) : Idleness;

    /// <summary>What the card held has been drawn.</summary>
    public sealed record CardUsedUp : Idleness;
}
