using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Tape;

/// <summary>Prints a priced cart.</summary>
internal sealed class TapePrinter(OpenShop shop)
{
    private const int MostWhyNot = 60;

    // How near a promotion is, by what keeps it away.
    private static readonly string[] Nearest =
        ["conditionNotMet", "codeNotEntered", "notBetter", "cannotMeet", "noMatchingItems", "notStarted", "limitReached", "shopperLimitReached", "ended"];

    public TapePrint Print(PricedCart priced, PricedCart? live)
    {
        string Money(long minor) => priced.Currency.Write(minor);
        string? Known(long? minor) => minor is { } known ? Money(known) : null;
        var wording = shop.WordingIn(priced.Currency);
        var totals = priced.Totals;
        var before = live?.Outcomes.Where(outcome => outcome.Applied).ToDictionary(outcome => outcome.Promotion.Id, outcome => outcome.Amount);
        return new(
            priced.Currency.Code,
            priced.Cart.At.ToString(),
            [.. priced.Lines.Select(line => new PrintedLine(
                line.Sku,
                wording.Item(line.Sku),
                line.Quantity,
                Money(line.Regular / line.Quantity),
                Money(line.Goods / line.Quantity),
                Money(line.Regular),
                Money(line.Goods),
                Money(line.Net),
                Known(line.Cost),
                Known(line.Margin),
                [.. line.Parts.Select(part => new PrintedPart(part.Promotion.Id, Money(part.Amount), part.Units))]))],
            [.. priced.Outcomes.Where(outcome => outcome.Applied).Select(outcome => Entry(
                outcome, priced.Currency, before is not null && before.TryGetValue(outcome.Promotion.Id, out var amount) ? Money(amount) : null))],
            new(
                Money(totals.Regular),
                Money(totals.Goods),
                Money(totals.Discount),
                Money(totals.Net),
                Money(totals.Shipping),
                Money(totals.ShippingDiscount),
                Money(totals.Tax),
                shop.Store.Tax?.Mode == TaxMode.Inclusive,
                Money(totals.Total),
                Money(totals.Due),
                Known(totals.Margin),
                Known(totals.Contribution),
                Money(totals.Saving),
                totals.ShippingUnavailable),
            [.. priced.Taxes.Select(tax => new PrintedTax(tax.Class, tax.Percent.Value, Money(tax.Base), Money(tax.Tax)))],
            [.. priced.Codes.Select(code => new PrintedCode(
                code.Code,
                code.Status,
                code.Promotion?.Id,
                code.Promotion?.Named,
                code.Promotion is null ? "No promotion has this code." : code.Reason is { } reason ? wording.Say(reason, priced.Cart.At) : "Applied."))],
            [.. priced.Outcomes
                .Where(outcome => !outcome.Applied)
                .OrderBy(outcome => Array.IndexOf(Nearest, outcome.Reason!.Code))
                .ThenBy(outcome => Remedy.Distance(outcome.Reason!))
                .Take(MostWhyNot)
                .Select(outcome => new PrintedWhyNot(
                    outcome.Promotion.Id,
                    outcome.Promotion.Named,
                    outcome.Reason!.Code,
                    wording.Say(outcome.Reason, priced.Cart.At),
                    Remedy.For(outcome, priced) is { } remedy ? Print(remedy, wording) : null))],
            priced.MarginShare is { } share ? Math.Round(share * 100, 1) : null,
            priced.Proved);
    }

    public LiveBeside Beside(PricedCart live, PricedCart priced)
    {
        var here = priced.Outcomes.Where(outcome => outcome.Applied).Select(outcome => outcome.Promotion.Id).ToHashSet();
        return new(
            live.Currency.Write(live.Totals.Due),
            live.Totals.Margin is { } margin ? live.Currency.Write(margin) : null,
            [.. live.Outcomes.Where(outcome => outcome.Applied && !here.Contains(outcome.Promotion.Id)).Select(outcome => Entry(outcome, live.Currency, live.Currency.Write(outcome.Amount)))]);
    }

    private static PrintedEntry Entry(Outcome outcome, Currency currency, string? before) => new(
        outcome.Promotion.Id,
        outcome.Promotion.Shown,
        outcome.Promotion.Named,
        outcome.Promotion.Rewards[0].Pass.ToString().ToLowerInvariant(),
        currency.Write(outcome.Amount),
        outcome.Units,
        before);

    private static PrintedRemedy? Print(Remedy remedy, Wording wording) => remedy switch
    {
        Remedy.EnterCode(var code) => new("code", code, 0, $"enter {code}"),
        Remedy.SetClock(var at) => new("clock", at.ToString(), 0, $"set the clock to {wording.Say(at)}"),
        Remedy.Add(var sku, var units) => new("add", sku, units, $"add {units} {wording.Item(sku)}"),
        Remedy.SendTo(var place) => new("place", place.Code, 0, $"send it to {wording.Say(place)}"),
        Remedy.BuyOn(var channel) => new("channel", channel, 0, $"buy it on {channel}"),
        Remedy.PayIn(var currency) => new("currency", currency.Code, 0, $"pay in {currency}"),
        Remedy.LetBuy(Buyer.InGroup(var groups)) => new("group", groups[0], 0, $"let somebody of {groups[0]} buy"),
        Remedy.LetBuy(Buyer.Guest) => new("guest", "", 0, "let a guest buy"),
        Remedy.LetBuy(Buyer.Orders(Comparison.Exactly, 0)) => new("guest", "", 0, "let a guest buy"),
        _ => null,
    };
}
