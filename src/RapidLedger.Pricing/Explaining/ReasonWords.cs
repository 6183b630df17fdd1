using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>Says why a promotion did not apply, with its figures.</summary>
internal static class ReasonWords
{
    public static string Say(Reason reason, Instant now, Wording wording) => reason switch
    {
        Reason.CodeNotEntered => "Its code is not in the cart.",
        Reason.NotStarted(var opens) => $"Starts in {Wording.Say(opens - now)}, on {wording.Say(opens)}.",
        Reason.Ended(var closed) => $"Ended {Wording.Say(now - closed)} ago, on {wording.Say(closed)}.",
        Reason.BetweenOccurrences(var opens) => $"Opens again in {Wording.Say(opens - now)}, on {wording.Say(opens)}.",
        Reason.GiftOut => "Its gifts have run out.",
        Reason.NothingLeft => "Nothing is left to pay.",
        Reason.LimitReached(var limit) => limit switch
        {
            Limit.Total => "All its uses are taken.",
            Limit.PerShopper => "This shopper has used it up.",
            Limit.PerDay => "Today's uses are taken.",
            _ => "Its budget is spent.",
        },
        Reason.ConditionNotMet(var gaps) => gaps.Count == 0 ? "Its condition can never hold." : $"{Capital(string.Join("; ", gaps.Select(gap => Say(gap, wording))))}.",
        Reason.NoMatchingItems => "Nothing in the cart is touched by it.",
        Reason.CannotMeet(var by) => $"Cannot meet {Wording.Join(by.Select(promotion => promotion.Named), "and")}.",
        Reason.NotBetter => "The shopper is better off without it.",
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    public static string Say(Gap gap, Wording wording) => gap switch
    {
        Gap.SpendShort(var of, var spent, var from) => $"{wording.Say(from - spent)} short of {wording.Say(from)}{wording.Of(of)}",
        Gap.SpendOver(var of, var spent, var to) => $"{wording.Say(spent - to)} over {wording.Say(to)}{wording.Of(of)}",
        Gap.UnitsOff(var of, var units, var comparison, var number) => $"has {Wording.Counted(units, "item")}{wording.Of(of)}, needs {Wording.Say(comparison, Text(number))}",
        Gap.KindsOff(var of, var kinds, var comparison, var number) => $"has {Wording.Counted(kinds, "different item")}{wording.Of(of)}, needs {Wording.Say(comparison, Text(number))}",
        Gap.WeightOff(var grams, var comparison, var bound) => $"weighs {Text(grams)} g, needs {Wording.Say(comparison, Text(bound))} g",
        Gap.OthersInCart(var of, var empty) => empty ? "the cart is empty" : $"the cart holds more than {wording.Say(of)}",
        Gap.OtherBuyer(var wanted) => $"is for {ConditionWords.Buyers(wanted, wording)}",
        Gap.OtherPlace(var wanted, var destination) => $"is for carts to {ConditionWords.To(wanted, wording)}{(destination is null ? ", and none is said" : "")}",
        Gap.OtherChannel(var wanted) => $"is for the channel {Wording.Join(wanted, "or")}",
        Gap.OtherCurrency(var wanted) => $"is for carts paid in {Wording.Join(wanted.Select(currency => currency.Code), "or")}",
        Gap.OtherMethod(var wanted) => $"is for delivery by {Wording.Join(wanted, "or")}",
        Gap.Unwanted(var condition) => $"must not be: {ConditionWords.Say(condition, wording)}",
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    private static string Text(long number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
