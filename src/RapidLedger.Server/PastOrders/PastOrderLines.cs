using System.Runtime.InteropServices;
using System.Text.Json.Nodes;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Goods;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.PastOrders;

/// <summary>
/// Makes orders of lines, a line a row; rows of an order may stand anywhere. What is of the order is taken from its first row that says it.
/// A million rows are held: of each no more than what is kept of it.
/// </summary>
internal sealed class PastOrderLines(CatalogueIndex catalogue, RenamedWords renamed, Instant now) : IIncomingRows
{
    /// <summary>The members that a line may have.</summary>
    public static readonly string[] Members = [.. RapidLedger.Formats.Columns.Orders.Select(field => field.Name), Assumption];

    // What an order that was taken along says of itself.
    private const string Assumption = "assumed";

    private const int LongestText = 200;
    private const long MostUnits = 1_000_000;
    private const int MostBad = 10_000;
    private const int FirstYear = 1990;

    private readonly Dictionary<string, int> places = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> texts = new(StringComparer.Ordinal);
    private readonly List<Head> orders = [];
    private readonly List<Row> rows = [];
    private readonly List<BadLine> bad = [];
    private readonly HashSet<string> unknown = new(StringComparer.Ordinal);

    /// <summary>What is wrong with lines.</summary>
    public IReadOnlyList<BadLine> Bad => bad;

    /// <summary>The SKUs that the shop does not know; they are kept as they are written.</summary>
    public IReadOnlyCollection<string> Unknown => unknown;

    /// <summary>How many orders have a line of which the price was not said.</summary>
    public int Assumed => orders.Count(order => order.IsAssumed);

    private Store Store => catalogue.Store;

    /// <inheritdoc/>
    public void Add(IncomingLine line)
    {
        if (bad.Count >= MostBad)
            return;
        var before = bad.Count;
        bad.AddRange(line.UnknownMembers(Members));
        var (number, sku) = (Needed(line, "order", "order's number"), Needed(line, "sku", "SKU"));
        var at = At(line);
        var units = Units(line);
        if (bad.Count > before)
            return;
        ref var place = ref CollectionsMarshal.GetValueRefOrAddDefault(places, number!, out var isKnown);
        if (!isKnown)
        {
            place = orders.Count;
            orders.Add(new(Once(number!), at) { Currency = Store.Currency });
        }

        var order = orders[place];
        if (order.At != at)
            Fault(line, "at", ProblemCode.Conflict, $"The order {number} has another day or time in an earlier row.");
        Take(line, order);
        var amount = Paid(line, order, sku!, units);
        if (bad.Count == before)
            rows.Add(new(place, Once(sku!), units, amount));
    }

    /// <summary>The orders, in the order of their first rows, each with what stands of it without tax and in the base currency.</summary>
    public IEnumerable<PastOrder> Orders()
    {
        var byOrder = new int[rows.Count];
        for (var i = 0; i < byOrder.Length; i++)
            byOrder[i] = i;
        // By order, and within an order as they stand in the file.
        Array.Sort(byOrder, (one, other) => rows[one].Order != rows[other].Order ? rows[one].Order - rows[other].Order : one - other);
        for (var from = 0; from < byOrder.Length; )
        {
            var to = from + 1;
            while (to < byOrder.Length && rows[byOrder[to]].Order == rows[byOrder[from]].Order)
                to++;
            yield return Made(orders[rows[byOrder[from]].Order], [.. byOrder[from..to].Select(row => rows[row])]);
            from = to;
        }
    }

    /// <summary>The numbers of its orders.</summary>
    public IEnumerable<string> Numbers => orders.Select(order => order.Number);

    /// <summary>When an order of it was placed; null: there is none of that number.</summary>
    public long? MomentOf(string number) => places.TryGetValue(number, out var place) ? orders[place].At.ToUnixTimeSeconds() : null;

