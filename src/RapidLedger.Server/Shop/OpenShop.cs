using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>What is live: an edition, made ready.</summary>
/// <param name="Number">Its number; 0: nothing was ever published.</param>
/// <param name="Rulebook">Its promotions.</param>
/// <param name="Unreadable">Those of them that can no longer be read, by id: they take no part, and are shown as what is wrong.</param>
internal sealed record LiveEdition(long Number, Rulebook Rulebook, IReadOnlyDictionary<string, IReadOnlyList<Problem>> Unreadable);

/// <summary>
/// The shop in memory: settings, catalogue, the live edition made ready, and all its promotions as read. It follows the store: what was
/// written there is read anew, and nothing else.
/// </summary>
internal sealed class OpenShop
{
    private static readonly IReadOnlyDictionary<string, BatchCode> NoCodes = new Dictionary<string, BatchCode>();

    private readonly Database database;
    private readonly ShopRepository repository;
    private readonly PromotionRepository promotions;
    private readonly OrderRepository orders;
    private readonly Lock following = new();
    private readonly Lock settingUp = new();
    private Task? setupTask;
    private volatile Shelf shelf;
    private volatile KnownUsage? usage;

    public OpenShop(Database database, ShopRepository repository, PromotionRepository promotions, OrderRepository orders)
    {
        (this.database, this.repository, this.promotions, this.orders) = (database, repository, promotions, orders);
        var setup = ShopSetup.Of(repository.Find(), NameOf, this).After(repository.Renames(), this);
        shelf = new(
            -1,
            -1,
            setup,
            new HashSet<string>(),
            new HashSet<string>(),
            new(StringComparer.Ordinal),
            new(0, Rulebook.Compile(setup.Catalogue, []), new Dictionary<string, IReadOnlyList<Problem>>())
        );
    }

    /// <summary>The shop of a store, for a command that runs beside the server.</summary>
    public static OpenShop Of(Database database, IClock clock) => new(database, new(database), new(database, clock), new(database));

    /// <summary>Settings and goods as this process knows them.</summary>
    public ShopSetup Setup => shelf.Setup;

    public ShopSettings Settings => Setup.Settings;

    public CatalogueIndex Catalogue => Setup.Catalogue;

    public Store Store => Catalogue.Store;

    public CultureInfo Culture => Setup.Culture;

    /// <summary>Words of the shop in a currency.</summary>
    public Wording WordingIn(Currency currency) => Setup.WordingIn(currency);

    /// <summary>Words in the base currency.</summary>
    public Wording Wording => Setup.Wording;

    /// <summary>What stands around a promotion of the shop that is looked at twice.</summary>
    /// <param name="promotion">Which.</param>
    /// <param name="now">When it is looked at.</param>
    /// <param name="tape">The cart that somebody has before them; none: there is none.</param>
    /// <param name="live">What is live beside it; none: what is live now.</param>
    public Surroundings Around(Promotion promotion, Instant now, Cart? tape = null, Rulebook? live = null) =>
        new(Catalogue, live ?? Live.Rulebook, Wording, now, tape)
        {
            Left = Left(Rulebook.GivenBy(promotion)),
            GroupsInUse = repository.GroupsInUse,
            Uses = UsageAt(now).GetValueOrDefault(promotion.Id)?.Total ?? 0,
        };

    /// <summary>The carts kept under a name, as they are now.</summary>
    public IReadOnlyList<StoredCart> SampleCarts => repository.Carts();

    /// <summary>The newest edition.</summary>
    public LiveEdition Live => Followed().Live;

    /// <summary>An edition as it was, made ready from what is live: only what differs is read.</summary>
    /// <param name="number">From 0, where nothing is live, to the newest.</param>
    public LiveEdition At(long number)
    {
        var live = Live;
        var moved = promotions.Changes(number, live.Number).Select(change => change.Id).ToArray();
        var then = promotions.Documents(number, moved);
        var (put, unreadable) = (new List<Promotion>(), new Dictionary<string, IReadOnlyList<Problem>>(StringComparer.Ordinal));
        foreach (var (id, document) in then)
        {
            var read = Read(document);
            if (read.Promotion is { } promotion)
                put.Add(promotion with { State = State.Live });
            else
                unreadable[id] = read.Problems;
        }

        return new(number, live.Rulebook.With(put, moved), unreadable);
    }

