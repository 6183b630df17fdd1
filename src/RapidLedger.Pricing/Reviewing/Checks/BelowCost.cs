namespace RapidLedger.Pricing;

/// <summary>Items that would be sold below cost, or below the margin floor, by this promotion alone.</summary>
internal sealed class BelowCost : Check
{
    // Of what is not paid for nothing stays: less than any floor.
    private const decimal NothingPaid = -1_000_000;
    private const int MostNamed = 3;

    public override string Name => "belowCost";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var floor = around.Store.MarginFloor;
        foreach (
            var taken in promotion
                .AllTaken()
                .Where(taken => taken.Reward is Discount { Per: Per.Unit } or Discount { Take: Take.Percentage } or Markdown)
        )
        {
            if (taken.On is not { } on || taken.Take?.For(around.Store.Currency, around.Store) is not { } take)
                continue;
            var items = around
                .Catalogue.Select(on)
                .Where(variant => around.Prices.Cost(variant) is not null && around.Prices.Current(variant) > 0)
                .Select(variant =>
                    (
                        Variant: variant,
                        Price: around.Prices.Current(variant),
                        Left: around.Prices.Current(variant) - take.From(around.Prices.Current(variant))
                    )
                )
                .Select(item =>
                    (
                        item.Variant,
                        item.Price,
                        item.Left,
                        Share: Share(item.Variant, item.Left, around),
                        Before: Share(item.Variant, item.Price, around)
                    )
                )
                .ToArray();
            // Only what this promotion itself brings down.
            var below = items.Where(item => item.Share < 0 && item.Before >= 0).OrderBy(item => item.Share).ToArray();
            var under = floor is { } least
                ? items
                    .Where(item => item.Share * 100 < least.Value && item.Before * 100 >= least.Value)
                    .OrderBy(item => item.Share)
                    .ToArray()
                : [];
            if (below.Length == 0 && under.Length == 0)
                continue;
            var mend = MostThatKeeps(taken, items.Select(item => item.Variant), floor?.Value ?? 0, around);
            var told = below.Length > 0 ? below : under;
            var named = Wording.Join(
                told.Take(MostNamed)
                    .Select(item =>
                        $"{around.Wording.Item(around.Catalogue.Variant(item.Variant).Sku)} at {around.Wording.Say(item.Left)}"
                    ),
                "and"
            );
            var count = $"{Wording.Counted(told.Length, "item")} of {items.Length} would";
            var first = told.Length > MostNamed ? ", the furthest of them" : "";
            yield return below.Length > 0
                ? Doubt(taken.At, $"{count} be sold below cost{first}: {named}.", mend)
                : Remark(taken.At, $"{count} earn less than the floor of {around.Wording.Say(floor!.Value)}{first}: {named}.", mend);
        }
    }

    // The most that can be taken with which every item that keeps the floor now still does.
    private static Mend? MostThatKeeps(Parts.Taken taken, IEnumerable<int> variants, decimal floor, Surroundings around)
    {
        int[] keeping = [.. variants.Where(variant => Share(variant, around.Prices.Current(variant), around) * 100 >= floor)];
        if (keeping.Length == 0 || SmallerTake.Of(taken.Take!, keeping.Max(around.Prices.Current), around.Store) is not { } takings)
            return null;
        var keeps = takings.Most(take =>
            take.For(around.Store.Currency, around.Store) is { } less
            && Array.TrueForAll(keeping, variant =>
                Share(variant, around.Prices.Current(variant) - less.From(around.Prices.Current(variant)), around) * 100 >= floor
            )
        );
        return keeps is { } most
            ? takings.Mend(most, taken.At, $"the most that keeps {(floor > 0 ? $"the floor of {floor:0.##} %" : "every item above cost")}")
            : null;
    }

    private static decimal Share(int variant, long price, Surroundings around) =>
        price <= 0 ? NothingPaid : around.Catalogue.MarginShare(variant, price, around.Store.Currency) ?? 1;
}
