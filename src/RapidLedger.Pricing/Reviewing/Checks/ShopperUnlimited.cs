namespace RapidLedger.Pricing;

/// <summary>A deep discount that one shopper can take again and again, or a limit for each shopper that guests slip through.</summary>
internal sealed class ShopperUnlimited : Check
{
    private const decimal Deep = 30;

    public override string Name => "shopperUnlimited";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Limits?.PerShopper is null && promotion.IsByCode && promotion.Deepest() is >= Deep and var deepest)
            yield return Doubt(
                "/limits/perShopper",
                $"One shopper can use the code again and again, {deepest:0.##} % off each time.",
                new("once for each shopper", "/limits/perShopper", 1L)
            );
        else if (promotion.Limits?.PerShopper is null && promotion.IsByCode && promotion.Rewards().Any(entry => GivesFree(entry.Reward)))
            yield return Doubt(
                "/limits/perShopper",
                "One shopper can use the code again and again, and gets something free each time.",
                new("once for each shopper", "/limits/perShopper", 1L)
            );
        if (promotion.Limits?.PerShopper is { } limit && !promotion.Conditions().Any(entry => entry.Condition is Buyer and not Buyer.Guest))
            yield return Remark(
                "/limits/perShopper",
                $"Guests are not counted: who does not sign in can go past {Wording.Counted(limit, "use")}."
            );
    }

    private static bool GivesFree(Reward reward) =>
        reward is Gift { Take: null } || (reward is BuyGet { Take: Take.Percentage(var off) } && off == Percent.Whole);
}
