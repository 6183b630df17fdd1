using System.Text;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Demo;

/// <summary>
/// Fills an empty database with the shop of <c>demo/</c>, which is in the form in which every shop is taken along, and with what was done
/// by its rules: uses, and orders of eight weeks.
/// </summary>
internal sealed class DemoShop(
    Database database,
    ShopRepository shops,
    PromotionRepository promotions,
    CodeRepository codes,
    OrderRepository orders,
    IClock clock
)
{
    private const string Folder = "demo/";
    private const int CardsUsed = 31;
    private const int Orders = 2_000;
    private const int MinutesOfEightWeeks = 8 * 7 * 24 * 60;

    // Where they went, as often as they stand here.
    private static readonly string[] Destinations = ["DE", "DE", "DE", "DE", "DE", "DE", "AT", "AT", "ES"];

    // The volume offer that lost money: workshops that ordered by the crate, in the last four weeks, what costs more than they pay by their
    // terms and the volume price together.
    private const string ByTheCrate = "CHAIN-OIL-50-ML";
    private const int UnitsInACrate = 24;
    private const string Workshops = "trade";

    // The gift that ran out: its limit is counted along, as it was when these orders were placed.
    private const string RanOut = "wheel-cards";

    // What these orders hold is under no limit that the other figures of the shop are about.
    private static readonly string[] Sold = ["tyres", "tools", "lights", "books", "helmets", "rims"];

    /// <summary>Whether it was filled; false: the database holds a shop already.</summary>
    public async Task<bool> Fill()
    {
        if (shops.IsThere())
            return false;
        var (read, problems) = ArchiveReader.Read(Files());
        var archive = read ?? throw new InvalidOperationException($"The demo shop cannot be read: {problems[0]}");
        // What its orders were priced by was live before the first of them.
        var whole = new WholeShopRepository(
            database,
            new ProgramClock(clock.GetCurrentInstant() - Duration.FromMinutes(MinutesOfEightWeeks))
        );
        if (!(await whole.Fill(ShopImport.Whole(archive, clock.GetCurrentInstant()))).IsDone)
            return false;
        var store = CaseReader.ReadStore(Encoding.UTF8.GetBytes(archive.Store.ToJsonString())).Value!;
        var writtenOn = LocalDatePattern.Iso.Parse(archive.WrittenOn!).Value;
        var (past, _) = ShopImport.Weeks(writtenOn, clock.GetCurrentInstant().InZone(store.Zone).Date);
        using var redemptionRows = new StreamReader(Open("redemptions.csv"), Encoding.UTF8);
        await promotions.AddRedemptions(
            ShopCsv
                .Redemptions(redemptionRows, store.Currency)
                .Select(row => (row.Promotion, row.Shopper, At: row.At + Duration.FromDays(past), row.Amount))
                .Select(row => (row.Promotion, row.Shopper, row.At, row.At.InZone(store.Zone).Date, row.Amount))
        );
        await Order(
            store,
            [.. archive.Shoppers!.Where(shopper => shopper.Groups.Contains(Workshops)).Select(shopper => shopper.Id)],
            [.. archive.Batches[0].Codes!.Where(code => !code.Void).Select(code => code.Code)]
        );
        return true;
    }

    // Orders of eight weeks, priced as all orders are, most by guests; some with a welcome card, some given back. Of the things one sees in
    // what they brought: a code that brought newcomers, a volume offer that lost money, a gift that ran out.
    private async Task Order(Store store, string[] workshops, string[] cards)
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
        var (newcomers, given) = (0, 0);
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
                // In the last three weeks the code of a card in parcels brought people who had never bought here.
                var isNew = card is null && number > Orders * 5 / 8 && random.Next(8) == 0;
                var isCrate = card is null && number > Orders / 2 && number % 45 == 11;
                if (isNew && !isCrate)
                    newcomers++;
                Line[] bought = [.. lines];
                if (isCrate)
                    bought = [new(ByTheCrate, UnitsInACrate * (1 + number % 2))];
                var cart = new Cart(
                    moments[number],
                    [.. bought],
                    Channel: random.Next(9) == 0 ? "shop-floor" : Cart.Web,
                    Method: "parcel",
                    Destination: new(Destinations[random.Next(Destinations.Length)]),
                    Shopper: isCrate ? new(workshops[number % workshops.Length], [Workshops])
                        : isNew ? new($"n{newcomers:D4}")
                        : null,
                    Codes: card is not null ? [card]
                        : isNew && !isCrate ? ["WELCOME10"]
                        : []
                );
                var priced = rulebook.Price(cart, new Dictionary<string, Usage> { [RanOut] = new(given) }, batchCodes: known);
                var gifts = priced.Applied.Count(outcome => outcome.Promotion.Id == RanOut);
                given += gifts;
                var used = priced.UsesUp();
                var order = new StoredOrder(
                    $"o{number + 1:D5}",
                    "taken",
                    moments[number].ToUnixTimeSeconds(),
                    LocalDatePattern.Iso.Format(moments[number].InZone(store.Zone).Date),
                    null,
                    1,
                    cart.Shopper?.Id,
                    false,
                    used.Total,
                    CartWriter.Of(cart, priced.Catalogue.Store.Currency).ToJsonString(),
                    StoreResult.Of(priced, wording, isOrder: true).ToJsonString(),
                    null,
                    0
                );
                // What was sold then is not in the stock as it is told.
                transaction.Place(order, used with { Units = [] }, OrderFigures.Of(priced));
                if (number % 20 == 7)
                {
                    transaction.Move(transaction.Find(order.Id)!, "givenBack");
                    given -= gifts;
                }
            }

            return 0;
        });
    }

    private static Dictionary<string, Func<Stream>> Files() =>
        typeof(DemoShop)
            .Assembly.GetManifestResourceNames()
            .Where(name => name.StartsWith(Folder, StringComparison.Ordinal) && ArchivePaths.IsOfShop(name[Folder.Length..]))
            .ToDictionary(name => name[Folder.Length..], name => (Func<Stream>)(() => Open(name[Folder.Length..])), StringComparer.Ordinal);

    private static Stream Open(string name) =>
        typeof(DemoShop).Assembly.GetManifestResourceStream(Folder + name)
        ?? throw new InvalidOperationException($"The demo shop's {name} did not travel with the program.");
}
