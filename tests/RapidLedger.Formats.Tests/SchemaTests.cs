using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>The published schemas against every case file and its result, by ajv (npm, MIT), a validator of JSON Schema 2020-12.</summary>
public class SchemaTests
{
    [Fact]
    public void Cases_and_results_are_of_the_form_that_the_schemas_tell()
    {
        var files = Directory
            .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json")
            .Order(StringComparer.Ordinal)
            .ToArray();
        var read = files.Select(file => (File: file, Json: File.ReadAllBytes(file))).ToArray();
        PricedCart[] priced = [.. read.Select(one => CaseReader.Read(one.Json).Value).OfType<Case>().Select(one => one.Price())];
        var asked = new JsonObject
        {
            ["case"] = Schemas.Case(),
            ["promotion"] = Schemas.Promotion(),
            ["result"] = Schemas.Result(),
            ["told"] = Schemas.StoreResult(),
            ["shown"] = Schemas.Shown(),
            ["answers"] = new JsonArray([.. priced.Select(cart => StoreResult.Of(cart, new Wording(cart.Catalogue, cart.Currency)))]),
            ["agreed"] = new JsonArray([.. priced.Select(StoreResult.Shown)]),
            ["cases"] = new JsonArray([
                .. read.Where(one => CaseReader.Read(one.Json).Value is not null).Select(one => JsonNode.Parse(one.Json)),
            ]),
            ["results"] = new JsonArray([.. read.Select(one => JsonNode.Parse(ResultWriter.Write(CaseReader.Read(one.Json))))]),
            ["wrong"] = new JsonArray(
                JsonNode.Parse("""{"id": "a", "rewards": [{"kind": "discont"}]}"""),
                JsonNode.Parse("""{"id": "a", "rewards": [], "limits": {"perShoper": 1}}""")
            ),
            ["misspelt"] = new JsonArray(
                JsonNode.Parse("""{"totals": {"nett": "1.00"}}"""),
                JsonNode.Parse("""{"promotions": [{"applied": "yes"}]}"""),
                JsonNode.Parse("""{"proved": "true"}""")
            ),
        };
        var answer = NodeScript.Ask(
            """
            import { createRequire } from 'node:module';
            const Ajv = createRequire(process.cwd() + '/x.js')('ajv/dist/2020').default;
            const ajv = new Ajv({ strict: true });
            const failing = (schema, list) => { const validate = ajv.compile(schema); return list.filter((one) => !validate(one)).map((one) => one.title ?? JSON.stringify(one).slice(0, 80)); };
            console.log(JSON.stringify({
              cases: failing(asked.case, asked.cases),
              promotions: failing(asked.promotion, asked.cases.flatMap((one) => one.promotions)),
              results: failing(asked.result, asked.results),
              told: failing(asked.told, asked.answers).concat(failing(asked.shown, asked.agreed)),
              wrong: failing(asked.promotion, asked.wrong).length,
              misspelt: failing(asked.case, asked.misspelt.map((expect) => ({ ...asked.cases[0], expect }))).length,
            }));
            """,
            asked.ToJsonString()
        );
        Assert.Equal("[]", answer.GetProperty("cases").GetRawText());
        Assert.Equal("[]", answer.GetProperty("promotions").GetRawText());
        Assert.Equal("[]", answer.GetProperty("results").GetRawText());
        Assert.Equal("[]", answer.GetProperty("told").GetRawText());
        Assert.Equal((2, 3), (answer.GetProperty("wrong").GetInt32(), answer.GetProperty("misspelt").GetInt32()));
        // Each member of the form is met somewhere: none is told that is never there.
        var met = Members(asked["answers"]!).ToHashSet();
        Assert.Equal([], Named(Schemas.StoreResult()).Except(met));
    }

    [Fact]
    public void Every_member_of_the_schemas_is_told_in_words()
    {
        JsonNode[] schemas =
        [
            Schemas.Case(),
            Schemas.Promotion(),
            Schemas.Result(),
            Schemas.StoreCart(),
            Schemas.StoreResult(),
            Schemas.Shown(),
            Schemas.Order([]),
            Schemas.PlacingConflict([], [], []),
        ];
        Assert.Equal([], schemas.SelectMany(Untold).Distinct());
        static IEnumerable<string> Untold(JsonNode? node) =>
            node switch
            {
                JsonObject { } form => form.SelectMany(member =>
                    member is { Key: "properties", Value: JsonObject members } && form["additionalProperties"] is JsonValue
                        ? members
                            .Where(one => one.Value!["description"] is null)
                            .Select(one => one.Key)
                            .Concat(members.SelectMany(one => Untold(one.Value)))
                        : Untold(member.Value)
                ),
                JsonArray list => list.SelectMany(Untold),
                _ => [],
            };
    }

    private static IEnumerable<string> Members(JsonNode? node) =>
        node switch
        {
            JsonObject all => all.SelectMany(member => Members(member.Value).Prepend(member.Key)),
            JsonArray list => list.SelectMany(Members),
            _ => [],
        };

