using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>A change to the cart that brings a promotion nearer.</summary>
public abstract record Remedy
{
    private Remedy() { }

    /// <summary>Enter a code.</summary>
    public sealed record EnterCode(string Code) : Remedy;

    /// <summary>Price at another moment.</summary>
    public sealed record SetClock(Instant At) : Remedy;

    /// <summary>Put more in the cart.</summary>
    public sealed record Add(string Sku, int Units) : Remedy;

    /// <summary>Send it elsewhere.</summary>
    public sealed record SendTo(Place Place) : Remedy;

    /// <summary>Buy it elsewhere.</summary>
    public sealed record BuyOn(string Channel) : Remedy;

    /// <summary>Pay in another currency.</summary>
    public sealed record PayIn(Currency Currency) : Remedy;

    /// <summary>Let another shopper buy.</summary>
    public sealed record LetBuy(Buyer Wanted) : Remedy;

    /// <summary>One change that brings a promotion nearer, or null if none is known.</summary>
    /// <param name="outcome">What became of it.</param>
    /// <param name="priced">The cart.</param>
    public static Remedy? For(Outcome outcome, PricedCart priced) =>
        outcome.Reason switch
        {
            Reason.CodeNotEntered => outcome.Promotion.Trigger!.Codes is { Count: > 0 } codes
                ? new EnterCode(Trigger.Normal(codes[0]))
                : null,
            Reason.NotStarted(var opens, _) => new SetClock(InstantOf(opens, priced)),
            Reason.BetweenOccurrences(var opens, _) => new SetClock(InstantOf(opens, priced)),
            Reason.Ended(var closed, _) => new SetClock(InstantOf(closed, priced) - Duration.FromMinutes(1)),
            Reason.ConditionNotMet(var gaps) => gaps.Count == 0 ? null : For(gaps[0], priced),
            Reason.NoMatchingItems(var why) => Filling(why) is { } want ? AddOf(want, priced) : null,
            _ => null,
        };

    /// <summary>How far a cart is from what is asked for: 0 is there, 1 is all of it, for each thing that is missing.</summary>
    public static decimal Distance(Reason reason) => reason is Reason.ConditionNotMet(var gaps) ? Gap.Distance(gaps) : 0;

    private static Instant InstantOf(LocalDateTime local, PricedCart priced) =>
        local.InZoneLeniently(priced.Catalogue.Store.Zone).ToInstant();

    private static Remedy? For(Gap gap, PricedCart priced) =>
        gap switch
        {
            Gap.OthersInCart(var of, true) => AddOf(new Want(of, 1), priced),
            Gap.OtherPlace(var wanted, _) => wanted.In is { Count: > 0 } places ? new SendTo(places[0]) : null,
            Gap.OtherChannel(var wanted) => new BuyOn(wanted[0]),
            Gap.OtherCurrency(var wanted) => wanted.FirstOrDefault(currency => priced.Catalogue.Store.RateTo(currency) is not null)
                is { } known
                ? new PayIn(known)
                : null,
            Gap.OtherBuyer(var wanted) => new LetBuy(wanted),
            _ => Want.For(gap) is { } want ? AddOf(want, priced) : null,
        };

    private static Want? Filling(Idleness why) =>
        why switch
        {
            Idleness.NothingOfIt(var of) => new(of, 1),
            Idleness.TooFew(var of, var have, var need, _, OfOne: false) => new(of, need - have),
            Idleness.LacksUnits(var of, var missing) => new(of, missing),
            Idleness.ComesToTooLittle(var of, var spent, var need) => new(of, 0, need - spent),
            _ => null,
        };

    private static Remedy? AddOf(Want want, PricedCart priced) =>
        new Additions(priced.View).Find([want]) is [var line] ? new Add(line.Sku, line.Quantity) : null;
}
