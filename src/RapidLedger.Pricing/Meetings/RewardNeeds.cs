namespace RapidLedger.Pricing;

/// <summary>
/// What must be in a cart for a reward to do anything, whatever else is in it and whatever is chosen beside it: of each set of items at
/// least one unit. An empty set: it does nothing in any cart.
/// </summary>
internal static class RewardNeeds
{
    private static readonly bool[][] Nothing = [];

    private static readonly RewardKinds<Func<Reward, Meetings, IReadOnlyList<bool[]>>> ByKind = new()
    {
        Discount = (reward, around) => reward is Discount discount ? [Lowered(discount.On, discount.Take, around)] : Nothing,
        BuyGet = (reward, around) => reward is BuyGet deal ? [around.Widely(deal.Bought), Lowered(deal.Got, deal.Take, around)] : Nothing,
        // The steps of one that counts beyond take from what it measures, whatever else they name.
        Ladder = (reward, around) =>
            reward switch
            {
                Ladder { Apply: StepsThatCount.Beyond } ladder =>
                [
                    Union([.. ladder.Steps.Select(step => One(Lowered(ladder.Of, ((Discount)step.Rewards[0]).Take, around)))], around),
                ],
                Ladder ladder => [around.Widely(ladder.Of), Union([.. ladder.Steps.Select(step => Of(step.Rewards, around))], around)],
                _ => Nothing,
            },
        Bundle = (reward, around) =>
            reward is Bundle bundle
                ?
                [
                    .. bundle.Slots.Select(slot => around.Widely(slot.Of)),
                    bundle.Take is { } whole
                        ? CanLower(bundle, whole, around)
                            ? around.Widely(bundle.Slots[0].Of)
                            : new bool[around.Catalogue.Count]
                        : Union(
                            [
                                .. bundle
                                    .Slots.Where(slot => slot.Take is not null)
                                    .Select(slot => One(Lowered(slot.Of, slot.Take!, around))),
                            ],
                            around
                        ),
                ]
                : Nothing,
        Gift = (reward, around) =>
            reward switch
            {
                Gift { Give: Give.SameAs(var of) } => [around.Widely(of)],
                Gift { Give: Give.OneOf(var skus) } when !skus.Any(sku => HasStock(sku, around)) => Impossible(around),
                Gift { Times.Of: { } of } => [around.Widely(of)],
                _ => Nothing,
            },
        Markdown = (reward, around) =>
            reward is Markdown markdown
                ? [Union([.. markdown.Levels.Select(level => One(Lowered(level.On, level.Take, around)))], around)]
                : Nothing,
        Shipping = (reward, around) => reward is Shipping shipping && !CanLower(shipping, around) ? Impossible(around) : Nothing,
        Points = (_, _) => Nothing,
        Credit = (_, _) => Nothing,
    };

    // So many units must be in a cart, of whatever it needs. A unit that is bought is not got as well.
    private static readonly RewardKinds<Func<Reward, long>> Fewest = new()
    {
        Discount = _ => 1,
        BuyGet = reward =>
            reward is BuyGet deal
                ? deal.Deal switch
                {
                    Deal.ByQuantity(var buy, _, _) => buy + 1,
                    Deal.BySchedule(var rows) => rows[0].Buy + rows[0].Get,
                    _ => 1,
                }
                : 1,
        Ladder = reward => reward is Ladder ladder ? Math.Max(1, ladder.Steps[0].Quantity) : 1,
        Bundle = reward => reward is Bundle bundle ? bundle.Slots.Sum(slot => slot.Quantity) : 1,
        Gift = reward => reward is Gift gift ? gift.Times.Quantity ?? 1L : 1,
        Markdown = _ => 1,
        Shipping = _ => 1,
        Points = _ => 1,
        Credit = _ => 1,
    };

    /// <summary>So many units a cart must hold, or none of some rewards does anything.</summary>
    public static long UnitsFor(EquatableArray<Reward> rewards) => rewards.Min(reward => reward.In(Fewest)(reward));

