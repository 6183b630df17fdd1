using System.Text.Json;
using System.Text.Json.Nodes;

namespace RapidLedger.Storage;

/// <summary>A word of the shop's own: it has no id, so whatever names it holds the word itself.</summary>
/// <param name="Kind">group, tag, brand, channel, option (a value of one) or family.</param>
/// <param name="Option">Of a value the option's name; null: it is no value.</param>
/// <param name="Word">The word.</param>
public readonly record struct ShopWord(string Kind, string? Option, string Word);

/// <summary>A word that gets another name, everywhere at once.</summary>
/// <param name="Was">The word as it was.</param>
/// <param name="Becomes">And as it is called then.</param>
public sealed record WordRename(ShopWord Was, string Becomes)
{
    /// <summary>The kinds of words.</summary>
    public static IReadOnlyList<string> Kinds { get; } = ["group", "tag", "brand", "channel", "option", "family"];

    /// <summary>What takes it back.</summary>
    public WordRename Back => new(Was with { Word = Becomes }, Was.Word);

    /// <summary>The words that a promotion or a cart holds, each as often as it stands there.</summary>
    /// <param name="document">As in a case.</param>
    public static IEnumerable<ShopWord> WordsOf(JsonNode? document)
    {
        var words = new List<ShopWord>();
        Each(document, word =>
        {
            words.Add(word);
            return null;
        });
        return words;
    }

    /// <summary>Renames the word wherever a promotion or a cart holds it.</summary>
    /// <param name="document">As in a case; it is changed.</param>
    /// <returns>Whether it held the word.</returns>
    public bool In(JsonNode? document)
    {
        var isThere = false;
        Each(document, word =>
        {
            if (word != Was)
                return null;
            isThere = true;
            return Becomes;
        });
        return isThere;
    }

    /// <summary>A document read through renames; null stays null.</summary>
    /// <param name="document">JSON.</param>
    /// <param name="renames">A JSON list of kind, option, word and what it becomes, in their order.</param>
    internal static string? Through(string? document, string? renames)
    {
        if (document is null || renames is null or "[]")
            return document;
        var (node, isChanged) = (Parse(document), false);
        foreach (var rename in JsonNode.Parse(renames)!.AsArray())
            isChanged |= new WordRename(new((string)rename![0]!, (string?)rename[1], (string)rename[2]!), (string)rename[3]!).In(node);
        return isChanged ? node!.ToJsonString() : document;
    }

    /// <summary>A document with a word renamed; null: it does not hold it.</summary>
    internal static string? Renamed(WordRename rename, string document)
    {
        var node = Parse(document);
        return rename.In(node) ? node!.ToJsonString() : null;
    }

    // A draft may be anything that was typed.
    private static JsonNode? Parse(string document)
    {
        try
        {
            return JsonNode.Parse(document);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    // Visits each word; what it is given back takes its place.
    private static void Each(JsonNode? node, Func<ShopWord, string?> visit)
    {
        switch (node)
        {
            case JsonArray list:
                foreach (var part in list)
                    Each(part, visit);
                break;
            case JsonObject members:
                foreach (var (name, value) in members.ToArray())
                    switch (name)
                    {
                        case "tag" or "brand" or "channel" or "family" when Text(value) is { } word:
                            if (visit(new(name, null, word)) is { } other)
                                members[name] = other;
                            break;
                        case "groups" or "channel" when value is JsonArray words:
                            EachIn(words, name == "groups" ? "group" : name, visit);
                            break;
                        case "option"
                            when value is JsonObject option && Text(option["name"]) is { } of && Text(option["value"]) is { } word:
                            if (visit(new(name, of, word)) is { } value2)
                                option["value"] = value2;
                            break;
                        default:
                            Each(value, visit);
                            break;
                    }

                break;
        }
    }

    private static void EachIn(JsonArray words, string kind, Func<ShopWord, string?> visit)
    {
        for (var place = 0; place < words.Count; place++)
            if (Text(words[place]) is { } word && visit(new(kind, null, word)) is { } other)
                words[place] = other;
    }

    private static string? Text(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;
}
