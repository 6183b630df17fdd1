namespace RapidLedger.Pricing;

/// <summary>A ground in what two promotions ask of a cart: what both ask for together cannot be.</summary>
internal abstract class ConditionGround : Ground
{
    public static readonly PlaceGround OfPlace = new();
    public static readonly ChannelGround OfChannel = new();
    public static readonly CurrencyGround OfCurrency = new();
    public static readonly MethodGround OfMethod = new();
    public static readonly ShopperGround OfShopper = new();
    public static readonly OrdersGround OfOrders = new();
    public static readonly SpentGround OfSpent = new();
    public static readonly WeightGround OfWeight = new();
    public static readonly OnlyGround OfOnly = new();
    public static readonly SpendGround OfSpend = new();
    public static readonly QuantityGround OfQuantity = new();
    public static readonly DistinctGround OfDistinct = new();

    /// <summary>All of them, in the order in which they are asked.</summary>
    public static new IReadOnlyList<ConditionGround> All { get; } =
    [OfPlace, OfChannel, OfCurrency, OfMethod, OfShopper, OfOrders, OfSpent, OfWeight, OfOnly, OfSpend, OfQuantity, OfDistinct];

    // By which grounds a condition of each kind can rule another out. Brackets are taken apart before.
    private static readonly ConditionKinds<IReadOnlyList<ConditionGround>> ByKind = new()
    {
        All = [],
        Any = [],
        None = [],
        Spend = [OfSpend, OfOnly],
        Quantity = [OfQuantity, OfOnly],
        Distinct = [OfDistinct, OfOnly],
        Only = [OfOnly],
        Weight = [OfWeight],
        Shopper = [OfShopper, OfOrders, OfSpent],
        Destination = [OfPlace],
        Channel = [OfChannel],
        Currency = [OfCurrency, OfSpend],
        Method = [OfMethod],
    };

    /// <summary>What no cart can be both of: "no destination is both".</summary>
    protected abstract string What { get; }

    /// <summary>Whether a cart can be as some demands say, as far as this ground goes.</summary>
    /// <param name="demands">What must hold together, of the kinds that it is about.</param>
    /// <param name="pair">Of whom.</param>
    protected abstract bool CanHold(IReadOnlyList<Demand> demands, Pair pair);

    /// <summary>Whether a cart can be so that both may apply in one of the ways of a pair.</summary>
    public bool Allows(IReadOnlyList<Demand> way, Pair pair) => CanHold(Mine(way), pair);

    /// <inheritdoc/>
    public override string? RulesOut(Pair pair) => pair.Ways.Count > 0 && pair.Ways.All(way => !Allows(way, pair)) ? Say(pair) : null;

    /// <summary>Those of some demands that it is about.</summary>
    protected IReadOnlyList<Demand> Mine(IReadOnlyList<Demand> demands) =>
        [.. demands.Where(demand => demand.Condition.In(ByKind).Contains(this))];

    /// <summary>The sentence.</summary>
    protected virtual string Say(Pair pair)
    {
        var (one, other) = (Asked(pair.One, pair.Around.Wording), Asked(pair.Other, pair.Around.Wording));
        return one is null || other is null
            ? $"{pair.One.Named} and {pair.Other.Named} ask for what no {What} is at once."
            : $"{pair.One.Named} asks that {one}, {pair.Other.Named} that {other}: no {What} is both.";
    }

    private string? Asked(Side side, Wording wording)
    {
        string[] ways =
        [
            .. side
                .Ways.Select(way => Wording.Join(Mine(way).Select(demand => demand.Say(wording)), "and"))
                .Where(words => words.Length > 0)
                .Distinct(),
        ];
        return ways.Length == 0 ? null : Wording.Join(ways, "or");
    }
}
