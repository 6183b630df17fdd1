using System.Text.Json.Nodes;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Takings;

/// <summary>
/// Figures of an order that was placed before they were kept: its net from its taxes, what was given from its parts; what it cost is not
/// known.
/// </summary>
internal static class OlderOrder
{
    /// <summary>The figures.</summary>
    /// <param name="order">The order.</param>
    /// <param name="catalogue">
    /// The goods and the store as they are now: by their classes tax is told apart, by its rates it is converted.
    /// </param>
    public static OrderFigures Figures(StoredOrder order, CatalogueIndex catalogue)
    {
        var store = catalogue.Store;
        var result = JsonNode.Parse(order.Result)!.AsObject();
        var currency = Currency.Find((string?)result["currency"] ?? "") ?? store.Currency;
        long Minor(JsonNode? amount) =>
            amount is JsonValue value && value.TryGetValue<string>(out var text) && currency.Read(text, out var minor) == AmountFault.None
                ? minor
                : 0;
        var totals = result["totals"];
        var charge = Minor(totals?["shipping"]) - Minor(totals?["shippingDiscount"]);
        var (net, total) = (Minor(totals?["net"]), Minor(totals?["total"]));
        JsonNode[] lines = [.. List(result["lines"]), .. List(result["gifts"])];
        long[] nets = [.. lines.Select(line => Minor(line["net"]))];
        // With tax in the prices the total is net and delivery alone.
        var isInclusive = total == net + charge;
        var tax = isInclusive
            ? List(result["taxes"]).Sum(entry => Minor(entry["tax"])) - TaxOfDelivery(List(result["taxes"]), charge, store)
            : 0;
        var percents = List(result["taxes"])
            .Where(entry => entry["class"] is not null && entry["percent"] is JsonValue)
            .ToDictionary(entry => (string)entry["class"]!, entry => Percent.From(entry["percent"]!.GetValue<decimal>()));
        long Untaxed(JsonNode line, long amount) =>
            isInclusive
            && catalogue.Find((string?)line["sku"] ?? "") is >= 0 and var number
            && catalogue.ProductOf(number).TaxClass is { } name
            && percents.GetValueOrDefault(name) is { } percent
                ? percent.Without(amount, store.Rounding)
                : amount;
        var withoutTax = Spreading.Over(Math.Max(0, nets.Sum() - tax), [.. lines.Select((line, place) => Untaxed(line, nets[place]))]);
        var inBase = Spreading.Over(InBase(withoutTax.Sum()), withoutTax);

        var delivery = new List<PromotionAmount>();
        var (applied, paid) = (new List<string>(), new List<PromotionAmount>());
        var parts = lines.Select(_ => new List<PartFigures>()).ToArray();
        foreach (var promotion in List(result["promotions"]))
        {
            var (id, amount) = ((string)promotion["id"]!, Minor(promotion["amount"]));
            if ((string?)promotion["from"] == "credit")
            {
                paid.Add(new(id, new(amount, InBase(amount))));
                continue;
            }

            applied.Add(id);
            var own = lines.Select((line, place) => (place, Amount: Given(line, id))).Where(part => part.Amount > 0).ToArray();
            // Of a markdown it is not told from which lines: from those that were reduced no further, it is spread over all.
            if ((string?)promotion["from"] == "goods")
                own = [.. Spreading.Over(amount, nets).Select((share, place) => (place, share)).Where(part => part.share > 0)];
            long[] amounts = [.. own.Select(part => part.Amount)];
            var given = Spreading.Over(InBase(amounts.Sum()), amounts);
            for (var i = 0; i < own.Length; i++)
                parts[own[i].place].Add(new(id, new(amounts[i], given[i]), Untaxed(lines[own[i].place], given[i]), 0));
            if (amount - amounts.Sum() is > 0 and var off)
                delivery.Add(new(id, new(off, InBase(off))));
        }

        return new(
            [
                .. lines.Select(
                    (line, place) =>
                        new LineFigures(
                            (string?)line["sku"] ?? "",
                            Math.Max(1, (long?)line["quantity"] ?? 1),
                            new(withoutTax[place], inBase[place]),
                            null,
                            parts[place]
                        )
                ),
            ],
            applied,
            delivery,
            paid,
            total,
            Minor(totals?["credit"])
        );

        long Given(JsonNode line, string id) =>
            List(line["parts"]).Where(part => (string?)part["promotion"] == id).Sum(part => Minor(part["amount"]))
            + ((string?)line["promotion"] == id ? Minor(line["value"]) - Minor(line["net"]) : 0);

        long InBase(long minor) => store.RateTo(currency) is null ? minor : store.InBase(minor, currency, Rounding.HalfUp);
    }

    private static long TaxOfDelivery(IEnumerable<JsonNode> taxes, long charge, Store store) =>
        store.Tax?.ShippingClass is { } name
        && taxes.FirstOrDefault(entry => (string?)entry["class"] == name)?["percent"] is JsonValue written
        && written.TryGetValue<decimal>(out var value)
        && Percent.From(value) is { } percent
            ? percent.Within(charge, store.Rounding)
            : 0;

    private static IEnumerable<JsonNode> List(JsonNode? node) => (node as JsonArray ?? []).Where(one => one is not null)!;
}
