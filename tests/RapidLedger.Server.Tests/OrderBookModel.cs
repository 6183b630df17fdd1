using System.Text.Json.Nodes;

namespace RapidLedger.Server.Tests;

/// <summary>
/// An independent small book of orders, kept from the answers alone: what was placed, taken, given back and lapsed, and what that leaves of
/// limits, cards, codes, stock and shoppers. Written without anything of the program: units of a line as a list, cards as what they paid.
/// </summary>
/// <param name="shop">Whose orders.</param>
/// <param name="cards">What each card holds when new, in minor units of the base currency, and whether its rest stays.</param>
internal sealed class OrderBookModel(OwnShop shop, IReadOnlyDictionary<string, (long Holds, bool KeepsRest)> cards)
{
    private readonly List<Order> orders = [];

    /// <summary>A card as it paid.</summary>
    public sealed record Paid(string Card, long Amount, long Here, long InBase)
    {
        public long Back { get; set; }

        // What an order draws from a card, in proportion to what it holds here and in the base currency, rounded up.
        public long Drawn => (((Amount - Back) * InBase) + Here - 1) / Here;
    }

    /// <summary>An order as it was answered.</summary>
    public sealed class Order
    {
        public required string Id { get; init; }

        public required string Currency { get; init; }

        public string? Shopper { get; init; }

        public required string[] Codes { get; init; }

        public required IReadOnlyDictionary<string, long> Units { get; init; }

        public required List<Queue<long>> Lines { get; init; }

        public required List<Paid> Payments { get; init; }

        public required long Total { get; init; }

        public required long Credit { get; init; }

        public required long InBase { get; init; }

        public required IReadOnlyDictionary<string, long> Given { get; init; }

        public DateTimeOffset? HeldUntil { get; set; }

        public string State { get; set; } = "held";

        public long Returned { get; set; }

        public bool Counts => State is "held" or "taken";
    }

    public IReadOnlyList<Order> Orders => orders;

    private IEnumerable<Order> Counting => orders.Where(order => order.Counts);

    /// <summary>How often a promotion's own code counts: in all, or by one shopper.</summary>
    public int Uses(string code, string? shopper = null) =>
        Counting.Count(order => order.Codes.Contains(code) && (shopper is null || order.Shopper == shopper));

    /// <summary>What a promotion has given, in minor units of the base currency.</summary>
    public long Given(string promotion) => Counting.Sum(order => order.Given.GetValueOrDefault(promotion));

    /// <summary>Units sold and given of a SKU.</summary>
    public long Sold(string sku) => Counting.Sum(order => order.Units.GetValueOrDefault(sku));

    public int HeldBy(string shopper) => orders.Count(order => order.State == "held" && order.Shopper == shopper);

    public (long Orders, long Spent) Shopper(string id) =>
        (
            Counting.Count(order => order.Shopper == id),
            orders.Where(order => order.State == "taken" && order.Shopper == id).Sum(order => order.InBase - BackInBase(order))
        );

    /// <summary>What was drawn from a card.</summary>
    public long Drawn(string card) => Counting.SelectMany(order => order.Payments).Where(paid => paid.Card == card).Sum(paid => paid.Drawn);

    /// <summary>What a card holds, in minor units of a currency in which it is worth so much when new.</summary>
    public long Holds(string card, long here)
    {
        var (inBase, keepsRest) = cards[card];
        var drawn = Drawn(card);
        return drawn == 0 ? here
            : !keepsRest || drawn >= inBase ? 0
            : (long)((Int128)here * (inBase - drawn) / inBase);
    }

