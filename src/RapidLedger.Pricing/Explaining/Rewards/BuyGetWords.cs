namespace RapidLedger.Pricing;

/// <summary>Says what is got for what is bought.</summary>
internal static class BuyGetWords
{
    public static string Say(BuyGet reward, Wording wording)
    {
        var (bought, got) = (wording.Say(reward.Bought, "anything"), wording.Say(reward.Got, "anything"));
        var which = reward.Pick == Pick.Cheapest ? "cheapest" : "dearest";
        var same = reward.Same switch
        {
            Same.Sku => " of the same item",
            Same.Product => " of the same product",
            _ => "",
        };
        var how = RewardWords.At(reward.Take, wording);
        return reward.Deal switch
        {
            Deal.ByQuantity deal =>
                $"for {deal.Buy} of {bought} the {which} {deal.Get} of {(same.Length > 0 ? "them" : got)}{same} {how}, {RewardWords.Say(deal.Repeat)}",
            Deal.BySpend deal =>
                $"for {wording.Say(deal.Spend)} of {bought} the {which} {deal.Get} of {got} {how}, {RewardWords.Say(deal.Repeat)}",
            Deal.BySchedule schedule =>
                $"of {bought}{same} the {which} {how}: {Wording.Join(schedule.Rows.Select((row, place) => $"{row.Get} {(place == 0 ? "after" : "more after")} {row.Buy}{(place == 0 ? "" : " more")}"), "and")}",
            _ => throw new System.Diagnostics.UnreachableException(),
        };
    }
}
