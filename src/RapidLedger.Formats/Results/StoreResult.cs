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
    public static JsonObject Of(PricedCart priced, Wording wording, bool isOrder = false, IReadOnlyList<string>? withheld = null)
    {
        wording = wording.InLanguage(priced.Cart.Language).Knowing(priced.UsesOf);
        string Money(long minor) => priced.Currency.Write(minor);
        var totals = priced.Totals;
        var result = new JsonObject
        {
            ["currency"] = priced.Currency.Code,
            ["lines"] = List(priced.Lines, line => new()
                {
                    ["sku"] = line.Sku,
                    ["name"] = wording.Item(line.Sku),
                    ["quantity"] = line.Quantity,
                    ["regular"] = Money(line.Regular),
                    ["goods"] = Money(line.Goods),
                    ["net"] = Money(line.Net),
                    ["parts"] = List(line.Parts, part => new()
                        {
                            ["promotion"] = part.Promotion.Id,
                            ["label"] = wording.Label(part.Promotion),
                            ["amount"] = Money(part.Amount),
                        }),
                }),
            ["gifts"] = List(priced.Gifts, gift => new()
                {
                    ["promotion"] = gift.Promotion.Id,
                    ["label"] = wording.Label(gift.Promotion),
                    ["sku"] = gift.Sku,
                    ["name"] = wording.Item(gift.Sku),
                    ["quantity"] = gift.Quantity,
                    ["value"] = Money(gift.Value),
                    ["net"] = Money(gift.Net),
                }),
            ["promotions"] = List(priced.Applied, outcome =>
            {
                var told = new JsonObject
                {
                    ["id"] = outcome.Promotion.Id,
                    ["label"] = wording.Label(outcome.Promotion),
                    ["shopper"] = wording.Tell(outcome),
                    ["amount"] = Money(outcome.Amount),
                    ["units"] = outcome.Units,
                    ["from"] =
                        outcome.Promotion.Rewards is [Markdown] ? "goods"
                        : outcome.Promotion.Card is not null ? "credit"
                        : "order",
                };
                if (outcome.ToPick is { } toPick)
                    told["toPick"] = new JsonObject
                    {
                        ["units"] = toPick.Units,
                        ["items"] = List(toPick.Skus, sku => new() { ["sku"] = sku, ["name"] = wording.Item(sku) }),
                    };
                if (outcome.GiftOut)
                    told["giftOut"] = true;
                return told;
            }),
            ["codes"] = List(
                priced.Codes,
                code =>
                {
                    var told = new JsonObject
                    {
                        ["code"] = code.Code,
                        ["status"] = code.Status,
                        ["shopper"] = wording.Tell(code),
                    };
                    if (code is { Reason: null, Promotion: { } promotion })
                        told["promotion"] = promotion.Id;
                    if (code.Paid is { } paid)
                        told["amount"] = Money(paid);
                    return told;
                },
                (withheld ?? []).Select(code => new JsonObject
                {
                    ["code"] = code,
                    ["status"] = "tooMany",
                    ["shopper"] = wording.TellTooMany(),
                })
            ),
            ["totals"] = new JsonObject
            {
                ["regular"] = Money(totals.Regular),
                ["goods"] = Money(totals.Goods),
                ["discount"] = Money(totals.Discount),
                ["net"] = Money(totals.Net),
                ["giftValue"] = Money(totals.GiftValue),
                ["shipping"] = Money(totals.Shipping),
                ["shippingDiscount"] = Money(totals.ShippingDiscount),
                ["tax"] = Money(totals.Tax),
                ["total"] = Money(totals.Total),
                ["credit"] = Money(totals.Credit),
                ["due"] = Money(totals.Due),
                ["saving"] = Money(totals.Saving),
                ["points"] = totals.Points,
                ["shippingUnavailable"] = totals.ShippingUnavailable,
            },
            ["taxes"] = List(priced.Taxes, tax => new()
                {
                    ["class"] = tax.Class,
                    ["percent"] = tax.Percent.Value,
                    ["base"] = Money(tax.Base),
                    ["tax"] = Money(tax.Tax),
                }),
            ["proved"] = priced.Proved,
            ["nudges"] = List(
                (isOrder ? [] : priced.Nudges).Where(nudge => nudge.Promotion.Trigger is null or { IsAutomatic: true }),
                nudge =>
                    new()
                    {
                        ["promotion"] = nudge.Promotion.Id,
                        ["label"] = wording.Label(nudge.Promotion),
                        ["shopper"] = wording.Tell(nudge),
                        ["saves"] = Money(nudge.Saves),
                        ["measure"] = nudge.Measure == Measure.Spend ? "spend" : "quantity",
                        ["missing"] = nudge.Measure == Measure.Spend ? Money(nudge.Missing) : nudge.Missing,
                        ["add"] = List(nudge.Add, line => new()
                            {
                                ["sku"] = line.Sku,
                                ["name"] = wording.Item(line.Sku),
                                ["quantity"] = line.Quantity,
                            }),
                    }
            ),
            ["progress"] = List(isOrder ? [] : priced.Progress, progress => new()
                {
                    ["promotion"] = progress.Promotion.Id,
                    ["label"] = wording.Label(progress.Promotion),
                    ["measure"] = progress.Measure == Measure.Spend ? "spend" : "quantity",
                    ["at"] = Figure(progress, progress.At),
                    ["steps"] = List(progress.Steps, step => new()
                        {
                            ["from"] = Figure(progress, step.From),
                            ["reached"] = step.Reached,
                            ["shopper"] = progress.Tell(step, wording),
                        }),
                }),
        };
        return result;

        JsonNode Figure(Progress progress, long figure) => progress.Measure == Measure.Spend ? Money(figure) : figure;
    }

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

    private static JsonArray List<T>(IEnumerable<T> items, Func<T, JsonObject> write, IEnumerable<JsonObject>? more = null) =>
        new([.. items.Select(write), .. more ?? []]);
}