    /// <summary>The ids of all promotions there ever were.</summary>
    public IReadOnlySet<string> Ids => Followed().Ids;

    /// <summary>All promotions as stored and read, in no order.</summary>
    public IReadOnlyCollection<ShelvedPromotion> Promotions => Followed().Promotions;

    /// <summary>The codes that promotions of whatever state have for their own, in bare form.</summary>
    public HashSet<string> OwnCodes() =>
        Promotions
            .SelectMany(promotion =>
                ((ReadPromotion[])[promotion.Read, promotion.InForce]).SelectMany(read => read.Promotion?.Trigger?.Codes ?? [])
            )
            .Select(code => Trigger.Bare(Trigger.Normal(code)))
            .ToHashSet(StringComparer.Ordinal);

    /// <summary>How many promotions have a draft.</summary>
    public int Drafts => Followed().Drafts;

    /// <summary>What a stored promotion says.</summary>
    public ReadPromotion Read(StoredPromotion stored) =>
        Followed().ById.TryGetValue(stored.Id, out var known) && known.Stored.Revision == stored.Revision ? known.Read : Read(stored.Shown);

    /// <summary>What is said to be meant as written in a promotion.</summary>
    public IEnumerable<string> Meant(string id) => promotions.Meant(id).Select(meaning => meaning.Finding);

    /// <summary>Reads a promotion's document.</summary>
    public ReadPromotion Read(string document)
    {
        var now = Followed();
        return Read(document, now.Ids, now.Batches);
    }

    /// <summary>Reads a promotion's document as it would be with other goods or settings.</summary>
    public ReadPromotion Read(string document, ShopSetup setup)
    {
        var now = Followed();
        return Read(document, now.Ids, now.Batches, setup);
    }

    /// <summary>What is live, as it would be with other goods or settings.</summary>
    public LiveEdition LiveWith(ShopSetup setup)
    {
        var now = Followed();
        return Following(
            new(0, Rulebook.Compile(setup.Catalogue, []), new Dictionary<string, IReadOnlyList<Problem>>()),
            setup,
            now.Ids,
            now.Batches
        );
    }

    /// <summary>A promotion as stored and read, or null.</summary>
    public ShelvedPromotion? Find(string id) => Followed().ById.GetValueOrDefault(id);

    /// <summary>
    /// Reads a cart as it comes in: without a moment of its own it is priced now, and what it does not say of its shopper the store fills
    /// in.
    /// </summary>
    /// <param name="cart">The cart, which is filled in.</param>
    /// <param name="now">The server's clock.</param>
    /// <param name="inside">The transaction in which the shopper is looked up; null: one of its own.</param>
    /// <param name="absent">A held order that counts as if it were not there; null: none.</param>
    public Reading<Cart> ReadCart(JsonObject cart, Instant now, OrderTransaction? inside = null, StoredOrder? absent = null)
    {
        if (!cart.ContainsKey("at"))
            cart["at"] = now.ToString();
        if (cart["shopper"] is JsonObject named && named["id"] is JsonValue value && value.TryGetValue<string>(out var id))
        {
            // With these begin the ids that stand for guests and for who was forgotten.
            if (OrderTransaction.IsStandIn(id))
                return new(
                    null,
                    [
                        new(
                            "/shopper/id",
                            ProblemCode.NotAllowed,
                            $"A shopper's id does not begin with '{OrderTransaction.Guest}' or '{OrderTransaction.Forgotten}', which stand for people without one."
                        ),
                    ]
                );
            if ((inside is null ? orders.Read(transaction => transaction.Shopper(id)) : inside.Shopper(id)) is { } known)
            {
                if (!named.ContainsKey("groups"))
                    named["groups"] = new JsonArray([.. known.InGroups.Select(group => JsonValue.Create(group))]);
                if (!named.ContainsKey("orders"))
                    named["orders"] = known.Orders - (absent?.Shopper == id ? 1 : 0);
                if (!named.ContainsKey("spent"))
                    named["spent"] = Store.Currency.Write(known.Spent);
            }
        }

        // A shop's server may call them by the names they had.
        Setup.Renamed.In(cart);
        return CaseReader.ReadCart(Encoding.UTF8.GetBytes(cart.ToJsonString()), Catalogue, Ids);
    }