    private PastOrder Made(Head order, Row[] sold)
    {
        var destination = order.Place is { } written ? Place.Find(written) : null;
        var nets = new long[sold.Length];
        for (var line = 0; line < sold.Length; line++)
            nets[line] =
                catalogue.Find(sold[line].Sku) is >= 0 and var known
                && Store.Tax is { Mode: TaxMode.Inclusive } tax
                && tax.RateOf(catalogue.ProductOf(known).TaxClass, destination) is { } rate
                    ? rate.Without(sold[line].Paid, Store.Rounding)
                    : sold[line].Paid;
        // Converted once, and spread over the lines by largest remainder.
        var inBase = Spreading.Over(Store.InBase(nets.Sum(), order.Currency, Rounding.HalfUp), nets);
        var total = sold.Sum(line => line.Paid) + order.Delivery;
        return new(
            order.Number,
            order.At.ToUnixTimeSeconds(),
            LocalDatePattern.Iso.Format(order.At.InZone(Store.Zone).Date),
            order.Currency.Code,
            order.Shopper,
            order.Place,
            order.Channel,
            order.Method,
            order.Codes ?? [],
            order.IsAssumed,
            order.Delivery,
            Store.InBase(total, order.Currency, Rounding.HalfUp),
            [
                .. sold.Select(
                    (line, place) =>
                        new PastLine(
                            line.Sku,
                            line.Units,
                            line.Paid,
                            inBase[place],
                            catalogue.Find(line.Sku) is >= 0 and var known && catalogue.PricesIn(Store.Currency).Cost(known) is { } cost
                                ? cost * line.Units
                                : null
                        )
                ),
            ]
        );
    }

    private Instant At(IncomingLine line)
    {
        if (Text(line, "at") is not { } written)
        {
            Fault(line, "at", ProblemCode.Missing, "The day of the order is needed here, such as 2026-12-31 or 2026-12-31 17:30.");
            return default;
        }

        if (DateReading.Read(written, DayOrder.DayFirst) is not { } read || InstantOf(read) is not { } at)
        {
            Fault(line, "at", ProblemCode.WrongType, $"'{written}' is not a day. Write 2026-12-31, or 2026-12-31 17:30.");
            return default;
        }

        if (at > now)
            Fault(line, "at", ProblemCode.OutOfRange, $"'{written}' is still to come: this is a list of orders that were placed.");
        else if (at.InZone(Store.Zone).Year < FirstYear)
            Fault(line, "at", ProblemCode.OutOfRange, $"'{written}' is before {FirstYear}.");
        return at;
    }

    // Without an offset it is the shop's time.
    private Instant? InstantOf(string iso) =>
        OffsetDateTimePattern.ExtendedIso.Parse(iso).TryGetValue(default, out var offset) ? offset.ToInstant()
        : LocalDateTimePattern.ExtendedIso.Parse(iso).TryGetValue(default, out var local) ? local.InZoneLeniently(Store.Zone).ToInstant()
        : null;

    private long Units(IncomingLine line)
    {
        if (line.Members["quantity"] is JsonValue written && written.TryGetValue<long>(out var units) && units is >= 1 and <= MostUnits)
            return units;
        Fault(line, "quantity", ProblemCode.OutOfRange, $"A whole number from 1 to {MostUnits} is expected here.");
        return 0;
    }

    // What is of the whole order: the first row that says it counts, and no other may say otherwise.
    private void Take(IncomingLine line, Head order)
    {
        if (Text(line, "currency") is { } code)
        {
            var currency = Store.Currencies.FirstOrDefault(known => known.Code.Equals(code, StringComparison.OrdinalIgnoreCase));
            if (currency is null)
                Fault(
                    line,
                    "currency",
                    ProblemCode.UnknownCurrency,
                    $"The shop does not sell in '{code}'. Add it in Store, with its rate."
                );
            else if (order.IsCurrencySaid && order.Currency != currency)
                Differs(line, "currency", order);
            else if (order.HasLines && order.Currency != currency)
                Differs(line, "currency", order);
            else
                (order.Currency, order.IsCurrencySaid) = (currency, true);
        }

        if (Amount(line, "delivery", order.Currency) is { } delivery)
        {
            if (order.IsDeliverySaid && order.Delivery != delivery)
                Differs(line, "delivery", order);
            (order.Delivery, order.IsDeliverySaid) = (delivery, true);
        }

        order.Shopper = Same(line, "shopper", order.Shopper, order);
        if (order.Shopper is { } shopper && OrderTransaction.IsStandIn(shopper))
            Fault(line, "shopper", ProblemCode.NotAllowed, $"A shopper's id does not begin with '{OrderTransaction.Guest}'.");
        order.Place = Same(line, "place", order.Place, order);
        if (order.Place is { } place && Place.Find(place) is null)
            Fault(
                line,
                "place",
                ProblemCode.UnknownPlace,
                $"'{place}' is not a country of ISO 3166-1 or a subdivision of ISO 3166-2. Write DE or ES-CN."
            );
        order.Channel = Same(line, "channel", order.Channel, order) is { } channel ? renamed.Now("channel", channel) : null;
        order.Method = Same(line, "method", order.Method, order);
        if (Codes(line) is { Count: > 0 } codes)
            order.Codes = [.. (order.Codes ?? []).Union(codes, StringComparer.Ordinal).Order(StringComparer.Ordinal)];
        if (line.Members[Assumption] is JsonValue written && written.TryGetValue<bool>(out var isAssumed))
            order.IsAssumed |= isAssumed;
        else if (line.Members[Assumption] is not null)
            Fault(line, Assumption, ProblemCode.WrongType, "true or false is expected here.");
        order.HasLines = true;
    }

