using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Selling;

/// <summary>What a shop can show.</summary>
/// <param name="Item">The item that was asked about, at its price now; null: none was.</param>
/// <param name="Offers">In order of application.</param>
internal sealed record ShopOffers(OfferedItem? Item, IReadOnlyList<Offer> Offers);

/// <summary>An item and what one of it costs.</summary>
/// <param name="Regular">Before any reduction.</param>
/// <param name="Price">Now, after reductions and markdowns.</param>
internal sealed record OfferedItem(string Sku, string Name, string Currency, string Regular, string Price);

/// <summary>Something a shop can show.</summary>
/// <param name="Label">What the shopper reads.</param>
/// <param name="Says">The offer in a sentence.</param>
/// <param name="Takes">What it takes, each a few words: from what amount or number, where, by which delivery, for whom.</param>
/// <param name="Code">Of an offer of today: the code that starts it; null: it starts by itself.</param>
/// <param name="Ends">When it ends, as an instant; null: it does not.</param>
/// <param name="EndsWords">The same in words.</param>
/// <param name="Prices">Beside an item: what 1, 2, 3 … of it cost with this offer and the markdowns alone; null: each costs the same as
/// now.</param>
internal sealed record Offer(
    string Promotion,
    string Label,
    string Says,
    IReadOnlyList<string> Takes,
    string? Code,
    string? Ends,
    string? EndsWords,
    IReadOnlyList<PriceOf>? Prices
);

/// <summary>What some units cost.</summary>
internal sealed record PriceOf(int Units, string Total, string Each);

/// <summary>What is asked of the offers.</summary>
/// <param name="Sku">Beside this item.</param>
/// <param name="Show">item, basket or today; none: item beside an item, else basket.</param>
/// <param name="Destination">Where it would go; none: the offer says where.</param>
/// <param name="Currency">What is paid in; none: amounts are in the base currency, and the offer says which.</param>
/// <param name="Language">The shopper's.</param>
/// <param name="Shopper">Who looks; only a server key may say so.</param>
/// <param name="At">At the counter: the bench clock.</param>
internal sealed record OfferWish(
    [FromQuery(Name = "sku")] string? Sku = null,
    [FromQuery(Name = "show")] string? Show = null,
    [FromQuery(Name = "destination")] string? Destination = null,
    [FromQuery(Name = "currency")] string? Currency = null,
    [FromQuery(Name = "language")] string? Language = null,
    [FromQuery(Name = "shopper")] string? Shopper = null,
    [FromQuery(Name = "at")] string? At = null
);

/// <summary>The offers that a shop can show beside an item, in the basket, or as those of today: open now, and for whoever asks.</summary>
internal static class OfferEndpoint
{
    private static readonly string[] Known = ["sku", "show", "destination", "currency", "language", "shopper", "at"];
    private static readonly int[] Told = [1, 2, 3, 4, 5, 6, 8, 10, 12, 20];

    public static Task<IResult> Find([AsParameters] OfferWish wish, OpenShop shop, IClock clock, StoreGate gate, HttpContext context) =>
        gate.Run(gone => Find(wish, shop, clock, context, gone), context);

