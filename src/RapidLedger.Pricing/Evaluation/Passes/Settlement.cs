using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>Adds a sheet up: lines, gifts, tax, margin, totals.</summary>
internal sealed class Settlement
{
    private readonly List<Reduction> ordered = [];

    // By line: behind the last of its parts.
    private readonly List<int> partsUntil = [];

    // By line, and behind them by gift.
    private readonly List<long> nets = [];
    private readonly List<long> withoutTax = [];
    private readonly List<int> classes = [];
    private readonly List<SpreadRun> weights = [];
    private readonly List<SpreadShare> shares = [];

    // By tax class.
    private Percent?[] rates = [];

    /// <summary>Adds up.</summary>
    /// <param name="sheet">With the chosen promotions on it.</param>
    /// <param name="slots">The promotions by slot.</param>
    /// <param name="lowered">By slot, how many different units of the cart the promotion lowered: its rewards may lower a unit more than
    /// once.</param>
    /// <param name="delivery">Before any promotion.</param>
    public Settled Settle(Sheet sheet, CompiledPromotion[] slots, Span<long> lowered, Delivery delivery)
    {
        var cart = sheet.Cart;
        var given = Gifts(sheet);
        FindRates(cart);
        var lines = cart.Lines == 0 ? [] : new PricedLine[cart.Lines];
        nets.Clear();
        var parts = Parts(sheet, slots, lowered);
        foreach (var gift in given)
            nets.Add(gift.Value - gift.Off);
        FindClasses(cart, given);
        WithoutTax(cart);
        for (int line = 0, from = 0; line < lines.Length; from = partsUntil[line++])
        {
            var quantity = cart.Quantity(line);
            var cost = cart.Prices.Cost(cart.Variant(line)) * quantity;
            lines[line] = new(
                cart.Cart.Lines[line].Sku,
                quantity,
                cart.Regular(line) * quantity,
                cart.Current(line) * quantity,
                nets[line],
                withoutTax[line],
                cost,
                withoutTax[line] - cost,
                new(parts, from, partsUntil[line] - from)
            );
        }

        var gifts = given.Length == 0 ? [] : new PricedGift[given.Length];
        for (var i = 0; i < gifts.Length; i++)
        {
            var (slot, variant, count, value, off) = given[i];
            var cost = cart.Prices.Cost(variant) * count;
            gifts[i] = new(
                slots[slot].Promotion,
                cart.Catalogue.Variant(variant).Sku,
                count,
                value,
                value - off,
                withoutTax[lines.Length + i],
                cost,
                withoutTax[lines.Length + i] - cost
            );
        }

        var (totals, taxes) = Totals(sheet, lines, gifts, delivery);
        return new(lines, gifts, totals, taxes);
    }

    // One for each promotion and variant, in the order given, with sums in place of what one is worth.
    private static GivenUnits[] Gifts(Sheet sheet)
    {
        if (sheet.Gifts.Given.Length == 0)
            return [];
        var places = new Dictionary<(int, int), int>();
        var merged = new List<GivenUnits>();
        foreach (var gift in sheet.Gifts.Given)
        {
            if (!places.TryGetValue((gift.Slot, gift.Variant), out var place))
            {
                places.Add((gift.Slot, gift.Variant), place = merged.Count);
                merged.Add(new(gift.Slot, gift.Variant, 0, 0, 0));
            }

            var before = merged[place];
            merged[place] = before with
            {
                Count = before.Count + gift.Count,
                Value = before.Value + (gift.Value * gift.Count),
                Off = before.Off + (gift.Off * gift.Count),
            };
        }

        return [.. merged];
    }

