using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>What of an order has been given back, and what that comes to. Tax on top comes back as its line does; delivery goes with the last units.</summary>
internal sealed class ReturnAccount
{
    private readonly Currency currency;
    private readonly (long Net, long Quantity)[] lines;
    private readonly long[] back;
    private readonly long total;
    private readonly long credit;
    private long amount;
    private long now;

    private ReturnAccount(JsonObject result, JsonObject? before)
    {
        currency = Currency.Find((string)result["currency"]!)!;
        lines = [.. result["lines"]!.AsArray().Concat(result["gifts"]!.AsArray()).Select(line => (Minor(line!["net"]), (long)line["quantity"]!))];
        // Tax on top comes back with the lines it is on.
        var totals = result["totals"]!;
        var onTop = Minor(totals["total"]) - Minor(totals["net"]) - Minor(totals["shipping"]) + Minor(totals["shippingDiscount"]);
        if (onTop > 0 && lines.Any(line => line.Net > 0))
            foreach (var share in Spreading.Spread(onTop, [.. lines.Select(line => new SpreadRun(line.Net, 1))])) lines[share.Run].Net += share.Share;
        (total, credit) = (Minor(result["totals"]!["total"]), Minor(result["totals"]!["credit"]));
        back = before is null ? new long[lines.Length] : [.. before["units"]!.AsArray().Select(units => (long)units!)];
        amount = before is null ? 0 : Minor(before["amount"]);
    }

    /// <summary>Whether nothing is left to give back.</summary>
    public bool IsAllBack => !lines.Where((line, place) => back[place] < line.Quantity).Any();

    /// <summary>The share of an order's total in the base currency that came back: all of it with the last units.</summary>
    public long BackOf(long inBase) => IsAllBack || total == 0 ? inBase : Rounding.HalfUp.Quotient((Int128)inBase * amount, total);

    /// <summary>As it is kept.</summary>
    public string Written => Answer(null).ToJsonString();

    public static ReturnAccount Of(StoredOrder order) => new(JsonNode.Parse(order.Result)!.AsObject(), order.Returned is { } before ? JsonNode.Parse(before)!.AsObject() : null);

    /// <summary>Gives units back; null: all that is left.</summary>
    /// <returns>What is wrong; null: nothing.</returns>
    public Problem? Return(IReadOnlyList<ReturnedLine>? returned)
    {
        returned ??= [.. lines.Select((line, place) => new ReturnedLine(place, line.Quantity - back[place])).Where(one => one.Quantity > 0)];
        for (var i = 0; i < returned.Count; i++)
        {
            var (line, quantity) = returned[i];
            if (line < 0 || line >= lines.Length) return new($"/lines/{i}/line", ProblemCode.OutOfRange, $"The order has lines 0 to {lines.Length - 1}, gifts after the others.");
            if (quantity < 1 || back[line] + quantity > lines[line].Quantity)
                return new($"/lines/{i}/quantity", ProblemCode.OutOfRange, $"Of line {line}, {lines[line].Quantity - back[line]} can still be given back.");
            now += Returns.Share(lines[line].Net, lines[line].Quantity, back[line], quantity);
            back[line] += quantity;
        }

        // With the last units comes all that the lines do not hold: delivery, and tax on top.
        if (IsAllBack) now = total - amount;
        amount += now;
        return null;
    }

    /// <summary>What came back, now and in all, split as it was paid.</summary>
    /// <param name="cards">The cards that had paid, and whether they can be used; null: not told.</param>
    public JsonObject Answer(JsonArray? cards)
    {
        var (inAll, before) = (Returns.ToCredit(amount, total, credit), Returns.ToCredit(amount - now, total, credit));
        var answer = new JsonObject
        {
            ["units"] = new JsonArray([.. back.Select(units => JsonValue.Create(units))]),
            ["amount"] = currency.Write(amount),
            ["now"] = currency.Write(now),
            ["toCredit"] = currency.Write(inAll - before),
            ["toMoney"] = currency.Write(now - (inAll - before)),
        };
        if (cards is not null) answer["cards"] = cards;
        return answer;
    }

    private long Minor(JsonNode? written) => currency.Read((string)written!, out var minor) == AmountFault.None ? minor : 0;
}
