using System.Text.Json;

namespace RapidLedger.Formats;

/// <summary>Compares a result with what a case expects of it.</summary>
public static class Expectation
{
    /// <summary>
    /// The differences, each with its place: members of objects may be left out of what is expected, lists are compared whole and
    /// in order, their entries may leave members out.
    /// </summary>
    public static IReadOnlyList<string> Differences(JsonElement expected, JsonElement actual)
    {
        var differences = new List<string>();
        Compare(expected, actual, "", differences);
        return differences;
    }

    private static void Compare(JsonElement expected, JsonElement? found, string at, List<string> differences)
    {
        if (found is not { } actual)
        {
            differences.Add($"{at}: expected {Short(expected)}, is not there");
            return;
        }

        switch (expected.ValueKind, actual.ValueKind)
        {
            case (JsonValueKind.Object, JsonValueKind.Object):
                foreach (var member in expected.EnumerateObject())
                    Compare(
                        member.Value,
                        actual.TryGetProperty(member.Name, out var value) ? value : null,
                        $"{at}/{member.Name}",
                        differences
                    );
                break;
            case (JsonValueKind.Array, JsonValueKind.Array) when expected.GetArrayLength() == actual.GetArrayLength():
                for (var i = 0; i < expected.GetArrayLength(); i++)
                    Compare(expected[i], actual[i], $"{at}/{i}", differences);
                break;
            default:
                if (!JsonElement.DeepEquals(expected, actual))
                    differences.Add($"{at}: expected {Short(expected)}, is {Short(actual)}");
                break;
        }
    }

    private static string Short(JsonElement value) => value.GetRawText() is { Length: > 200 } text ? text[..200] + "…" : value.GetRawText();
}
