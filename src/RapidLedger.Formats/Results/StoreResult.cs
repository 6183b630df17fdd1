using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// What a shop is told of a priced cart. It may end up on a page: only promotions that applied, codes that were entered, and what automatic
/// promotions lack, in the shopper's words; no reasons, names of the merchant, costs or margins.
/// </summary>
public static class StoreResult
{
    /// <summary>The result.</summary>
    /// <param name="priced">The cart.</param>
    /// <param name="wording">How it is said, in the cart's currency.</param>
    /// <param name="isOrder">It is ordered: what more in the cart would bring is not told any more.</param>
    /// <param name="withheld">Codes that were not looked at, because too many unknown ones were tried.</param>
    public static JsonObject Of(PricedCart priced, Wording wording, bool isOrder = false, IReadOnlyList<string>? withheld = null) =>
        JsonNode
            .Parse(
                ResultWriter.Document(writer =>
                    new PricedCartWriter(writer, priced, wording, isForMerchant: false).Write(isOrder, withheld)
                )
            )!
            .AsObject();

    /// <summary>What the shopper is shown and agrees to: an order is placed only if it still is so.</summary>
    public static JsonObject Shown(PricedCart priced)
    {
        string Money(long minor) => priced.Currency.Write(minor);
        return new()
        {
            ["total"] = Money(priced.Totals.Total),
            ["due"] = Money(priced.Totals.Due),
            ["credit"] = Money(priced.Totals.Credit),
            ["points"] = priced.Totals.Points,
            ["gifts"] = List(priced.Gifts, gift => new()
                {
                    ["promotion"] = gift.Promotion.Id,
                    ["sku"] = gift.Sku,
                    ["quantity"] = gift.Quantity,
                    ["net"] = Money(gift.Net),
                }),
            ["promotions"] = List(priced.Applied, outcome => new() { ["id"] = outcome.Promotion.Id, ["amount"] = Money(outcome.Amount) }),
            ["codes"] = List(priced.Codes.Where(code => code.Status == "applied"), code =>
            {
                var told = new JsonObject { ["code"] = code.Code };
                if (code.Paid is { } paid)
                    told["amount"] = Money(paid);
                return told;
            }),
        };
    }

    private static JsonArray List<T>(IEnumerable<T> items, Func<T, JsonObject> write) => new([.. items.Select(write)]);
}
