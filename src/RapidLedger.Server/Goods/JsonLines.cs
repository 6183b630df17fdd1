using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Goods;

/// <summary>Reads JSON lines (jsonlines.org; media type application/x-ndjson): an object a line, empty lines apart.</summary>
internal static class JsonLines
{
    private static readonly JsonDocumentOptions Options = new() { MaxDepth = 8 };

    /// <summary>The lines of a text, in memory that does not grow with it.</summary>
    /// <param name="stream">UTF-8.</param>
    /// <param name="longest">The longest line, in characters.</param>
    /// <param name="bad">Is told what cannot be read.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public static async IAsyncEnumerable<IncomingLine> Read(
        Stream stream,
        int longest,
        Action<BadLine> bad,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken gone = default
    )
    {
        using var reader = new StreamReader(stream, new UTF8Encoding(false, throwOnInvalidBytes: false));
        var (number, line, buffer) = (0, new StringBuilder(), new char[16 * 1024]);
        var isOver = false;
        while (!isOver)
        {
            var read = await reader.ReadAsync(buffer.AsMemory(), gone);
            isOver = read == 0;
            var rest = new ReadOnlyMemory<char>(buffer, 0, read);
            while (!rest.IsEmpty || isOver)
            {
                var end = rest.Span.IndexOf('\n');
                line.Append(end < 0 ? rest : rest[..end]);
                if (line.Length > longest)
                {
                    bad(new(number + 1, "", ProblemCode.OutOfRange, $"This line is longer than {longest} characters."));
                    yield break;
                }

                if (end < 0 && !isOver)
                    break;
                rest = end < 0 ? default : rest[(end + 1)..];
                number++;
                var text = line.ToString().Trim();
                line.Clear();
                if (text.Length > 0 && Parse(text, number, bad) is { } members)
                    yield return new(number, members);
                if (isOver)
                    break;
            }
        }
    }

    private static JsonObject? Parse(string text, int number, Action<BadLine> bad)
    {
        try
        {
            using var document = JsonDocument.Parse(text, Options);
            if (document.RootElement.ValueKind == JsonValueKind.Object)
            {
                WholeJson.Check(document.RootElement);
                return JsonObject.Create(document.RootElement.Clone());
            }

            bad(new(number, "", ProblemCode.WrongType, "An object is expected in this line."));
        }
        catch (UnfitJsonException unfit)
        {
            bad(new(number, unfit.Problem.At.TrimStart('/'), unfit.Problem.Code, unfit.Problem.Message));
        }
        catch (JsonException)
        {
            bad(new(number, "", ProblemCode.NotJson, "This line is not a JSON object that can be read."));
        }

        return null;
    }
}
