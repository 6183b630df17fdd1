namespace RapidLedger.Pricing;

/// <summary>Says what is given.</summary>
internal static class GiftWords
{
    public static string Say(Gift gift, Wording wording)
    {
        var what = gift.Give switch
        {
            Give.OneOf(var skus) =>
                $"{gift.Quantity} {Wording.Join(skus.Select(wording.Item), "or")}{(skus.Count > 1 || gift.Picked ? " to pick" : "")}",
            Give.SameAs => $"{gift.Quantity} more of the same",
            _ => throw new System.Diagnostics.UnreachableException(),
        };
        var of = gift.Times.Of is { IsEverything: false } selected ? $" of {wording.Say(selected)}" : "";
        var times = (gift.Times.Quantity, gift.Times.Spend) switch
        {
            _ when gift.Give is Give.SameAs(var selection) =>
                $" for every {gift.Times.Quantity ?? 1} of one item of {wording.Say(selection, "anything")}",
            ({ } quantity, _) => $" for every {Wording.Counted(quantity, "item")}{of}",
            (_, { } spend) => $" for every {wording.Say(spend)}{of}",
            _ => "",
        };
        var most = gift.AtMost is { } bound ? $", at most {bound} times" : "";
        return $"{what} {(gift.Take is { } take ? RewardWords.At(take, wording) : "free")}{times}{most}";
    }
}