    private IReadOnlyList<string>? Codes(IncomingLine line)
    {
        switch (line.Members["code"])
        {
            case null:
                return null;
            case JsonArray list when list.All(code => code is JsonValue text && text.TryGetValue<string>(out _)):
                return [.. list.Select(code => Once(Trigger.Normal((string)code!)))];
            case JsonValue text when text.TryGetValue<string>(out var code) && code.Length <= LongestText:
                return [Once(Trigger.Normal(code))];
            default:
                Fault(line, "code", ProblemCode.WrongType, "A code is expected here, or a list of codes.");
                return null;
        }
    }

    private long Paid(IncomingLine line, Head order, string sku, long units)
    {
        var known = catalogue.Find(sku);
        if (known < 0)
            unknown.Add(sku);
        if (Amount(line, "paid", order.Currency) is { } paid)
            return paid;
        if (line.Members["paid"] is not null)
            return 0;
        if (known >= 0)
        {
            order.IsAssumed = true;
            return catalogue.PricesIn(order.Currency).Regular(known) * units;
        }

        Fault(
            line,
            "paid",
            ProblemCode.Missing,
            $"'{sku}' is not an item of the shop, and what was paid for it is not said: say one of both."
        );
        return 0;
    }

    private long? Amount(IncomingLine line, string name, Currency currency)
    {
        if (line.Members[name] is not { } written)
            return null;
        if (written is JsonValue value && value.TryGetValue<string>(out var text) && currency.Read(text, out var minor) == AmountFault.None)
            return minor;
        Fault(line, name, ProblemCode.NotAnAmount, $"An amount in {currency} is expected here, such as \"12.50\".");
        return null;
    }

    private string? Same(IncomingLine line, string name, string? before, Head order)
    {
        if (Text(line, name) is not { } now)
            return before;
        if (before is not null && before != now)
            Differs(line, name, order);
        return Once(now);
    }

    private string? Needed(IncomingLine line, string name, string words)
    {
        if (Text(line, name) is { } text)
            return text;
        Fault(line, name, ProblemCode.Missing, $"The {words} is needed here: a text of 1 to {LongestText} characters.");
        return null;
    }

    private string? Text(IncomingLine line, string name)
    {
        if (line.Members[name] is not { } written)
            return null;
        if (written is JsonValue value && value.TryGetValue<string>(out var text) && text.Length <= LongestText)
            return text.Trim() is { Length: > 0 } said ? said : null;
        Fault(line, name, ProblemCode.WrongType, $"A text of at most {LongestText} characters is expected here.");
        return null;
    }

    private void Differs(IncomingLine line, string name, Head order) =>
        Fault(line, name, ProblemCode.Conflict, $"An earlier row of the order {order.Number} says something else.");

    // The same words stand in many rows: each is kept once.
    private string Once(string text)
    {
        ref var known = ref CollectionsMarshal.GetValueRefOrAddDefault(texts, text, out _);
        return known ??= text;
    }

    private void Fault(IncomingLine line, string member, string code, string message) => bad.Add(new(line.Number, member, code, message));

    private readonly record struct Row(int Order, string Sku, long Units, long Paid);

    private sealed class Head(string number, Instant at)
    {
        public string Number => number;
        public Instant At => at;
        public required Currency Currency { get; set; }
        public bool IsCurrencySaid { get; set; }
        public bool HasLines { get; set; }
        public string? Shopper { get; set; }
        public string? Place { get; set; }
        public string? Channel { get; set; }
        public string? Method { get; set; }
        public string[]? Codes { get; set; }
        public long Delivery { get; set; }
        public bool IsDeliverySaid { get; set; }
        public bool IsAssumed { get; set; }
    }
}
