namespace RapidLedger.Pricing;

/// <summary>Says what a reward gives. One kind, one file in this folder, one line here.</summary>
internal static class RewardWords
{
    public static string Say(Reward reward, Wording wording) => reward switch
    {
        Discount discount => DiscountWords.Say(discount, wording),
        _ => throw new System.Diagnostics.UnreachableException(),
    };
}
