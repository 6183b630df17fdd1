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
    public static byte[] Write(PricedCart priced) =>
        Document(writer =>
            new PricedCartWriter(writer, priced, new Wording(priced.Catalogue, priced.Currency), isForMerchant: true).Write()
        );

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

    internal static byte[] Document(Action<Utf8JsonWriter> write)
    {
        var buffer = new System.Buffers.ArrayBufferWriter<byte>();
        using (var writer = new Utf8JsonWriter(buffer, Options))
            write(writer);
        return buffer.WrittenSpan.ToArray();
    }
}
