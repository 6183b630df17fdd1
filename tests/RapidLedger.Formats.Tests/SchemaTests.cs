using System.Text.Json.Nodes;

namespace RapidLedger.Formats.Tests;

/// <summary>The published schemas against every case file and its result, by ajv (npm, MIT), a validator of JSON Schema 2020-12.</summary>
public class SchemaTests
{
    [Fact]
    public void Cases_and_results_are_of_the_form_that_the_schemas_tell()
    {
        var files = Directory.EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json").Order(StringComparer.Ordinal).ToArray();
        var read = files.Select(file => (File: file, Json: File.ReadAllBytes(file))).ToArray();
        var asked = new JsonObject
        {
            ["case"] = Schemas.Case(),
            ["promotion"] = Schemas.Promotion(),
            ["result"] = Schemas.Result(),
            ["cases"] = new JsonArray([.. read.Where(one => CaseReader.Read(one.Json).Value is not null).Select(one => JsonNode.Parse(one.Json))]),
            ["results"] = new JsonArray([.. read.Select(one => JsonNode.Parse(ResultWriter.Write(CaseReader.Read(one.Json))))]),
            ["wrong"] = new JsonArray(JsonNode.Parse("""{"id": "a", "rewards": [{"kind": "discont"}]}"""), JsonNode.Parse("""{"id": "a", "rewards": [], "limits": {"perShoper": 1}}""")),
        };
        var answer = NodeScript.Ask(
            """
            import { createRequire } from 'node:module';
            const Ajv = createRequire(process.cwd() + '/x.js')('ajv/dist/2020').default;
            const ajv = new Ajv({ strict: false });
            const failing = (schema, list) => { const validate = ajv.compile(schema); return list.filter((one) => !validate(one)).map((one) => one.title ?? JSON.stringify(one).slice(0, 80)); };
            console.log(JSON.stringify({
              cases: failing(asked.case, asked.cases),
              promotions: failing(asked.promotion, asked.cases.flatMap((one) => one.promotions)),
              results: failing(asked.result, asked.results),
              wrong: failing(asked.promotion, asked.wrong).length,
            }));
            """,
            asked.ToJsonString());
        Assert.Equal("[]", answer.GetProperty("cases").GetRawText());
        Assert.Equal("[]", answer.GetProperty("promotions").GetRawText());
        Assert.Equal("[]", answer.GetProperty("results").GetRawText());
        Assert.Equal(2, answer.GetProperty("wrong").GetInt32());
    }
}
