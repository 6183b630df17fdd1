using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>Adds a sheet up: lines, tax, totals.</summary>
internal static class Settlement
{
    /// <summary>The lines as priced.</summary>
    /// <param name="sheet">With the chosen promotions on it.</param>
    /// <param name="slots">The promotions by slot.</param>
    /// <param name="lowered">By slot, how many different units of the cart the promotion lowered: its rewards may lower a unit more than once.</param>
    public static IReadOnlyList<PricedLine> Lines(Sheet sheet, CompiledPromotion[] slots, Span<long> lowered)
    {
        var cart = sheet.Cart;
        var priced = new PricedLine[cart.Lines];
        var reductions = InOrder(sheet);
        for (int line = 0, next = 0; line < priced.Length; line++)
        {
            List<Part>? parts = null;
            long taken = 0;
            while (next < reductions.Length && reductions[next].Line == line)
            {
                var slot = reductions[next].Slot;
                long amount = 0, units = 0;
                for (var reached = 0; next < reductions.Length && reductions[next].Line == line && reductions[next].Slot == slot; next++)
                {
                    amount += reductions[next].Each * reductions[next].Count;
                    units += NewUnits(reductions[next], ref reached);
                }

                (parts ??= new(4)).Add(new(slots[slot].Promotion, amount, units));
                taken += amount;
                lowered[slot] += units;
            }

            var quantity = cart.Quantity(line);
            var goods = cart.Current(line) * quantity;
            var cost = cart.Prices.Cost(cart.Variant(line)) * quantity;
            priced[line] = new(
                cart.Cart.Lines[line].Sku,
                quantity,
                cart.Regular(line) * quantity,
                goods,
                goods - taken,
                cost,
                WithoutTax(goods - taken, cart.Catalogue.ProductOf(cart.Variant(line)).TaxClass, cart) - cost,
                parts ?? (IReadOnlyList<Part>)[]);
        }

        return priced;
    }

    public static IReadOnlyList<PricedGift> Gifts(Sheet sheet, CompiledPromotion[] slots)
    {
        var cart = sheet.Cart;
        return [.. sheet.Gifts.GroupBy(gift => (gift.Slot, gift.Variant)).Select(given =>
        {
            var (count, value, off) = (given.Sum(gift => gift.Count), given.Sum(gift => gift.Value * gift.Count), given.Sum(gift => gift.Off * gift.Count));
            var cost = cart.Prices.Cost(given.Key.Variant) * count;
            var net = value - off;
            return new PricedGift(
                slots[given.Key.Slot].Promotion,
                cart.Catalogue.Variant(given.Key.Variant).Sku,
                count,
                value,
                net,
                cost,
                WithoutTax(net, cart.Catalogue.ProductOf(given.Key.Variant).TaxClass, cart) - cost);
        })];
    }

    public static (Totals Totals, IReadOnlyList<TaxLine> Taxes) Totals(Sheet sheet, IReadOnlyList<PricedLine> lines, IReadOnlyList<PricedGift> gifts, Delivery delivery)
    {
        var cart = sheet.Cart;
        var store = cart.Catalogue.Store;
        var goods = lines.Sum(line => line.Goods);
        var discount = goods - lines.Sum(line => line.Net);
        var net = goods - discount + gifts.Sum(gift => gift.Net);
        var shippingDiscount = delivery.Charge - sheet.Shipping;
        var taxes = Taxes(lines, gifts, sheet.Shipping, cart, delivery);
        var tax = taxes.Sum(entry => entry.Tax);
        var total = net + sheet.Shipping + (store.Tax?.Mode == TaxMode.Exclusive ? tax : 0);
        // Not Sum: it passes over what is not known.
        var margin = lines.Aggregate((long?)0, (sum, line) => sum + line.Margin) + gifts.Aggregate((long?)0, (sum, gift) => sum + gift.Margin);
        return (
            new(
                Regular: lines.Sum(line => line.Regular),
                Goods: goods,
                Discount: discount,
                Net: net,
                GiftValue: gifts.Sum(gift => gift.Value),
                Shipping: delivery.Charge,
                ShippingDiscount: shippingDiscount,
                Tax: tax,
                Total: total,
                Credit: 0,
                Due: total,
                Margin: margin,
                Contribution: margin + WithoutTax(sheet.Shipping, store.Tax?.ShippingClass, cart) - delivery.Cost,
                Saving: discount + shippingDiscount + gifts.Sum(gift => gift.Value - gift.Net),
                Points: sheet.Total.Points,
                ShippingUnavailable: delivery.Unavailable),
            taxes);
    }

