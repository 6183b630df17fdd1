namespace RapidLedger.Pricing;

/// <summary>Items that no promotion by itself sells below cost, and this one together with another does.</summary>
internal sealed class BelowCostTogether : Check
{
    private const int Most = 3;

    public override string Name => "belowCostTogether";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var trials = around.Try(promotion);
        var losses =
            from trial in trials
            from place in Enumerable.Range(0, trial.Cart.Lines.Count)
            let line = trial.WithCodes.Lines[place]
            where line.Margin < 0 && trial.Alone.Lines[place].Margin >= 0 && trial.Without.Lines[place].Margin >= 0
            // Whoever takes most beside it.
            let beside = line
                .Parts.Where(part => part.Promotion.Id != promotion.Id)
                .OrderByDescending(part => part.Amount)
                .Select(part => part.Promotion)
                .FirstOrDefault()
            where beside is not null && line.Parts.Any(part => part.Promotion.Id == promotion.Id)
            select (Other: beside, Trial: trial, Line: line);
        var mend = new Lazy<Mend?>(() => Less(promotion, trials, around));
        foreach (var worst in losses.GroupBy(loss => loss.Other.Id).Select(of => of.MinBy(Share)).OrderBy(Share).Take(Most))
        {
            var (line, say) = (worst.Line, around.Wording);
            yield return Doubt(
                "/stacking",
                $"With {Meets.Named(worst.Other)} it sells below cost: {Wording.Number(line.Quantity)} {say.Item(line.Sku)} for {say.Say(line.Net)}, a loss of {say.Say(-line.Margin!.Value)}.",
                mend.Value ?? Meets.Apart(promotion, worst.Other)
            ) with
            {
                Other = worst.Other.Id,
            };
        }

        static decimal Share((Promotion Other, Trial Trial, PricedLine Line) loss) => (decimal)loss.Line.Margin!.Value / loss.Line.Goods;
    }

    // The most that its one discount can take with which no cart that was tried sells anything below cost.
    private static Mend? Less(Promotion promotion, IReadOnlyList<Trial> trials, Surroundings around)
    {
        if (
            promotion.Rewards is not [Discount discount]
            || Takings.Of(
                discount.Take,
                trials.SelectMany(trial => trial.Cart.Lines).Max(line => around.Prices.Current(around.Catalogue.Find(line.Sku))),
                around.Store
            )
                is not { } takings
        )
            return null;
        var without = around.Live.With([], [promotion.Id]);
        var most = takings.Most(take =>
        {
            var with = without.With((promotion with { Rewards = [discount with { Take = take }] }).AsIfOpen());
            return trials.All(trial =>
                trial
                    .Alone.Lines.Zip(with.Price(trial.WithCodes.Cart).Lines)
                    .All(pair => pair.First.Margin < 0 || pair.Second.Margin is not < 0)
            );
        });
        return most is { } value ? takings.Mend(value, "/rewards/0/take", "the most with which nothing tried is sold below cost") : null;
    }
}
