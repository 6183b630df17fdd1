namespace RapidLedger.Pricing;

/// <summary>A cart that earns a promotion by itself, priced with the other live promotions, without it and with it.</summary>
/// <param name="Alone">As it is priced with nothing beside it.</param>
/// <param name="Without">As it is priced without it.</param>
/// <param name="With">As it is priced with it.</param>
internal sealed record Trial(PricedCart Alone, PricedCart Without, PricedCart With)
{
    /// <summary>The cart.</summary>
    public Cart Cart => With.Cart;

    /// <summary>What it takes there with nothing beside it.</summary>
    public long Taken => Alone.Applied[0].Amount;
}

/// <summary>
/// What a promotion meets among the live ones, as if it were put live as it is written: from its first opening on, with nothing used.
/// </summary>
internal sealed class Encounters
{
    // A second look has to be quick: so much is put into one pair, into all of them, and into the deepest cart with it. Beside 25 live
    // ones all pairs are told with it; beside 1,000 of which 40 touch each item it keeps a look under a fifth of a second.
    private const long WorkOfOnePair = 1_500_000;
    private const long WorkOfPairs = 8_000_000;
    private const long WorkOfDeepest = 1_500_000;

    // Where choosing is hard, few carts have to do: beyond this nothing more is begun.
    private const long MostWork = WorkBudget.OfOneEffort;
    private const int FewLive = 60;
    private const int MostOfMany = 24;
    private const int MostTrials = 18;
    private const int SettingsTried = 4;
    private const int MostShrinking = 60;

    private readonly Surroundings around;
    private readonly Rulebook without;
    private long priced;
    private readonly Lazy<Meetings?> meetings;
    private readonly Lazy<IReadOnlyList<Trial>> trials;
    private readonly Lazy<IReadOnlyList<Meeting>> pairs;
    private readonly Lazy<IReadOnlyList<PricedCart>> seen;

    public Encounters(Promotion promotion, Surroundings around)
    {
        (Promotion, this.around) = (promotion, around);
        without = around.Live.With([], [promotion.Id]);
        meetings = new(Opened);
        trials = new(() => [.. LookAtTrials()]);
        pairs = new(() => [.. LookAtPairs()]);
        seen = new(LookForDeepest);
    }

    /// <summary>The work put into pricing so far, into pairs too, the search for the deepest cart apart.</summary>
    public long Spent => priced + (meetings.IsValueCreated ? meetings.Value?.Spent ?? 0 : 0);

    /// <summary>Whether so much was put into it, pairs apart, that nothing more is to be begun.</summary>
    public bool IsTired => priced > MostWork;

    /// <summary>Which.</summary>
    public Promotion Promotion { get; }

    /// <summary>Small carts that earn it by itself; none if none of those tried does, or if it is a markdown or a credit: neither is chosen
    /// among others.</summary>
    public IReadOnlyList<Trial> Trials => trials.Value;

    /// <summary>Whether it meets the others, those of the same items first; of very many not all are asked.</summary>
    public IReadOnlyList<Meeting> Pairs => pairs.Value;

    /// <summary>
    /// Carts to which it applies, as they are priced with all: those in which pairs meet, and those looked at for the deepest.
    /// </summary>
    public IReadOnlyList<PricedCart> Seen => seen.Value;

    /// <summary>Whether a cart was found in which it and another live one apply.</summary>
    public bool DoesMeet(Promotion other) => Pairs.Any(pair => pair.Verdict == MeetingVerdict.Can && pair.Other.Id == other.Id);

    /// <summary>
    /// The smallest cart found from one by taking away units, lines and the buyer, and by paying in the base currency, as long as it
    /// still shows something.
    /// </summary>
    /// <param name="cart">The cart.</param>
    /// <param name="price">How it is priced.</param>
    /// <param name="shows">Whether a priced cart still shows it.</param>
    public PricedCart Smallest(Cart cart, Func<Cart, PricedCart> price, Func<PricedCart, bool> shows)
    {
        var smallest = price(cart);
        for (var (tries, smaller) = (0, true); smaller && tries < MostShrinking; )
        {
            smaller = false;
            foreach (var next in Smaller(smallest.Cart))
                if (++tries <= MostShrinking && !IsTired && price(next) is var plainer && shows(plainer))
                {
                    (smallest, smaller) = (plainer, true);
                    break;
                }
        }

        return smallest;
    }

