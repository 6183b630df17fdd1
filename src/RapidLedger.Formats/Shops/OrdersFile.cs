using System.Text.Encodings.Web;
using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>An order as it goes out with a shop: what was bought and paid. It comes in elsewhere as an order from before.</summary>
/// <param name="Number">Its number.</param>
/// <param name="At">When it was placed, to the second.</param>
/// <param name="Currency">The currency of its amounts.</param>
/// <param name="Shopper">Who bought; null: nobody that is known.</param>
/// <param name="Place">Where it went; null: unknown.</param>
/// <param name="Channel">Where it was placed; null: unknown.</param>
/// <param name="Method">How it was delivered; null: unknown.</param>
/// <param name="Codes">The codes by which something was taken off.</param>
/// <param name="IsAssumed">Whether the price of a line was not said when it came in.</param>
/// <param name="Delivery">What delivery came to, in minor units.</param>
/// <param name="Lines">What was bought and kept.</param>
public sealed record ArchivedOrder(
    string Number,
    Instant At,
    Currency Currency,
    string? Shopper,
    string? Place,
    string? Channel,
    string? Method,
    IReadOnlyList<string> Codes,
    bool IsAssumed,
    long Delivery,
    IReadOnlyList<ArchivedOrderLine> Lines
);

/// <summary>A line of an order that goes out.</summary>
/// <param name="Sku">What was bought.</param>
/// <param name="Quantity">Units, at least one.</param>
/// <param name="Paid">What was paid for all of them, in minor units of the order's currency, with tax where prices include it.</param>
public sealed record ArchivedOrderLine(string Sku, long Quantity, long Paid);

/// <summary>
/// Writes orders as JSON lines, a line a row, in the form in which orders from before come in: what is of the whole order stands in its
/// first row.
/// </summary>
public static class OrdersFile
{
    // Names of shoppers and goods stay readable; the file is no page.
    private static readonly JsonWriterOptions Options = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Writes orders, each as it comes.</summary>
    public static void Write(IEnumerable<ArchivedOrder> orders, Stream to)
    {
        using var row = new Utf8JsonWriter(to, Options);
        foreach (var order in orders)
            for (var line = 0; line < order.Lines.Count; line++)
            {
                Write(row, order, order.Lines[line], isFirst: line == 0);
                row.Flush();
                to.WriteByte((byte)'\n');
                row.Reset();
            }
    }

    private static void Write(Utf8JsonWriter row, ArchivedOrder order, ArchivedOrderLine line, bool isFirst)
    {
        row.WriteStartObject();
        row.WriteString("order", order.Number);
        row.WriteString("at", InstantPattern.General.Format(order.At));
        row.WriteString("sku", line.Sku);
        row.WriteNumber("quantity", line.Quantity);
        row.WriteString("paid", order.Currency.Write(line.Paid));
        if (isFirst)
        {
            row.WriteString("delivery", order.Currency.Write(order.Delivery));
            row.WriteString("currency", order.Currency.Code);
            foreach (
                var (name, text) in ((string, string?)[])
                    [("shopper", order.Shopper), ("place", order.Place), ("channel", order.Channel), ("method", order.Method)]
            )
                if (text is not null)
                    row.WriteString(name, text);
            if (order.Codes.Count > 0)
            {
                row.WriteStartArray("code");
                foreach (var code in order.Codes)
                    row.WriteStringValue(code);
                row.WriteEndArray();
            }

            if (order.IsAssumed)
                row.WriteBoolean("assumed", true);
        }

        row.WriteEndObject();
    }
}
