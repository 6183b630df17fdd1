namespace RapidLedger.Pricing;

/// <summary>Says what a set gives.</summary>
internal static class BundleWords
{
    public static string Say(Bundle bundle, Wording wording)
    {
        var slots = Wording.Join(
            bundle.Slots.Select(slot =>
                $"{slot.Quantity} of {wording.Say(slot.Of, "anything")}{(slot.Take is { } take ? $" {RewardWords.At(take, wording)}" : "")}"
            ),
            "and"
        );
        var whole = bundle.Take is { } all ? $" {RewardWords.At(all, wording)} together" : "";
        return $"the set of {slots}{whole}, {RewardWords.Say(bundle.Repeat)}{(bundle.Fill == Pick.Cheapest ? ", filled with the cheapest" : "")}";
    }
}