    // What each promotion took from each line, line by line; with it the nets of the lines.
    private Part[] Parts(Sheet sheet, CompiledPromotion[] slots, Span<long> lowered)
    {
        var cart = sheet.Cart;
        var reductions = InOrder(sheet);
        var count = 0;
        for (var at = 0; at < reductions.Length; at++)
            if (at == 0 || reductions[at].Line != reductions[at - 1].Line || reductions[at].Slot != reductions[at - 1].Slot)
                count++;
        var parts = count == 0 ? [] : new Part[count];
        partsUntil.Clear();
        for (int line = 0, next = 0, place = 0; line < cart.Lines; line++)
        {
            long taken = 0;
            while (next < reductions.Length && reductions[next].Line == line)
            {
                var slot = reductions[next].Slot;
                long amount = 0,
                    units = 0;
                for (var reached = 0; next < reductions.Length; next++)
                {
                    ref readonly var reduction = ref reductions[next];
                    if (reduction.Line != line || reduction.Slot != slot)
                        break;
                    amount += reduction.Each * reduction.Count;
                    units += NewUnits(reduction, ref reached);
                }

                parts[place++] = new Part(slots[slot].Promotion, amount, units);
                taken += amount;
                lowered[slot] += units;
            }

            partsUntil.Add(place);
            nets.Add((cart.Current(line) * cart.Quantity(line)) - taken);
        }

        return parts;
    }

    private (Totals Totals, IReadOnlyList<TaxLine> Taxes) Totals(Sheet sheet, PricedLine[] lines, PricedGift[] gifts, Delivery delivery)
    {
        var cart = sheet.Cart;
        var store = cart.Catalogue.Store;
        long regular = 0,
            goods = 0,
            left = 0,
            giftValue = 0,
            giftNet = 0;
        // What is not known makes every sum with it unknown.
        long? margin = 0;
        foreach (var line in lines)
        {
            regular += line.Regular;
            goods += line.Goods;
            left += line.Net;
            margin += line.Margin;
        }

        foreach (var gift in gifts)
        {
            giftValue += gift.Value;
            giftNet += gift.Net;
            margin += gift.Margin;
        }

        var discount = goods - left;
        var net = left + giftNet;
        var shippingDiscount = delivery.Charge - sheet.Shipping;
        var ofShipping = store.Tax?.ShippingClass is { } name ? Array.IndexOf(cart.Catalogue.TaxClasses, name) : -1;
        var taxes = Taxes(cart, sheet.Shipping, delivery.Method is null ? -1 : ofShipping);
        long tax = 0;
        foreach (var entry in taxes)
            tax += entry.Tax;
        var total = net + sheet.Shipping + (store.Tax?.Mode == TaxMode.Exclusive ? tax : 0);
        var shippingWithoutTax =
            store.Tax?.Mode == TaxMode.Inclusive && ofShipping >= 0 && rates[ofShipping] is { } rate
                ? rate.Without(sheet.Shipping, store.Rounding)
                : sheet.Shipping;
        return (
            new(
                Regular: regular,
                Goods: goods,
                Discount: discount,
                Net: net,
                GiftValue: giftValue,
                Shipping: delivery.Charge,
                ShippingDiscount: shippingDiscount,
                Tax: tax,
                Total: total,
                Credit: 0,
                Due: total,
                Margin: margin,
                Contribution: margin + shippingWithoutTax - delivery.Cost,
                Saving: discount + shippingDiscount + giftValue - giftNet,
                Points: sheet.Total.Points,
                ShippingUnavailable: delivery.Unavailable
            ),
            taxes
        );
    }

    /// <summary>What was taken by line, promotion and unit.</summary>
    private ReadOnlySpan<Reduction> InOrder(Sheet sheet)
    {
        var reductions = sheet.Reductions;
        Span<int> next = sheet.Cart.Lines < 1_024 ? stackalloc int[sheet.Cart.Lines + 1] : new int[sheet.Cart.Lines + 1];
        next.Clear();
        foreach (ref readonly var reduction in reductions)
            next[reduction.Line + 1]++;
        for (var line = 1; line < next.Length; line++)
            next[line] += next[line - 1];
        CollectionsMarshal.SetCount(this.ordered, reductions.Length);
        var ordered = CollectionsMarshal.AsSpan(this.ordered);
        foreach (ref readonly var reduction in reductions)
            ordered[next[reduction.Line]++] = reduction;
        // Within a line little is out of order: only what acted in several stages.
        for (var i = 1; i < ordered.Length; i++)
        {
            if (!IsAfter(ordered[i - 1], ordered[i]))
                continue;
            var moved = ordered[i];
            var place = i;
            for (; place > 0 && IsAfter(ordered[place - 1], moved); place--)
                ordered[place] = ordered[place - 1];
            ordered[place] = moved;
        }

        return ordered;

        static bool IsAfter(in Reduction one, in Reduction other) =>
            one.Line == other.Line && (one.Slot != other.Slot ? one.Slot > other.Slot : one.Start > other.Start);
    }