    /// <summary>Reads a cart as it comes in.</summary>
    /// <param name="cart">The cart as sent.</param>
    /// <param name="now">The server's clock.</param>
    public Reading<Cart> ReadCart(JsonElement cart, Instant now) =>
        cart.ValueKind == JsonValueKind.Object
            ? ReadCart(JsonObject.Create(cart.Clone())!, now)
            : CaseReader.ReadCart(Encoding.UTF8.GetBytes(cart.GetRawText()), Catalogue, Ids);

    /// <summary>
    /// What surrounds the pricing of a cart: as things stand now, but for the uses of the day, which are those of the cart's own.
    /// </summary>
    /// <param name="cart">The cart.</param>
    /// <param name="givable">The SKUs that the promotions could give.</param>
    /// <param name="inside">The transaction in which it is read; null: one of its own.</param>
    /// <param name="absent">A held order that counts as if it were not there; null: none.</param>
    /// <param name="effort">As a multiple of the default; null: as the shop has set it.</param>
    public PricingContext ContextOf(
        Cart cart,
        IReadOnlyCollection<string> givable,
        OrderTransaction? inside = null,
        StoredOrder? absent = null,
        int? effort = null
    )
    {
        if (inside is null)
            return orders.Read(transaction => ContextOf(cart, givable, transaction, absent, effort));
        var (day, shopper) = (DayOf(cart.At), ShopperOf(cart, inside));
        var context = new PricingContext(
            Usage(day, shopper, inside),
            cart.Codes.Count == 0 ? NoCodes : Standing(inside.Standing(cart.Codes.Select(code => Trigger.Bare(Trigger.Normal(code))))),
            Left(inside.Sold(givable)),
            effort ?? Settings.Effort
        );
        return absent is null ? context : Without(context, absent, day, shopper, inside);
    }

    /// <summary>Who buys, as uses are counted: an id, or what stands for a guest; null: nobody that is known.</summary>
    public static string? ShopperOf(Cart cart, OrderTransaction inside) =>
        cart.Shopper is { } shopper ? shopper.Id
        : cart.GuestKey is { } key ? inside.GuestOf(key)
        : null;

    /// <summary>What has been used until now, by promotion; today is the day of a moment.</summary>
    public IReadOnlyDictionary<string, Usage> UsageAt(Instant at) => orders.Read(transaction => Usage(DayOf(at), null, transaction));

    /// <summary>The store's date at a moment, as uses are counted by it: ISO 8601.</summary>
    public string DayOf(Instant at) => LocalDatePattern.Iso.Format(at.InZone(Store.Zone).Date);

    /// <summary>Until when a price holds, as far as windows and days tell: at most to midnight in the shop.</summary>
    public Instant ValidUntil(Rulebook rulebook, Instant at)
    {
        var zone = Store.Zone;
        var midnight = at.InZone(zone).Date.PlusDays(1).AtStartOfDayInZone(zone).ToInstant();
        return rulebook.NextTurn(at) is { } turn && turn < midnight ? turn : midnight;
    }

    // The counters as they are, read anew when something was used. Inside a write they may be ahead of what is kept here, and are not kept.
    private IReadOnlyDictionary<string, Usage> Usage(string day, string? shopper, OrderTransaction transaction)
    {
        var uses = transaction.Uses();
        if (usage is not { } known || known.Uses != uses || known.Day != day)
        {
            known = new(
                uses,
                day,
                transaction.Usage(day, null).ToDictionary(used => used.PromotionId, used => used.Usage, StringComparer.Ordinal)
            );
            if (!transaction.IsWriting)
                usage = known;
        }

        var own = shopper is null ? [] : transaction.UsesBy(shopper);
        if (own.Count == 0)
            return known.ById;
        var seen = new Dictionary<string, Usage>(known.ById, StringComparer.Ordinal);
        foreach (var (promotion, count) in own)
            seen[promotion] = seen.GetValueOrDefault(promotion, Pricing.Usage.None) with { Shopper = count };
        return seen;
    }

