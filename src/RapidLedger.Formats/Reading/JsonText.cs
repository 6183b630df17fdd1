using System.Text.Json;

namespace RapidLedger.Formats;

/// <summary>Something read from a document, or what is wrong with it.</summary>
/// <param name="Value">Null if there are problems.</param>
/// <param name="Problems">All of them, as they stand in the document.</param>
public sealed record Reading<T>(T? Value, IReadOnlyList<Problem> Problems)
    where T : class;

/// <summary>A document as UTF-8 JSON, which is read as a whole.</summary>
internal static class JsonText
{
    private static readonly JsonDocumentOptions Options = new() { MaxDepth = Depth.Most };

    /// <summary>Reads it; all problems are found, and with any nothing is read.</summary>
    public static Reading<T> Read<T>(ReadOnlyMemory<byte> json, Func<Node, T?> read)
        where T : class
    {
        json = ByteOrderMark.Utf8(json);
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(json, Options);
        }
        catch (JsonException error)
        {
            if (Depth.FirstTooDeep(json.Span) is { } deep)
                return new(null, [new(deep, ProblemCode.TooDeep, $"This nests deeper than {Depth.Most} levels. Take some of them away.")]);
            return new(
                null,
                [
                    new(
                        "",
                        ProblemCode.NotJson,
                        $"This is not a JSON document: line {error.LineNumber + 1}, byte {error.BytePositionInLine + 1}. {Plain(error.Message)}"
                    ),
                ]
            );
        }

        using (document)
        {
            var problems = new ProblemList();
            var value = read(new(document.RootElement, Pointer.Root, problems));
            return problems.Count == 0 ? new(value, []) : new(null, problems.InOrder());
        }
    }

    // The parser's own sentence without its trailer of positions.
    private static string Plain(string message) =>
        message.IndexOf(" LineNumber", StringComparison.Ordinal) is > 0 and var end ? message[..end] : message;
}
