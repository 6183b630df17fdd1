using System.Text.Json.Nodes;
using RapidLedger.Tests;

[assembly: AssemblyFixture(typeof(RapidLedger.Server.Tests.AnswersFitTheDocument))]
[assembly: AssemblyFixture(typeof(RapidLedger.Server.Tests.Served))]

namespace RapidLedger.Server.Tests;

/// <summary>One server over the demo shop for the tests that only add to it.</summary>
public sealed class Served : IAsyncLifetime
{
    public RunningServer Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await RunningServer.Start();

    public ValueTask DisposeAsync() => Server.DisposeAsync();
}

/// <summary>
/// When all tests are done, every answer that they got is held against the OpenAPI document, by ajv, a validator of JSON Schema from npm.
/// </summary>
public sealed class AnswersFitTheDocument : IDisposable
{
    public void Dispose()
    {
        var wrong = Misfits([.. RunningServer.Answers]);
        if (wrong.Length > 0)
            throw new InvalidOperationException(
                $"Answers that the document does not foresee:\n{string.Join('\n', wrong.Distinct().Take(40))}"
            );
    }

    internal static string[] Misfits(IEnumerable<(string Method, string Path, int Status, JsonNode? Body)> answers)
    {
        var lines = string.Concat(
            answers.Select(answer =>
                new JsonObject
                {
                    ["method"] = answer.Method,
                    ["path"] = answer.Path,
                    ["status"] = answer.Status,
                    ["body"] = answer.Body?.DeepClone(),
                }.ToJsonString() + "\n"
            )
        );
        var references = Path.Combine(RunningServer.Root, "tests", "references");
        var (exit, output, errors) = RunningServer.Shell(
            $"cd {references} && node answers.mjs {Path.Combine(RunningServer.Root, "src/web/src/api/openapi.json")}",
            lines
        );
        return exit == 0 ? output.Split('\n', StringSplitOptions.RemoveEmptyEntries) : throw new InvalidOperationException(errors);
    }
}

/// <summary>One over the demo shop that stands on the day for which the shop was written, where all its figures are known.</summary>
public sealed class ServedOnDemoDay : IAsyncLifetime
{
    public RunningServer Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await RunningServer.Start(clock: RunningServer.DemoDay);

    public ValueTask DisposeAsync() => Server.DisposeAsync();
}

internal static class Documents
{
    public static JsonObject Cart(params (string Sku, int Quantity)[] lines) =>
        new()
        {
            ["destination"] = "DE-BE",
            ["method"] = "parcel",
            ["codes"] = new JsonArray(),
            ["lines"] = new JsonArray([
                .. lines.Select(line => (JsonNode)new JsonObject { ["sku"] = line.Sku, ["quantity"] = line.Quantity }),
            ]),
        };

    /// <summary>Twenty percent off inner tubes, by a code.</summary>
    public static JsonObject Tubes(string code = "TUBES20") =>
        (JsonObject)
            JsonNode.Parse(
                $$"""
                {"name": "Tubes", "label": "20 % off tubes", "trigger": {"codes": ["{{code}}"]},
                 "rewards": [{"kind": "discount", "on": {"in": [{"category": "tubes"}]}, "take": {"percent": 20}, "per": "unit"}]}
                """
            )!;

    public static JsonObject With(this JsonObject document, string name, string json)
    {
        var changed = (JsonObject)document.DeepClone();
        changed[name] = JsonNode.Parse(json);
        return changed;
    }
}
