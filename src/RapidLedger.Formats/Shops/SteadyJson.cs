using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <summary>
/// Writes a document the same way however it was typed: members in one order, two spaces, line feeds. So a change of a shop is a readable
/// difference of its files.
/// </summary>
internal static class SteadyJson
{
    // What says what a thing is comes first; the rest by name.
    private static readonly string[] First =
    [
        "id",
        "sku",
        "name",
        "label",
        "title",
        "note",
        "state",
        "rank",
        "kind",
        "trigger",
        "window",
        "when",
        "on",
        "of",
        "buy",
        "get",
        "in",
        "out",
        "take",
        "per",
        "rewards",
        "limits",
        "stacking",
        "says",
    ];

    // Of these the order means something: the first language is read where no other fits, and currencies are listed as they stand.
    private static readonly string[] AsTyped = ["label", "near", "reached", "refused", "rates"];

    private static readonly JsonWriterOptions Form = new()
    {
        Indented = true,
        NewLine = "\n",
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static byte[] Write(JsonNode document)
    {
        using var bytes = new MemoryStream();
        using (var writer = new Utf8JsonWriter(bytes, Form))
            Ordered(document)!.WriteTo(writer);
        bytes.WriteByte((byte)'\n');
        return bytes.ToArray();
    }

    private static JsonNode? Ordered(JsonNode? node)
    {
        switch (node)
        {
            case JsonObject members:
                var ordered = new JsonObject();
                foreach (
                    var (name, value) in members.OrderBy(member => Place(member.Key)).ThenBy(member => member.Key, StringComparer.Ordinal)
                )
                    ordered[name] = AsTyped.Contains(name) ? value?.DeepClone() : Ordered(value);
                return ordered;
            case JsonArray items:
                return new JsonArray([.. items.Select(Ordered)]);
            default:
                return node?.DeepClone();
        }
    }

    private static int Place(string name) => Array.IndexOf(First, name) is >= 0 and var place ? place : First.Length;

    /// <summary>A document of an object, or what is wrong with it.</summary>
    public static (JsonObject? Document, string? Fault) Read(byte[] bytes)
    {
        try
        {
            return JsonNode.Parse(ByteOrderMark.Utf8(bytes).Span) is JsonObject document
                ? (document, null)
                : (null, "An object is expected here.");
        }
        catch (JsonException error)
        {
            return (null, $"This is not a JSON document: line {error.LineNumber + 1}, byte {error.BytePositionInLine + 1}.");
        }
        catch (ArgumentException)
        {
            // A name twice: it is told where it is read.
            return (null, "A name stands here twice. Keep one.");
        }
    }

    public static readonly UTF8Encoding Utf8 = new(encoderShouldEmitUTF8Identifier: false);
}