    /// <summary>Puts an order in as it was answered.</summary>
    /// <param name="answer">The order.</param>
    /// <param name="shopper">Who bought.</param>
    /// <param name="here">What a card is worth in the order's currency.</param>
    /// <param name="inBase">An amount of the order's currency in the base currency.</param>
    public Order Place(JsonNode answer, string? shopper, Func<string, long> here, Func<long, long> inBase)
    {
        var result = answer["result"]!;
        var currency = (string)result["currency"]!;
        long Minor(JsonNode? amount) => shop.Minor(amount!, currency);
        var (lines, totals) = (result["lines"]!.AsArray().Concat(result["gifts"]!.AsArray()).ToArray(), result["totals"]!);
        var nets = lines.Select(line => Minor(line!["net"])).ToArray();
        // Tax on top comes back with its line: by the largest remainder, earlier lines first.
        var onTop = shop.Tax == "exclusive" ? Minor(totals["tax"]) : 0;
        if (onTop > 0 && nets.Sum() is > 0 and var sum)
        {
            var shares = nets.Select(net => onTop * net / sum).ToArray();
            foreach (
                var place in Enumerable
                    .Range(0, nets.Length)
                    .OrderByDescending(place => onTop * nets[place] % sum)
                    .ThenBy(place => place)
                    .Take((int)(onTop - shares.Sum()))
            )
                shares[place]++;
            for (var place = 0; place < nets.Length; place++)
                nets[place] += shares[place];
        }

        var order = new Order
        {
            Id = (string)answer["id"]!,
            Currency = currency,
            Shopper = shopper,
            Codes =
            [
                .. result["codes"]!.AsArray().Where(code => (string)code!["status"]! == "applied").Select(code => (string)code!["code"]!),
            ],
            Units = lines
                .GroupBy(line => (string)line!["sku"]!)
                .ToDictionary(group => group.Key, group => group.Sum(line => (long)line!["quantity"]!)),
            Lines = [.. lines.Select((line, place) => new Queue<long>(Unitwise(nets[place], (int)line!["quantity"]!)))],
            Payments =
            [
                .. result["codes"]!
                    .AsArray()
                    .Where(code => (string)code!["status"]! == "applied" && code["amount"] is not null)
                    .Select(code => new Paid(
                        (string)code!["code"]!,
                        Minor(code["amount"]),
                        here((string)code["code"]!),
                        cards[(string)code["code"]!].Holds
                    )),
            ],
            Total = Minor(totals["total"]),
            Credit = Minor(totals["credit"]),
            InBase = inBase(Minor(totals["total"])),
            Given = result["promotions"]!.AsArray().ToDictionary(one => (string)one!["id"]!, one => inBase(Minor(one!["amount"]))),
            HeldUntil = (string?)answer["heldUntil"] is { } until
                ? DateTimeOffset.Parse(until, System.Globalization.CultureInfo.InvariantCulture)
                : null,
            State = (string)answer["state"]!,
        };
        orders.Add(order);
        return order;
    }

    /// <summary>Gives units of a line back; null: all that is left.</summary>
    /// <returns>What comes back, and of that to cards.</returns>
    public static (long Now, long ToCards) GiveBack(Order order, IReadOnlyList<(int Line, int Units)>? what)
    {
        what ??= [.. order.Lines.Select((line, place) => (place, line.Count))];
        var before = order.Returned;
        foreach (var (line, units) in what)
            for (var unit = 0; unit < units; unit++)
                order.Returned += order.Lines[line].Dequeue();
        if (order.Lines.All(line => line.Count == 0))
        {
            order.Returned = order.Total;
            order.State = "givenBack";
        }

        // To cards in the share that they had paid, the last that paid first.
        var toCards = order.Total == 0 ? 0 : (long)((Int128)order.Returned * order.Credit / order.Total);
        var had = order.Payments.Sum(paid => paid.Back);
        var rest = toCards;
        foreach (var paid in Enumerable.Reverse(order.Payments))
            rest -= paid.Back = Math.Min(rest, paid.Amount);
        return (order.Returned - before, toCards - had);
    }

    private long BackInBase(Order order) =>
        order.Total == 0 || order.State == "givenBack"
            ? (order.State == "givenBack" ? order.InBase : 0)
            : (long)Math.Round((decimal)order.InBase * order.Returned / order.Total, MidpointRounding.AwayFromZero);

    // Even shares, the earlier units having one more.
    private static IEnumerable<long> Unitwise(long net, int quantity) =>
        Enumerable.Range(0, quantity).Select(unit => (net / quantity) + (unit < net % quantity ? 1 : 0));
}
