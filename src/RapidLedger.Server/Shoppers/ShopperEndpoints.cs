using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Goods;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shoppers;

/// <summary>A shopper as the merchant sees them. Where the program is served without a sign-in, the name is the id.</summary>
/// <param name="Language">What they read (BCP 47), if known.</param>
internal sealed record ShopperInfo(string Id, string Name, string[] Groups, long Orders, string Spent, string? Place, string? Language);

/// <summary>A group with how many are in it.</summary>
internal sealed record ShopperGroup(string Name, long Shoppers);

/// <summary>Some shoppers.</summary>
/// <param name="Shoppers">By name.</param>
/// <param name="Count">How many match.</param>
/// <param name="All">How many there are.</param>
/// <param name="Groups">The groups that there are, also those that nobody is in.</param>
internal sealed record ShopperPage(IReadOnlyList<ShopperInfo> Shoppers, long Count, long All, IReadOnlyList<ShopperGroup> Groups);

/// <summary>A promotion that is open to a shopper now.</summary>
/// <param name="Id">Which.</param>
/// <param name="Name">What the merchant calls it.</param>
/// <param name="Code">A code that it starts by; null: it starts by itself, or by a code of a batch.</param>
/// <param name="Takes">What it takes besides, in a shopper's words.</param>
/// <param name="Uses">How often they have used it.</param>
/// <param name="IsUsedUp">Whether that is as often as one shopper may.</param>
internal sealed record OpenPromotion(string Id, string Name, string? Code, IReadOnlyList<string> Takes, long Uses, bool IsUsedUp);

/// <summary>A change of a shopper.</summary>
internal sealed record ShopperChange(string What, string At);

/// <summary>A shopper with what is known of them.</summary>
/// <param name="Shopper">Who it is.</param>
/// <param name="Promotions">What they would get today.</param>
/// <param name="Changes">What changed of them, the last first.</param>
internal sealed record ShopperDetail(ShopperInfo Shopper, IReadOnlyList<OpenPromotion> Promotions, IReadOnlyList<ShopperChange> Changes);

/// <summary>Shoppers to be written: members that are left out stay as they are.</summary>
/// <param name="Shoppers">Each with its id, and name, groups, orders, spent, place or language.</param>
/// <param name="What">What is done, in words, for the history.</param>
internal sealed record WriteShoppersRequest(IReadOnlyList<JsonElement> Shoppers, string? What = null);

/// <summary>The shop's shoppers: looked at, written, and what they would get.</summary>
internal static class ShopperEndpoints
{
    private const int MostAtOnce = 500;
    private const int MostFound = 40;

