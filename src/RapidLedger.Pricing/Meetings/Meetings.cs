using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// Who may meet whom among the promotions of a rulebook, from a moment on. What is worked out for one pair is kept for the next: ask one
/// at a time.
/// </summary>
/// <remarks>What rules a meeting out is one file each in the folder beside this; a meeting is true by its witness.</remarks>
public sealed class Meetings
{
    /// <summary>What is usually put into one pair, in units of the work of pricing: a tenth of a second or two.</summary>
    public const long WorkOfOnePair = 20_000_000;

    // So many conditions of others are told apart where a pair is looked for: enough to get others out of its way.
    private const int MostLeaves = 12;

    // So many items of each selection tell who is about the same.
    private const int FewItems = 5;

    private readonly Dictionary<string, Side> sides = new(StringComparer.Ordinal);
    private readonly Dictionary<Selection, int[]> selected = [];
    private readonly Dictionary<Selection, bool[]> widely = [];
    private readonly SeenCarts seen = new();
    private readonly Lazy<long> lightest;

    /// <summary>Of a rulebook.</summary>
    /// <param name="rulebook">The promotions that take part.</param>
    /// <param name="now">Meetings before it do not matter.</param>
    /// <param name="wording">How names and amounts are said; none: as in files.</param>
    /// <param name="left">What is left of what its promotions give, where that is not what the catalogue says.</param>
    public Meetings(Rulebook rulebook, Instant now, Wording? wording = null, IReadOnlyDictionary<string, long>? left = null)
    {
        (Rulebook, Now, Left, Nothing) = (rulebook, now, left, Rulebook.Compile(rulebook.Catalogue, []));
        Wording = wording ?? new(rulebook.Catalogue, rulebook.Catalogue.Store.Currency);
        lightest = new(() => Enumerable.Range(0, Catalogue.Count).Select(number => Catalogue.Variant(number).Grams).DefaultIfEmpty().Min());
        HasMarkdowns = rulebook.Compiled.Any(compiled => compiled.Markdown is not null);
        PlacesOfDelivery =
        [
            .. (rulebook.Catalogue.Store.Tax?.Rates ?? [])
                .Select(rate => rate.Place)
                .Concat(rulebook.Catalogue.Store.Shipping.SelectMany(method => method.Places?.In ?? []))
                .Distinct(),
        ];
        ChannelsNamed =
        [
            .. rulebook
                .Promotions.SelectMany(Parts.Conditions)
                .Select(entry => entry.Condition)
                .OfType<Channel>()
                .SelectMany(one => one.Names)
                .Distinct(),
        ];
        Leaves =
        [
            .. rulebook
                .Promotions.SelectMany(Parts.Conditions)
                .Select(entry => entry.Condition)
                .Where(condition => condition is Buyer or Destination)
                .Distinct()
                .Take(MostLeaves)
                .Select(condition => new Demand(condition, true)),
        ];
        Turns =
        [
            .. rulebook
                .Compiled.SelectMany(compiled => new[] { compiled.Window.Opens, compiled.Window.Closes })
                .Where(turn => turn > now && turn < Instant.MaxValue)
                .Distinct()
                .Order(),
        ];
        BatchCodes = Invented(rulebook);
        foreach (var compiled in rulebook.Compiled)
            sides.Add(compiled.Promotion.Id, new(compiled, this));
    }

    /// <summary>The promotions that take part.</summary>
    public Rulebook Rulebook { get; }

    /// <summary>How much has been put into looking for carts, in units of the work of pricing.</summary>
    internal long Spent { get; private set; }

    /// <summary>The moment from which on they are looked at.</summary>
    public Instant Now { get; }

    internal CatalogueIndex Catalogue => Rulebook.Catalogue;

    internal Wording Wording { get; }

    internal IReadOnlyDictionary<string, long>? Left { get; }

    /// <summary>Nothing but the goods, to put a few promotions into.</summary>
    internal Rulebook Nothing { get; }

    internal Openings Openings { get; } = new();

    internal Place[] PlacesOfDelivery { get; }

    internal string[] ChannelsNamed { get; }

    /// <summary>When windows of its promotions open and close, from now on, in order.</summary>
    internal Instant[] Turns { get; }

    /// <summary>Whether any of the promotions brings prices down before conditions are looked at.</summary>
    internal bool HasMarkdowns { get; }

    /// <summary>The weight of the lightest item, in grams.</summary>
    internal long Lightest => lightest.Value;

    /// <summary>Some of what the promotions ask, brackets taken apart: what tells one buyer or place from another.</summary>
    internal IReadOnlyList<Demand> Leaves { get; }

    /// <summary>A code that is invented for each promotion that is started by batches alone, by its bare form.</summary>
    internal IReadOnlyDictionary<string, BatchCode> BatchCodes { get; }

    /// <summary>Those of them that a cart holds.</summary>
    internal Dictionary<string, BatchCode> CodesIn(Cart cart) =>
        BatchCodes.Where(code => cart.Codes.Contains(code.Key)).ToDictionary(StringComparer.Ordinal);

    /// <summary>Whether two promotions of a rulebook can meet.</summary>
    /// <param name="rulebook">The promotions that take part.</param>
    /// <param name="one">The id of the first.</param>
    /// <param name="other">The id of the second, another one.</param>
    /// <param name="now">Meetings before it do not matter.</param>
    /// <param name="work">How much may be put into it, see <see cref="WorkOfOnePair"/>.</param>
    public static Meeting Of(Rulebook rulebook, string one, string other, Instant now, long work = WorkOfOnePair) =>
        new Meetings(rulebook, now).Between(one, other, work);

