using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
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
internal sealed partial class OpenShop
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

    /// <summary>The address that opens the shop with a code in it.</summary>
    public string LinkTo(string code) =>
        (Settings.Link ?? "/counter?code={code}").Replace("{code}", Uri.EscapeDataString(code), StringComparison.Ordinal);

    private string? NameOf(string promotion) => shelf.ById.GetValueOrDefault(promotion)?.Name;

    private ReadPromotion Read(string document, IReadOnlySet<string> ids, IReadOnlySet<string> batches) =>
        Read(document, ids, batches, Setup);

    private static ReadPromotion Read(string document, IReadOnlySet<string> ids, IReadOnlySet<string> batches, ShopSetup setup)
    {
        var reading = CaseReader.ReadPromotion(Encoding.UTF8.GetBytes(document), setup.Catalogue, ids, batches);
        return new(reading.Value, reading.Problems, setup.Wording);
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
