using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Demo;

/// <summary>
/// Fills an empty database with the shop of <c>demo/</c>. Its dates were written for one day; they are moved by whole weeks, so that a
/// Friday stays a Friday: what is to come by the next such week, what has been by the last.
/// </summary>
internal sealed class DemoShop(
    ShopRepository shops,
    PromotionRepository promotions,
    CodeRepository codes,
    OrderRepository orders,
    IClock clock
)
{
    private const int DaysOfAWeek = 7;
    private const int Cards = 200;
    private const int CardsUsed = 31;
    private const int CardsVoid = 6;
    private const int Orders = 2_000;
    private const int MinutesOfEightWeeks = 8 * 7 * 24 * 60;

    // What these orders hold is under no limit that the other figures of the shop are about.
    private static readonly string[] Sold = ["tyres", "tools", "lights", "books", "helmets", "rims"];

    /// <summary>Whether it was filled; false: the database holds a shop already.</summary>
    public async Task<bool> Fill()
    {
        if (shops.IsThere())
            return false;
        var file = JsonNode.Parse(Text("store.json"))!.AsObject();
        var (store, settings) = (file["store"]!.ToJsonString(), file["settings"]!);
        settings["isDemo"] = true;
        var read = CaseReader.ReadStore(Encoding.UTF8.GetBytes(store)).Value
            ?? throw new InvalidOperationException("demo/store.json cannot be read.");
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
            store,
            settings.ToJsonString(),
            CatalogueCsv.ToJson(categories, items).ToJsonString(),
            shoppers.Select(row => new StoredShopper(
                row.Shopper.Id!,
                row.Name,
                string.Join(',', row.Shopper.Groups),
                row.Shopper.Orders,
                row.Shopper.Spent,
                row.Place
            )),
            JsonNode
                .Parse(Text("carts.json"))!
                .AsArray()
                .Select(cart => new StoredCart(
                    (string)cart!["id"]!,
                    (string)cart["name"]!,
                    WithShopper(cart["cart"]!.AsObject(), shoppers, read.Currency).ToJsonString()
                ))
        );
        var written = await Welcome();
        await promotions.Add(
            JsonNode
                .Parse(Text("promotions.json"))!
                .AsArray()
                .Select(promotion =>
                    ((string)promotion!["id"]!, (string)promotion["state"]!, Moved(promotion.AsObject(), days).ToJsonString())
                )
        );
        await promotions.AddRedemptions(
            ShopCsv
                .Redemptions(redemptionRows, read.Currency)
                .Select(row => (row.Promotion, row.Shopper, At: row.At + Duration.FromDays(past), row.Amount))
                .Select(row => (row.Promotion, row.Shopper, row.At, row.At.InZone(read.Zone).Date, row.Amount))
        );
        await Order(read, written);
        return true;
    }

    // Cards with a code each, handed out with first letters.
    private async Task<string[]> Welcome()
    {
        var (random, form) = (new Random(11), new CodeForm(CodeForm.Crockford, 8, "FIRST-", 4));
        var written = Enumerable.Range(0, Cards).Select(_ => form.Draw(random.Next)).Distinct(StringComparer.Ordinal).ToArray();
        await codes.Bring(
            "welcome cards, handed out at the fair",
            1,
            null,
            [.. written.Select(code => (Trigger.Bare(code), code, (string?)null))],
            edition: 0
        );
        foreach (var code in written[^CardsVoid..])
            await codes.SetVoid(Trigger.Bare(code), true);
        return written;
    }

    // Orders of eight weeks, priced as all orders are, by guests; some with a welcome card, some given back.
    private async Task Order(Store store, string[] cards)
    {
        var stored = shops.Find()!;
        var catalogue = CatalogueIndex.Of(store, GoodsBook.Of(store, stored.Goods));
        var ids = promotions.Ids();
        var rulebook = Rulebook.Compile(
            catalogue,
            promotions.Edition(1).Select(document => CaseReader.ReadPromotion(Encoding.UTF8.GetBytes(document), catalogue, ids).Value!)
        );
        var skus = catalogue
            .Catalogue.Products.Where(product => Sold.Contains(product.Category))
            .SelectMany(product => product.Variants)
            .Where(variant => variant.Stock is null or > 20)
            .Select(variant => variant.Sku)
            .ToArray();
        var known = OpenShop.Standing(codes.Standing(cards.Select(Trigger.Bare)));
        var wording = new Wording(catalogue, store.Currency);
        var (random, now) = (new Random(7), clock.GetCurrentInstant());
        var moments = Enumerable
            .Range(0, Orders)
            .Select(_ => now - Duration.FromMinutes(1 + random.Next(MinutesOfEightWeeks)))
            .Order()
            .ToArray();
        await orders.Write(transaction =>
        {
            for (var number = 0; number < Orders; number++)
            {
                var lines = Enumerable
                    .Range(0, random.Next(1, 4))
                    .Select(_ => skus[random.Next(skus.Length)])
                    .Distinct(StringComparer.Ordinal)
                    .Select(sku => new Line(sku, random.Next(1, 3)));
                var card =
                    number % (Orders / CardsUsed) == 5 && number / (Orders / CardsUsed) < CardsUsed
                        ? cards[number / (Orders / CardsUsed)]
                        : null;
                var cart = new Cart(
                    moments[number],
                    [.. lines],
                    Method: "parcel",
                    Destination: new("DE"),
                    Codes: card is null ? [] : [card]
                );
                var priced = rulebook.Price(cart, batchCodes: known);
                var used = priced.UsesUp();
                var order = new StoredOrder(
                    $"o{number + 1:D5}",
                    "taken",
                    moments[number].ToUnixTimeSeconds(),
                    LocalDatePattern.Iso.Format(moments[number].InZone(store.Zone).Date),
                    null,
                    1,
                    null,
                    false,
                    used.Total,
                    "{}",
                    StoreResult.Of(priced, wording, isOrder: true).ToJsonString(),
                    null,
                    0
                );
                // What was sold then is not in the stock as it is told.
                transaction.Place(order, used with { Units = [] });
                if (number % 20 == 7)
                    transaction.Move(transaction.Find(order.Id)!, "givenBack");
            }

            return 0;
        });
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
            if (promotion["window"]?[end] is { } written)
                promotion["window"]![end] = LocalTimes.Write(LocalTimes.Read((string)written!)!.Value.PlusDays(days));
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
