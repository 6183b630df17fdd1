using System.Text.Json.Nodes;
using RapidLedger.Tests;

[assembly: AssemblyFixture(typeof(RapidLedger.Server.Tests.Served))]

namespace RapidLedger.Server.Tests;

/// <summary>One server over the demo shop for the tests that only add to it.</summary>
public sealed class Served : IAsyncLifetime
{
    public RunningServer Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await RunningServer.Start();

    public ValueTask DisposeAsync() => Server.DisposeAsync();
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
    public static JsonObject Cart(params (string Sku, int Quantity)[] lines) => new()
    {
        ["destination"] = "DE-BE",
        ["method"] = "parcel",
        ["codes"] = new JsonArray(),
        ["lines"] = new JsonArray([.. lines.Select(line => (JsonNode)new JsonObject { ["sku"] = line.Sku, ["quantity"] = line.Quantity })]),
    };

    /// <summary>Twenty percent off inner tubes, by a code.</summary>
    public static JsonObject Tubes(string code = "TUBES20") => (JsonObject)JsonNode.Parse($$"""
        {"name": "Tubes", "label": "20 % off tubes", "trigger": {"codes": ["{{code}}"]},
         "rewards": [{"kind": "discount", "on": {"in": [{"category": "tubes"}]}, "take": {"percent": 20}, "per": "unit"}]}
        """)!;

    public static JsonObject With(this JsonObject document, string name, string json)
    {
        var changed = (JsonObject)document.DeepClone();
        changed[name] = JsonNode.Parse(json);
        return changed;
    }
}
