namespace RapidLedger.Pricing;

/// <summary>Free delivery, whatever it weighs and however it goes: the dearest that it pays for.</summary>
internal sealed class DearDelivery : Check
{
    public override string Name => "dearDelivery";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (
                reward is not Shipping { MaxDiscount: null, Take: Take.Percentage(var percent) } shipping
                || percent != Percent.Whole
                || promotion.Conditions().Any(entry => entry.Condition is Weight)
            )
                continue;
            var covered = around
                .Store.Shipping.Where(method => shipping.Methods is not { } only || only.Contains(method.Id))
                .Select(method => (method.Name, Price: method.Bands.Max(band => band.Price.For(around.Store.Currency, around.Store) ?? 0)))
                .OrderByDescending(method => method.Price)
                .ToArray();
            if (covered.Length < 1 || covered[0].Price < 2 * covered[^1].Price || covered[0].Price == 0)
                continue;
            var least = covered.Where(method => method.Price > 0).Min(method => method.Price);
            if (covered[0].Price > least)
                yield return Doubt(
                    $"{at}/take",
                    $"It also pays {covered[0].Name}, {around.Wording.Say(covered[0].Price)} at its dearest.",
                    new($"at most {around.Wording.Say(least)}", $"{at}/maxDiscount", around.Store.Currency.Write(least))
                );
        }
    }
}
