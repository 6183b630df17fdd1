using System.Text.Encodings.Web;
using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Writes results as JSON.</summary>
public static class ResultWriter
{
    private static readonly JsonWriterOptions Options = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>A result, or the problems of a case that was refused, as UTF-8 JSON on one line.</summary>
    /// <param name="reading">What was read.</param>
    /// <param name="effort">How much work may be put into the choice, as a multiple of the default.</param>
    /// <param name="gone">Says that nobody waits for the result any more.</param>
    public static byte[] Write(Reading<Case> reading, int effort = 1, CancellationToken gone = default) =>
        reading.Value is { } read ? Write(read.Price(effort, gone)) : Write(reading.Problems);

    /// <summary>A priced cart as UTF-8 JSON.</summary>
    public static byte[] Write(PricedCart priced) => Document(writer => Write(writer, priced));

    /// <summary>Problems as UTF-8 JSON: <c>{"problems": […]}</c>.</summary>
    public static byte[] Write(IReadOnlyList<Problem> problems) =>
        Document(writer =>
        {
            writer.WriteStartObject();
            writer.WriteStartArray("problems");
            foreach (var problem in problems)
            {
                writer.WriteStartObject();
                writer.WriteString("at", problem.At);
                writer.WriteString("code", problem.Code);
                writer.WriteString("message", problem.Message);
                writer.WriteEndObject();
            }

            writer.WriteEndArray();
            writer.WriteEndObject();
        });

    private static byte[] Document(Action<Utf8JsonWriter> write)
    {
        var buffer = new System.Buffers.ArrayBufferWriter<byte>();
        using (var writer = new Utf8JsonWriter(buffer, Options))
            write(writer);
        return buffer.WrittenSpan.ToArray();
    }

    private static void Write(Utf8JsonWriter writer, PricedCart priced)
    {
        void Amount(string name, long? minor)
        {
            if (minor is { } known)
                writer.WriteString(name, priced.Currency.Write(known));
            else
                writer.WriteNull(name);
        }

        void List<T>(string name, IEnumerable<T> items, Action<T> write)
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

        var wording = new Wording(priced.Catalogue, priced.Currency);
        var forShopper = wording.InLanguage(priced.Cart.Language).Knowing(priced.UsesOf);
        writer.WriteStartObject();
        writer.WriteString("currency", priced.Currency.Code);
        List("lines", priced.Lines, line =>
        {
            writer.WriteString("sku", line.Sku);
            writer.WriteNumber("quantity", line.Quantity);
            Amount("regular", line.Regular);
            Amount("goods", line.Goods);
            Amount("net", line.Net);
            Amount("cost", line.Cost);
            Amount("margin", line.Margin);
            List("parts", line.Parts, part =>
            {
                writer.WriteString("promotion", part.Promotion.Id);
                Amount("amount", part.Amount);
            });
        });
        List("gifts", priced.Gifts, gift =>
        {
            writer.WriteString("promotion", gift.Promotion.Id);
            writer.WriteString("sku", gift.Sku);
            writer.WriteNumber("quantity", gift.Quantity);
            Amount("value", gift.Value);
            Amount("net", gift.Net);
        });
        List("promotions", priced.Outcomes, outcome =>
        {
            writer.WriteString("id", outcome.Promotion.Id);
            writer.WriteBoolean("applied", outcome.Applied);
            if (outcome.Reason is not { } reason)
            {
                Amount("amount", outcome.Amount);
                writer.WriteNumber("units", outcome.Units);
                if (outcome.ToPick is { } toPick)
                {
                    writer.WriteStartObject("toPick");
                    writer.WriteStartArray("skus");
                    foreach (var sku in toPick.Skus)
                        writer.WriteStringValue(sku);
                    writer.WriteEndArray();
                    writer.WriteNumber("units", toPick.Units);
                    writer.WriteEndObject();
                }

                if (outcome.GiftOut)
                    writer.WriteBoolean("giftOut", true);
                writer.WriteString("shopper", forShopper.Tell(outcome));
                return;
            }

            writer.WriteString("reason", reason.Code);
            writer.WriteString("message", wording.Say(reason, priced.Cart.At));
            if (reason is not Reason.CannotMeet(var blocking, _, _))
                return;
            writer.WriteStartArray("blockedBy");
            foreach (var promotion in blocking)
                writer.WriteStringValue(promotion.Id);
            writer.WriteEndArray();
        });
        List("codes", priced.Codes, code =>
        {
            writer.WriteString("code", code.Code);
            writer.WriteString("status", code.Status);
            if (code.Promotion is { } promotion)
                writer.WriteString("promotion", promotion.Id);
            if (code.Batch is not null && code.Paid is { } paid)
                Amount("amount", paid);
            writer.WriteString("shopper", forShopper.Tell(code));
        });
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
        Amount("margin", totals.Margin);
        Amount("contribution", totals.Contribution);
        Amount("saving", totals.Saving);
        writer.WriteNumber("points", totals.Points);
        if (totals.ShippingUnavailable)
            writer.WriteBoolean("shippingUnavailable", true);
        writer.WriteEndObject();
        List("taxes", priced.Taxes, tax =>
        {
            writer.WriteString("class", tax.Class);
            writer.WriteNumber("percent", tax.Percent.Value);
            Amount("base", tax.Base);
            Amount("tax", tax.Tax);
        });
        writer.WriteBoolean("proved", priced.Proved);
        if (priced.Gap is { } gap)
            Amount("gap", gap);
        List("nudges", priced.Nudges, nudge =>
        {
            writer.WriteString("promotion", nudge.Promotion.Id);
            if (nudge.Measure == Measure.Spend)
                Amount("spend", nudge.Missing);
            else
                writer.WriteNumber("units", nudge.Missing);
            List("add", nudge.Add, line =>
            {
                writer.WriteString("sku", line.Sku);
                writer.WriteNumber("quantity", line.Quantity);
            });
            Amount("saves", nudge.Saves);
            writer.WriteString("message", wording.Say(nudge));
            writer.WriteString("shopper", forShopper.Tell(nudge));
        });
        List("progress", priced.Progress, progress =>
        {
            void Figure(string name, long figure)
            {
                if (progress.Measure == Measure.Spend)
                    Amount(name, figure);
                else
                    writer.WriteNumber(name, figure);
            }

            writer.WriteString("promotion", progress.Promotion.Id);
            writer.WriteString("measure", progress.Measure == Measure.Spend ? "spend" : "quantity");
            Figure("at", progress.At);
            List("steps", progress.Steps, step =>
            {
                Figure("from", step.From);
                writer.WriteBoolean("reached", step.Reached);
                writer.WriteString("shopper", progress.Tell(step, forShopper));
            });
        });
        writer.WriteEndObject();
    }
}
