using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Tape;

/// <summary>Prints a priced cart.</summary>
internal sealed class TapePrinter(OpenShop shop)
{
    private const int MostWhyNot = 60;

    public TapePrint Print(PricedCart priced, PricedCart? live, LiveEdition edition)
    {
        string Money(long minor) => priced.Currency.Write(minor);
        string? Known(long? minor) => minor is { } known ? Money(known) : null;
        var wording = shop.WordingIn(priced.Currency);
        var forShopper = wording.InLanguage(priced.Cart.Language).Knowing(priced.UsesOf);
        var totals = priced.Totals;
        var before = live is null
            ? null
            : Entries(live, wording).ToDictionary(entry => (entry.Promotion, entry.From, entry.Label), entry => entry.Amount);
        return new(
            priced.Currency.Code,
            priced.Cart.At.ToString(),
            [
                .. priced.Lines.Select(line => new PrintedLine(
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
                    [.. line.Parts.Select(part => new PrintedPart(part.Promotion.Id, part.Promotion.Shown, Money(part.Amount), part.Units))]
                )),
            ],
            [
                .. Entries(priced, wording)
                    .Select(entry => entry with { Before = before?.GetValueOrDefault((entry.Promotion, entry.From, entry.Label)) }),
            ],
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
                Money(totals.Credit),
                Money(totals.Due),
                totals.Points,
                Known(totals.Margin),
                Known(totals.Contribution),
                Money(totals.Saving),
                totals.ShippingUnavailable
            ),
            [.. priced.Taxes.Select(tax => new PrintedTax(tax.Class, tax.Percent.Value, Money(tax.Base), Money(tax.Tax)))],
            [
                .. priced.Codes.Select(code => new PrintedCode(
                    code.Code,
                    code.Status,
                    code.Promotion?.Id,
                    code.Promotion?.Named,
                    code.Promotion is null ? Resting(code) ?? "No promotion has this code."
                        : code.Reason is { } reason ? wording.Say(reason, priced.Cart.At)
                        : "Applied.",
                    forShopper.Tell(code)
                )),
            ],
            [
                // What can no longer be read says so before all others.
                .. edition
                    .Unreadable.OrderBy(entry => entry.Key, StringComparer.Ordinal)
                    .Select(entry => new PrintedWhyNot(
                        entry.Key,
                        entry.Key,
                        ProblemCode.Failed,
                        $"It is live and can no longer be read, so it takes no part: {entry.Value[0].At} {entry.Value[0].Message}",
                        null
                    )),
                .. priced
                    .Nearest(MostWhyNot)
                    .Select(outcome => new PrintedWhyNot(
                        outcome.Promotion.Id,
                        outcome.Promotion.Named,
                        outcome.Reason!.Code,
                        wording.Say(outcome.Reason, priced.Cart.At),
                        Remedy.For(outcome, priced) is { } remedy ? Print(remedy, wording) : null
                    )),
            ],
            [
                .. priced
                    .Applied.Where(outcome => outcome.ToPick is not null)
                    .Select(outcome => new PrintedOffer(
                        outcome.Promotion.Id,
                        outcome.Promotion.Shown,
                        outcome.ToPick!.Units,
                        [.. outcome.ToPick.Skus.Select(sku => new PrintedItem(sku, wording.Item(sku)))]
                    )),
            ],
            [
                .. priced.Nudges.Select(nudge => new PrintedNudge(
                    nudge.Promotion.Id,
                    wording.Say(nudge),
                    forShopper.Tell(nudge),
                    [.. nudge.Add.Select(line => new PrintedAddition(line.Sku, wording.Item(line.Sku), line.Quantity))],
                    Money(nudge.Saves)
                )),
            ],
            priced.MarginShare is { } share ? Math.Round(share * 100, 1) : null,
            priced.Proved,
            Known(priced.Gap)
        );
    }

    // A code that nothing live has may be that of a promotion that rests.
    private string? Resting(CodeStatus code) =>
        shop
            .Promotions.Where(promotion =>
                promotion.Stored.State != "live"
                && promotion.Read.Promotion?.Trigger is { IsAutomatic: false } trigger
                && (
                    trigger.Codes.Any(own => Trigger.Normal(own) == code.Code)
                    || (code.Batch is { } batch && trigger.Batches.Contains(batch))
                )
            )
            .OrderBy(promotion => Array.IndexOf(["paused", "draft", "archived"], promotion.Stored.State))
            .Select(promotion =>
                $"It is {(code.Batch is null ? "the" : "a")} code of “{promotion.Name}”, which is {(promotion.Stored.State switch { "archived" => "retired", "draft" => "a draft", var state => state })}."
            )
            .FirstOrDefault();

    public LiveBeside Beside(PricedCart live, PricedCart priced)
    {
        var wording = shop.WordingIn(live.Currency);
        var here = Entries(priced, wording).Select(entry => (entry.Promotion, entry.From)).ToHashSet();
        return new(
            live.Currency.Write(live.Totals.Due),
            live.Totals.Margin is { } margin ? live.Currency.Write(margin) : null,
            [.. Entries(live, wording).Where(entry => !here.Contains((entry.Promotion, entry.From)))]
        );
    }

    // What a promotion gives is told where it comes off: goods, gifts, delivery.
    private static IEnumerable<PrintedEntry> Entries(PricedCart priced, Wording wording)
    {
        foreach (var outcome in priced.Applied)
        {
            PrintedEntry Entry(string from, long amount, long units, string? label = null, string? net = null) =>
                new(
                    outcome.Promotion.Id,
                    label ?? outcome.Promotion.Shown,
                    outcome.Promotion.Named,
                    from,
                    priced.Currency.Write(amount),
                    units,
                    net,
                    null
                );

            if (outcome.Promotion is { Card: not null } or { Rewards: [Markdown] })
            {
                yield return Entry(outcome.Promotion.Card is null ? "markdown" : "credit", outcome.Amount, outcome.Units);
                continue;
            }

            var gifts = priced.Gifts.Where(gift => gift.Promotion == outcome.Promotion).ToArray();
            var goods = priced.Lines.Sum(line => line.Parts.Where(part => part.Promotion == outcome.Promotion).Sum(part => part.Amount));
            var delivery = outcome.Amount - goods - gifts.Sum(gift => gift.Value - gift.Net);
            // What comes off single items is taken before what comes off the order.
            var isOrder = !outcome.Promotion.Rewards.Any(TakesFromItems);
            if (goods > 0)
                yield return Entry(isOrder ? "order" : "goods", goods, outcome.Units - gifts.Sum(gift => gift.Quantity));
            foreach (var gift in gifts)
                yield return Entry(
                    "gift",
                    gift.Value - gift.Net,
                    gift.Quantity,
                    $"{outcome.Promotion.Shown}: {gift.Quantity} {wording.Item(gift.Sku)}",
                    priced.Currency.Write(gift.Net)
                );
            if (delivery > 0)
                yield return Entry("delivery", delivery, 0);
        }
    }

    // Gifts and points are of the pass of items, and take nothing off them.
    private static bool TakesFromItems(Reward reward) =>
        reward switch
        {
            Ladder ladder => ladder.Steps.SelectMany(step => step.Rewards).Any(TakesFromItems),
            Gift or Points => false,
            _ => reward.Passes.Contains(Pass.Item),
        };

    private static PrintedRemedy? Print(Remedy remedy, Wording wording) =>
        remedy switch
        {
            Remedy.EnterCode(var code) => new("code", code, 0, $"enter {code}"),
            Remedy.SetClock(var at) => new("clock", at.ToString(), 0, $"set the clock to {wording.Say(at)}"),
            Remedy.Add(var sku, var units) => new("add", sku, units, $"add {units} {wording.Item(sku)}"),
            Remedy.SendTo(var place) => new("place", place.Code, 0, $"send it to {wording.Say(place)}"),
            Remedy.BuyOn(var channel) => new("channel", channel, 0, $"buy it on {channel}"),
            Remedy.PayIn(var currency) => new("currency", currency.Code, 0, $"pay in {currency}"),
            Remedy.LetBuy(Buyer.InGroup(var groups)) => new("group", groups[0], 0, $"try as {groups[0]}"),
            Remedy.LetBuy(Buyer.Guest) => new("guest", "", 0, "try as a guest"),
            Remedy.LetBuy(Buyer.Orders(Comparison.Exactly, 0)) => new("guest", "", 0, "try as a guest"),
            _ => null,
        };
}
