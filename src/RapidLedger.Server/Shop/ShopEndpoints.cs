using System.Text.Json;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

internal sealed record MethodInfo(string Id, string Name);

internal sealed record SampleCart(string Id, string Name, string? Who, JsonElement Cart);

internal sealed record EditionInfo(long Number, string PublishedAt)
{
    /// <summary>The newest one; null: nothing was ever published.</summary>
    public static EditionInfo? Newest(PromotionRepository promotions) =>
        promotions.NewestEdition() is { } edition ? new(edition.Number, edition.PublishedAt) : null;
}

/// <summary>What is live, asked for again and again.</summary>
/// <param name="Stamp">Changes whenever anything was written.</param>
/// <param name="Edition">The newest edition; null: nothing was ever published.</param>
/// <param name="Drafts">How many promotions have a draft.</param>
/// <param name="Uses">Changes whenever something is used up, given back or made void.</param>
/// <param name="Goods">Changes whenever goods change.</param>
/// <param name="Settings">Changes whenever settings change.</param>
internal sealed record NowLive(long Stamp, EditionInfo? Edition, int Drafts, long Uses, long Goods, long Settings)
{
    public static NowLive Of(Database database, PromotionRepository promotions, OpenShop shop) =>
        new(
            database.Stamp(),
            EditionInfo.Newest(promotions),
            shop.Drafts,
            promotions.Uses(),
            shop.Setup.Numbers.Goods,
            shop.Setup.Numbers.Settings
        );
}

/// <param name="IsThere">Whether the file holds a shop; else it is to be opened.</param>
/// <param name="IsDemo">Whether it is the shop that ships with the program.</param>
/// <param name="Link">The form of links that carry a code; null: they lead to the counter.</param>
/// <param name="Taxed">inclusive or exclusive; null: it knows no tax.</param>
internal sealed record ShopInfo(
    bool IsThere,
    bool IsDemo,
    string Name,
    string Locale,
    string TimeZone,
    string Currency,
    IReadOnlyList<CurrencyInfo> Currencies,
    string[] Channels,
    string[] Groups,
    NamedPlace[] Places,
    IReadOnlyList<MethodInfo> Methods,
    IReadOnlyList<string> Families,
    IReadOnlyList<string> Languages,
    IReadOnlyList<SampleCart> Samples,
    decimal? MarginFloor,
    string? Link,
    string? Taxed,
    bool DemoClock,
    bool Unprotected,
    string Now
);

/// <summary>An amount in a currency.</summary>
internal sealed record CurrencyAmount(string Currency, string Amount);

internal sealed record CurrencyInfo(string Code, int Exponent);

/// <summary>What the pages need to know of the shop.</summary>
internal static class ShopEndpoints
{
    public static void MapShop(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/api/shop", Describe).Says("shop", "shop", "The shop's settings, as its pages need them");
        routes
            .MapGet("/api/edition", (Database database, PromotionRepository promotions, OpenShop shop) =>
                NowLive.Of(database, promotions, shop)
            )
            .Says("edition", "editions", "The edition that is live now");
        routes
            .MapGet("/api/amounts", (string amount, OpenShop shop) =>
            {
                var reading = CaseReader.ReadAmount(System.Text.Json.JsonSerializer.SerializeToUtf8Bytes(amount), shop.Store);
                return reading.Value is { } read
                    ? Results.Ok(
                        shop.Store.Currencies.Select(currency => new CurrencyAmount(
                                currency.Code,
                                currency.Write(read.For(currency, shop.Store)!.Value)
                            ))
                            .ToArray()
                    )
                    : Answers.Refused([.. reading.Problems.Select(problem => problem with { At = "/amount" })]);
            })
            .Produces<CurrencyAmount[]>()
            .Refuses(422)
            .Says("amounts", "shop", "An amount in every currency of the store");
    }

    private static ShopInfo Describe(OpenShop shop, ShopRepository repository, ProgramClock clock, Gatekeeper gate) =>
        new(
            shop.Setup.IsThere,
            shop.Settings.IsDemo,
            shop.Settings.Name,
            shop.Settings.Locale,
            shop.Store.Zone.Id,
            shop.Store.Currency.Code,
            [.. shop.Store.Currencies.Select(currency => new CurrencyInfo(currency.Code, currency.Exponent))],
            shop.Settings.Channels,
            shop.Settings.Groups,
            shop.Settings.Places,
            [.. shop.Store.Shipping.Select(method => new MethodInfo(method.Id, method.Name))],
            [.. shop.Store.Families.Select(family => family.Name)],
            [.. Wording.Languages],
            [.. shop.SampleCarts.Select(cart => Sample(cart, repository))],
            shop.Store.MarginFloor?.Value,
            shop.Settings.Link,
            shop.Store.Tax?.Mode.ToString().ToLowerInvariant(),
            clock.Stands,
            !gate.IsPrivate,
            clock.GetCurrentInstant().ToString()
        );

    private static SampleCart Sample(StoredCart stored, ShopRepository repository)
    {
        var cart = JsonDocument.Parse(stored.Document).RootElement;
        var who =
            cart.TryGetProperty("shopper", out var shopper) && shopper.TryGetProperty("id", out var id)
                ? repository.FindShopper(id.GetString()!)?.Name
                : null;
        return new(stored.Id, stored.Name, who, cart);
    }
}
