namespace RapidLedger.Pricing;

/// <summary>Items that no promotion by itself sells below cost, and this one together with another does.</summary>
internal sealed class BelowCostTogether : Check
{
    private const int Most = 3;

    public override string Name => "belowCostTogether";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var trials = around.Try(promotion);
        var without = around.Live.With([], [promotion.Id]);
        var losses = trials.SelectMany(trial => Losses(promotion, trial, without, around)).ToArray();
        var mend = new Lazy<Mend?>(() => Less(promotion, trials, around));
        foreach (var worst in losses.GroupBy(loss => loss.Names).Select(of => of.MinBy(Share)!).OrderBy(Share).Take(Most))
        {
            var (line, say) = (worst.Line, around.Wording);
            var names = Wording.Join(worst.Others.Select(Meets.Named), "and");
            yield return Doubt(
                "/stacking",
                $"With {names} it sells below cost: {Wording.Number(line.Quantity)} {say.Item(line.Sku)} for {say.Say(line.Net)}, a loss of {say.Say(-line.Margin!.Value)}{worst.Trial.ForWhom(say)}.",
                mend.Value ?? Apart(promotion, worst, around)
            ) with
            {
                Other = worst.Others[0].Id,
            };
        }

        static decimal Share(Loss loss) => (decimal)loss.Line.Margin!.Value / loss.Line.Goods;
    }

    private sealed record Loss(EquatableArray<Promotion> Others, Trial Trial, int Place, PricedLine Line)
    {
        public string Names => string.Join(' ', Others.Select(other => other.Id));
    }

    // Lines that are sold below cost with it, and neither by it alone nor by all the others without it.
    private static IEnumerable<Loss> Losses(Promotion promotion, Trial trial, Rulebook without, Surroundings around)
    {
        PricedCart? others = null;
        for (var place = 0; place < trial.Cart.Lines.Count; place++)
        {
            var line = trial.WithCodes.Lines[place];
            if (line.Margin is not < 0 || trial.Alone.Lines[place].Margin is not >= 0)
                continue;
            Promotion[] beside =
            [
                .. line
                    .Parts.Where(part => part.Promotion.Id != promotion.Id)
                    .OrderByDescending(part => part.Amount)
                    .Select(part => part.Promotion)
                    .Distinct(),
            ];
            if (beside.Length == 0 || !line.Parts.Any(part => part.Promotion.Id == promotion.Id))
                continue;
            others ??= without.Price(trial.WithCodes.Cart);
            if (others.Lines[place].Margin is >= 0)
                yield return new([.. Needed(promotion, beside, trial, place, around)], trial, place, line);
        }
    }

    // The fewest of those beside it, whoever takes most first, with which that line of the same cart is sold below cost.
    private static Promotion[] Needed(Promotion promotion, Promotion[] beside, Trial trial, int place, Surroundings around)
    {
        for (var count = 1; count < beside.Length; count++)
            foreach (var few in count == 1 ? beside.Select(one => new[] { one }) : [beside[..count]])
                if (
                    Rulebook.Compile(around.Catalogue, [promotion.AsIfOpen(), .. few]).Price(trial.WithCodes.Cart).Lines[place].Margin
                    is < 0
                )
                    return few;
        return beside;
    }

    // Kept apart from one of them, if that mends the cart that is spoken of.
    private static Mend? Apart(Promotion promotion, Loss loss, Surroundings around)
    {
        if (promotion.Stacking is not null)
            return null;
        var without = around.Live.With([], [promotion.Id]);
        foreach (var other in loss.Others)
        {
            var apart = promotion with { Stacking = new Stacking(Allow.Except, [new StackingEntry.OfPromotion(other.Id)]) };
            if (without.With(apart.AsIfOpen()).Price(loss.Trial.WithCodes.Cart).Lines[loss.Place].Margin is not < 0)
                return Meets.Apart(promotion, other);
        }

        return null;
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
