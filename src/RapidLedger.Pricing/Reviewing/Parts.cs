namespace RapidLedger.Pricing;

/// <summary>The parts of a promotion with their places, for checks that look at all of a kind.</summary>
internal static class Parts
{
    /// <summary>Something taken off.</summary>
    /// <param name="At">Where the take stands.</param>
    /// <param name="Take">How the price comes down; null: all of it.</param>
    /// <param name="On">From what; null: from delivery.</param>
    /// <param name="Reward">By which reward.</param>
    public sealed record Taken(string At, Take? Take, Selection? On, Reward Reward);

    private static readonly RewardKinds<Func<string, Reward, IEnumerable<Taken>>> Takes = new()
    {
        Discount = (at, reward) => reward is Discount discount ? [new($"{at}/take", discount.Take, discount.On, reward)] : [],
        BuyGet = (at, reward) => reward is BuyGet buyGet ? [new($"{at}/get/take", buyGet.Take, buyGet.Got, reward)] : [],
        Ladder = (_, _) => [],
        Bundle = (at, reward) =>
            reward is Bundle bundle
                ? bundle.Take is { } whole
                    ? bundle.Slots.Select(slot => new Taken($"{at}/take", whole, slot.Of, reward)).Take(1)
                    : bundle
                        .Slots.Select((slot, place) => (slot, place))
                        .Where(one => one.slot.Take is not null)
                        .Select(one => new Taken($"{at}/slots/{one.place}/take", one.slot.Take, one.slot.Of, reward))
                : [],
        Gift = (_, _) => [],
        Markdown = (at, reward) =>
            reward is Markdown markdown
                ? markdown.Levels.Select((level, place) => new Taken($"{at}/levels/{place}/take", level.Take, level.On, reward))
                : [],
        Shipping = (at, reward) => reward is Shipping shipping ? [new($"{at}/take", shipping.Take, null, reward)] : [],
        Points = (_, _) => [],
        Credit = (_, _) => [],
    };

    private static readonly RewardKinds<Func<Reward, IEnumerable<Selection>>> About = new()
    {
        Discount = reward => reward is Discount discount ? [discount.On] : [],
        BuyGet = reward => reward is BuyGet deal ? [deal.Bought, deal.Got] : [],
        Ladder = reward => reward is Ladder ladder ? [ladder.Of] : [],
        Bundle = reward => reward is Bundle bundle ? bundle.Slots.Select(slot => slot.Of) : [],
        Gift = reward =>
            reward switch
            {
                Gift { Times.Of: { } of } => [of],
                Gift { Give: Give.SameAs(var of) } => [of],
                _ => [],
            },
        Markdown = reward => reward is Markdown markdown ? markdown.Levels.Select(level => level.On) : [],
        Shipping = _ => [],
        Points = _ => [],
        Credit = _ => [],
    };

    private static readonly RewardKinds<Func<Reward, IEnumerable<Amount?>>> AmountsOf = new()
    {
        Discount = reward => reward is Discount discount ? [AmountOf(discount.Take), discount.MaxDiscount] : [],
        BuyGet = reward => reward is BuyGet deal ? [AmountOf(deal.Take), (deal.Deal as Deal.BySpend)?.Spend] : [],
        Ladder = reward => reward is Ladder ladder ? ladder.Steps.Select(step => step.Spend) : [],
        Bundle = reward => reward is Bundle bundle ? bundle.Slots.Select(slot => AmountOf(slot.Take)).Append(AmountOf(bundle.Take)) : [],
        Gift = reward => reward is Gift gift ? [AmountOf(gift.Take), gift.Times.Spend] : [],
        Markdown = reward => reward is Markdown markdown ? markdown.Levels.Select(level => AmountOf(level.Take)) : [],
        Shipping = reward => reward is Shipping shipping ? [AmountOf(shipping.Take), shipping.MaxDiscount] : [],
        Points = reward => reward is Points points ? [points.Each] : [],
        Credit = reward => reward is Credit credit ? [credit.Amount] : [],
    };

    private static readonly ConditionKinds<Func<Condition, (Selection? Of, long Least)>> Counted = new()
    {
        All = _ => default,
        Any = _ => default,
        None = _ => default,
        Spend = condition =>
            condition is Spend { Of: var of, From: { } from } ? (of, from.Named.Any(entry => entry.Minor > 0) ? 1 : 0) : default,
        Quantity = condition =>
            condition is Quantity(var of, var comparison, var number) ? (of, comparison.Least(0, number) ?? 0) : default,
        Distinct = condition =>
            condition is Distinct(var of, var comparison, var number) ? (of, comparison.Least(0, number) ?? 0) : default,
        Only = condition => condition is Only(var of) ? (of, 1) : default,
        Weight = _ => default,
        Shopper = _ => default,
        Destination = _ => default,
        Channel = _ => default,
        Currency = _ => default,
        Method = _ => default,
    };

