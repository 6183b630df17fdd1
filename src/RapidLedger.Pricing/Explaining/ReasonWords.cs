using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>Says why a promotion did not apply, with its figures.</summary>
internal static class ReasonWords
{
    public static string Say(Reason reason, Instant now, Wording wording) =>
        reason switch
        {
            Reason.Failed(var what) => $"Something went wrong with it, so it takes no part: {what} Please report it with the cart.",
            Reason.CodeNotEntered => "Its code is not in the cart.",
            Reason.CodeSpent(var code, var fault, var last) => fault switch
            {
                CodeFault.UsedUp => $"The code {code} is used up.",
                CodeFault.Void => $"The code {code} was made void.",
                _ => $"The code {code} was good until {wording.Say(last!.Value)}.",
            },
            Reason.NotNeeded => "It is good, but another code was used.",
            Reason.NotStarted(var opens, var grace) =>
                $"Starts in {wording.Away(now, opens)}, on {wording.Say(opens)}{Grace(grace, "before")}.",
            Reason.Ended(var closed, var grace) => $"Ended {wording.Ago(closed, now)}, on {wording.Say(closed)}{Grace(grace, "after")}.",
            Reason.BetweenOccurrences(var opens, var grace) =>
                $"Opens again in {wording.Away(now, opens)}, on {wording.Say(opens)}{Grace(grace, "before")}.",
            Reason.GiftOut => "Its gifts have run out.",
            Reason.NothingLeft => "Nothing is left to pay.",
            Reason.LimitReached(var limit, var used, var of) => limit switch
            {
                Limit.Total => $"Used by {Wording.Number(used)} of {Wording.Counted(of, "order")}.",
                Limit.PerShopper => $"This shopper has used it up: {Wording.Number(used)} of {Wording.Number(of)}.",
                Limit.PerDay => $"Used by {Wording.Number(used)} of {Wording.Counted(of, "order")} today.",
                _ => $"Its budget is spent: {InBase(used, wording)} of {InBase(of, wording)}.",
            },
            Reason.ConditionNotMet(var gaps) => gaps.Count == 0
                ? "Its condition does not hold."
                : $"{Capital(string.Join("; ", gaps.Select(gap => Say(gap, wording))))}.",
            Reason.NoMatchingItems(var why) => $"{Capital(IdleWords.Say(why, wording))}.",
            Reason.CannotMeet(var by, var more, var byRank) => $"Cannot meet {Names(by)}{Which(more, byRank, by.Count, wording)}.",
            Reason.NotBetter notBetter => Say(notBetter, wording),
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    public static string Say(Gap gap, Wording wording) =>
        gap switch
        {
            Gap.SpendShort(var of, var spent, var from, var after) =>
                $"{wording.Say(from - spent)} short of {wording.Say(from)}{wording.Of(of)}{After(after)}",
            Gap.SpendOver(var of, var spent, var to, var after) =>
                $"{wording.Say(spent - to)} over {wording.Say(to)}{wording.Of(of)}{After(after)}",
            Gap.UnitsOff(var of, var units, var comparison, var number) =>
                $"has {Counted(units, "item")}{wording.Of(of)}, needs {Wording.Say(comparison, Wording.Number(number))}",
            Gap.KindsOff(var of, var kinds, var comparison, var number) =>
                $"has {Counted(kinds, "different item")}{wording.Of(of)}, needs {Wording.Say(comparison, Wording.Number(number))}",
            Gap.WeightOff(var grams, var comparison, var bound) =>
                $"weighs {Wording.Number(grams)} g, needs {Wording.Say(comparison, Wording.Number(bound))} g",
            Gap.OthersInCart(var of, var empty) => empty ? "the cart is empty" : $"the cart holds other things than {wording.Say(of)}",
            Gap.OtherBuyer(var wanted) => $"is for {ConditionWords.Buyers(wanted, wording)}",
            Gap.OtherPlace(var wanted, var destination) =>
                $"is for carts to {ConditionWords.To(wanted, wording)}{(destination is null ? ", and it is not said where this one goes" : "")}",
            Gap.OtherChannel(var wanted) => $"is for the channel {Wording.Join(wanted, "or")}",
            Gap.OtherCurrency(var wanted) => $"is for carts paid in {Wording.Join(wanted.Select(currency => currency.Code), "or")}",
            Gap.OtherMethod(var wanted) => $"is for delivery by {wording.Methods(wanted)}",
            Gap.Never => "its condition can never hold",
            Gap.Unwanted(var condition) => condition.Speak(wording).Unwanted,
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    private static string Say(Reason.NotBetter reason, Wording wording)
    {
        var (names, many) = (Names(reason.Beside), reason.Beside.Count > 1);
        var first = reason.ByRank && reason.Beside.Count > 0 ? $"{names} {(many ? "go" : "goes")} first by rank" : null;
        return reason.Verdict switch
        {
            Verdict.OtherMarkdown => $"{names} {(many ? "give" : "gives")} as low a price or a lower one.",
            Verdict.LeftNothing => first is null
                ? $"Beside {names} nothing is left for it to take."
                : $"{first}, and nothing is left for it to take.",
            Verdict.StopsOthers => first is null
                ? $"Beside it {names} would no longer apply, and the shopper would save no more."
                : $"{first}, and would no longer apply beside it.",
            Verdict.Same => first is null ? "It would come to the same." : $"{first}; with it too the cart would come to the same.",
            Verdict.Less => $"{(first is null ? "" : $"{first}. ")}With it the shopper would save {wording.Say(reason.SavesLess)} less.",
            _ => "It is not in the best choice that was found.",
        };
    }

    private static string Which(long? more, bool byRank, int count, Wording wording)
    {
        if (byRank)
            return $", which go{(count == 1 ? "es" : "")} first by rank";
        return more switch
        {
            null => "",
            0 => $"; with it in {(count == 1 ? "its" : "their")} place it would come to the same",
            { } saved => $", which save{(count == 1 ? "s" : "")} {wording.Say(saved)} more",
        };
    }

    private static string Names(EquatableArray<Promotion> promotions) =>
        Wording.Join(promotions.Select(promotion => promotion.Named), "and");

    private static string InBase(long minor, Wording wording) => wording.Say(minor, wording.Catalogue.Store.Currency);

    private static string Grace(int minutes, string where) =>
        minutes == 0 ? "" : $" ({Wording.Counted(minutes, "minute")} of grace {where} it)";

    private static string After(bool after) => after ? " after other promotions" : "";

    private static string Counted(long number, string one) => number == 0 ? $"no {one}s" : Wording.Counted(number, one);

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
