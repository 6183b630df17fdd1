using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Demo;

/// <summary>
/// Fills an empty database with the shop of <c>demo/</c>. Its dates were written for one day; they are moved by whole weeks, so that a
/// Friday stays a Friday: what is to come by the next such week, what has been by the last.
/// </summary>
internal sealed class DemoShop(ShopRepository shops, PromotionRepository promotions, IClock clock)
{
    private const int DaysOfAWeek = 7;

    private static readonly LocalDateTimePattern Local = LocalDateTimePattern.CreateWithInvariantCulture("uuuu'-'MM'-'dd'T'HH':'mm");

    /// <summary>Whether it was filled; false: the database holds a shop already.</summary>
    public async Task<bool> Fill()
    {
        if (shops.Find() is not null) return false;
        var file = JsonNode.Parse(Text("store.json"))!.AsObject();
        var (store, settings) = (file["store"]!.ToJsonString(), file["settings"]!);
        var read = CaseReader.ReadStore(Encoding.UTF8.GetBytes(store)).Value ?? throw new InvalidOperationException("demo/store.json cannot be read.");
        var writtenOn = LocalDatePattern.Iso.Parse((string)settings["writtenOn"]!).Value;
        var since = Period.DaysBetween(writtenOn, clock.GetCurrentInstant().InZone(read.Zone).Date);
        // Down to a whole week, also before that day.
        var past = since - (((since % DaysOfAWeek) + DaysOfAWeek) % DaysOfAWeek);
        var days = past == since ? since : past + DaysOfAWeek;

        using var categories = new StringReader(Text("categories.csv"));
        using var items = new StringReader(Text("items.csv"));
        using var shopperRows = new StringReader(Text("shoppers.csv"));
        using var redemptionRows = new StringReader(Text("redemptions.csv"));
        var shoppers = ShopCsv.Shoppers(shopperRows, read.Currency).ToArray();
        await shops.Fill(
            new(store, settings.ToJsonString(), CatalogueCsv.ToJson(categories, items).ToJsonString()),
            shoppers.Select(row => new StoredShopper(row.Shopper.Id!, row.Name, string.Join(',', row.Shopper.Groups), row.Shopper.Orders, row.Shopper.Spent, row.Place)),
            JsonNode.Parse(Text("carts.json"))!.AsArray().Select(cart => new StoredCart(
                (string)cart!["id"]!, (string)cart["name"]!, WithShopper(cart["cart"]!.AsObject(), shoppers, read.Currency).ToJsonString())));
        await promotions.Add(JsonNode.Parse(Text("promotions.json"))!.AsArray().Select(promotion => (
            (string)promotion!["id"]!, (string)promotion["state"]!, Moved(promotion.AsObject(), days).ToJsonString())));
        await promotions.AddRedemptions(ShopCsv.Redemptions(redemptionRows, read.Currency).Select(row => (row.Promotion, row.Shopper, At: row.At + Duration.FromDays(past), row.Amount)).Select(row => (row.Promotion, row.Shopper, row.At, row.At.InZone(read.Zone).Date, row.Amount)));
        return true;
    }

    private static JsonObject WithShopper(JsonObject cart, IEnumerable<ShopperRow> shoppers, Currency currency)
    {
        if (cart["shopper"] is { } named && shoppers.First(row => row.Shopper.Id == (string)named["id"]!) is { } row)
        {
            cart["shopper"] = new JsonObject
            {
                ["id"] = row.Shopper.Id,
                ["groups"] = JsonSerializer.SerializeToNode(row.Shopper.Groups.ToArray()),
                ["orders"] = row.Shopper.Orders,
                ["spent"] = currency.Write(row.Shopper.Spent),
            };
        }

        return cart;
    }

    private static JsonObject Moved(JsonObject promotion, int days)
    {
        foreach (var end in (string[])["start", "end"])
            if (promotion["window"]?[end] is { } written) promotion["window"]![end] = Local.Format(Local.Parse((string)written!).Value.PlusDays(days));
        return promotion;
    }

    private static string Text(string name)
    {
        using var stream = typeof(DemoShop).Assembly.GetManifestResourceStream($"demo/{name}")
            ?? throw new InvalidOperationException($"The demo shop's {name} did not travel with the program.");
        using var reader = new StreamReader(stream, Encoding.UTF8);
        return reader.ReadToEnd();
    }
}
