using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>A document inside a request that no store could keep and no reader could read; it says what and where.</summary>
internal sealed class UnfitJsonException(Problem problem) : JsonException(problem.Message)
{
    public Problem Problem { get; } = problem;
}

/// <summary>
/// Takes documents as they stand, whole: texts of whole characters, each name once, and no deeper than files may nest. Pointers begin in
/// the
/// document; the way to it is added by whoever reads the request.
/// </summary>
internal sealed class WholeJson : JsonConverter<JsonElement>
{
    public override JsonElement Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        var element = JsonElement.ParseValue(ref reader);
        Check(element, "", 0);
        return element;
    }

    public override void Write(Utf8JsonWriter writer, JsonElement value, JsonSerializerOptions options) => value.WriteTo(writer);

    /// <summary>Looks whether a value can be kept and read.</summary>
    /// <exception cref="UnfitJsonException">It cannot.</exception>
    public static void Check(JsonElement element) => Check(element, "", 0);

    private static void Check(JsonElement element, string at, int depth)
    {
        switch (element.ValueKind)
        {
            case JsonValueKind.Object or JsonValueKind.Array when depth == Depth.Most:
                throw new UnfitJsonException(
                    new(at, ProblemCode.TooDeep, $"This nests deeper than {Depth.Most} levels. Take some of them away.")
                );
            case JsonValueKind.Object:
                var names = new HashSet<string>(StringComparer.Ordinal);
                foreach (var member in element.EnumerateObject())
                {
                    if (WholeText.Of(() => member.Name) is not { } name)
                        throw new UnfitJsonException(
                            new(at, ProblemCode.UnknownName, "A name here holds half of a character (a lone surrogate).")
                        );
                    var inside = $"{at}/{Pointer.Escaped(name)}";
                    if (!names.Add(name))
                        throw new UnfitJsonException(new(inside, ProblemCode.Duplicate, $"'{name}' stands here twice. Keep one."));
                    Check(member.Value, inside, depth + 1);
                }

                break;
            case JsonValueKind.Array:
                var place = 0;
                foreach (var item in element.EnumerateArray())
                    Check(item, string.Create(CultureInfo.InvariantCulture, $"{at}/{place++}"), depth + 1);
                break;
            case JsonValueKind.String when WholeText.Of(element.GetString) is null:
                throw new UnfitJsonException(
                    new(at, ProblemCode.WrongType, "This text holds half of a character (a lone surrogate). Type it again.")
                );
        }
    }
}
