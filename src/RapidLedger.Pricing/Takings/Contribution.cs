namespace RapidLedger.Pricing;

/// <summary>Figures that are added up: of an order, of a day, of a stretch. Amounts in minor units of the base currency.</summary>
/// <param name="Orders">Orders.</param>
/// <param name="Units">Units lowered or given; of all orders, units sold and given.</param>
/// <param name="Takings">Net of goods and gifts after all reductions, without tax and delivery.</param>
/// <param name="Given">What was given as shoppers saw it, without delivery.</param>
/// <param name="GivenDelivery">What was taken off delivery.</param>
/// <param name="GivenWithoutTax">What was given, without tax.</param>
/// <param name="Paid">What credits paid.</param>
/// <param name="MarginOf">The takings of the orders whose costs are all known.</param>
/// <param name="Cost">What those cost.</param>
/// <param name="NewShoppers">Orders of signed-in shoppers who had none before.</param>
/// <param name="Guests">Orders of guests, who are never new.</param>
public readonly record struct Contribution(
    long Orders,
    long Units,
    long Takings,
    long Given,
    long GivenDelivery,
    long GivenWithoutTax,
    long Paid,
    long MarginOf,
    long Cost,
    long NewShoppers,
    long Guests
)
{
    /// <summary>The name of the row of all orders.</summary>
    public const string All = "*";

    /// <summary>The name of the row of orders without any promotion.</summary>
    public const string Without = "-";

    /// <summary>What is left of <see cref="MarginOf"/> after cost.</summary>
    public long Margin => MarginOf - Cost;

    /// <summary>Takings by orders, half up; null: there are none.</summary>
    public long? AverageOrder => Orders > 0 ? Rounding.HalfUp.Quotient(Takings, Orders) : null;

    /// <summary>Adds two.</summary>
    public static Contribution operator +(Contribution one, Contribution other) =>
        new(
            one.Orders + other.Orders,
            one.Units + other.Units,
            one.Takings + other.Takings,
            one.Given + other.Given,
            one.GivenDelivery + other.GivenDelivery,
            one.GivenWithoutTax + other.GivenWithoutTax,
            one.Paid + other.Paid,
            one.MarginOf + other.MarginOf,
            one.Cost + other.Cost,
            one.NewShoppers + other.NewShoppers,
            one.Guests + other.Guests
        );

    /// <summary>Takes one from another.</summary>
    public static Contribution operator -(Contribution one, Contribution other) =>
        one
        + new Contribution(
            -other.Orders,
            -other.Units,
            -other.Takings,
            -other.Given,
            -other.GivenDelivery,
            -other.GivenWithoutTax,
            -other.Paid,
            -other.MarginOf,
            -other.Cost,
            -other.NewShoppers,
            -other.Guests
        );

    /// <summary>What an order adds to each of its items: of one promotion those that it touched, of all orders every one.</summary>
    /// <param name="order">The order.</param>
    /// <param name="returned">Units given back by line, gifts after the others; null: none.</param>
    /// <param name="promotion">Its id, or <see cref="All"/>.</param>
    public static IEnumerable<(string Sku, Contribution Figures)> ByItem(
        OrderFigures order,
        IReadOnlyList<long>? returned,
        string promotion
    )
    {
        for (var place = 0; place < order.Lines.Count; place++)
        {
            var (line, back) = (order.Lines[place], returned?[place] ?? 0);
            PartFigures[] parts = [.. line.Parts.Where(part => promotion == All || part.Promotion == promotion)];
            if (back >= line.Quantity || (promotion != All && parts.Length == 0))
                continue;
            var net = Left(line.Net.InBase, line.Quantity, back);
            yield return (
                line.Sku,
                new(
                    1,
                    promotion == All ? line.Quantity - back : parts.Sum(part => Left(part.Units, line.Quantity, back)),
                    net,
                    parts.Sum(part => Left(part.Given.InBase, line.Quantity, back)),
                    0,
                    parts.Sum(part => Left(part.WithoutTax, line.Quantity, back)),
                    0,
                    line.Cost is null ? 0 : net,
                    line.Cost is { } cost ? Left(cost, line.Quantity, back) : 0,
                    0,
                    0
                )
            );
        }
    }

    // What stays of an amount of a line when some units are back.
    private static long Left(long amount, long quantity, long back) => amount - Returns.Share(amount, quantity, 0, back);

    /// <summary>
    /// What an order adds to each promotion that applied, to all orders, and to those without any promotion. A unit that was returned takes
    /// its even share of its line with it; delivery leaves with the last unit, and with that the order.
    /// </summary>
    /// <param name="order">The order.</param>
    /// <param name="returned">Units given back by line, gifts after the others; null: none.</param>
    /// <param name="amountBack">What came back in all, in the order's currency.</param>
    /// <param name="isNew">Whether its shopper had no order before.</param>
    /// <param name="isGuest">Whether a guest bought.</param>
    public static IReadOnlyDictionary<string, Contribution> Of(
        OrderFigures order,
        IReadOnlyList<long>? returned,
        long amountBack,
        bool isNew,
        bool isGuest
    )
    {
        var rows = new Dictionary<string, Contribution>(StringComparer.Ordinal);
        long Back(int line) => returned?[line] ?? 0;
        if (Enumerable.Range(0, order.Lines.Count).All(line => Back(line) >= order.Lines[line].Quantity))
            return rows;

        var (takings, cost, units) = (0L, (long?)0, 0L);
        for (var line = 0; line < order.Lines.Count; line++)
        {
            takings += Left(order.Lines[line].Net.InBase, line);
            cost += order.Lines[line].Cost is { } known ? Left(known, line) : null;
            units += order.Lines[line].Quantity - Back(line);
        }

        var whole = new Contribution(1, 0, takings, 0, 0, 0, 0, cost is null ? 0 : takings, cost ?? 0, isNew ? 1 : 0, isGuest ? 1 : 0);
        foreach (var promotion in order.Promotions.Concat(order.Paid.Select(paid => paid.Promotion)).Distinct(StringComparer.Ordinal))
            rows[promotion] = whole;
        var all = whole with { Units = units };
        for (var line = 0; line < order.Lines.Count; line++)
            foreach (var part in order.Lines[line].Parts)
                Add(
                    part.Promotion,
                    new(0, Left(part.Units, line), 0, Left(part.Given.InBase, line), 0, Left(part.WithoutTax, line), 0, 0, 0, 0, 0)
                );
        foreach (var delivery in order.Delivery)
            Add(delivery.Promotion, default(Contribution) with { GivenDelivery = delivery.Amount.InBase });
        for (var place = 0; place < order.Paid.Count; place++)
        {
            var paid = order.Paid[place].Amount;
            var stays =
                paid.Own - Returns.ToCard(amountBack, order.Total, order.Credit, [.. order.Paid.Select(one => one.Amount.Own)], place);
            Add(
                order.Paid[place].Promotion,
                default(Contribution) with
                {
                    Paid = paid.Own == 0 ? 0 : (long)((Int128)paid.InBase * stays / paid.Own),
                }
            );
        }

        rows[All] = all;
        if (order.Promotions.Count == 0)
            rows[Without] = all with { Paid = 0 };
        return rows;

        long Left(long amount, int line) => Contribution.Left(amount, order.Lines[line].Quantity, Back(line));

        void Add(string promotion, Contribution more)
        {
            rows[promotion] = rows.GetValueOrDefault(promotion, whole) + more;
            all += more with { Units = 0 };
        }
    }
}
