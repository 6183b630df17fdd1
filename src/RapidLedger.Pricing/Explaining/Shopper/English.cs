using System.Globalization;

namespace RapidLedger.Pricing;

/// <summary>
/// What shoppers read in English: shortly, what became of a promotion and what is missing. No names of the merchant's own.
/// </summary>
internal sealed class English : ShopperTongue
{
    private static readonly CultureInfo British = CultureInfo.GetCultureInfo("en-GB");

    public override string Language => "en";

    public override CultureInfo? Culture => British;

    public override string UnknownCode => "We do not know this code.";

    public override string TooManyCodes => "Too many codes were tried. Please wait a minute.";

    public override string Say(Reason reason, Wording wording) =>
        reason switch
        {
            Reason.CodeNotEntered => "Enter the code.",
            Reason.CodeSpent { Fault: CodeFault.UsedUp } => "This code has been used.",
            Reason.CodeSpent { Fault: CodeFault.Void } => "This code is no longer valid.",
            Reason.CodeSpent(_, _, var last) => $"This code was good until {wording.Say(last!.Value)}.",
            Reason.NotNeeded => "Another of your codes was used.",
            Reason.NotStarted(var opens, _) => $"Starts on {wording.Say(opens)}.",
            Reason.BetweenOccurrences(var opens, _) => $"Back on {wording.Say(opens)}.",
            Reason.Ended => "This offer has ended.",
            Reason.LimitReached { Limit: Limit.PerShopper } => "You have used this offer already.",
            Reason.LimitReached => "This offer is used up.",
            Reason.ConditionNotMet([var gap]) => Say(gap, wording),
            Reason.ConditionNotMet => "Not for this cart yet.",
            Reason.NoMatchingItems(var why) => Say(why, wording),
            Reason.GiftOut => "The gifts have run out.",
            Reason.NothingLeft => "Nothing is left to pay.",
            Reason.CannotMeet(var by, _, _) => $"Not together with {And(by.Select(wording.Label))}.",
            Reason.NotBetter(Verdict.Same or Verdict.LeftNothing or Verdict.OtherMarkdown, _, _, _) =>
                "You already pay as little without it.",
            Reason.NotBetter(Verdict.Less, _, _, false) => "You already pay less without it.",
            Reason.NotBetter(_, var beside, _, _) => $"Not together with {And(beside.Select(wording.Label))}.",
            Reason.Failed => "This offer cannot be used at the moment.",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    public override string Say(Nudge nudge, Wording wording) =>
        $"Add {Missing(nudge.Measure, nudge.Missing, nudge.Of, wording)}: {wording.Label(nudge.Promotion)}.";

    public override string Missing(Measure measure, long missing, Selection? of, Wording wording) =>
        measure == Measure.Spend ? Spend(of, missing, wording) : Units(of, missing, wording);

    public override string Reward(Reward reward, Wording wording) => reward.Say(wording);

    public override string Applied(string label, long saved, Wording wording) =>
        saved == 0 ? label : $"{label}: you save {wording.Say(saved)}.";

    public override string Step(string label, string? missing, Wording wording) =>
        missing is null ? $"{label}: reached." : $"Add {missing}: {label}.";

    public override string And(IEnumerable<string> words) => Wording.Join(words, "and");

    public override string Or => "or";

    public override string Not => "not";

    public override string Takes(Condition condition, Wording wording) =>
        condition switch
        {
            Spend(var of, { } from, null, _) => $"from {wording.Say(from)}{wording.Of(of)}",
            Spend(var of, null, { } to, _) => $"up to {wording.Say(to)}{wording.Of(of)}",
            Spend(var of, { } from, { } to, _) => $"from {wording.Say(from)} to {wording.Say(to)}{wording.Of(of)}",
            Quantity(var of, var comparison, var number) =>
                $"for {Range(comparison, number)}{(wording.Of(of) is { Length: > 0 } among ? among : number == 1 ? " item" : " items")}",
            Distinct(var of, var comparison, var number) => $"for {Range(comparison, number)} different items{wording.Of(of)}",
            Only(var of) => $"with nothing but {wording.Say(of)} in the cart",
            Weight(var comparison, var grams) => $"for {Range(comparison, grams)} g",
            Destination(var places) => Where(places, wording),
            Channel(var names) => $"on {Wording.Join(names, "or")}",
            PaidIn(var currencies) => $"paid in {Wording.Join(currencies.Select(currency => currency.Code), "or")}",
            Method(var ids) => $"delivered by {wording.Methods(ids)}",
            Buyer.Guest => "for guests",
            Buyer.SignedIn => "when signed in",
            Buyer.InGroup(var groups) => $"for {Wording.Join(groups, "or")}",
            Buyer.OneOf => "for you",
            Buyer.Orders(Comparison.Exactly, 0) => "on a first order",
            Buyer.Orders(var comparison, var number) => $"after {Range(comparison, number)} orders",
            Buyer.Spent({ } from, _) => $"for shoppers who have spent {wording.Say(from)}",
            Buyer.Spent(_, { } to) => $"for shoppers who have spent up to {wording.Say(to)}",
            _ => "for some carts",
        };

    private static string Range(Comparison comparison, long number) =>
        OrMore(comparison, number) is { } least ? $"{least} or more"
        : OrFewer(comparison, number) is { } most ? $"up to {most}"
        : comparison == Comparison.Exactly ? $"exactly {number}"
        : $"any number but {number}";

    private static string Where(Places places, Wording wording)
    {
        var outside = places.Out.Count == 0 ? "" : $"not in {Wording.Join(places.Out.Select(wording.Say), "or")}";
        return places.In is { } inside ? $"in {Wording.Join(inside.Select(wording.Say), "or")}{(outside.Length == 0 ? "" : $", {outside}")}"
            : outside.Length == 0 ? "with a destination"
            : outside;
    }

    private static string Say(Gap gap, Wording wording) =>
        gap switch
        {
            Gap.SpendShort(var of, var spent, var from, _) => $"Add {Spend(of, from - spent, wording)}.",
            Gap.SpendOver(_, _, var to, _) => $"Only up to {wording.Say(to)}.",
            Gap.UnitsOff(var of, var units, var comparison, var number) when comparison.Least(units, number) is { } least =>
                $"Add {Units(of, least - units, wording)}.",
            Gap.KindsOff(var of, var kinds, var comparison, var number) when comparison.Least(kinds, number) is { } least =>
                $"Add {Wording.Counted(least - kinds, "other item")}{wording.Of(of)}.",
            Gap.WeightOff => "Not for this weight.",
            Gap.OtherPlace => "Not for this destination.",
            Gap.OtherBuyer => "Not for this account.",
            Gap.OtherCurrency or Gap.OtherChannel or Gap.OtherMethod => "Not for this kind of order.",
            _ => "Not for this cart.",
        };

    private static string Say(Idleness why, Wording wording) =>
        why switch
        {
            Idleness.EmptyCart => "Your cart is empty.",
            Idleness.TooFew(var of, var have, var need, _, false) => $"Add {Units(of, need - have, wording)}.",
            Idleness.LacksUnits(var of, var missing) => $"Add {Units(of, missing, wording)}.",
            Idleness.ComesToTooLittle(var of, var spent, var need) => $"Add {Spend(of, need - spent, wording)}.",
            Idleness.NoDelivery => "There is no delivery to pay for.",
            Idleness.OtherMethod => "Not for this kind of delivery.",
            Idleness.CardUsedUp => "This card is used up.",
            Idleness.NothingToTake
            or Idleness.NothingLeftToTake
            or Idleness.PaysTooLittle
            or Idleness.HigherStepCounts
            or Idleness.SetNeedsMore => "It takes nothing off this cart.",
            _ => "Nothing in your cart is on this offer.",
        };

    private static string Spend(Selection? of, long missing, Wording wording) => $"{wording.Say(missing)} more{wording.Of(of)}";

    private static string Units(Selection? of, long missing, Wording wording) =>
        wording.Of(of) is { Length: > 0 } among ? $"{missing} more{among}" : Wording.Counted(missing, "more item");
}
