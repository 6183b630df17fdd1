namespace RapidLedger.Pricing;

/// <summary>An amount off once for the cart where off each unit may be meant: what either costs.</summary>
internal sealed class OncePerCart : Check
{
    private const int Ten = 10;

    public override string Name => "oncePerCart";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        // Off everything, or from an amount on: once is what is meant then.
        if (promotion.Conditions().Any(entry => entry.Condition is Spend))
            yield break;
        foreach (var found in Amounts(promotion, Per.Cart, around).Where(found => !found.On.In.Any(term => term is Term.All)))
            yield return Remark(
                $"{found.At}/per",
                $"It takes {found.Off} once, however many are bought; off each unit it would be {found.Ten} off ten{found.OnTape}.",
                new("off each unit", $"{found.At}/per", "unit")
            );
    }

    /// <summary>
    /// Amounts off so taken, without a bound, and what they come to: on ten units, and on the cart that somebody has before them.
    /// </summary>
    public static IEnumerable<(string At, Selection On, string Off, string Ten, string OnTape)> Amounts(
        Promotion promotion,
        Per per,
        Surroundings around
    )
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (reward is not Discount { Take: Take.Off(var amount), MaxUnits: null, MaxDiscount: null } discount || discount.Per != per)
                continue;
            if (amount.For(around.Store.Currency, around.Store) is not { } off || around.Catalogue.Select(discount.On).Take(2).Count() < 2)
                continue;
            yield return (at, discount.On, around.Wording.Say(off), around.Wording.Say(Ten * off), OnTape(promotion, discount, around));
        }
    }

    // Priced either way, by itself.
    private static string OnTape(Promotion promotion, Discount discount, Surroundings around)
    {
        if (around.Tape is not { } tape || !promotion.Rewards.Contains(discount))
            return "";
        var (written, otherwise) = (Taken(discount), Taken(discount with { Per = discount.Per == Per.Unit ? Per.Cart : Per.Unit }));
        return written == 0 && otherwise == 0
            ? ""
            : $"; on this cart {around.Wording.Say(written)}, {(discount.Per == Per.Unit ? "once for the cart" : "off each unit")} {around.Wording.Say(otherwise)}";

        long Taken(Discount tried) =>
            Rulebook
                .Compile(
                    around.Catalogue,
                    [(promotion with { Rewards = [.. promotion.Rewards.Select(reward => reward == discount ? tried : reward)] }).AsIfOpen()]
                )
                .Price(tape with { Currency = null })
                .Totals.Discount;
    }
}
