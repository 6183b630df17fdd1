using System.Text;
using System.Text.Json.Nodes;

namespace RapidLedger.Formats.Tests;

/// <summary>A case told in another way, or beside things that have nothing to do with it, gives the same result.</summary>
public class RetellingTests
{
    public static TheoryData<string> Files() =>
        new(
            Directory
                .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json")
                .Where(file => CaseReader.Read(File.ReadAllBytes(file)).Value is not null)
                .Select(Path.GetFileName)
                .Order(StringComparer.Ordinal)!
        );

    [Theory]
    [MemberData(nameof(Files))]
    public void Gives_the_same_however_it_is_told(string file)
    {
        var told = Read(file);
        var expected = Result(told);

        // Members of an object have no order, promotions and terms of a selection neither.
        Assert.Equal(Sorted(expected), Sorted(Result(Backward(told, [])!)));

        // White space and escapes mean nothing.
        var escaped = Encoding.UTF8.GetBytes(
            Escaped(
                told.ToJsonString(
                    new()
                    {
                        WriteIndented = true,
                        IndentSize = 3,
                        NewLine = "\r\n",
                    }
                )
            )
        );
        Assert.Equal(expected.ToJsonString(), JsonNode.Parse(ResultWriter.Write(CaseReader.Read(escaped)))!.ToJsonString());

        // What is absent may be said to be as it is then.
        var named = (JsonObject)told.DeepClone();
        foreach (var promotion in named["promotions"]!.AsArray().OfType<JsonObject>())
            promotion["state"] ??= "live";
        foreach (var promotion in named["promotions"]!.AsArray().OfType<JsonObject>())
            promotion["rank"] ??= 100;
        Assert.Equal(expected.ToJsonString(), Result(named).ToJsonString());
    }

    [Theory]
    [MemberData(nameof(Files))]
    public void Is_not_changed_by_what_has_nothing_to_do_with_it(string file)
    {
        var told = Read(file);
        var expected = Result(told);
        var beside = (JsonObject)told.DeepClone();
        var promotions = beside["promotions"]!.AsArray();
        string[] others =
        [
            """{"id": "~paused", "state": "paused", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 100}, "per": "unit"}]}""",
            """{"id": "~draft", "state": "draft", "rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"all": true}]}, "take": {"percent": 100}}]}]}""",
            """{"id": "~later", "window": {"start": "2199-01-01T00:00"}, "rewards": [{"kind": "points", "fixed": 1000}]}""",
            """{"id": "~over", "window": {"end": "1999-01-01T00:00"}, "rewards": [{"kind": "credit", "amount": "1000", "keepRest": false}]}""",
            """{"id": "~code", "trigger": {"codes": ["never typed by anybody"]}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 100}, "per": "cart"}]}""",
            """{"id": "~place", "when": {"destination": {"in": ["AQ"]}}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 100}, "per": "unit"}]}""",
            """{"id": "~channel", "when": {"all": [{"channel": ["carrier pigeon"]}]}, "stacking": {"allow": "none"}, "rewards": [{"kind": "points", "fixed": 1000}]}""",
            """{"id": "~both", "when": {"any": [{"destination": {"in": ["AQ"]}}, {"quantity": {"op": ">", "n": 5000000}}]}, "rewards": [{"kind": "points", "fixed": 1000}]}""",
        ];
        foreach (var other in others)
            promotions.Insert(promotions.Count / 2, JsonNode.Parse(other));
        var result = Result(beside);

        foreach (var part in new[] { "totals", "lines", "gifts", "taxes", "codes", "proved", "toPick" })
            Assert.Equal(expected[part]?.ToJsonString(), result[part]?.ToJsonString());
        // Those that are live are told, each with why it is not there; those that are not, are not.
        var reasons = result["promotions"]!
            .AsArray()
            .Select(outcome => ((string)outcome!["id"]!, (string?)outcome["reason"]))
            .Where(outcome => outcome.Item1[0] == '~')
            .Order();
        Assert.Equal(
            [
                ("~both", "conditionNotMet"),
                ("~channel", "conditionNotMet"),
                ("~code", "codeNotEntered"),
                ("~later", "notStarted"),
                ("~over", "ended"),
                ("~place", "conditionNotMet"),
            ],
            reasons
        );
        Assert.Equal(
            expected["promotions"]!.AsArray().Select(outcome => outcome!.ToJsonString()).Order(),
            result["promotions"]!
                .AsArray()
                .Where(outcome => ((string)outcome!["id"]!)[0] != '~')
                .Select(outcome => outcome!.ToJsonString())
                .Order()
        );
    }

    private static JsonObject Read(string file)
    {
        var told = JsonNode.Parse(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "cases", file)))!.AsObject();
        told.Remove("expect");
        return told;
    }

    private static JsonObject Result(JsonNode told) =>
        JsonNode.Parse(ResultWriter.Write(CaseReader.Read(Encoding.UTF8.GetBytes(told.ToJsonString()))))!.AsObject();

    private static JsonNode? Backward(JsonNode? node, string[] at) =>
        node switch
        {
            JsonObject members => new JsonObject(
                members.Reverse().Select(member => KeyValuePair.Create(member.Key, Backward(member.Value, [.. at, member.Key])))
            ),
            JsonArray list when at is [.., "promotions"] or [.., "in"] or [.., "out"] => new JsonArray([
                .. list.Reverse().Select(part => Backward(part, [.. at, "-"])),
            ]),
            JsonArray list => new JsonArray([.. list.Select(part => Backward(part, [.. at, "-"]))]),
            _ => node?.DeepClone(),
        };

    // What is told of promotions repeats selections and places in the order in which they were written.
    private static string Sorted(JsonNode result) =>
        string.Join(
            '\n',
            result
                .AsObject()
                .Where(member => member.Key is not ("promotions" or "nudges"))
                .Select(member => $"{member.Key} {member.Value?.ToJsonString()}")
                .Order(StringComparer.Ordinal)
        );

    private static string Escaped(string json)
    {
        var text = new StringBuilder();
        var inText = false;
        for (var i = 0; i < json.Length; i++)
        {
            if (json[i] == '\\')
            {
                var length = json[i + 1] == 'u' ? 6 : 2;
                text.Append(json, i, length);
                i += length - 1;
                continue;
            }

            if (json[i] == '"')
                inText = !inText;
            else if (inText && char.IsAsciiLetter(json[i]))
            {
                text.Append(System.Globalization.CultureInfo.InvariantCulture, $"\\u{(int)json[i]:x4}");
                continue;
            }

            text.Append(json[i]);
        }

        return text.ToString();
    }
}
