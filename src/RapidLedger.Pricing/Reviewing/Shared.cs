namespace RapidLedger.Pricing;

/// <summary>A cart in which two promotions take from the same line.</summary>
/// <param name="Other">The other one.</param>
/// <param name="Priced">The cart.</param>
/// <param name="Taken">What both take from goods.</param>
/// <param name="Of">The lines that they take from, at the prices before both.</param>
internal sealed record Shared(Promotion Other, PricedCart Priced, long Taken, long Of)
{
    /// <summary>What both take, of the price before them.</summary>
    public decimal Percent => 100m * Taken / Of;

    /// <summary>Of two promotions in a cart; null: there is no line from which both take.</summary>
    public static Shared? In(PricedCart priced, Promotion one, Promotion other)
    {
        var (taken, of, isShared) = (0L, 0L, false);
        for (var place = 0; place < priced.Lines.Count; place++)
        {
            var line = priced.Lines[place];
            var marked = priced.MarkedDown.Where(part => part.Line == place && IsOf(part.Promotion)).ToArray();
            var parts = line.Parts.Where(part => IsOf(part.Promotion)).ToArray();
            if (marked.Length + parts.Length == 0)
                continue;
            isShared |= marked.Select(part => part.Promotion.Id).Concat(parts.Select(part => part.Promotion.Id)).Distinct().Count() == 2;
            taken += marked.Sum(part => part.Amount) + parts.Sum(part => part.Amount);
            of += line.Goods + marked.Sum(part => part.Amount);
        }

        return isShared ? new(other, priced, taken, of) : null;

        bool IsOf(Promotion promotion) => promotion.Id == one.Id || promotion.Id == other.Id;
    }

    /// <summary>With each promotion with which one shares a line in some carts, where they take most, those that take most first.</summary>
    /// <param name="promotion">The one.</param>
    /// <param name="met">What it meets.</param>
    /// <param name="with">Which others count.</param>
    public static IEnumerable<Shared> With(Promotion promotion, Encounters met, Func<Promotion, bool> with) =>
        met
            .Seen.SelectMany(priced =>
                priced
                    .Applied.Where(outcome => outcome.Promotion.Id != promotion.Id && with(outcome.Promotion))
                    .Select(outcome => In(priced, promotion, outcome.Promotion))
            )
            .OfType<Shared>()
            .GroupBy(one => one.Other.Id)
            .Select(of => of.OrderByDescending(one => Math.Round(one.Percent, 1)).ThenBy(one => one.Priced.Lines.Count).First())
            .OrderByDescending(one => one.Percent)
            .ThenBy(one => one.Other, Promotion.Order);

    /// <summary>The same in the smallest cart found in which they take as much, to a tenth of a percent.</summary>
    public Shared Smallest(Promotion promotion, Encounters met) =>
        In(
            met.Smallest(
                Priced.Cart,
                cart => met.PriceInstead(cart, promotion),
                priced => In(priced, promotion, Other) is { } less && less.Percent > Percent - 0.1m
            ),
            promotion,
            Other
        ) ?? this;

    /// <summary>In words: "on 1 Fell tyre they take 21.00 of 40.00 together, 52.5 %".</summary>
    public string Say(Wording wording) =>
        $"on {WitnessWords.Goods(Priced.Cart, wording)}{WitnessWords.ForWhom(Priced.Cart, wording)} they take {wording.Say(Taken, Priced.Currency)} of {wording.Say(Of, Priced.Currency)} together, {Percent:0.#} %";
}