    /// <summary>The items that these units are of, whichever of some rewards does something.</summary>
    public static bool[] Touched(EquatableArray<Reward> rewards, Meetings around)
    {
        var touched = new bool[around.Catalogue.Count];
        foreach (var reward in rewards)
        {
            var sets = Of(reward, around);
            for (var number = 0; number < touched.Length; number++)
                touched[number] |= sets.Count == 0 || sets.Any(items => items[number]);
        }

        return touched;
    }

    /// <summary>Of several rewards: what is needed whichever of them does something.</summary>
    public static IReadOnlyList<bool[]> Of(EquatableArray<Reward> rewards, Meetings around)
    {
        if (rewards.Count == 1)
            return Of(rewards[0], around);
        var any = Union([.. rewards.Select(reward => Of(reward, around))], around);
        return Array.TrueForAll(any, item => item) ? Nothing : [any];
    }

    private static IReadOnlyList<bool[]> Impossible(Meetings around) => [new bool[around.Catalogue.Count]];

    private static bool HasStock(string sku, Meetings around) =>
        (around.Left is { } left && left.TryGetValue(sku, out var rest) ? rest : around.Catalogue.Variant(around.Catalogue.Find(sku)).Stock)
            is null
                or > 0;

    private static IReadOnlyList<bool[]> One(bool[] items) => [items];

    private static IReadOnlyList<bool[]> Of(Reward reward, Meetings around) => reward.In(ByKind)(reward, around);

    // One of the ways is enough: of each the narrowest of its sets; everything where one needs nothing.
    private static bool[] Union(IReadOnlyList<IReadOnlyList<bool[]>> ways, Meetings around)
    {
        var union = new bool[around.Catalogue.Count];
        foreach (var sets in ways)
        {
            var narrowest = sets.MinBy(items => items.Count(item => item));
            for (var number = 0; number < union.Length; number++)
                union[number] |= narrowest?[number] ?? true;
        }

        return union;
    }

    // The items of a selection whose price a take could bring down, in some currency. Markdowns only leave it less to take.
    private static bool[] Lowered(Selection of, Take take, Meetings around)
    {
        var lowered = (bool[])around.Widely(of).Clone();
        var store = around.Catalogue.Store;
        var takes = store
            .Currencies.Select(currency => (Take: take.For(currency, store), Prices: around.Catalogue.PricesIn(currency)))
            .ToArray();
        for (var number = 0; number < lowered.Length; number++)
            lowered[number] =
                lowered[number]
                && Array.Exists(takes, one =>
                    one.Take is { } take && one.Prices.Current(number) is > 0 and var price && Lowers(take, price)
                );
        return lowered;
    }

    // A share of a little may round to nothing, and of more of it not.
    private static bool Lowers(CartTake take, long price) =>
        take.Kind == Take.Kind.Percent ? take.Percent.TenThousandths > 0 : take.From(price) > 0;

    private static bool CanLower(Bundle bundle, Take whole, Meetings around)
    {
        var store = around.Catalogue.Store;
        return store.Currencies.Any(currency =>
        {
            var prices = around.Catalogue.PricesIn(currency);
            var dearest = bundle.Slots.Sum(slot =>
                (decimal)slot.Quantity
                * Enumerable
                    .Range(0, around.Catalogue.Count)
                    .Where(number => around.Widely(slot.Of)[number])
                    .Select(prices.Current)
                    .DefaultIfEmpty()
                    .Max()
            );
            return whole.For(currency, store) is { } take && Lowers(take, (long)Math.Min(dearest, CartExtent.Most));
        });
    }

    private static bool CanLower(Shipping shipping, Meetings around)
    {
        var store = around.Catalogue.Store;
        return store
            .Shipping.Where(method => shipping.IsFor(method.Id))
            .SelectMany(method => method.Bands)
            .Any(band =>
                store.Currencies.Any(currency =>
                    band.Price.For(currency, store) is > 0 and var charge
                    && shipping.Take.For(currency, store) is { } take
                    && take.From(charge) > 0
                )
            );
    }
}
