using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>One promotion of a pair, with what is worked out once about whom it can meet.</summary>
internal sealed class Side
{
    private readonly Lazy<Instant?> opens;
    private readonly Lazy<Rulebook> alone;
    private readonly Lazy<string?> neverApplies;
    private readonly Lazy<IReadOnlyList<EquatableArray<Line>>> earning;
    private readonly Lazy<IReadOnlyList<bool[]>> needs;
    private readonly Lazy<long> leastUnits;
    private readonly Lazy<bool[]> touched;

    public Side(CompiledPromotion compiled, Meetings around)
    {
        (Compiled, Around) = (compiled, around);
        Ways = Pricing.Ways.Of(Promotion.When);
        AsksForPrices = Promotion
            .Conditions()
            .Select(entry => entry.Condition)
            .Any(condition =>
                condition is Spend
                || (condition is Only(var only) ? only : Parts.Counts(condition).Of)
                    is { FullPriceOnly: true }
                        or { PriceFrom: not null }
                        or { PriceTo: not null }
            );
        opens = new(() => Openings.First(compiled, around.Now));
        alone = new(() => Rulebook.Compile(around.Catalogue, [Promotion.AsIfOpen()]));
        neverApplies = new(() => NeverAppliesGround.Of(this));
        needs = new(() => RewardNeeds.Of(Promotion.Rewards, around));
        touched = new(() => RewardNeeds.Touched(Promotion.Rewards, around));
        leastUnits = new(() => RewardNeeds.UnitsFor(Promotion.Rewards));
        earning = new(() => EarningCarts.Of(this));
    }

    public CompiledPromotion Compiled { get; }

    public Promotion Promotion => Compiled.Promotion;

    /// <summary>The pairs it is looked at among.</summary>
    public Meetings Around { get; }

    /// <summary>The ways in which its conditions can hold.</summary>
    public IReadOnlyList<IReadOnlyList<Demand>> Ways { get; }

    /// <summary>When it is open first, from now on; null: never again.</summary>
    public Instant? Opens => opens.Value;

    /// <summary>By itself, open to all: what it does to a cart with nothing beside it.</summary>
    public Rulebook Alone => alone.Value;

    /// <summary>Why no cart earns it, in a sentence; null: nothing written says so.</summary>
    public string? NeverApplies => neverApplies.Value;

    /// <summary>Small carts that earn it, whoever buys, the smallest first.</summary>
    public IReadOnlyList<EquatableArray<Line>> Earning => earning.Value;

    /// <summary>Sets of items: of each a cart must hold at least one unit, or its rewards do nothing.</summary>
    public IReadOnlyList<bool[]> Needs => needs.Value;

    /// <summary>So many units a cart must hold at least, or its rewards do nothing.</summary>
    public long LeastUnits => leastUnits.Value;

    /// <summary>The items that these units are of.</summary>
    public bool[] Touched => touched.Value;

    /// <summary>Whether its conditions look at prices, which markdowns bring down first.</summary>
    public bool AsksForPrices { get; }

    /// <summary>Its name in quotes.</summary>
    public string Named => $"“{Promotion.Named}”";
}