    // The same with what a held order uses taken out.
    private static PricingContext Without(
        PricingContext context,
        StoredOrder absent,
        string day,
        string? shopper,
        OrderTransaction transaction
    )
    {
        var usage = new Dictionary<string, Usage>(context.Usage, StringComparer.Ordinal);
        foreach (var use in transaction.UsesOf(absent.Id))
        {
            if (!usage.TryGetValue(use.Promotion, out var used))
                continue;
            usage[use.Promotion] = new(
                used.Total - 1,
                shopper is not null && absent.Shopper == shopper ? used.Shopper - 1 : used.Shopper,
                absent.Day == day ? used.Today - 1 : used.Today,
                used.Budget - use.Amount,
                used.Drawn - use.Drawn
            );
        }

        var codes = new Dictionary<string, BatchCode>(context.Codes, StringComparer.Ordinal);
        foreach (var code in transaction.CodesOf(absent.Id))
            if (codes.TryGetValue(code.Bare, out var used))
                codes[code.Bare] = used with { Used = used.Used - 1, Drawn = used.Drawn - code.Drawn };
        var left = new Dictionary<string, long>(context.Left, StringComparer.Ordinal);
        foreach (var unit in transaction.UnitsOf(absent.Id))
            if (left.TryGetValue(unit.Sku, out var rest))
                left[unit.Sku] = rest + unit.Units;
        return context with { Usage = usage, Codes = codes, Left = left };
    }

    /// <summary>What is left of some SKUs; those of which it is as the catalogue says are left out.</summary>
    public IReadOnlyDictionary<string, long> Left(IReadOnlyCollection<string> skus) =>
        skus.Count == 0 ? new Dictionary<string, long>() : Left(orders.Read(transaction => transaction.Sold(skus)));

    /// <summary>What is left of SKUs of which some was sold, or that were counted: below zero where more was sold than there was.</summary>
    public Dictionary<string, long> Left(IEnumerable<SoldUnits> sold)
    {
        var left = new Dictionary<string, long>(StringComparer.Ordinal);
        foreach (var entry in sold)
            if (
                (entry.Counted ?? (Catalogue.Find(entry.Sku) is >= 0 and var variant ? Catalogue.Variant(variant).Stock : null)) is
                { } stock
            )
                left[entry.Sku] = stock - entry.Units;
        return left;
    }

    /// <summary>Codes of batches as pricing takes them.</summary>
    public static Dictionary<string, BatchCode> Standing(IEnumerable<StandingCode> found) =>
        found.ToDictionary(
            code => code.Bare,
            code => new BatchCode(
                code.BatchId,
                code.Void,
                code.Used,
                code.UsesEach,
                code.LastDay is { } day ? LocalDatePattern.Iso.Parse(day).Value : null,
                code.Drawn
            ),
            StringComparer.Ordinal
        );

    /// <summary>The address that opens the shop with a code in it.</summary>
    public string LinkTo(string code) =>
        (Settings.Link ?? "/counter?code={code}").Replace("{code}", Uri.EscapeDataString(code), StringComparison.Ordinal);

    /// <summary>Comes back when this process prices by the goods and settings that were written when it was called.</summary>
    public async Task FollowSetup()
    {
        var asked = repository.Numbers();
        while (Setup.Numbers.Goods < asked.Goods || Setup.Numbers.Settings < asked.Settings || Setup.Numbers.Renames < asked.Renames)
            await BeginToFollow();
    }

    /// <summary>Looks whether anything was written, so that what another process wrote is followed although nobody asks.</summary>
    public Task Follow()
    {
        Followed();
        return FollowSetup();
    }

    private string? NameOf(string promotion) => shelf.ById.GetValueOrDefault(promotion)?.Name;

    private ReadPromotion Read(string document, IReadOnlySet<string> ids, IReadOnlySet<string> batches) =>
        Read(document, ids, batches, Setup);

