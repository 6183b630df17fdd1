using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>
/// What of an order has been given back, and what that comes to. Tax on top comes back as its line does; delivery goes with the last units.
/// What comes back goes to money and to cards as these paid, and of the cards to the last that paid first.
/// </summary>
internal sealed class ReturnAccount
{
    private readonly (long Net, long Quantity)[] lines;
    private readonly long[] back;
    private readonly long total;
    private readonly long credit;
    private readonly IReadOnlyList<CreditPayment> payments;
    private long amount;
    private long now;

    private ReturnAccount(KeptResult result, JsonObject? before, IReadOnlyList<CreditPayment> payments)
    {
        this.payments = payments;
        Currency = result.Currency;
        // Tax on top comes back with the lines it is on.
        var onTop = result.TaxOnTop > 0 ? Spreading.Over(result.TaxOnTop, [.. result.Lines.Select(line => line.Net)]) : null;
        lines = [.. result.Lines.Select((line, place) => (line.Net + (onTop?[place] ?? 0), line.Units))];
        (total, credit) = (result.Total, result.Credit);
        back = before is null ? new long[lines.Length] : [.. before["units"]!.AsArray().Select(units => (long)units!)];
        amount = before is null || Currency.Read((string)before["amount"]!, out var came) != AmountFault.None ? 0 : came;
    }

    /// <summary>The order's.</summary>
    public Currency Currency { get; }

    /// <summary>Whether nothing is left to give back.</summary>
    public bool IsAllBack => !lines.Where((line, place) => back[place] < line.Quantity).Any();

    /// <summary>The share of an order's total in the base currency that came back: all of it with the last units.</summary>
    public long BackOf(long inBase) => IsAllBack || total == 0 ? inBase : Rounding.HalfUp.Quotient((Int128)inBase * amount, total);

    /// <summary>As it is kept.</summary>
    public string Written => Told(null).ToJsonString();

    /// <summary>The account of an order as it stands.</summary>
    /// <param name="order">The order.</param>
    /// <param name="payments">What cards paid of it.</param>
    /// <param name="usual">The currency of an order that says none.</param>
    public static ReturnAccount Of(StoredOrder order, IReadOnlyList<CreditPayment> payments, Currency usual) =>
        new(KeptResult.Read(order.Result, usual), order.Returned is { } before ? JsonNode.Parse(before)!.AsObject() : null, payments);

    /// <summary>Gives units back; null: all that is left.</summary>
    /// <returns>What is wrong; null: nothing.</returns>
    public Problem? Return(IReadOnlyList<ReturnedLine>? returned)
    {
        returned ??=
        [
            .. lines.Select((line, place) => new ReturnedLine(place, line.Quantity - back[place])).Where(one => one.Quantity > 0),
        ];
        for (var i = 0; i < returned.Count; i++)
        {
            var (line, quantity) = returned[i];
            if (line < 0 || line >= lines.Length)
                return new(
                    $"/lines/{i}/line",
                    ProblemCode.OutOfRange,
                    $"The order has lines 0 to {lines.Length - 1}, gifts after the others."
                );
            if (quantity < 1 || quantity > lines[line].Quantity - back[line])
                return new(
                    $"/lines/{i}/quantity",
                    ProblemCode.OutOfRange,
                    $"Of line {line}, {lines[line].Quantity - back[line]} can still be given back."
                );
            now += Returns.Share(lines[line].Net, lines[line].Quantity, back[line], quantity);
            back[line] += quantity;
        }

        // With the last units comes all that the lines do not hold: delivery, and tax on top.
        if (IsAllBack)
            now = total - amount;
        amount += now;
        return null;
    }

    /// <summary>How much has come back in all to the card that paid at a place.</summary>
    public long BackTo(int place) => BackTo(place, amount);

    /// <summary>What came back, now and in all, split as it was paid.</summary>
    /// <param name="isUsable">Whether a card can be used again; null: the cards are not told.</param>
    public JsonObject Told(Func<CreditPayment, bool>? isUsable)
    {
        var toCredit = Returns.ToCredit(amount, total, credit) - Returns.ToCredit(amount - now, total, credit);
        var told = new JsonObject
        {
            ["units"] = new JsonArray([.. back.Select(units => JsonValue.Create(units))]),
            ["amount"] = Currency.Write(amount),
            ["now"] = Currency.Write(now),
            ["toCredit"] = Currency.Write(toCredit),
            ["toMoney"] = Currency.Write(now - toCredit),
        };
        if (isUsable is not null)
            told["cards"] = new JsonArray([.. payments.Select((payment, place) => Card(payment, place, isUsable(payment)))]);
        return told;
    }

    private JsonObject Card(CreditPayment payment, int place, bool isUsable)
    {
        var inAll = BackTo(place);
        var card = new JsonObject { ["promotion"] = payment.Promotion };
        if (payment.Code.Length > 0)
            card["code"] = payment.Code;
        card["amount"] = Currency.Write(inAll);
        card["now"] = Currency.Write(inAll - BackTo(place, amount - now));
        // A card whose rest lapses holds nothing until all that it paid is back.
        card["waiting"] = Currency.Write(!payment.KeepsRest && inAll < payment.Paid ? inAll : 0);
        card["usable"] = isUsable;
        return card;
    }

    private long BackTo(int place, long returned) =>
        Returns.ToCard(returned, total, credit, [.. payments.Select(payment => payment.Paid)], place);
}
