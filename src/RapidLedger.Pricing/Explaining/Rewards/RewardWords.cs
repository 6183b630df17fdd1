namespace RapidLedger.Pricing;

/// <summary>Says what a reward gives. One kind, one file in this folder, one line here.</summary>
internal static class RewardWords
{
    public static string Say(Reward reward, Wording wording) => reward switch
    {
        Discount discount => DiscountWords.Say(discount, wording),
        Shipping shipping => DeliveryWords.Say(shipping, wording),
        BuyGet buyGet => BuyGetWords.Say(buyGet, wording),
        Ladder ladder => LadderWords.Say(ladder, wording),
        Bundle bundle => BundleWords.Say(bundle, wording),
        Gift gift => GiftWords.Say(gift, wording),
        Markdown markdown => MarkdownWords.Say(markdown, wording),
        Points points => PointsWords.Say(points, wording),
        Credit credit => CreditWords.Say(credit, wording),
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    /// <summary>How a price comes down: <c>20 % off</c>, <c>free</c>, <c>a price of €5.00 for</c>.</summary>
    public static string Off(Take take, Wording wording) => take switch
    {
        Take.Percentage(var percent) => percent == Percent.Whole ? "everything off" : $"{wording.Say(percent)} off",
        Take.Off(var amount) => $"{wording.Say(amount)} off",
        Take.To(var price) => $"a price of {wording.Say(price)} for",
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    /// <summary>The same after what it is said of: <c>free</c>, <c>at 20 % off</c>, <c>for €5.00</c>.</summary>
    public static string At(Take take, Wording wording) => take switch
    {
        Take.Percentage(var percent) => percent == Percent.Whole ? "free" : $"at {wording.Say(percent)} off",
        Take.Off(var amount) => $"at {wording.Say(amount)} off",
        Take.To(var price) => $"for {wording.Say(price)}",
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    /// <summary>How often: <c>once</c>, <c>every time it fits</c>, <c>at most 3 times</c>.</summary>
    public static string Say(Repetition repeat) => repeat.Most switch
    {
        null => "every time it fits",
        1 => "once",
        { } most => $"at most {most} times",
    };
}