    private static ReadPromotion Read(string document, IReadOnlySet<string> ids, IReadOnlySet<string> batches, ShopSetup setup)
    {
        var reading = CaseReader.ReadPromotion(Encoding.UTF8.GetBytes(document), setup.Catalogue, ids, batches);
        return new(reading.Value, reading.Problems, setup.Wording);
    }

    // Whoever finds that something was written reads that, while the others go on with what they have.
    private Shelf Followed()
    {
        var stamp = database.Stamp();
        if (shelf.Stamp == stamp)
            return shelf;
        lock (following)
        {
            var known = shelf;
            // Asked before reading: what is written meanwhile is found the next time.
            stamp = database.Stamp();
            if (known.Stamp == stamp)
                return known;
            var (written, numbers) = (promotions.Written(), repository.Numbers());
            // Goods take longer: nobody waits for them but who wrote them.
            if (numbers != known.Setup.Numbers)
                BeginToFollow();
            // A rename changes goods and promotions at once: until both are read, prices are those before it.
            if (numbers.Renames != known.Setup.Numbers.Renames)
                return known;
            if (known.Written == written)
                return shelf = known with { Stamp = stamp };
            var (changed, batches) = (promotions.WrittenSince(known.Written), promotions.Batches());
            var ids = changed.All(known.Ids.Contains) ? known.Ids : new HashSet<string>([.. known.Ids, .. changed], StringComparer.Ordinal);
            var byId = known.ById;
            if (changed.Count > 0)
            {
                byId = new(byId, StringComparer.Ordinal);
                foreach (var id in changed)
                    byId.Remove(id);
                foreach (var stored in known.Written < 0 ? promotions.All() : promotions.Find(changed))
                    byId[stored.Id] = new(stored, Read(stored.Shown, ids, batches), this);
            }

            return shelf = new(stamp, written, known.Setup, ids, batches, byId, Following(known.Live, known.Setup, ids, batches));
        }
    }

    // One at a time reads goods and settings anew, until it has read all that is written; whoever asks meanwhile can wait for that.
    private Task BeginToFollow()
    {
        lock (settingUp)
            return setupTask ??= Task.Run(ReadSetups);
    }

    private void ReadSetups()
    {
        try
        {
            while (true)
            {
                ReadSetup();
                // Asked where others are told whether somebody reads: what is written after this makes another begin.
                lock (settingUp)
                    if (repository.Numbers() == Setup.Numbers)
                    {
                        setupTask = null;
                        return;
                    }
            }
        }
        catch
        {
            lock (settingUp)
                setupTask = null;
            throw;
        }
    }

    private void ReadSetup()
    {
        var known = shelf;
        var numbers = repository.Numbers();
        var setup =
            numbers.Settings == known.Setup.Numbers.Settings && repository.ChangedSince(known.Setup.Numbers.Goods) is { } changes
                ? known.Setup.With(changes.Rows, changes.Number, this)
                : ShopSetup.Of(repository.Find(), NameOf, this);
        // Written while it was read: what is read now may be from both sides of a rename.
        if (repository.Numbers().Renames != numbers.Renames)
            return;
        setup = setup.After(repository.Renames(), this);
        if (numbers.Renames != known.Setup.Numbers.Renames)
        {
            ReadAllAnew(setup);
            return;
        }

        var isOtherStore = setup.Numbers.Settings != known.Setup.Numbers.Settings;
        // What could be read with other goods says the same with these; with other settings anything may read otherwise.
        var live = isOtherStore ? null : ReadAnew(known.Live, setup, known.Ids, known.Batches);
        lock (following)
        {
            var now = shelf;
            var byId = now.ById.Values.ToDictionary(
                promotion => promotion.Stored.Id,
                promotion =>
                    isOtherStore || promotion.Read.Promotion is null
                        ? new ShelvedPromotion(promotion.Stored, Read(promotion.Stored.Shown, now.Ids, now.Batches, setup), this)
                        : new(promotion.Stored, promotion.Read with { Wording = setup.Wording }, this),
                StringComparer.Ordinal
            );
            live ??= new(0, Rulebook.Compile(setup.Catalogue, []), new Dictionary<string, IReadOnlyList<Problem>>());
            shelf = new(now.Stamp, now.Written, setup, now.Ids, now.Batches, byId, Following(live, setup, now.Ids, now.Batches));
        }
    }

