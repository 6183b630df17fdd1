namespace RapidLedger.Pricing;

/// <summary>Items that would be sold below cost, or below the margin floor, by this promotion alone.</summary>
internal sealed class BelowCost : Check
{
    // Of what is not paid for nothing stays: less than any floor.
    private const decimal NothingPaid = -1_000_000;

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
        // What is left only falls with the percentage, so that it is halved in on.
        var (keeps, tooMuch) = (0, (int)Math.Ceiling(((Take.Percentage)taken.Take!).Percent.Value));
        while (tooMuch - keeps > 1)
        {
            var tried = (keeps + tooMuch) / 2;
            if (Keeps(tried)) keeps = tried;
            else tooMuch = tried;
        }

        return keeps == 0 ? null : new($"{keeps} %, the most that keeps {(floor > 0 ? $"the floor of {floor:0.##} %" : "every item above cost")}", $"{taken.At}/percent", (decimal)keeps);

        bool Keeps(int percent)
        {
            var less = Percent.From(percent)!.Value;
            return Array.TrueForAll(keeping, variant => Share(variant, around.Prices.Current(variant) - less.Of(around.Prices.Current(variant), around.Store.Rounding), around) * 100 >= floor);
        }
    }

    private static decimal Share(int variant, long price, Surroundings around) => price <= 0 ? NothingPaid : around.Catalogue.MarginShare(variant, price, around.Store.Currency) ?? 1;

    private static string Named(int variant, Surroundings around) => around.Wording.Item(around.Catalogue.Variant(variant).Sku);
}
