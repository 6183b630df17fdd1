using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// Writes a priced cart as JSON, a method a part: for its merchant all of it, for a shopper what may end up on a page. That is promotions
/// that applied, codes that were entered and what automatic promotions lack, in the shopper's words; no reasons, names of the merchant,
/// costs or margins.
/// </summary>
/// <param name="writer">Where to.</param>
/// <param name="priced">The cart.</param>
/// <param name="wording">How it is said, in the cart's currency.</param>
/// <param name="isForMerchant">Who reads it.</param>
internal sealed class PricedCartWriter(Utf8JsonWriter writer, PricedCart priced, Wording wording, bool isForMerchant)
{
    private readonly Wording forShopper = wording.InLanguage(priced.Cart.Language).Knowing(priced.UsesOf);

    /// <summary>All of it, as one object.</summary>
    /// <param name="isOrder">It is ordered: what more in the cart would bring is not told any more.</param>
    /// <param name="withheld">Codes that were not looked at, because too many unknown ones were tried.</param>
    public void Write(bool isOrder = false, IReadOnlyList<string>? withheld = null)
    {
        writer.WriteStartObject();
        writer.WriteString("currency", priced.Currency.Code);
        List("lines", priced.Lines, WriteLine);
        List("gifts", priced.Gifts, WriteGift);
        if (isForMerchant)
            List("promotions", priced.Outcomes, WriteOutcome);
        else
            List("promotions", priced.Applied, WriteApplied);
        WriteCodes(withheld ?? []);
        WriteTotals();
        List("taxes", priced.Taxes, WriteTax);
        writer.WriteBoolean("proved", priced.Proved);
        if (isForMerchant && priced.Gap is { } gap)
            Amount("gap", gap);
        List("nudges", isOrder ? [] : priced.Nudges.Where(nudge => isForMerchant || !nudge.Promotion.IsByCode), WriteNudge);
        List("progress", isOrder ? [] : priced.Progress, WriteProgress);
        writer.WriteEndObject();
    }

    private void WriteLine(PricedLine line)
    {
        Item(line.Sku);
        writer.WriteNumber("quantity", line.Quantity);
        Amount("regular", line.Regular);
        Amount("goods", line.Goods);
        Amount("net", line.Net);
        if (isForMerchant)
        {
            Amount("cost", line.Cost);
            Amount("margin", line.Margin);
        }

        List("parts", line.Parts, part =>
        {
            Of("promotion", part.Promotion);
            Amount("amount", part.Amount);
        });
    }

    private void WriteGift(PricedGift gift)
    {
        Of("promotion", gift.Promotion);
        Item(gift.Sku);
        writer.WriteNumber("quantity", gift.Quantity);
        Amount("value", gift.Value);
        Amount("net", gift.Net);
    }

    // What became of a promotion, with why it did not apply.
    private void WriteOutcome(Outcome outcome)
    {
        Of("id", outcome.Promotion);
        writer.WriteBoolean("applied", outcome.Applied);
        if (outcome.Reason is not { } reason)
        {
            WriteTaken(outcome);
            return;
        }

        writer.WriteString("reason", reason.Code);
        writer.WriteString("message", wording.Say(reason, priced.Cart.At));
        if (reason is Reason.CannotMeet(var blocking, _, _))
            Texts("blockedBy", blocking.Select(promotion => promotion.Id));
    }

    private void WriteApplied(Outcome outcome)
    {
        Of("id", outcome.Promotion);
        WriteTaken(outcome);
        writer.WriteString(
            "from",
            outcome.Promotion.Rewards is [Markdown] ? "goods"
                : outcome.Promotion.Card is not null ? "credit"
                : "order"
        );
    }

    private void WriteTaken(Outcome outcome)
    {
        Amount("amount", outcome.Amount);
        writer.WriteNumber("units", outcome.Units);
        if (outcome.ToPick is { } toPick)
        {
            writer.WriteStartObject("toPick");
            if (isForMerchant)
                Texts("skus", toPick.Skus);
            else
                List("items", toPick.Skus, Item);
            writer.WriteNumber("units", toPick.Units);
            writer.WriteEndObject();
        }

        if (outcome.GiftOut)
            writer.WriteBoolean("giftOut", true);
        writer.WriteString("shopper", forShopper.Tell(outcome));
    }