    /// <summary>Every reward, those on the steps of ladders too.</summary>
    public static IEnumerable<(string At, Reward Reward)> Rewards(this Promotion promotion) => Under("/rewards", promotion.Rewards);

    /// <summary>All that is taken off.</summary>
    public static IEnumerable<Taken> AllTaken(this Promotion promotion) =>
        promotion.Rewards().SelectMany(entry => entry.Reward.In(Takes)(entry.At, entry.Reward));

    /// <summary>The deepest percentage that is taken off goods; nothing: 0.</summary>
    public static decimal Deepest(this Promotion promotion) =>
        promotion
            .AllTaken()
            .Where(taken => taken.On is not null)
            .Select(taken => taken.Take is Take.Percentage(var percent) ? percent.Value : 0)
            .DefaultIfEmpty()
            .Max();

    /// <summary>Every condition with its place, groups before their parts.</summary>
    public static IEnumerable<(string At, Condition Condition)> Conditions(this Promotion promotion) =>
        promotion.When is { } when ? Under("/when", when) : [];

    /// <summary>Every selection that a reward takes from or looks at.</summary>
    public static IEnumerable<Selection> SelectionsOf(Reward reward) => reward.In(About)(reward);

    /// <summary>Every selection that it takes from or asks for.</summary>
    public static IEnumerable<Selection> Selections(this Promotion promotion) =>
        promotion
            .Rewards()
            .SelectMany(entry => SelectionsOf(entry.Reward))
            .Concat(promotion.Conditions().Select(entry => Counts(entry.Condition).Of).OfType<Selection>());

    /// <summary>What people read of it, with the places: the label in each language, and the name.</summary>
    public static IEnumerable<(string At, string Text)> Titles(this Promotion promotion)
    {
        if (promotion.Labels is { } labels)
            foreach (var label in labels.Written.AsEnumerable())
                yield return (label.Language is { } language ? $"/label/{language}" : "/label", label.Text);
        else if (promotion.Label is { } one)
            yield return ("/label", one);
        if (promotion.Name is { } name)
            yield return ("/name", name);
    }

    /// <summary>Every amount that its rewards give or ask for, and that its conditions ask for.</summary>
    public static IEnumerable<NamedAmount> AllAmounts(this Promotion promotion) => promotion.Amounts().SelectMany(amount => amount.Named);

    /// <summary>The same, each with all its currencies.</summary>
    public static IEnumerable<Amount> Amounts(this Promotion promotion) =>
        promotion
            .Rewards()
            .SelectMany(entry => entry.Reward.In(AmountsOf)(entry.Reward))
            .Concat(
                promotion.Conditions().Select(entry => entry.Condition).OfType<Spend>().SelectMany(spend => new[] { spend.From, spend.To })
            )
            .OfType<Amount>();

    /// <summary>What a condition counts, and how many of it at least; nothing if it counts no items.</summary>
    public static (Selection? Of, long Least) Counts(Condition condition) => condition.In(Counted)(condition);

    private static Amount? AmountOf(Take? take) =>
        take switch
        {
            Take.Off(var amount) => amount,
            Take.To(var price) => price,
            _ => null,
        };

    private static IEnumerable<(string At, Reward Reward)> Under(string at, EquatableArray<Reward> rewards)
    {
        for (var place = 0; place < rewards.Count; place++)
        {
            yield return ($"{at}/{place}", rewards[place]);
            if (rewards[place] is not Ladder ladder)
                continue;
            for (var step = 0; step < ladder.Steps.Count; step++)
                foreach (var inner in Under($"{at}/{place}/steps/{step}/rewards", ladder.Steps[step].Rewards))
                    yield return inner;
        }
    }

    private static IEnumerable<(string At, Condition Condition)> Under(string at, Condition condition)
    {
        yield return (at, condition);
        var (name, parts) = condition switch
        {
            AllOf(var all) => ("all", all),
            AnyOf(var any) => ("any", any),
            NoneOf(var none) => ("none", none),
            _ => ("", default),
        };
        for (var place = 0; place < parts.Count; place++)
            foreach (var inner in Under($"{at}/{name}/{place}", parts[place]))
                yield return inner;
    }
}
