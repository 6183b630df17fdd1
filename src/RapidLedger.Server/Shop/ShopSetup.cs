using System.Globalization;
using System.Text;
using System.Text.Json;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Items;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>Settings and goods as they are at one moment, made ready. Unchanging: what is written makes another.</summary>
internal sealed class ShopSetup
{
    private readonly Dictionary<string, string> placeNames;
    private readonly Func<string, string?> promotionNames;
    private readonly Lazy<ItemSearch> search;
    private readonly Lazy<Dictionary<string, Product>> products;

    private ShopSetup(
        ShopNumbers numbers,
        bool isThere,
        ShopSettings settings,
        CatalogueIndex catalogue,
        Func<string, string?> promotionNames,
        OpenShop shop
    )
    {
        (Numbers, IsThere, Settings, Catalogue) = (numbers, isThere, settings, catalogue);
        this.promotionNames = promotionNames;
        Culture = CultureInfo.GetCultureInfo(settings.Locale);
        placeNames = settings.Places.ToDictionary(place => place.Code, place => place.Name);
        Wording = WordingIn(catalogue.Store.Currency);
        Renamed = new([], settings, catalogue);
        search = new(() => new(shop, this));
        products = new(() => catalogue.Catalogue.Products.ToDictionary(product => product.Id, StringComparer.Ordinal));
    }

    /// <summary>The last changes that it knows.</summary>
    public ShopNumbers Numbers { get; }

    /// <summary>Whether the file holds a shop.</summary>
    public bool IsThere { get; }

    public ShopSettings Settings { get; }

    public CatalogueIndex Catalogue { get; }

    public CultureInfo Culture { get; }

    /// <summary>Words in the base currency.</summary>
    public Wording Wording { get; }

    /// <summary>Words that were renamed, as they are called now.</summary>
    public RenamedWords Renamed { get; private init; }

    /// <summary>All products by id, those that were taken out too.</summary>
    public IReadOnlyDictionary<string, Product> Products => products.Value;

    /// <summary>Finds items and terms; made when first asked for.</summary>
    public ItemSearch Search => search.Value;

    /// <summary>Reads the shop of a file; where there is none, it is empty and has no name.</summary>
    public static ShopSetup Of(StoredShop? stored, Func<string, string?> promotionNames, OpenShop shop)
    {
        if (stored is null)
            return new(
                new(0, 0, 0),
                false,
                ShopSettings.Unnamed,
                CatalogueIndex.Of(new(Currency.Find("EUR")!, DateTimeZone.Utc), new([], [])),
                promotionNames,
                shop
            );
        var reading = CaseReader.ReadStore(Encoding.UTF8.GetBytes(stored.Store));
        var store = reading.Value
            ?? throw new StorageFault(
                $"The stored settings cannot be read: {reading.Problems[0].At} {reading.Problems[0].Message} Put the last backup in its place."
            );
        return new(
            stored.Numbers,
            true,
            JsonSerializer.Deserialize<ShopSettings>(stored.Settings, JsonSerializerOptions.Web)!,
            CatalogueIndex.Of(store, GoodsBook.Of(store, stored.Goods)),
            promotionNames,
            shop
        );
    }

    /// <summary>The same with the words that were renamed until then.</summary>
    public ShopSetup After(IReadOnlyList<WordRename> renames, OpenShop shop) =>
        new(Numbers with { Renames = renames.Count }, IsThere, Settings, Catalogue, promotionNames, shop)
        {
            Renamed = new(renames, Settings, Catalogue),
        };

    /// <summary>The same with goods that changed.</summary>
    public ShopSetup With(IReadOnlyList<GoodsRow> rows, long goods, OpenShop shop) =>
        new(
            Numbers with
            {
                Goods = goods,
            },
            IsThere,
            Settings,
            CatalogueIndex.Of(Catalogue.Store, GoodsBook.With(Catalogue, rows)),
            promotionNames,
            shop
        );

    /// <summary>The same with other settings. Goods are read anew only where amounts may read otherwise.</summary>
    /// <param name="settings">What pricing does not need.</param>
    /// <param name="store">What it needs.</param>
    /// <param name="goods">The goods as stored.</param>
    /// <param name="shop">The shop it is of.</param>
    /// <exception cref="StorageFault">A stored row cannot be read by these settings.</exception>
    public ShopSetup With(ShopSettings settings, Store store, Func<IReadOnlyList<GoodsRow>> goods, OpenShop shop) =>
        new(
            Numbers,
            IsThere,
            settings,
            CatalogueIndex.Of(
                store,
                store.Currencies.SequenceEqual(Catalogue.Store.Currencies) ? Catalogue.Catalogue : GoodsBook.Of(store, goods())
            ),
            promotionNames,
            shop
        );

    /// <summary>Words of the shop in a currency.</summary>
    public Wording WordingIn(Currency currency) => new(Catalogue, currency, Culture, placeNames, promotionNames);
}