    private static IEnumerable<Cart> Smaller(Cart cart) =>
        ((Cart[])[cart with { Currency = null }, cart with { Shopper = null }])
            .Where(plainer => plainer != cart)
            .Concat(WitnessSearch.Smaller(cart.Lines).Select(lines => cart with { Lines = lines }));

    /// <summary>Prices a cart with some promotions and no others, as they are written.</summary>
    public PricedCart PriceWith(Cart cart, IEnumerable<Promotion> only) => Price(meetings.Value!.Nothing.With(only, []), cart);

    /// <summary>Prices a cart without it, or with another one in its place.</summary>
    public PricedCart PriceInstead(Cart cart, Promotion? instead) => Price(instead is null ? without : without.With(instead), cart);

    // Null: it never opens any more.
    private Meetings? Opened()
    {
        var rulebook = without.With(Promotion);
        var own = rulebook.Compiled.First(compiled => compiled.Promotion.Id == Promotion.Id);
        return Openings.First(own, around.Now) is { } opens ? new(rulebook, opens, around.Wording, around.Left) : null;
    }

    private IEnumerable<Trial> LookAtTrials()
    {
        if (Promotion.Rewards is [Markdown or Credit] || meetings.Value is not { } book)
            return [];
        var side = book.SideOf(Promotion.Id);
        var pair = new Pair(side, side);
        var alone = book.Nothing.With(Promotion);
        return side
            .Ways.SelectMany(way => new Settings(way, pair).First(SettingsTried))
            .SelectMany(setting => side.Earning.Select(lines => setting with { Lines = lines }))
            .Select(cart => (Cart: cart, Alone: Price(alone, cart)))
            .TakeWhile(_ => !IsTired)
            .Where(tried => tried.Alone.Applied.Count > 0)
            .Take(MostTrials)
            .Select(tried => new Trial(tried.Alone, Price(without, tried.Cart), Price(book.Rulebook, tried.Cart)));
    }

    private IEnumerable<Meeting> LookAtPairs()
    {
        if (meetings.Value is not { } book)
            yield break;
        var others = book.Nearest(Promotion.Id).Take(without.Count <= FewLive ? FewLive : MostOfMany);
        foreach (var other in others)
            if (
                (
                    book.Spent < WorkOfPairs
                        ? book.Between(Promotion.Id, other.Id, WorkOfOnePair, around.Gone)
                        : book.ByRule(Promotion.Id, other.Id)
                ) is
                { } meeting
            )
                yield return meeting;
    }

    private IReadOnlyList<PricedCart> LookForDeepest()
    {
        if (meetings.Value is not { } book)
            return [];
        // Carts in which pairs meet are where it starts.
        var carts = Pairs.Where(pair => pair.Verdict == MeetingVerdict.Can).Select(pair => pair.Witness!.Priced).ToList();
        var bounds = new DeepestBounds(Math.Max(DeepestBounds.UsualUnits, UnitsForAllSteps(book)));
        new DeepestSearch(book, DeepestBy.MarginPercent, bounds, [Promotion.Id], default) { Saw = carts.Add }.Of(WorkOfDeepest);
        return carts;
    }

    // So few units of what it is about reach every step of it and of those that it can meet: a cart that stops short of one hides it.
    private int UnitsForAllSteps(Meetings book) =>
        Pairs
            .Where(pair => pair.Verdict == MeetingVerdict.Can)
            .Select(pair => pair.Other)
            .Append(Promotion)
            .Select(one =>
                UnitSteps
                    .Of(one, one.Selections().SelectMany(book.Select).Select(around.Prices.Current).DefaultIfEmpty().Max(), around.Store)
                    .LastOrDefault()
            )
            .Max();

    private PricedCart Price(Rulebook rulebook, Cart cart)
    {
        around.Gone.ThrowIfCancellationRequested();
        var result = rulebook.Price(cart, gone: around.Gone, batchCodes: meetings.Value!.BatchCodes, left: around.Left);
        priced += result.Work;
        return result;
    }
}