    public static void MapShoppers(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/shoppers", (string? q, ShopRepository repository, OpenShop shop, Gatekeeper gate) =>
                repository.SearchShoppers(q?.Trim() ?? "", MostFound).Select(shopper => Info(shopper, shop, gate)).ToArray()
            )
            .Says("shoppers", "shoppers", "Shoppers by name, id or group, for a choice");
        routes
            .MapGet("/api/shoppers/page", Page)
            .Produces<ShopperPage>()
            .Refuses(400, 422)
            .Says("shopperPage", "shoppers", "Shoppers as the merchant sees them");
        routes
            .MapGet("/api/shoppers/{id}", Detail)
            .Produces<ShopperDetail>()
            .Refuses(404)
            .Says("shopper", "shoppers", "A shopper, and what they would get today");
        routes
            .MapPost("/api/shoppers", Write)
            .Produces<GoodsWritten>()
            .Refuses(400, 413, 415, 422, 503)
            .Says("writeShoppers", "shoppers", "Put shoppers in, or change them");
    }

    private static IResult Page(string? q, string? group, int? from, int? take, ShopRepository repository, OpenShop shop, Gatekeeper gate)
    {
        if (take is < 1 or > MostAtOnce)
            return Answers.Refused("/take", ProblemCode.OutOfRange, $"From 1 to {MostAtOnce} shoppers are given at once.");
        var (found, count, all) = repository.Shoppers(q?.Trim() ?? "", group ?? "", Math.Max(0, from ?? 0), take ?? 100);
        var groups = repository.GroupSizes();
        return Results.Ok(
            new ShopperPage(
                [.. found.Select(shopper => Info(shopper, shop, gate))],
                count,
                all,
                [
                    .. shop
                        .Settings.Groups.Union(groups.Keys, StringComparer.Ordinal)
                        .Select(name => new ShopperGroup(name, groups.GetValueOrDefault(name))),
                ]
            )
        );
    }

    private static IResult Detail(
        string id,
        ShopRepository repository,
        OpenShop shop,
        StepRepository steps,
        OrderRepository orders,
        Gatekeeper gate,
        IClock clock
    )
    {
        if (repository.FindShopper(id) is not { } stored)
            return Answers.NotFound(ProblemCode.UnknownName, $"There is no shopper {id}.");
        var now = clock.GetCurrentInstant();
        var cart = new JsonObject
        {
            ["lines"] = new JsonArray(),
            ["shopper"] = new JsonObject { ["id"] = id },
        };
        var asker = new OfferAsker(
            shop.ReadCart(cart, now).Value?.Shopper,
            true,
            stored.Place is { } place ? Place.Find(place) : null,
            null
        );
        var uses = orders.Read(transaction => transaction.UsesBy(id)).ToDictionary(use => use.Promotion, use => use.Uses);
        return Results.Ok(
            new ShopperDetail(
                Info(stored, shop, gate),
                [
                    .. shop
                        .Live.Rulebook.Open(now, shop.UsageAt(now))
                        .Select(promotion => (promotion, Takes: OfferTerms.Of(promotion, asker, shop.Wording)))
                        .Where(one => one.Takes is not null)
                        .Select(one => new OpenPromotion(
                            one.promotion.Id,
                            one.promotion.Named,
                            one.promotion.Trigger is { IsAutomatic: false, Codes: { Count: > 0 } codes } ? codes[0] : null,
                            one.Takes!,
                            uses.GetValueOrDefault(one.promotion.Id),
                            one.promotion.Limits?.PerShopper is { } most && uses.GetValueOrDefault(one.promotion.Id) >= most
                        )),
                ],
                [.. steps.ChangesOf("shopper", id).Select(change => new ShopperChange(change.What, change.At))]
            )
        );
    }

    private static async Task<IResult> Write(WriteShoppersRequest request, GoodsWriter goods, OpenShop shop)
    {
        if (request.Shoppers.Count is 0 or > MostAtOnce)
            return Answers.Refused("/shoppers", ProblemCode.OutOfRange, $"From 1 to {MostAtOnce} shoppers are written at once.");
        var lines = new ShopperLines(shop.Setup, isTyped: true);
        for (var place = 0; place < request.Shoppers.Count; place++)
            if (request.Shoppers[place].ValueKind == JsonValueKind.Object)
                lines.Add(new(place + 1, JsonObject.Create(request.Shoppers[place])!));
            else
                return Answers.Refused($"/shoppers/{place}", ProblemCode.WrongType, "A shopper is expected here.");
        var (outcome, bad) = await goods.Write(StepSource.App, request.What ?? $"{request.Shoppers.Count} shoppers changed", lines);
        return bad.Count > 0
            ? Answers.Refused([.. bad.Select(one => new Problem($"/shoppers/{one.Line - 1}/{one.Member}", one.Code, one.Message))])
            : Results.Ok(new GoodsWritten(outcome.Number, outcome.Changed, []));
    }

    // Whoever gets here without a sign-in gets no names.
    private static ShopperInfo Info(StoredShopper shopper, OpenShop shop, Gatekeeper gate) =>
        new(
            shopper.Id,
            gate.IsPrivate ? shopper.Name : shopper.Id,
            shopper.InGroups,
            shopper.Orders,
            shop.Store.Currency.Write(shopper.Spent),
            shopper.Place,
            shopper.Language
        );
}