    // Promotions and goods by their new words, swapped in together.
    private void ReadAllAnew(ShopSetup setup)
    {
        lock (following)
        {
            var (stamp, written) = (database.Stamp(), promotions.Written());
            var (ids, batches) = (promotions.Ids(), promotions.Batches());
            var byId = promotions
                .All()
                .ToDictionary(
                    stored => stored.Id,
                    stored => new ShelvedPromotion(stored, Read(stored.Shown, ids, batches, setup), this),
                    StringComparer.Ordinal
                );
            var none = new LiveEdition(0, Rulebook.Compile(setup.Catalogue, []), new Dictionary<string, IReadOnlyList<Problem>>());
            shelf = new(stamp, written, setup, ids, batches, byId, Following(none, setup, ids, batches));
        }
    }

    // The same edition over other goods: those that could not be read are tried again.
    private LiveEdition ReadAnew(LiveEdition live, ShopSetup setup, IReadOnlySet<string> ids, IReadOnlySet<string> batches)
    {
        var (all, unreadable) = (live.Rulebook.Promotions.ToList(), new Dictionary<string, IReadOnlyList<Problem>>(StringComparer.Ordinal));
        foreach (var (id, document) in promotions.Documents(live.Number, [.. live.Unreadable.Keys]))
        {
            var read = Read(document, ids, batches, setup);
            if (read.Promotion is { } promotion)
                all.Add(promotion with { State = State.Live });
            else
                unreadable[id] = read.Problems;
        }

        return new(live.Number, Rulebook.Compile(setup.Catalogue, all), unreadable);
    }

    private LiveEdition Following(LiveEdition known, ShopSetup setup, IReadOnlySet<string> ids, IReadOnlySet<string> batches)
    {
        var newest = promotions.NewestEdition()?.Number ?? 0;
        if (newest == known.Number)
            return known;
        var unreadable = new Dictionary<string, IReadOnlyList<Problem>>(known.Unreadable, StringComparer.Ordinal);
        var (put, takenOut) = (new List<Promotion>(), new List<string>());
        foreach (var (id, document) in promotions.Changes(known.Number, newest))
        {
            unreadable.Remove(id);
            takenOut.Add(id);
            if (document is null)
                continue;
            var read = Read(document, ids, batches, setup);
            if (read.Promotion is { } promotion)
                put.Add(promotion with { State = State.Live });
            else
                unreadable[id] = read.Problems;
        }

        return new(newest, known.Number == 0 ? Rulebook.Compile(setup.Catalogue, put) : known.Rulebook.With(put, takenOut), unreadable);
    }

    private sealed record KnownUsage(long Uses, string Day, Dictionary<string, Usage> ById);

    private sealed record Shelf(
        long Stamp,
        long Written,
        ShopSetup Setup,
        IReadOnlySet<string> Ids,
        IReadOnlySet<string> Batches,
        Dictionary<string, ShelvedPromotion> ById,
        LiveEdition Live
    )
    {
        public IReadOnlyCollection<ShelvedPromotion> Promotions { get; } = [.. ById.Values];

        public int Drafts { get; } = ById.Values.Count(promotion => promotion.Stored is { Draft: not null, State: not "archived" });
    }
}

/// <summary>A promotion's document as read.</summary>
/// <param name="Promotion">Null if there are problems.</param>
/// <param name="Problems">What is wrong with it.</param>
/// <param name="Wording">How it is said.</param>
internal sealed record ReadPromotion(Promotion? Promotion, IReadOnlyList<Problem> Problems, Wording Wording)
{
    /// <summary>Its words, with other promotions by the names they have now; none if there are problems.</summary>
    public IReadOnlyList<Clause> Clauses => Promotion is { } promotion ? Sentence.Clauses(promotion, Wording) : [];
}
