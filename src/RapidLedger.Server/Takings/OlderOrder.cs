using RapidLedger.Formats;
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
        var result = KeptResult.Read(order.Result, store.Currency);
        var lines = result.Lines;
        long[] nets = [.. lines.Select(line => line.Net)];
        var isInclusive = result.TaxOnTop == 0;
        var tax = isInclusive ? result.Taxes.Sum(one => one.Tax) - TaxOfDelivery(result, store) : 0;
        long Untaxed(KeptLine line, long amount) =>
            isInclusive
            && catalogue.Find(line.Sku) is >= 0 and var number
            && catalogue.ProductOf(number).TaxClass is { } name
            && result.RateOf(name) is { } rate
                ? rate.Without(amount, store.Rounding)
                : amount;
        var withoutTax = Spreading.Over(Math.Max(0, nets.Sum() - tax), [.. lines.Select(line => Untaxed(line, line.Net))]);
        var inBase = Spreading.Over(InBase(withoutTax.Sum()), withoutTax);

        var delivery = new List<PromotionAmount>();
        var (applied, paid) = (new List<string>(), new List<PromotionAmount>());
        var parts = lines.Select(_ => new List<PartFigures>()).ToArray();
        foreach (var (id, from, amount) in result.Promotions)
        {
            if (from == "credit")
            {
                paid.Add(new(id, new(amount, InBase(amount))));
                continue;
            }

            applied.Add(id);
            var own = lines
                .Select((line, place) => (place, Amount: line.Parts.Where(part => part.Promotion == id).Sum(part => part.Amount)))
                .Where(part => part.Amount > 0)
                .ToArray();
            // Of a markdown it is not told from which lines: from those that were reduced no further, it is spread over all.
            if (from == "goods")
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
                    (line, place) => new LineFigures(line.Sku, line.Units, new(withoutTax[place], inBase[place]), null, parts[place])
                ),
            ],
            applied,
            delivery,
            paid,
            result.Total,
            result.Credit
        );

        long InBase(long minor) => store.RateTo(result.Currency) is null ? minor : store.InBase(minor, result.Currency, Rounding.HalfUp);
    }

    private static long TaxOfDelivery(KeptResult result, Store store) =>
        store.Tax?.ShippingClass is { } name && result.RateOf(name) is { } rate ? rate.Within(result.Delivery, store.Rounding) : 0;
}