    private void WriteCodes(IReadOnlyList<string> withheld)
    {
        writer.WriteStartArray("codes");
        foreach (var code in priced.Codes)
            Code(code.Code, code.Status, forShopper.Tell(code), code);
        foreach (var code in withheld)
            Code(code, "tooMany", forShopper.TellTooMany(), null);
        writer.WriteEndArray();

        void Code(string written, string status, string told, CodeStatus? code)
        {
            writer.WriteStartObject();
            writer.WriteString("code", written);
            writer.WriteString("status", status);
            // Which promotion a code is of that did not start it is nothing that a shopper is told.
            if (code?.Promotion is { } promotion && (isForMerchant || code.Reason is null))
                writer.WriteString("promotion", promotion.Id);
            if (code?.Paid is { } paid && (!isForMerchant || code.Batch is not null))
                Amount("amount", paid);
            writer.WriteString("shopper", told);
            writer.WriteEndObject();
        }
    }

    private void WriteTotals()
    {
        var totals = priced.Totals;
        writer.WriteStartObject("totals");
        Amount("regular", totals.Regular);
        Amount("goods", totals.Goods);
        Amount("discount", totals.Discount);
        Amount("net", totals.Net);
        Amount("giftValue", totals.GiftValue);
        Amount("shipping", totals.Shipping);
        Amount("shippingDiscount", totals.ShippingDiscount);
        Amount("tax", totals.Tax);
        Amount("total", totals.Total);
        Amount("credit", totals.Credit);
        Amount("due", totals.Due);
        if (isForMerchant)
        {
            Amount("margin", totals.Margin);
            Amount("contribution", totals.Contribution);
        }

        Amount("saving", totals.Saving);
        writer.WriteNumber("points", totals.Points);
        if (totals.ShippingUnavailable || !isForMerchant)
            writer.WriteBoolean("shippingUnavailable", totals.ShippingUnavailable);
        writer.WriteEndObject();
    }

    private void WriteTax(TaxLine tax)
    {
        writer.WriteString("class", tax.Class);
        writer.WriteNumber("percent", tax.Percent.Value);
        Amount("base", tax.Base);
        Amount("tax", tax.Tax);
    }

    private void WriteNudge(Nudge nudge)
    {
        Of("promotion", nudge.Promotion);
        if (!isForMerchant)
            WriteMeasure(nudge.Measure);
        Figure(
            nudge.Measure,
            !isForMerchant ? "missing"
                : nudge.Measure == Measure.Spend ? "spend"
                : "units",
            nudge.Missing
        );
        List("add", nudge.Add, line =>
        {
            Item(line.Sku);
            writer.WriteNumber("quantity", line.Quantity);
        });
        Amount("saves", nudge.Saves);
        if (isForMerchant)
            writer.WriteString("message", wording.Say(nudge));
        writer.WriteString("shopper", forShopper.Tell(nudge));
    }

    private void WriteProgress(Progress progress)
    {
        Of("promotion", progress.Promotion);
        WriteMeasure(progress.Measure);
        Figure(progress.Measure, "at", progress.At);
        List("steps", progress.Steps, step =>
        {
            Figure(progress.Measure, "from", step.From);
            writer.WriteBoolean("reached", step.Reached);
            writer.WriteString("shopper", progress.Tell(step, forShopper));
        });
    }

    private void WriteMeasure(Measure measure) => writer.WriteString("measure", measure == Measure.Spend ? "spend" : "quantity");

    private void Figure(Measure measure, string name, long figure)
    {
        if (measure == Measure.Spend)
            Amount(name, figure);
        else
            writer.WriteNumber(name, figure);
    }

    // A promotion; a shopper reads its label.
    private void Of(string name, Promotion promotion)
    {
        writer.WriteString(name, promotion.Id);
        if (!isForMerchant)
            writer.WriteString("label", forShopper.Label(promotion));
    }

    // An item; a shopper reads its name.
    private void Item(string sku)
    {
        writer.WriteString("sku", sku);
        if (!isForMerchant)
            writer.WriteString("name", forShopper.Item(sku));
    }

    private void Amount(string name, long? minor)
    {
        if (minor is { } known)
            writer.WriteString(name, priced.Currency.Write(known));
        else
            writer.WriteNull(name);
    }

    private void Texts(string name, IEnumerable<string> texts)
    {
        writer.WriteStartArray(name);
        foreach (var text in texts)
            writer.WriteStringValue(text);
        writer.WriteEndArray();
    }

    private void List<T>(string name, IEnumerable<T> items, Action<T> write)
    {
        writer.WriteStartArray(name);
        foreach (var item in items)
        {
            writer.WriteStartObject();
            write(item);
            writer.WriteEndObject();
        }

        writer.WriteEndArray();
    }
}