    private static long NewUnits(in Reduction reduction, ref int reached)
    {
        var end = reduction.Start + reduction.Count;
        if (end <= reached)
            return 0;
        var units = end - Math.Max(reached, reduction.Start);
        reached = end;
        return units;
    }

    // The rate of each class at the cart's destination: the most specific place wins.
    private void FindRates(CartView cart)
    {
        var names = cart.Catalogue.TaxClasses;
        if (rates.Length != names.Length)
            rates = new Percent?[names.Length];
        for (var name = 0; name < names.Length; name++)
            rates[name] = cart.Catalogue.Store.Tax?.RateOf(names[name], cart.Cart.Destination);
    }

    private void FindClasses(CartView cart, GivenUnits[] gifts)
    {
        classes.Clear();
        for (var line = 0; line < cart.Lines; line++)
            classes.Add(cart.Catalogue.TaxClassOf(cart.Variant(line)));
        foreach (var gift in gifts)
            classes.Add(cart.Catalogue.TaxClassOf(gift.Variant));
    }

    /// <summary>
    /// With tax in the prices: what the lines and gifts of a class come to is freed of it together and rounded once, then spread over them,
    /// so that no total depends on how a quantity is split into lines.
    /// </summary>
    private void WithoutTax(CartView cart)
    {
        withoutTax.Clear();
        withoutTax.AddRange(nets);
        if (cart.Catalogue.Store.Tax?.Mode != TaxMode.Inclusive)
            return;
        for (var name = 0; name < rates.Length; name++)
        {
            if (rates[name] is not { } percent)
                continue;
            long sum = 0;
            weights.Clear();
            shares.Clear();
            for (var i = 0; i < classes.Count; i++)
            {
                if (classes[i] != name)
                    continue;
                sum += nets[i];
                weights.Add(new(nets[i], 1));
            }

            if (weights.Count == 0)
                continue;
            Spreading.Spread(percent.Without(sum, cart.Catalogue.Store.Rounding), CollectionsMarshal.AsSpan(weights), shares);
            for (int i = 0, next = 0; i < classes.Count; i++)
                if (classes[i] == name)
                    withoutTax[i] = shares[next++].Share;
        }
    }

    private IReadOnlyList<TaxLine> Taxes(CartView cart, long shipping, int ofShipping)
    {
        if (cart.Catalogue.Store.Tax is not { Mode: not TaxMode.None } tax)
            return [];
        Span<long> bases = rates.Length <= 64 ? stackalloc long[rates.Length] : new long[rates.Length];
        Span<bool> isThere = rates.Length <= 64 ? stackalloc bool[rates.Length] : new bool[rates.Length];
        bases.Clear();
        isThere.Clear();
        for (var i = 0; i < classes.Count; i++)
        {
            if (classes[i] < 0)
                continue;
            bases[classes[i]] += nets[i];
            isThere[classes[i]] = true;
        }

        if (ofShipping >= 0)
        {
            bases[ofShipping] += shipping;
            isThere[ofShipping] = true;
        }

        var rounding = cart.Catalogue.Store.Rounding;
        var taxes = new List<TaxLine>(1);
        for (var name = 0; name < rates.Length; name++)
            if (isThere[name] && rates[name] is { } percent)
                taxes.Add(
                    new(
                        cart.Catalogue.TaxClasses[name],
                        percent,
                        bases[name],
                        tax.Mode == TaxMode.Inclusive ? percent.Within(bases[name], rounding) : percent.Of(bases[name], rounding)
                    )
                );
        return taxes;
    }
}

/// <summary>What a cart comes to, before credits.</summary>
internal sealed record Settled(PricedLine[] Lines, PricedGift[] Gifts, Totals Totals, IReadOnlyList<TaxLine> Taxes);
