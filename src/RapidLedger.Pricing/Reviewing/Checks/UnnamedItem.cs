namespace RapidLedger.Pricing;

/// <summary>
/// Gives on everything what looks meant for one item: half of the whole order, one price for each thing in it, anything free.
/// </summary>
internal sealed class UnnamedItem : Check
{
    /// <summary>From so many percent on one item is what is meant as a rule.</summary>
    public const decimal Half = 50;

    public override string Name => "unnamedItem";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (reward is Discount { MaxUnits: null, Per: Per.Unit } discount && IsOpen(discount.On))
            {
                var say = around.Wording;
                if (discount.Take is Take.Percentage { Percent: var percent } && percent.Value >= Half)
                    yield return Doubt(
                        $"{at}/on",
                        $"It names no items: it takes {say.Say(percent)} off everything in the cart, not off one item.",
                        One(at)
                    );
                else if (discount.Take is Take.To(var price) && price.For(around.Store.Currency, around.Store) is { } each)
                    yield return Doubt($"{at}/on", $"It names no items: each thing in the cart costs {say.Say(each)} then.", One(at));
            }
            else if (
                reward is BuyGet deal
                && IsOpen(deal.Got)
                && !IsOpen(deal.Bought)
                && deal.Take is Take.Percentage { Percent: var off }
                && off.Value >= Half
                && Dearest(around) is { } dearest
            )
            {
                yield return Doubt($"{at}/get/of", $"It names no items to get: whatever is in the cart can be it, up to {dearest}.");
            }
        }
    }

    private static bool IsOpen(Selection of) => of.In.Any(term => term is Term.All) && of.PriceTo is null;

    private static Mend One(string at) => new("of one item only", $"{at}/maxUnits", 1L);

    private static string? Dearest(Surroundings around)
    {
        if (around.Catalogue.Count == 0)
            return null;
        var dearest = Enumerable.Range(0, around.Catalogue.Count).MaxBy(around.Prices.Current);
        return $"{around.Wording.Item(around.Catalogue.Variant(dearest).Sku)} at {around.Wording.Say(around.Prices.Current(dearest))}";
    }
}
