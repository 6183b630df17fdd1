namespace RapidLedger.Pricing;

/// <summary>An amount to be spent that lies just above the price of an item which alone looks meant to reach it.</summary>
internal sealed class JustAbovePrice : Check
{
    // Within so many hundredths of the amount: 49.90 for 50.00.
    private const int Hundredth = 100;

    public override string Name => "justAbovePrice";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, condition) in promotion.Conditions())
        {
            if (condition is not Spend { From: { } from } spend || from.For(around.Store.Currency, around.Store) is not (> 0 and var least))
                continue;
            var near = around
                .Catalogue.Select(spend.Of ?? Selection.Everything)
                .Select(variant => (Variant: variant, Price: around.Prices.Current(variant)))
                .Where(item => item.Price < least && (least - item.Price) * Hundredth <= least)
                .OrderByDescending(item => item.Price)
                .ToArray();
            if (near.Length == 0)
                continue;
            var (nearest, price) = near[0];
            var others = near.Length == 1 ? "" : $", and {Wording.Counted(near.Length - 1, "other item")} likewise";
            yield return Remark(
                $"{at}/spend/from",
                $"One {around.Wording.Item(around.Catalogue.Variant(nearest).Sku)} at {around.Wording.Say(price)} does not reach {around.Wording.Say(least)}: {around.Wording.Say(least - price)} is missing{others}.",
                from.Named.Count == 1
                    ? new($"from {around.Wording.Say(near[^1].Price)}", $"{at}/spend/from", around.Store.Currency.Write(near[^1].Price))
                    : null
            );
        }
    }
}