    /// <summary>What was taken by line, promotion and unit.</summary>
    private static ReadOnlySpan<Reduction> InOrder(Sheet sheet)
    {
        var reductions = sheet.Reductions;
        Span<int> next = sheet.Cart.Lines < 1_024 ? stackalloc int[sheet.Cart.Lines + 1] : new int[sheet.Cart.Lines + 1];
        next.Clear();
        foreach (var reduction in reductions) next[reduction.Line + 1]++;
        for (var line = 1; line < next.Length; line++) next[line] += next[line - 1];
        CollectionsMarshal.SetCount(sheet.Ordered, reductions.Length);
        var ordered = CollectionsMarshal.AsSpan(sheet.Ordered);
        foreach (var reduction in reductions) ordered[next[reduction.Line]++] = reduction;
        // Within a line little is out of order: only what acted in several stages.
        for (var i = 1; i < ordered.Length; i++)
        {
            var moved = ordered[i];
            var place = i;
            for (; place > 0 && ordered[place - 1].Line == moved.Line && (ordered[place - 1].Slot, ordered[place - 1].Start).CompareTo((moved.Slot, moved.Start)) > 0; place--) ordered[place] = ordered[place - 1];
            ordered[place] = moved;
        }

        return ordered;
    }

    private static long NewUnits(Reduction reduction, ref int reached)
    {
        var end = reduction.Start + reduction.Count;
        if (end <= reached) return 0;
        var units = end - Math.Max(reached, reduction.Start);
        reached = end;
        return units;
    }

    private static IReadOnlyList<TaxLine> Taxes(IReadOnlyList<PricedLine> lines, IReadOnlyList<PricedGift> gifts, long shipping, CartView cart, Delivery delivery)
    {
        if (cart.Catalogue.Store.Tax is not { Mode: not TaxMode.None } tax) return [];
        var bases = new Dictionary<string, long>(StringComparer.Ordinal);
        void Add(int variant, long net)
        {
            if (cart.Catalogue.ProductOf(variant).TaxClass is { } name) bases[name] = bases.GetValueOrDefault(name) + net;
        }

        for (var line = 0; line < lines.Count; line++) Add(cart.Variant(line), lines[line].Net);
        foreach (var gift in gifts) Add(cart.Catalogue.Find(gift.Sku), gift.Net);

        if (delivery.Method is not null && tax.ShippingClass is { } ofShipping) bases[ofShipping] = bases.GetValueOrDefault(ofShipping) + shipping;

        var rounding = cart.Catalogue.Store.Rounding;
        var taxes = new List<TaxLine>();
        foreach (var name in tax.Rates.Select(rate => rate.Class).Distinct())
        {
            if (!bases.TryGetValue(name, out var taxed) || RateFor(name, cart) is not { } percent) continue;
            taxes.Add(new(name, percent, taxed, tax.Mode == TaxMode.Inclusive ? percent.Within(taxed, rounding) : percent.Of(taxed, rounding)));
        }

        return taxes;
    }

    /// <summary>The rate of a class at the cart's destination: the most specific place wins. Null if there is none.</summary>
    private static Percent? RateFor(string name, CartView cart)
    {
        if (cart.Cart.Destination is not { } destination || cart.Catalogue.Store.Tax is not { } tax) return null;
        TaxRate? found = null;
        foreach (var rate in tax.Rates)
            if (rate.Class == name && rate.Place.Holds(destination) && (found is null || found.Place.Holds(rate.Place))) found = rate;
        return found?.Percent;
    }

    private static long WithoutTax(long amount, string? name, CartView cart) =>
        cart.Catalogue.Store.Tax?.Mode == TaxMode.Inclusive && name is not null && RateFor(name, cart) is { } percent
            ? percent.Without(amount, cart.Catalogue.Store.Rounding)
            : amount;
}
