namespace RapidLedger.Pricing;

/// <summary>Items that would be sold below cost, or below the margin floor, by this promotion alone.</summary>
internal sealed class BelowCost : Check
{
    public override string Name => "belowCost";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var floor = around.Store.MarginFloor;
        foreach (var taken in promotion.AllTaken().Where(taken => taken.Reward is Discount { Per: Per.Unit } or Discount { Take: Take.Percentage } or Markdown))
        {
            if (taken.On is not { } on || taken.Take?.For(around.Store.Currency, around.Store) is not { } take) continue;
            var items = around.Catalogue.Select(on)
                .Where(variant => around.Prices.Cost(variant) is not null && around.Prices.Current(variant) > 0)
                .Select(variant => (Variant: variant, Price: around.Prices.Current(variant), Left: around.Prices.Current(variant) - take.From(around.Prices.Current(variant))))
                .Select(item => (item.Variant, item.Price, item.Left, Share: Share(item.Variant, item.Left, around), Before: Share(item.Variant, item.Price, around)))
                .ToArray();
            // Only what this promotion itself brings down.
            var below = items.Where(item => item.Share < 0 && item.Before >= 0).OrderBy(item => item.Share).ToArray();
            var under = floor is { } least ? items.Where(item => item.Share * 100 < least.Value && item.Before * 100 >= least.Value).OrderBy(item => item.Share).ToArray() : [];
            if (below.Length == 0 && under.Length == 0) continue;
            var mend = taken.Take is Take.Percentage ? MostThatKeeps(taken, items.Select(item => item.Variant), floor?.Value ?? 0, around) : null;
            if (below.Length > 0)
            {
                var worst = below[0];
                yield return Doubt(taken.At, $"{Wording.Counted(below.Length, "item")} of {items.Length} would be sold below cost, {Named(worst.Variant, around)} at {around.Wording.Say(worst.Left)} the furthest.", mend);
            }
            else yield return Remark(taken.At, $"{Wording.Counted(under.Length, "item")} of {items.Length} would earn less than the floor of {around.Wording.Say(floor!.Value)}, {Named(under[0].Variant, around)} the least.", mend);
        }
    }

    // The largest whole percentage with which every item that keeps the floor now still does.
    private static Mend? MostThatKeeps(Parts.Taken taken, IEnumerable<int> variants, decimal floor, Surroundings around)
    {
        int[] keeping = [.. variants.Where(variant => Share(variant, around.Prices.Current(variant), around) * 100 >= floor)];
        for (var percent = (int)Math.Ceiling(((Take.Percentage)taken.Take!).Percent.Value) - 1; percent > 0; percent--)
        {
            var less = Percent.From(percent)!.Value;
            if (Array.TrueForAll(keeping, variant => Share(variant, around.Prices.Current(variant) - less.Of(around.Prices.Current(variant), around.Store.Rounding), around) * 100 >= floor))
                return new($"{percent} %, the most that keeps {(floor > 0 ? $"the floor of {floor:0.##} %" : "every item above cost")}", $"{taken.At}/percent", (decimal)percent);
        }

        return null;
    }

    private static decimal Share(int variant, long price, Surroundings around) => price <= 0 ? decimal.MinValue / 1000 : around.Catalogue.MarginShare(variant, price, around.Store.Currency) ?? 1;

    private static string Named(int variant, Surroundings around) => around.Wording.Item(around.Catalogue.Variant(variant).Sku);
}