    private static IEnumerable<string> Named(JsonNode? form) =>
        form switch
        {
            JsonObject all => all.SelectMany(member =>
                member is { Key: "properties", Value: JsonObject properties }
                    ? properties.SelectMany(one => Named(one.Value).Prepend(one.Key))
                    : Named(member.Value)
            ),
            JsonArray list => list.SelectMany(Named),
            _ => [],
        };

    /// <summary>
    /// Every place of every case file once with a member too many, a member too few and a value of another kind. What the reader refuses
    /// for
    /// its form the schema refuses too, and what the schema refuses the reader does.
    /// </summary>
    [Fact]
    public void What_is_refused_for_its_form_is_refused_by_the_schema_too()
    {
        string[] ofForm = [ProblemCode.UnknownName, ProblemCode.Missing, ProblemCode.WrongType, ProblemCode.ExactlyOne];
        var broken = new Dictionary<string, JsonNode>(StringComparer.Ordinal);
        foreach (
            var file in Directory.EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json").Order(StringComparer.Ordinal)
        )
        {
            var json = File.ReadAllBytes(file);
            if (CaseReader.Read(json).Value is null)
                continue;
            var whole = JsonNode.Parse(json)!;
            foreach (var (place, kind) in Places(whole, "").Where(one => !one.Place.StartsWith("/expect", StringComparison.Ordinal)))
            foreach (var change in (string[])["more", "less", "other"])
                if (!broken.ContainsKey($"{change} {kind}") && Broken(whole, place, change) is { } changed)
                    broken.Add($"{change} {kind}", changed);
        }

        var readings = broken
            .Select(one => (one.Key, Problems: CaseReader.Read(System.Text.Encoding.UTF8.GetBytes(one.Value.ToJsonString())).Problems))
            .ToArray();
        var asked = new JsonObject { ["schema"] = Schemas.Case(), ["cases"] = new JsonArray([.. broken.Values]) };
        var told = NodeScript
            .Ask(
                """
                import { createRequire } from 'node:module';
                const Ajv = createRequire(process.cwd() + '/x.js')('ajv/dist/2020').default;
                const validate = new Ajv({ strict: true, allErrors: true }).compile(asked.schema);
                const places = () => new Set(validate.errors.filter((error) => error.keyword !== 'if').map((error) => error.instancePath)).size;
                console.log(JSON.stringify(asked.cases.map((one) => (validate(one) ? 0 : places()))));
                """,
                asked.ToJsonString()
            )
            .EnumerateArray()
            .Select(answer => answer.GetInt32())
            .ToArray();
        var refused = told.Select(places => places > 0).ToArray();
        Assert.Equal(
            "",
            string.Join(
                "\n",
                readings
                    .Where((one, at) => !refused[at] && one.Problems.Any(problem => ofForm.Contains(problem.Code)))
                    .Select(one => $"not refused by the schema: {one.Key}: {one.Problems[0]}")
            )
        );
        Assert.Equal(
            "",
            string.Join(
                "\n",
                readings.Where((one, at) => refused[at] && one.Problems.Count == 0).Select(one => $"refused by the schema alone: {one.Key}")
            )
        );
        Assert.True(refused.Count(one => one) > 300);
        // One thing that is wrong is told at one place, not by everything that it might have been.
        Assert.Equal("", string.Join("\n", readings.Where((_, at) => told[at] > 1).Select(one => one.Key)));
    }

    // Every place, and the same with the numbers of lists and the names of maps left out.
    private static IEnumerable<(string Place, string Kind)> Places(JsonNode? node, string at)
    {
        yield return (
            at,
            System.Text.RegularExpressions.Regex.Replace(at, "/[0-9]+|(?<=/(usage|picks|rates|batches|options|codes))/[^/]+", "/*")
        );
        var children = node switch
        {
            JsonObject whole => whole.Select(member => (member.Key, member.Value)),
            JsonArray list => list.Select((one, number) => (Key: $"{number}", Value: one)),
            _ => [],
        };
        foreach (var (key, value) in children)
        foreach (var place in Places(value, $"{at}/{key}"))
            yield return place;
    }

    private static JsonNode? Broken(JsonNode whole, string place, string change)
    {
        var changed = whole.DeepClone();
        var names = place.Split('/')[1..];
        if (names.Length == 0)
            return null;
        var parent = changed;
        foreach (var name in names[..^1])
            parent = parent is JsonArray list ? list[int.Parse(name, System.Globalization.CultureInfo.InvariantCulture)]! : parent[name]!;
        switch (change, parent)
        {
            case ("more", JsonObject owner) when owner[names[^1]] is JsonObject inner:
                inner["unheardOf"] = true;
                return changed;
            case ("less", JsonObject owner):
                owner.Remove(names[^1]);
                return changed;
            case ("other", JsonObject owner):
                owner[names[^1]] = owner[names[^1]] is JsonArray or JsonObject ? JsonValue.Create(7.5) : new JsonArray(new JsonArray());
                return changed;
            default:
                return null;
        }
    }
}
