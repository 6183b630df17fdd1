namespace RapidLedger.Pricing;

/// <summary>A large percentage on everything, with nothing that bounds what it costs.</summary>
internal sealed class WholeOrderUnlimited : Check
{
    private const decimal Large = 20;

    public override string Name => "wholeOrderUnlimited";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Limits is { Budget: not null })
            yield break;
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (
                reward is not Discount { Take: Take.Percentage(var percent), MaxDiscount: null, MaxUnits: null } discount
                || percent.Value < Large
                || (discount.Per == Per.Unit && percent.Value >= UnnamedItem.Half)
                || !discount.On.In.Any(term => term is Term.All)
            )
                continue;
            var order = 500 * around.Store.Currency.MinorPerMajor;
            var most = percent.Of(order / 5, around.Store.Rounding);
            yield return Doubt(
                $"{at}/on",
                $"It gives {around.Wording.Say(percent)} on everything and without a bound: {around.Wording.Say(percent.Of(order, around.Store.Rounding))} on an order of {around.Wording.Say(order)}.",
                new($"at most {around.Wording.Say(most)} in one cart", $"{at}/maxDiscount", around.Store.Currency.Write(most))
            );
        }
    }
}
