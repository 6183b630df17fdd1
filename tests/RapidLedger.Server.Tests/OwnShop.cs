using System.Globalization;
using System.Text.Json.Nodes;
using RapidLedger.Storage;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>
/// A shop of somebody's own, unlike the demo shop in all that can be set: currency and its decimals, zone, tax, size. It sells A, B and C
/// (and
/// fillers), has gifts G, and knows two shoppers.
/// </summary>
/// <param name="Currency">The base currency; carts may also be in GBP.</param>
/// <param name="Decimals">Of the base currency (ISO 4217).</param>
/// <param name="Zone">IANA.</param>
/// <param name="Tax">none, inclusive or exclusive.</param>
/// <param name="Items">How many variants there are.</param>
internal sealed record OwnShop(string Currency, int Decimals, string Zone, string Tax, int Items = 4)
{
    /// <summary>
    /// Half hours and summer in January; no clock changes and three decimals; the south without decimals; and the usual one.
    /// </summary>
    public static readonly OwnShop[] All =
    [
        new("AUD", 2, "Australia/Adelaide", "exclusive"),
        new("KWD", 3, "Asia/Kuwait", "none"),
        new("CLP", 0, "America/Santiago", "inclusive"),
        new("EUR", 2, "Europe/Berlin", "inclusive"),
    ];

    /// <summary>Those, for theories.</summary>
    public static TheoryData<string> Currencies => [.. All.Select(shop => shop.Currency)];

    /// <summary>The one with a base currency.</summary>
    public static OwnShop Of(string currency) => All.Single(shop => shop.Currency == currency);

    /// <summary>How many pounds one of its own is.</summary>
    public decimal Rate =>
        Decimals == 0 ? 0.00083m
        : Decimals == 3 ? 2.56m
        : 0.857m;

    /// <summary>So many minor units as an amount.</summary>
    public string Money(long minor) => Money(minor, Decimals);

    /// <summary>An amount as minor units of a currency.</summary>
    public long Minor(JsonNode amount, string currency) => Minor((string)amount!, currency == Currency ? Decimals : 2);

    /// <summary>Puts it into a file of its own.</summary>
    public async Task<string> File()
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory("rapid-ledger").FullName, "own.db");
        using var database = new Database(file);
        database.Upgrade();
        await new ShopRepository(database).Fill(
            StoreDocument().ToJsonString(),
            $$"""{"name": "Own {{Currency}}", "locale": "en-GB", "channels": ["web"], "groups": ["club"], "places": []}""",
            Catalogue().ToJsonString(),
            [new("s1", "Ada", "club", 3, 10_000, null), new("s2", "Ben", "", 0, 0, null)],
            []
        );
        return file;
    }

    /// <summary>Serves it on the machine's clock.</summary>
    public async Task<RunningServer> Serve(params string[] more) => await RunningServer.Start(demo: false, data: await File(), more: more);

    /// <summary>The same as it ships, in a process of its own.</summary>
    public async Task<RunningServer> ServeShipped() => await RunningServer.StartShipped(demo: false, data: await File());

    /// <summary>A cart of some of its items, to be delivered.</summary>
    public JsonObject Cart(params (string Sku, int Quantity)[] lines) => Documents.Cart(lines).With("destination", "\"DE\"");

    private JsonObject StoreDocument()
    {
        var store = new JsonObject
        {
            ["currency"] = Currency,
            ["timeZone"] = Zone,
            ["rates"] = new JsonObject { ["GBP"] = Rate.ToString(CultureInfo.InvariantCulture) },
            ["shipping"] = new JsonArray(
                new JsonObject
                {
                    ["id"] = "parcel",
                    ["name"] = "Parcel",
                    ["price"] = Money(490),
                    ["cost"] = Money(410),
                }
            ),
        };
        if (Tax != "none")
            store["tax"] = JsonNode.Parse(
                $$"""{"mode": "{{Tax}}", "shippingClass": "standard", "rates": [{"class": "standard", "place": "DE", "percent": 19}, {"class": "low", "place": "DE", "percent": 7}]}"""
            );
        return store;
    }

    private JsonObject Catalogue()
    {
        var products = new JsonArray(
            Product("A", 1_999, "standard", null),
            Product("B", 3_333, "low", null),
            Product("C", 701, "standard", null),
            Product("G", 450, "standard", 9)
        );
        for (var number = 4; number < Items; number++)
            products.Add(Product(string.Create(CultureInfo.InvariantCulture, $"F{number}"), 100 + (number % 997), "standard", null));
        return new() { ["products"] = products };
    }

    private JsonObject Product(string sku, long price, string taxClass, int? stock)
    {
        var variant = new JsonObject
        {
            ["sku"] = sku,
            ["regular"] = Money(price),
            ["cost"] = Money(price / 2),
        };
        if (stock is not null)
            variant["stock"] = stock;
        var product = new JsonObject
        {
            ["id"] = $"p-{sku}",
            ["name"] = $"Item {sku}",
            ["variants"] = new JsonArray(variant),
        };
        if (Tax != "none")
            product["taxClass"] = taxClass;
        return product;
    }

    private static string Money(long minor, int decimals) =>
        decimals == 0
            ? minor.ToString(CultureInfo.InvariantCulture)
            : (minor / (decimal)Math.Pow(10, decimals)).ToString($"F{decimals}", CultureInfo.InvariantCulture);

    private static long Minor(string amount, int decimals) =>
        (long)(decimal.Parse(amount, CultureInfo.InvariantCulture) * (decimal)Math.Pow(10, decimals));
}
