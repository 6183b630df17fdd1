using System.Globalization;
using System.Text;
using System.Text.Json;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>A place by the name the shop gives it.</summary>
internal sealed record NamedPlace(string Code, string Name);

/// <summary>What the shop says about itself beside what pricing needs.</summary>
internal sealed record ShopSettings(string Name, string Locale, string[] Channels, string[] Groups, NamedPlace[] Places)
{
    public static readonly ShopSettings Unnamed = new("Unnamed shop", "en-GB", [Cart.Web], [], []);
}

/// <summary>The shop in memory: settings, catalogue, the live edition compiled, and what its promotions say.</summary>
internal sealed class OpenShop
{
    private readonly PromotionRepository promotions;
    private readonly Lock gate = new();
    private readonly Dictionary<string, (long Revision, ReadPromotion Read)> readings = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> placeNames;
    private (long Edition, Rulebook Rulebook)? live;

    public OpenShop(ShopRepository repository, PromotionRepository promotions)
    {
        this.promotions = promotions;
        var stored = repository.Find();
        var store = stored is null
            ? new Store(Currency.Find("EUR")!, DateTimeZone.Utc)
            : Whole(CaseReader.ReadStore(Encoding.UTF8.GetBytes(stored.Store)), "store");
        var catalogue = stored is null ? new Catalogue([], []) : Whole(CaseReader.ReadCatalogue(Encoding.UTF8.GetBytes(stored.Catalogue), store), "catalogue");
        Settings = stored is null ? ShopSettings.Unnamed : JsonSerializer.Deserialize<ShopSettings>(stored.Settings, JsonSerializerOptions.Web)!;
        Catalogue = CatalogueIndex.Of(store, catalogue);
        Culture = CultureInfo.GetCultureInfo(Settings.Locale);
        placeNames = Settings.Places.ToDictionary(place => place.Code, place => place.Name);
        Wording = WordingIn(store.Currency);
        SampleCarts = repository.Carts();
    }

    public ShopSettings Settings { get; }

    public CatalogueIndex Catalogue { get; }

    public Store Store => Catalogue.Store;

    public CultureInfo Culture { get; }

    /// <summary>Words of the shop in a currency.</summary>
    public Wording WordingIn(Currency currency) => new(Catalogue, currency, Culture, placeNames);

    /// <summary>Words in the base currency.</summary>
    public Wording Wording { get; }

    public IReadOnlyList<StoredCart> SampleCarts { get; }

    /// <summary>The newest edition, compiled once.</summary>
    public Rulebook Live()
    {
        var edition = promotions.NewestEdition()?.Number ?? 0;
        lock (gate)
        {
            if (live is { } known && known.Edition == edition) return known.Rulebook;
            var ids = promotions.Ids();
            var read = promotions.Edition(edition).Select(document => Read(document, ids).Promotion).OfType<Promotion>().Select(promotion => promotion with { State = State.Live });
            var rulebook = Rulebook.Compile(Catalogue, read);
            live = (edition, rulebook);
            return rulebook;
        }
    }

    /// <summary>What a stored promotion says, read once for each revision.</summary>
    /// <param name="stored">The promotion.</param>
    /// <param name="ids">The ids it may refer to, where many are read at once; none: they are looked up.</param>
    public ReadPromotion Read(StoredPromotion stored, IReadOnlySet<string>? ids = null)
    {
        lock (gate)
        {
            if (readings.TryGetValue(stored.Id, out var known) && known.Revision == stored.Revision) return known.Read;
            var read = Read(stored.Shown, ids);
            readings[stored.Id] = (stored.Revision, read);
            return read;
        }
    }

    /// <summary>Reads a promotion's document.</summary>
    public ReadPromotion Read(string document, IReadOnlySet<string>? ids = null)
    {
        var reading = CaseReader.ReadPromotion(Encoding.UTF8.GetBytes(document), Catalogue, ids ?? Ids());
        var clauses = reading.Value is { } promotion ? Sentence.Clauses(promotion, Wording) : [];
        return new(reading.Value, reading.Problems, clauses);
    }

    /// <summary>What has been used so far at a moment, as a cart of a shopper sees it.</summary>
    public IReadOnlyDictionary<string, Usage> UsageAt(Instant at, string? shopper)
    {
        var dayStart = at.InZone(Store.Zone).Date.AtStartOfDayInZone(Store.Zone).ToInstant();
        return promotions.Usage(at, dayStart, shopper).ToDictionary(
            used => used.PromotionId, used => new Usage(used.Total, used.Shopper, used.Today, used.Budget), StringComparer.Ordinal);
    }

    public IReadOnlySet<string> Ids() => promotions.Ids();

    private static T Whole<T>(Reading<T> reading, string what)
        where T : class =>
        reading.Value ?? throw new InvalidOperationException($"The stored {what} cannot be read: {reading.Problems[0].At} {reading.Problems[0].Message}");
}

/// <summary>A promotion's document as read.</summary>
/// <param name="Promotion">Null if there are problems.</param>
/// <param name="Problems">What is wrong with it.</param>
/// <param name="Clauses">Its words; none if there are problems.</param>
internal sealed record ReadPromotion(Promotion? Promotion, IReadOnlyList<Problem> Problems, IReadOnlyList<Clause> Clauses);
