namespace RapidLedger.Pricing;

/// <summary>An amount off each unit that is all that some of the units cost, or more: they cost nothing then.</summary>
internal sealed class AbovePrice : Check
{
    private const int Hundred = 100;

    public override string Name => "abovePrice";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var taken in promotion.AllTaken())
        {
            if (
                taken is not { On: { } on, Take: Take.Off(var amount) }
                || taken.Reward is Discount { Per: Per.Cart } or Bundle { Take: not null }
            )
                continue;
            if (amount.For(around.Store.Currency, around.Store) is not { } off)
                continue;
            int[] all = [.. around.Catalogue.Select(on).Where(variant => around.Prices.Current(variant) > 0)];
            int[] free = [.. all.Where(variant => around.Prices.Current(variant) <= off).OrderBy(around.Prices.Current)];
            if (free.Length == 0)
                continue;
            var (say, dearest) = (around.Wording, free[^1]);
            var item = $"{say.Item(around.Catalogue.Variant(dearest).Sku)} at {say.Say(around.Prices.Current(dearest))}";
            var which = free.Length == 1 ? item : $"{Wording.Counted(free.Length, "item")} of {all.Length}, such as {item}";
            yield return Doubt(
                taken.At,
                $"{say.Say(off)} off each is all that {which} {(free.Length == 1 ? "costs" : "cost")}: nothing is left to pay for {(free.Length == 1 ? "it" : "them")}.",
                Percent(amount) is { } percent
                    ? new($"{percent} % off", taken.At, new Dictionary<string, object> { ["percent"] = percent })
                    : null
            );
        }
    }

    // The same figure as a percentage, where it can be one.
    private static decimal? Percent(Amount amount) =>
        amount.Named is [var only]
        && only.Minor % only.Currency.MinorPerMajor == 0
        && only.Minor / only.Currency.MinorPerMajor is > 0 and < Hundred and var whole
            ? whole
            : null;
}
