namespace RapidLedger.Pricing;

/// <summary>
/// The price pass: of the eligible markdowns the one that gives a variant the lowest price sets it; of equal ones the first by order of
/// application, and by level.
/// </summary>
/// <param name="unmarked">The cart at the catalogue's prices, which markdowns look at.</param>
/// <param name="eligible">The markdowns that could touch the cart, in order of application.</param>
/// <param name="elsewhere">Those that could touch a variant that is not in the cart.</param>
internal sealed class PricePass(CartView unmarked, CompiledPromotion[] eligible, Func<int, IEnumerable<CompiledPromotion>> elsewhere)
{
    /// <summary>The cart at the prices that the markdowns leave.</summary>
    public CartView Marked() =>
        unmarked.Marked(
            variant => Lowest(variant, eligible).Price,
            variant =>
                Lowest(variant, [.. eligible.Union(elsewhere(variant)).OrderBy(promotion => promotion.Promotion, Promotion.Order)]).Price
        );

    private IReadOnlyList<(CompiledPromotion Promotion, Outcome Outcome)>? outcomes;

    /// <summary>What became of the markdowns that could touch the cart. Worked out when first asked for.</summary>
    public IReadOnlyList<(CompiledPromotion Promotion, Outcome Outcome)> Outcomes() => outcomes ??= [.. WorkOut()];

    /// <summary>What the markdowns took, line by line.</summary>
    public IEnumerable<(int Line, Promotion Promotion, long Amount, long Units)> ByLine() =>
        Taken().Select(one => (one.Line, eligible[one.By].Promotion, one.Amount, one.Units));

    private IEnumerable<(int Line, int By, long Amount, long Units)> Taken()
    {
        for (var line = 0; line < unmarked.Lines; line++)
            if (Lowest(unmarked.Variant(line), eligible) is var (price, by) && by >= 0)
                yield return (line, by, (unmarked.Current(line) - price) * unmarked.Quantity(line), unmarked.Quantity(line));
    }

    private IEnumerable<(CompiledPromotion Promotion, Outcome Outcome)> WorkOut()
    {
        var given = new (long Amount, long Units)[eligible.Length];
        foreach (var (_, by, amount, units) in Taken())
        {
            given[by].Amount += amount;
            given[by].Units += units;
        }

        for (var i = 0; i < eligible.Length; i++)
            yield return (
                eligible[i],
                new(eligible[i].Promotion, given[i].Amount, given[i].Units, given[i].Units > 0 ? null : WhyNot(eligible[i]))
            );
    }

    private Reason WhyNot(CompiledPromotion promotion)
    {
        Selection? selecting = null;
        for (var line = 0; line < unmarked.Lines; line++)
        {
            var variant = unmarked.Variant(line);
            selecting ??= promotion.Markdown!.Selecting(unmarked, variant);
            if (promotion.Markdown!.Price(unmarked, variant) < unmarked.Current(line))
                return new Reason.NotBetter(Verdict.OtherMarkdown, [eligible[Lowest(variant, eligible).By].Promotion]);
        }

        var on = ((Markdown)promotion.Promotion.Rewards[0]).Anything;
        return new Reason.NoMatchingItems(
            unmarked.Lines == 0 ? new Idleness.EmptyCart()
            : selecting is not null ? new Idleness.NothingToTake(selecting)
            : new Idleness.NothingOfIt(on)
        );
    }

    private (long Price, int By) Lowest(int variant, CompiledPromotion[] among)
    {
        var (lowest, by) = (unmarked.Prices.Current(variant), -1);
        for (var i = 0; i < among.Length; i++)
            if (among[i].Markdown!.Price(unmarked, variant) is var price && price < lowest)
                (lowest, by) = (price, i);
        return (lowest, by);
    }
}
