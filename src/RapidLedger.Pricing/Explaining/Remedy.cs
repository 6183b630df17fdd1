using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>A change to the cart that brings a promotion nearer.</summary>
public abstract record Remedy
{
    private Remedy()
    {
    }

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
    public static Remedy? For(Outcome outcome, PricedCart priced) => outcome.Reason switch
    {
        Reason.CodeNotEntered => new EnterCode(Trigger.Normal(outcome.Promotion.Trigger!.Codes[0])),
        Reason.NotStarted(var opens) => new SetClock(opens),
        Reason.BetweenOccurrences(var opens) => new SetClock(opens),
        Reason.Ended(var closed) => new SetClock(closed - Duration.FromMinutes(1)),
        Reason.ConditionNotMet(var gaps) => gaps.Count == 0 ? null : For(gaps[0], priced),
        Reason.NoMatchingItems => Touching(outcome.Promotion, priced),
        _ => null,
    };

    /// <summary>How far a cart is from what is asked for: 0 is there, 1 is all of it, for each thing that is missing.</summary>
    public static decimal Distance(Reason reason) => reason is Reason.ConditionNotMet(var gaps) ? gaps.Sum(Distance) : 0;

    private static decimal Distance(Gap gap) => gap switch
    {
        Gap.SpendShort(_, var spent, var from) => (decimal)(from - spent) / from,
        Gap.UnitsOff(_, var units, var comparison, var number) when comparison.Least(number) is { } least && units < least => (decimal)(least - units) / least,
        _ => 1,
    };

    private static Remedy? For(Gap gap, PricedCart priced) => gap switch
    {
        Gap.SpendShort(var of, var spent, var from) => AddOf(of, priced, price => price == 0 ? 0 : (from - spent + price - 1) / price),
        Gap.UnitsOff(var of, var units, var comparison, var number) when comparison.Least(number) is { } least && units < least => AddOf(of, priced, _ => least - units),
        Gap.OthersInCart(var of, true) => AddOf(of, priced, _ => 1),
        Gap.OtherPlace(var wanted, _) => wanted.In is { Count: > 0 } places ? new SendTo(places[0]) : null,
        Gap.OtherChannel(var wanted) => new BuyOn(wanted[0]),
        Gap.OtherCurrency(var wanted) => wanted.FirstOrDefault(currency => priced.Catalogue.Store.RateTo(currency) is not null) is { } known ? new PayIn(known) : null,
        Gap.OtherBuyer(var wanted) => new LetBuy(wanted),
        _ => null,
    };

    private static Remedy? Touching(Promotion promotion, PricedCart priced) =>
        promotion.Rewards.OfType<Discount>().FirstOrDefault() is { } discount ? AddOf(discount.On, priced, _ => 1) : null;

    // More of what is in the cart already, else of the first item of the catalogue that counts.
    private static Remedy? AddOf(Selection? of, PricedCart priced, Func<long, long> units)
    {
        var view = priced.View;
        var selection = new Compiler(priced.Catalogue).Selection(of);
        for (var line = 0; line < view.Lines; line++) if (selection.Selects(view, line)) return Adding(view.Variant(line), view.Current(line));
        for (var variant = 0; variant < priced.Catalogue.Count; variant++)
        {
            var price = view.Prices.Current(variant);
            if (price > 0 && selection.Selects(view, variant, price, view.Prices.Regular(variant))) return Adding(variant, price);
        }

        return null;

        Remedy? Adding(int variant, long price) =>
            units(price) is > 0 and <= Line.GreatestQuantity and var count ? new Add(priced.Catalogue.Variant(variant).Sku, (int)count) : null;
    }
}
