namespace RapidLedger.Pricing;

/// <summary>Says what a promotion lacks that has no effect on a cart, and what a person could do about it.</summary>
internal static class IdleWords
{
    public static string Say(Idleness why, Wording wording) =>
        why switch
        {
            Idleness.EmptyCart => "the cart is empty",
            Idleness.NothingOfIt(var of) => of.IsEverything ? "the cart is empty" : $"nothing of {wording.Say(of)} is in the cart",
            Idleness.TooFew(var of, var have, var need, var forSet, var ofOne) =>
                $"{Count(have)} {(have == 1 ? "is" : "are")} here{wording.Of(of)}{(ofOne ? " of one item" : "")}, {Wording.Number(need)} {(need == 1 ? "is" : "are")} needed{(forSet ? " for a set" : "")}",
            Idleness.LacksUnits(var of, var missing) =>
                $"{Wording.Counted(missing, "item")}{wording.Of(of)} {(missing == 1 ? "is" : "are")} missing",
            Idleness.ComesToTooLittle(var of, var spent, var need) =>
                $"{wording.Say(need - spent)} short of {wording.Say(need)}{wording.Of(of)}",
            Idleness.SetNeedsMore => "its slots ask for the same items, and there are not enough of them for a set",
            Idleness.NoDelivery(var noMethod) => noMethod
                ? "no delivery is chosen yet, so there is none to lower"
                : "there is no delivery to lower",
            Idleness.OtherMethod(var wanted) => $"is for delivery by {wording.Methods(wanted)}",
            Idleness.HigherStepCounts => "a higher step counts in its place",
            Idleness.NothingToTake(var of) => of is null || of.IsEverything
                ? "it takes nothing off this cart"
                : $"it takes nothing off {wording.Say(of)} at this price",
            Idleness.NothingLeftToTake => "nothing is left for it to take",
            Idleness.PaysTooLittle(var net, var each) => $"{wording.Say(each - net)} short of {wording.Say(each)} for the first points",
            Idleness.CardUsedUp => "the card is used up",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    private static string Count(long number) => number == 0 ? "none" : Wording.Number(number);
}