    /// <summary>Whether two promotions can meet in one cart.</summary>
    /// <param name="one">The id of the first.</param>
    /// <param name="other">The id of the second, another one.</param>
    /// <param name="work">How much may be put into it, see <see cref="WorkOfOnePair"/>: counted, the same on any machine.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    /// <exception cref="ArgumentException">The rulebook has no promotion of such an id, or both are the same.</exception>
    public Meeting Between(string one, string other, long work = WorkOfOnePair, CancellationToken gone = default)
    {
        var pair = PairOf(one, other);
        return ByRule(pair) ?? WitnessSearch.Of(pair, work, seen, gone, put => Spent += put);
    }

    /// <summary>What is written alone says: that they never meet, or nothing (null). Quick, however many promotions there are.</summary>
    /// <inheritdoc cref="Between"/>
    public Meeting? ByRule(string one, string other) => ByRule(PairOf(one, other));

    /// <summary>
    /// The cart in which most promotions apply beside one, the best found from the carts in which pairs asked for meet; null: none.
    /// </summary>
    /// <param name="id">The id of the one.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    /// <exception cref="ArgumentException">The rulebook has no promotion of such an id.</exception>
    public Witness? MostTogether(string id, CancellationToken gone = default) => Pricing.MostTogether.Of(SideOf(id), seen, gone);

    /// <summary>The others, nearest to one first: those about the same items, then those about any item, then all the rest.</summary>
    /// <param name="id">The id of the one.</param>
    /// <exception cref="ArgumentException">The rulebook has no promotion of such an id.</exception>
    public IReadOnlyList<Promotion> Nearest(string id)
    {
        var prices = Catalogue.PricesIn(Catalogue.Store.Currency);
        var items = SideOf(id).Promotion.Selections().SelectMany(selection => prices.Across(Select(selection), FewItems));
        return
        [
            .. Rulebook
                .About(items)
                .Concat(Rulebook.AboutAnything())
                .Concat(Rulebook.Promotions)
                .DistinctBy(other => other.Id)
                .Where(other => other.Id != id),
        ];
    }

    internal IEnumerable<Side> Sides => sides.Values;

    /// <summary>The smallest cart known of each pair that was found to meet.</summary>
    internal IReadOnlyCollection<Witness> Seen => seen.Smallest;

    /// <summary>The items of a selection, at the catalogue's prices.</summary>
    internal int[] Select(Selection selection) =>
        selected.TryGetValue(selection, out var items) ? items : selected[selection] = [.. Catalogue.Select(selection)];

    /// <summary>
    /// By item, whether a selection could hold it in some cart: in some currency, at the catalogue's price or what markdowns leave of it.
    /// </summary>
    internal bool[] Widely(Selection selection)
    {
        if (widely.TryGetValue(selection, out var items))
            return items;
        items = new bool[Catalogue.Count];
        foreach (var number in Select(selection with { FullPriceOnly = false, PriceFrom = null, PriceTo = null }))
            items[number] = Catalogue.Store.Currencies.Any(currency => CouldHold(selection, number, currency));
        return widely[selection] = items;
    }

    /// <summary>The items of which a cart must hold one for a condition to hold; null: none.</summary>
    internal bool[]? NeedsOf(Condition condition) =>
        Parts.Counts(condition) is (var of, > 0)
        // What comes to nothing in some currency asks for nothing there.
        && (
            condition is not Spend { From: { } from } || Catalogue.Store.Currencies.All(currency => from.For(currency, Catalogue.Store) > 0)
        )
            ? Widely(of ?? Selection.Everything)
            : null;

    internal Side SideOf(string id) =>
        sides.TryGetValue(id, out var side) ? side : throw new ArgumentException($"There is no promotion '{id}' in the rulebook.");

    private Pair PairOf(string one, string other) =>
        one == other ? throw new ArgumentException($"'{one}' cannot meet itself.") : new(SideOf(one), SideOf(other));

    private static Meeting? ByRule(Pair pair)
    {
        var (one, other) = (pair.One.Promotion, pair.Other.Promotion);
        foreach (var ground in Ground.All)
            if (ground.RulesOut(pair) is { } why)
                return new(one, other, MeetingVerdict.Never, why, ground.Name);
        // Each way may be ruled out by another ground.
        if (pair.Ways.Any(way => ConditionGround.All.All(ground => ground.Allows(way, pair))))
            return null;
        var first = ConditionGround.All.First(ground => pair.Ways.Count == 0 || !ground.Allows(pair.Ways[0], pair));
        return new(
            one,
            other,
            MeetingVerdict.Never,
            $"{pair.One.Named} and {pair.Other.Named}: whichever way both could hold, their conditions exclude each other.",
            first.Name
        );
    }

    private static Dictionary<string, BatchCode> Invented(Rulebook rulebook)
    {
        var invented = new Dictionary<string, BatchCode>(StringComparer.Ordinal);
        var number = 0;
        foreach (var trigger in rulebook.Promotions.Select(promotion => promotion.Trigger))
            if (trigger is { Codes.Count: 0, Batches: [var batch, ..] } && invented.Values.All(known => known.Batch != batch))
                invented.Add(Next(), new(batch));
        return invented;

        string Next()
        {
            string code;
            do code = $"INVENTED{++number}";
            while (rulebook.StartedBy(new(code, null)).Any());
            return code;
        }
    }

    // Markdowns only bring prices down.
    private bool CouldHold(Selection selection, int number, Currency currency)
    {
        var (prices, store) = (Catalogue.PricesIn(currency), Catalogue.Store);
        var current = prices.Current(number);
        return !(selection.FullPriceOnly && current < prices.Regular(number))
            && !(current < selection.PriceFrom?.For(currency, store))
            && (HasMarkdowns || !(current > selection.PriceTo?.For(currency, store)));
    }
}