    private static IResult Find(OfferWish wish, OpenShop shop, IClock clock, HttpContext context, CancellationToken gone)
    {
        var caller = StoreKeys.Of(context);
        if (Problem(wish, shop, caller, context) is { } problem)
            return Answers.Refused([problem]);
        var now = wish.At is { } at ? InstantPattern.ExtendedIso.Parse(at).Value : clock.GetCurrentInstant();
        var currency = wish.Currency is { } code ? Currency.Find(code)! : shop.Store.Currency;
        // What is known of a shopper is filled in as in any cart of theirs.
        var looker = wish.Shopper is { } id
            ? shop.ReadCart(
                new JsonObject
                {
                    ["lines"] = new JsonArray(),
                    ["shopper"] = new JsonObject { ["id"] = id },
                },
                now
            )
            : null;
        if (looker is { Problems: { Count: > 0 } unfit })
            return Answers.Refused(unfit);
        var asker = new OfferAsker(
            looker?.Value!.Shopper,
            looker is not null,
            wish.Destination is { } place ? Place.Find(place) : null,
            wish.Currency is null ? null : currency
        );
        var (wording, live, show) = (shop.WordingIn(currency).InLanguage(wish.Language), shop.Live.Rulebook, ShowingOf(wish));
        var beside = wish.Sku is null ? null : live.LookingAt(wish.Sku).Select(promotion => promotion.Id).ToHashSet(StringComparer.Ordinal);
        Cart CartOf(int units) =>
            new(
                now,
                [new Line(wish.Sku!, units)],
                wish.Currency is null ? null : currency,
                Destination: asker.Destination,
                Shopper: asker.Shopper
            );

        var offers = new List<Offer>();
        foreach (var promotion in live.Open(now, shop.UsageAt(now)))
        {
            gone.ThrowIfCancellationRequested();
            var starts = promotion.Trigger is null or { IsAutomatic: true };
            // A code is told only among the offers of today, where the promotion says so.
            var told =
                starts ? null
                : show == Showing.Today && promotion.Trigger!.Codes.Count > 0 ? Trigger.Normal(promotion.Trigger.Codes[0])
                : null;
            if ((!starts && told is null) || !promotion.ShownAt(show) || OfferTerms.Of(promotion, asker, wording) is not { } takes)
                continue;
            if (beside?.Contains(promotion.Id) == false)
                continue;
            var prices = beside is null ? null : Prices(live.Markdowns.With(promotion), CartOf, currency);
            var end = promotion.Window?.End;
            offers.Add(
                new(
                    promotion.Id,
                    wording.Label(promotion),
                    wording.Announce(promotion),
                    takes,
                    told,
                    end is { } last ? shop.Store.Zone.AtLeniently(last).ToInstant().ToString() : null,
                    end is { } ends ? wording.SayEnd(ends) : null,
                    prices
                )
            );
        }

        return Results.Ok(new ShopOffers(wish.Sku is null ? null : Item(wish.Sku, live.Markdowns.Price(CartOf(1)), wording), offers));
    }

    private static Problem? Problem(OfferWish wish, OpenShop shop, StoreCaller caller, HttpContext context)
    {
        if (context.Request.Query.Keys.FirstOrDefault(name => !Known.Contains(name)) is { } unknown)
            return new(
                $"/{unknown}",
                ProblemCode.UnknownName,
                $"'{unknown}' is not asked here; sku, show, destination, currency and language are."
            );
        if (wish.Show is not (null or "item" or "basket" or "today"))
            return new("/show", ProblemCode.UnknownValue, "Offers are shown at: item, basket or today.");
        if (wish.Sku is { } sku && shop.Catalogue.Find(sku) < 0)
            return new("/sku", ProblemCode.UnknownSku, $"There is no item {sku}.");
        if (wish.Destination is { } place && Place.Find(place) is null)
            return new(
                "/destination",
                ProblemCode.UnknownPlace,
                $"'{place}' is no country (ISO 3166-1) and no subdivision of one (ISO 3166-2)."
            );
        if (wish.Currency is { } currency && shop.Store.Currencies.All(known => known.Code != currency))
            return new("/currency", ProblemCode.UnknownCurrency, $"The store does not sell in {currency}.");
        if (wish.Shopper is not null && !caller.MayOrder)
            return new("/shopper", ProblemCode.NotAllowed, "Only a server key may say who looks.");
        if (wish.At is null)
            return null;
        if (caller.Kind != StoreCaller.Counter)
            return new("/at", ProblemCode.NotAllowed, "Offers of a shop are those of now. Leave 'at' away.");
        return InstantPattern.ExtendedIso.Parse(wish.At).Success
            ? null
            : new("/at", ProblemCode.NotAnInstant, $"'{wish.At}' is not a moment. Write 2027-03-05T09:00:00Z.");
    }

    private static Showing ShowingOf(OfferWish wish) =>
        wish.Show switch
        {
            "today" => Showing.Today,
            "item" => Showing.Item,
            "basket" => Showing.Basket,
            _ => wish.Sku is null ? Showing.Basket : Showing.Item,
        };

    private static OfferedItem Item(string sku, PricedCart one, Wording wording) =>
        new(sku, wording.Item(sku), one.Currency.Code, one.Currency.Write(one.Lines[0].Regular), one.Currency.Write(one.Lines[0].Goods));

    private static IReadOnlyList<PriceOf>? Prices(Rulebook rulebook, Func<int, Cart> cartOf, Currency currency)
    {
        var prices = Told.Select(units => (Units: units, rulebook.Price(cartOf(units)).Totals)).ToArray();
        // Where each costs the same, and as without the offer, there is nothing to say.
        if (prices.All(price => price.Totals.Net == prices[0].Totals.Net * price.Units) && prices[0].Totals.Net == prices[0].Totals.Goods)
            return null;
        return
        [
            .. prices.Select(price => new PriceOf(
                price.Units,
                currency.Write(price.Totals.Net),
                currency.Write(price.Totals.Net / price.Units)
            )),
        ];
    }
}
