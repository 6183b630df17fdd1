namespace RapidLedger.Pricing;

/// <summary>Sets current prices, before anything else is looked at. Stands alone in its promotion.</summary>
/// <param name="Levels">Each with its own items; at least one.</param>
public sealed record Markdown(EquatableArray<MarkdownLevel> Levels) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Price];

    /// <summary>What any of its levels takes from; only the first's where a level leaves something out.</summary>
    internal Selection Anything =>
        Levels.All(level => level.On is { Out.Count: 0, FullPriceOnly: false, PriceFrom: null, PriceTo: null })
            ? new([.. Levels.SelectMany(level => level.On.In).Distinct()])
            : Levels[0].On;

    /// <inheritdoc/>
    public override bool SetsUnitPrices => true;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Markdown;

    internal override string Say(Wording wording) => MarkdownWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => Reach.Nothing;

    // It acts in the price pass, see ReadyMarkdown.
    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) => [];
}

/// <summary>One reduction of a markdown.</summary>
/// <param name="On">Which items, at the catalogue's prices.</param>
/// <param name="Take">How much, from the catalogue's current price.</param>
public sealed record MarkdownLevel(Selection On, Take Take);

/// <summary>A markdown made ready.</summary>
internal sealed class ReadyMarkdown(Markdown markdown, Compiler compiler)
{
    private readonly (SelectionTest On, CartTake[] Takes)[] levels =
    [
        .. markdown.Levels.Select(level => (compiler.Selection(level.On), compiler.Takes(level.Take))),
    ];

    public IEnumerable<int> Touches => levels.SelectMany(level => level.On.InTerms.ToArray());

    /// <summary>What the first level is on that selects a variant, at the catalogue's prices; null: none does.</summary>
    public Selection? Selecting(CartView cart, int variant) =>
        Array
            .Find(levels, level => level.On.Selects(cart, variant, cart.Prices.Current(variant), cart.Prices.Regular(variant)))
            .On?.Written;

    /// <summary>The lowest price that any of its levels gives a variant; the catalogue's if none takes anything off.</summary>
    public long Price(CartView cart, int variant)
    {
        var (current, regular) = (cart.Prices.Current(variant), cart.Prices.Regular(variant));
        var lowest = current;
        foreach (var (on, takes) in levels)
            if (on.Selects(cart, variant, current, regular))
                lowest = Math.Min(lowest, current - takes[cart.CurrencyNumber].From(current));
        return lowest;
    }
}
