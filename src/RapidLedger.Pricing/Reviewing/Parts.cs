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
        Bundle = (at, reward) => reward is Bundle bundle
            ? bundle.Take is { } whole ? bundle.Slots.Select(slot => new Taken($"{at}/take", whole, slot.Of, reward)).Take(1) : bundle.Slots.Select((slot, place) => (slot, place)).Where(one => one.slot.Take is not null).Select(one => new Taken($"{at}/slots/{one.place}/take", one.slot.Take, one.slot.Of, reward))
            : [],
        Gift = (_, _) => [],
        Markdown = (at, reward) => reward is Markdown markdown ? markdown.Levels.Select((level, place) => new Taken($"{at}/levels/{place}/take", level.Take, level.On, reward)) : [],
        Shipping = (at, reward) => reward is Shipping shipping ? [new($"{at}/take", shipping.Take, null, reward)] : [],
        Points = (_, _) => [],
        Credit = (_, _) => [],
    };

    /// <summary>Every reward, those on the steps of ladders too.</summary>
    public static IEnumerable<(string At, Reward Reward)> Rewards(this Promotion promotion) => Under("/rewards", promotion.Rewards);

    /// <summary>All that is taken off.</summary>
    public static IEnumerable<Taken> AllTaken(this Promotion promotion) => promotion.Rewards().SelectMany(entry => entry.Reward.In(Takes)(entry.At, entry.Reward));

    /// <summary>The deepest percentage that is taken off goods; nothing: 0.</summary>
    public static decimal Deepest(this Promotion promotion) =>
        promotion.AllTaken().Where(taken => taken.On is not null).Select(taken => taken.Take is Take.Percentage(var percent) ? percent.Value : 0).DefaultIfEmpty().Max();

    /// <summary>Every condition with its place, groups before their parts.</summary>
    public static IEnumerable<(string At, Condition Condition)> Conditions(this Promotion promotion) => promotion.When is { } when ? Under("/when", when) : [];

    /// <summary>Every selection that it takes from or asks for.</summary>
    public static IEnumerable<Selection> Selections(this Promotion promotion) => promotion.Rewards()
        .SelectMany(entry => entry.Reward switch
        {
            Discount discount => [discount.On],
            BuyGet deal => [deal.Bought, deal.Got],
            Ladder ladder => [ladder.Of],
            Bundle bundle => bundle.Slots.Select(slot => slot.Of),
            Gift { Times.Of: { } of } => [of],
            Gift { Give: Give.SameAs(var of) } => [of],
            Markdown markdown => markdown.Levels.Select(level => level.On),
            _ => (IEnumerable<Selection>)[],
        })
        .Concat(promotion.Conditions().Select(entry => Counts(entry.Condition).Of).OfType<Selection>());

    /// <summary>What a condition counts, and how many of it at least; nothing if it counts no items.</summary>
    public static (Selection? Of, long Least) Counts(Condition condition) => condition switch
    {
        Quantity(var of, var comparison, var number) => (of, Least(comparison, number)),
        Distinct(var of, var comparison, var number) => (of, Least(comparison, number)),
        Spend { Of: var of, From: { } from } => (of, from.Named.Any(entry => entry.Minor > 0) ? 1 : 0),
        Only(var of) => (of, 1),
        _ => (null, 0),
    };

    private static long Least(Comparison comparison, long number) => comparison switch
    {
        Comparison.AtLeast or Comparison.Exactly => number,
        Comparison.MoreThan => number + 1,
        _ => 0,
    };

    private static IEnumerable<(string At, Reward Reward)> Under(string at, EquatableArray<Reward> rewards)
    {
        for (var place = 0; place < rewards.Count; place++)
        {
            yield return ($"{at}/{place}", rewards[place]);
            if (rewards[place] is not Ladder ladder) continue;
            for (var step = 0; step < ladder.Steps.Count; step++)
                foreach (var inner in Under($"{at}/{place}/steps/{step}/rewards", ladder.Steps[step].Rewards)) yield return inner;
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
            foreach (var inner in Under($"{at}/{name}/{place}", parts[place])) yield return inner;
    }
}
