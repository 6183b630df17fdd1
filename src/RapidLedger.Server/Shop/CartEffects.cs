using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>What a change would do to a promotion or a cart.</summary>
/// <param name="Id">Which; empty: none in particular.</param>
/// <param name="Name">What people call it.</param>
/// <param name="What">What would be different, in a sentence.</param>
internal sealed record Effect(string Id, string Name, string What);

/// <summary>Which carts come out different when the shop is priced as it will be, beside as it is.</summary>
internal static class CartEffects
{
    /// <summary>The carts whose total is another one, or that cannot be priced any more.</summary>
    /// <param name="carts">The carts, as in a case.</param>
    /// <param name="then">What will be live, over what goods and settings will be.</param>
    /// <param name="wording">How amounts are written then.</param>
    /// <param name="shop">The shop as it is.</param>
    /// <param name="now">When they are priced, if they do not say so themselves.</param>
    /// <param name="effort">How much work may be put into a choice then; null: as much as now.</param>
    public static IEnumerable<Effect> Of(
        IEnumerable<StoredCart> carts,
        Rulebook then,
        Wording wording,
        OpenShop shop,
        Instant now,
        int? effort = null
    )
    {
        var live = shop.Live;
        foreach (var stored in carts)
        {
            if (JsonNode.Parse(stored.Document) is not JsonObject document || shop.ReadCart(document, now).Value is not { } cart)
                continue;
            var before = shop.ContextOf(cart, live.Rulebook.Givable).Price(live.Rulebook, cart, default);
            var read = Formats.CaseReader.ReadCart(JsonSerializer.SerializeToUtf8Bytes(document), then.Catalogue, shop.Ids);
            if (read.Value is not { } cartThen)
            {
                yield return new(stored.Id, stored.Name, $"It cannot be priced any more: {read.Problems[0].Message}");
                continue;
            }

            var after = shop.ContextOf(cartThen, then.Givable, effort: effort).Price(then, cartThen, default);
            var (was, becomes) = (Say(before, shop.Wording), Say(after, wording));
            if (was != becomes)
                yield return new(stored.Id, stored.Name, $"{was} becomes {becomes}.");
        }
    }

    private static string Say(PricedCart priced, Wording wording) => wording.Say(priced.Totals.Total, priced.Currency);
}
