namespace RapidLedger.Pricing;

/// <summary>Says to the shopper, shortly, what became of a promotion and what is missing. No names of the merchant's own.</summary>
internal static class ShopperWords
{
    public static string Say(Reason reason, Wording wording) => reason switch
    {
        Reason.CodeNotEntered => "Enter the code.",
        Reason.NotStarted(var opens) => $"Starts on {wording.Say(opens)}.",
        Reason.BetweenOccurrences(var opens) => $"Back on {wording.Say(opens)}.",
        Reason.Ended => "This offer has ended.",
        Reason.LimitReached(Limit.PerShopper) => "You have used this offer already.",
        Reason.LimitReached => "This offer is used up.",
        Reason.ConditionNotMet([var gap]) => Say(gap, wording),
        Reason.ConditionNotMet => "Not for this cart yet.",
        Reason.NoMatchingItems => "Nothing in your cart is on this offer.",
        Reason.GiftOut => "The gifts have run out.",
        Reason.NothingLeft => "Nothing is left to pay.",
        Reason.CannotMeet(var by) => $"Not together with {Wording.Join(by.Select(promotion => promotion.Shown), "and")}.",
        Reason.NotBetter => "You already pay less without it.",
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    public static string Say(Nudge nudge, Wording wording)
    {
        var of = nudge.Of is null || nudge.Of.IsEverything ? "" : $" of {wording.Say(nudge.Of)}";
        var more = nudge.Measure == Measure.Spend ? $"{wording.Say(nudge.Missing)} more{of}" : $"{nudge.Missing} more{(of.Length > 0 ? of : nudge.Missing == 1 ? " item" : " items")}";
        return $"Add {more}: {nudge.Promotion.Shown}.";
    }

    private static string Say(Gap gap, Wording wording) => gap switch
    {
        Gap.SpendShort(_, var spent, var from) => $"Add {wording.Say(from - spent)} more.",
        Gap.UnitsOff(_, var units, Comparison.AtLeast or Comparison.Exactly, var number) when units < number => $"Add {Wording.Counted(number - units, "more item")}.",
        Gap.OtherPlace => "Not for this destination.",
        Gap.OtherBuyer => "Not for this account.",
        Gap.OtherCurrency or Gap.OtherChannel or Gap.OtherMethod => "Not for this kind of order.",
        _ => "Not for this cart.",
    };
}
