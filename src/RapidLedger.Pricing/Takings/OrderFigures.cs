namespace RapidLedger.Pricing;

/// <summary>
/// An amount of an order in its own currency and in the store's, both in minor units; it was converted once, when it was placed.
/// </summary>
public readonly record struct BothAmounts(long Own, long InBase);

/// <summary>What a promotion took from a line, or gave.</summary>
/// <param name="Promotion">Its id.</param>
/// <param name="Given">As the shopper saw it: with tax where prices include it.</param>
/// <param name="WithoutTax">The same without tax, at the order's rate, in the base currency.</param>
/// <param name="Units">How many of the line's units it lowered or gave.</param>
public sealed record PartFigures(string Promotion, BothAmounts Given, long WithoutTax, long Units);

/// <summary>A line or a gift of an order.</summary>
/// <param name="Sku">What it holds.</param>
/// <param name="Quantity">Units, above zero.</param>
/// <param name="Net">What was paid for it, without tax.</param>
/// <param name="Cost">What it cost the shop then, in the base currency; null: not known.</param>
/// <param name="Parts">What each promotion took from it.</param>
public sealed record LineFigures(string Sku, long Quantity, BothAmounts Net, long? Cost, IReadOnlyList<PartFigures> Parts);

/// <summary>An amount that is a promotion's alone: taken off delivery, or paid by a credit.</summary>
/// <param name="Promotion">Its id.</param>
/// <param name="Amount">How much.</param>
public sealed record PromotionAmount(string Promotion, BothAmounts Amount);

/// <summary>
/// What is kept of an order so that it can be told later what it brought: net, cost and shares as they were. No later price list, rate or
/// tax
/// changes them.
/// </summary>
/// <param name="Lines">Its lines, then its gifts.</param>
/// <param name="Promotions">Every promotion that applied, credits apart.</param>
/// <param name="Delivery">What promotions took off delivery.</param>
/// <param name="Paid">What credits paid, in the order in which they did.</param>
/// <param name="Total">What the order came to, in its own currency.</param>
/// <param name="Credit">What credits paid of that.</param>
public sealed record OrderFigures(
    IReadOnlyList<LineFigures> Lines,
    IReadOnlyList<string> Promotions,
    IReadOnlyList<PromotionAmount> Delivery,
    IReadOnlyList<PromotionAmount> Paid,
    long Total,
    long Credit
)
{
    /// <summary>The figures of a cart that is being ordered.</summary>
    public static OrderFigures Of(PricedCart priced)
    {
        var (store, catalogue) = (priced.Catalogue.Store, priced.Catalogue);
        var (currency, tax) = (priced.Currency, store.Tax);
        var used = priced.UsesUp();
        string[] units = [.. priced.Lines.Select(line => line.Sku), .. priced.Gifts.Select(gift => gift.Sku)];
        int[] variants = [.. units.Select(catalogue.Find)];
        long[] nets = [.. priced.Lines.Select(line => line.WithoutTax), .. priced.Gifts.Select(gift => gift.WithoutTax)];
        var netsInBase = Spreading.Over(InBase(nets.Sum()), nets);

        // What each took, line by line: of markdowns against the catalogue's prices.
        List<(int Line, string Promotion, long Amount, long Units)> parts =
        [
            .. priced.MarkedDown.Select(part => (part.Line, part.Promotion.Id, part.Amount, part.Units)),
            .. priced.Lines.SelectMany((line, place) => line.Parts.Select(part => (place, part.Promotion.Id, part.Amount, part.Units))),
            .. priced.Gifts.Select((gift, place) => (priced.Lines.Count + place, gift.Promotion.Id, gift.Value - gift.Net, gift.Quantity)),
        ];
        var byLine = new List<PartFigures>[units.Length];
        for (var line = 0; line < units.Length; line++)
            byLine[line] = [];
        foreach (var group in parts.GroupBy(part => part.Promotion, StringComparer.Ordinal))
        {
            (int Line, string Promotion, long Amount, long Units)[] own = [.. group];
            long[] amounts = [.. own.Select(part => part.Amount)];
            var given = Spreading.Over(InBase(amounts.Sum()), amounts);
            // By class the sum is freed of its tax and rounded once.
            var untaxed = own.GroupBy(part => catalogue.ProductOf(variants[part.Line]).TaxClass)
                .Sum(ofClass =>
                {
                    var sum = ofClass.Sum(part => part.Amount);
                    return tax is { Mode: TaxMode.Inclusive } && tax.RateOf(ofClass.Key, priced.Cart.Destination) is { } rate
                        ? rate.Without(sum, store.Rounding)
                        : sum;
                });
            var withoutTax = Spreading.Over(InBase(untaxed), amounts);
            for (var i = 0; i < own.Length; i++)
                byLine[own[i].Line].Add(new(group.Key, new(amounts[i], given[i]), withoutTax[i], own[i].Units));
        }

        var costs = catalogue.PricesIn(store.Currency);
        long Quantity(int line) =>
            line < priced.Lines.Count ? priced.Lines[line].Quantity : priced.Gifts[line - priced.Lines.Count].Quantity;
        return new(
            [
                .. units.Select(
                    (sku, line) =>
                        new LineFigures(
                            sku,
                            Quantity(line),
                            new(nets[line], netsInBase[line]),
                            costs.Cost(variants[line]) * Quantity(line),
                            byLine[line]
                        )
                ),
            ],
            [
                .. used
                    .Promotions.Select(use => use.Promotion)
                    .Except(priced.Applied.Where(IsCredit).Select(outcome => outcome.Promotion.Id)),
            ],
            [
                .. priced
                    .Applied.Where(outcome => !IsCredit(outcome))
                    .Select(outcome =>
                        (
                            outcome.Promotion.Id,
                            Off: outcome.Amount - parts.Where(part => part.Promotion == outcome.Promotion.Id).Sum(part => part.Amount)
                        )
                    )
                    .Where(entry => entry.Off > 0)
                    .Select(entry => new PromotionAmount(entry.Id, Both(entry.Off))),
            ],
            [.. used.Payments.Select(payment => new PromotionAmount(payment.Promotion, Both(payment.Paid)))],
            priced.Totals.Total,
            priced.Totals.Credit
        );

        BothAmounts Both(long minor) => new(minor, InBase(minor));

        // Half away from zero, whatever prices are rounded by.
        long InBase(long minor) => store.InBase(minor, currency, Rounding.HalfUp);

        static bool IsCredit(Outcome outcome) => outcome.Promotion.Card is not null;
    }
}
