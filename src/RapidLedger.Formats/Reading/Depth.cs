using System.Text.Json;

namespace RapidLedger.Formats;

/// <summary>How deep documents nest.</summary>
public static class Depth
{
    /// <summary>So many levels of lists and objects, one within the other.</summary>
    public const int Most = 64;

    // As deep as is looked for the place.
    private const int Readable = 1_000_000;

    /// <summary>The place of the first value that is too deep; null if there is none before the document breaks off.</summary>
    public static string? FirstTooDeep(ReadOnlySpan<byte> json)
    {
        var reader = new Utf8JsonReader(json, new JsonReaderOptions { MaxDepth = Readable });
        var way = new List<(bool IsList, int Item, string Name)>();
        try
        {
            while (reader.Read())
            {
                switch (reader.TokenType)
                {
                    case JsonTokenType.PropertyName:
                        way[^1] = way[^1] with { Name = NameOf(ref reader) };
                        break;
                    case JsonTokenType.EndObject or JsonTokenType.EndArray:
                        way.RemoveAt(way.Count - 1);
                        break;
                    default:
                        if (way.Count > 0 && way[^1].IsList)
                            way[^1] = way[^1] with { Item = way[^1].Item + 1 };
                        if (reader.TokenType is not (JsonTokenType.StartObject or JsonTokenType.StartArray))
                            break;
                        if (way.Count == Most)
                            return string.Concat(
                                way.Select(step =>
                                    "/"
                                    + Pointer.Escaped(
                                        step.IsList ? step.Item.ToString(System.Globalization.CultureInfo.InvariantCulture) : step.Name
                                    )
                                )
                            );
                        way.Add((reader.TokenType == JsonTokenType.StartArray, -1, ""));
                        break;
                }
            }
        }
        catch (JsonException)
        {
            // Broken before it is too deep.
        }

        return null;
    }

    // Half of a character is no name that is known anywhere.
    private static string NameOf(ref Utf8JsonReader reader)
    {
        try
        {
            return reader.GetString() ?? "";
        }
        catch (InvalidOperationException)
        {
            return "?";
        }
    }
}
