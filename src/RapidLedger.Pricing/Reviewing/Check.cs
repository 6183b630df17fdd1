using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>What stands around a promotion that is looked at twice.</summary>
/// <param name="Catalogue">The catalogue and store.</param>
/// <param name="Live">The live promotions, made ready.</param>
/// <param name="Wording">How amounts and names are said.</param>
/// <param name="Now">When it is looked at.</param>
/// <param name="Tape">The cart that somebody has before them, for figures on it; none: there is none.</param>
public sealed record Surroundings(CatalogueIndex Catalogue, Rulebook Live, Wording Wording, Instant Now, Cart? Tape = null)
{
    private const int FewItems = 5;

    private Encounters? met;

    /// <summary>What is left of SKUs where that is not what the catalogue says; none: of none.</summary>
    public IReadOnlyDictionary<string, long>? Left { get; init; }

    /// <summary>Looks up the groups that some shopper is in; none: it is not known who there is.</summary>
    public Func<IReadOnlySet<string>>? GroupsInUse { get; init; }

    /// <summary>Says that nobody waits for what is found any more: then it is given up.</summary>
    public CancellationToken Gone { get; init; }

    /// <summary>How often the promotion has been used.</summary>
    public long Uses { get; init; }

    /// <summary>The live promotions.</summary>
    public IEnumerable<Promotion> Others => Live.Promotions;

    /// <summary>What it meets among the live ones: looked for once for all checks.</summary>
    internal Encounters Meet(Promotion promotion) =>
        met is { } known && ReferenceEquals(known.Promotion, promotion) ? known : met = new(promotion, this);

    /// <summary>Items of a selection: the cheapest, the dearest and those evenly between.</summary>
    internal int[] Items(Selection of, int most = FewItems) => Prices.Across(Catalogue.Select(of), most);

    /// <summary>The other live promotions that are about some items.</summary>
    internal IEnumerable<Promotion> About(Promotion promotion, IEnumerable<int> variants) =>
        Live.About(variants).Where(other => other.Id != promotion.Id);

    /// <summary>The other live promotions that are about whatever is in the cart.</summary>
    internal IEnumerable<Promotion> AboutAnything(Promotion promotion) => Live.AboutAnything().Where(other => other.Id != promotion.Id);

    internal Store Store => Catalogue.Store;

    internal PriceTable Prices => Catalogue.PricesIn(Store.Currency);

    /// <summary>The moment on the shop's wall.</summary>
    internal LocalDateTime LocalNow => Now.InZone(Store.Zone).LocalDateTime;
}

/// <summary>One thing that a second look looks for.</summary>
internal abstract class Check
{
    /// <summary>Its name in findings.</summary>
    public abstract string Name { get; }

    /// <summary>What it finds.</summary>
    public abstract IEnumerable<Finding> Find(Promotion promotion, Surroundings around);

    protected Finding Doubt(string at, string sentence, Mend? mend = null) => new(Name, Severity.Doubt, at, sentence, mend);

    protected Finding Remark(string at, string sentence, Mend? mend = null) => new(Name, Severity.Remark, at, sentence, mend);
}

/// <summary>One that also finds what cannot be meant: such a promotion is not put live.</summary>
internal abstract class StoppingCheck : Check
{
    protected Finding Error(string at, string sentence, Mend? mend = null) => new(Name, Severity.Error, at, sentence, mend);
}
