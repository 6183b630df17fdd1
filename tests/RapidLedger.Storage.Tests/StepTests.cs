using System.Text.Json.Nodes;
using CsCheck;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage.Tests;

/// <summary>
/// Steps against plain dictionaries: whatever is written, refused, taken back, read anew or followed, long or short, the goods are those
/// that a dictionary would hold, and what a step takes back is what nobody has written since.
/// </summary>
public sealed class StepTests : IDisposable
{
    private static readonly string[] Skus = [.. Enumerable.Range(0, 12).Select(number => $"S{number}")];
    private static readonly string[] Members = ["regular", "price", "cost", "options"];

    private readonly string folder = Directory.CreateTempSubdirectory("steps-").FullName;

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }

    private abstract record Deed;

    private sealed record Write(int Source, (int Sku, int Member, int Value)[] Changes, int Many, bool IsRefused) : Deed;

    private sealed record TakeBack(int Which) : Deed;

    private static readonly Gen<Deed> Deeds = Gen.Frequency<Deed>(
        (
            6,
            Gen.Select(
                Gen.Int[0, 2],
                Gen.Select(Gen.Int[0, Skus.Length - 1], Gen.Int[0, Members.Length - 1], Gen.Int[0, 3]).Array[1, 6],
                Gen.Frequency((9, Gen.Const(0)), (1, Gen.Const(450))),
                Gen.Frequency((9, Gen.Const(false)), (1, Gen.Const(true))),
                Deed (source, changes, many, isRefused) => new Write(source, changes, many, isRefused)
            )
        ),
        (2, Gen.Int[0, 3].Select(which => (Deed)new TakeBack(which)))
    );

    [Fact]
    public void Whatever_is_done_goods_are_what_a_dictionary_would_hold() =>
        Deeds
            .Array[1, 14]
            .Sample(
                deeds => Check(deeds).GetAwaiter().GetResult(),
                iter: 60,
                threads: 1,
                print: deeds => string.Join("; ", deeds.Select(deed => deed.ToString()))
            );

    [Fact]
    public async Task Of_a_long_step_nothing_stays_where_what_is_written_alongside_is_refused()
    {
        using var database = new Database(Path.Combine(folder, "refused.db"));
        database.Upgrade();
        var shops = new ShopRepository(database);
        await shops.Fill("""{"currency": "EUR"}""", "{}", """{"products": []}""", [], []);
        var before = shops.Find()!.Goods.Count;
        RowChange[] rows =
        [
            .. Enumerable
                .Range(0, 450)
                .Select(number => new RowChange("variant", $"N{number}", Parse("""{"regular": "1", "product": "p"}"""))),
        ];
        var shop = new WholeShop(
            "",
            "",
            "",
            [],
            [],
            [new("p1", "live", """{"trigger": {"codes": ["TWICE"]}}""", null, [])],
            [new("b1", "", null, null, false, [new("TWICE", "TWICE", 0, 0, false, null)])]
        );
        var outcome = await new WholeShopRepository(database, SystemClock.Instance).Replace(
            shop,
            "",
            StepSource.File("shop"),
            rows,
            [],
            _ => true
        );
        Assert.False(outcome.IsDone);
        Assert.Equal(["TWICE"], outcome.Taken);
        Assert.Equal(before, shops.Find()!.Goods.Count);
        using var connection = database.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT (SELECT count(*) FROM steps) + (SELECT count(*) FROM step_rows) + (SELECT count(*) FROM batches)";
        Assert.Equal(0L, command.ExecuteScalar());
    }

    private async Task Check(Deed[] deeds)
    {
        var file = Path.Combine(folder, $"{Guid.NewGuid():n}.db");
        using var database = new Database(file);
        database.Upgrade();
        var (shops, steps) = (new ShopRepository(database), new StepRepository(database, SystemClock.Instance));
        await shops.Fill(
            """{"currency": "EUR"}""",
            "{}",
            """{"products": [{"id": "p", "name": "P", "variants": [{"sku": "S0", "regular": "1"}]}]}""",
            [],
            []
        );
        var model = new Dictionary<string, JsonObject> { ["S0"] = Parse("""{"sku": "S0", "regular": "1", "product": "p"}""") };
        var (kept, followed, number) = (
            new List<(long Number, int Source, Dictionary<string, (JsonObject? Before, JsonObject After)> Rows)>(),
            Read(shops),
            shops.Numbers().Goods
        );
        foreach (var deed in deeds)
        {
            if (deed is Write write)
                await Do(write, steps, model, kept);
            else if (deed is TakeBack back && kept.Count > 0)
                await Undo(kept[^(1 + (back.Which % kept.Count))], steps, model, kept);
            // Read anew, and followed from what was known: both are what the dictionary holds.
            Assert.Equal(Said(model), Said(Read(shops)));
            if (shops.ChangedSince(number) is var (now, rows))
            {
                foreach (var row in rows.Where(row => row.Kind == "variant"))
                    followed[row.Id] = Whole(row);
                number = now;
            }

            Assert.Equal(Said(model), Said(followed));
        }

        Assert.Equal(kept.Count, steps.Steps().Count);
    }

    private static async Task Do(
        Write write,
        StepRepository steps,
        Dictionary<string, JsonObject> model,
        List<(long Number, int Source, Dictionary<string, (JsonObject? Before, JsonObject After)> Rows)> kept
    )
    {
        var changes = new Dictionary<string, JsonObject>();
        foreach (var (sku, member, value) in write.Changes)
        {
            changes.TryAdd(Skus[sku], model.ContainsKey(Skus[sku]) ? [] : Parse($$"""{"sku": "{{Skus[sku]}}", "product": "p"}"""));
            changes[Skus[sku]][Members[member]] =
                value == 0 ? null
                : member == 3 ? Parse($$"""{"o{{value}}": "x"}""")
                : JsonValue.Create($"{value}");
        }

        // Long ones are written in pieces.
        for (var more = 0; more < write.Many; more++)
            changes[$"M{more}"] = Parse($$"""{"sku": "M{{more}}", "product": "p", "regular": "{{write.Changes.Length}}"}""");
        var source = write.Source switch
        {
            0 => StepSource.App,
            1 => StepSource.File("list.csv"),
            _ => StepSource.Server("shop"),
        };
        var outcome = await steps.Write(
            source,
            "done",
            [.. changes.Select(change => new RowChange("variant", change.Key, change.Value))],
            [],
            _ => !write.IsRefused
        );
        var rows = new Dictionary<string, (JsonObject? Before, JsonObject After)>();
        foreach (var (sku, members) in changes)
        {
            var before = model.GetValueOrDefault(sku);
            var differing = new JsonObject(members.Where(member => !JsonNode.DeepEquals(before?[member.Key], member.Value)).Select(Copy));
            if (before?["gone"] is not null)
                differing["gone"] = null;
            if (before is not null && differing.Count == 0)
                continue;
            rows[sku] = (
                before is null
                    ? null
                    : new JsonObject(differing.Select(member => KeyValuePair.Create(member.Key, before[member.Key]?.DeepClone()))),
                differing
            );
        }

        if (write.IsRefused || rows.Count == 0)
        {
            Assert.Null(outcome.Number);
            return;
        }

        Assert.Equal(rows.Count, outcome.Changed);
        foreach (var (sku, row) in rows)
            model[sku] = Over(model.GetValueOrDefault(sku), row.After);
        // Writes of one key within an hour are one step: what was before is that of the first.
        var last = kept.FindLastIndex(step => step.Source == 2);
        if (write.Source == 2 && last >= 0)
        {
            var (same, _, known) = kept[last];
            Assert.Equal(same, outcome.Number);
            foreach (var (sku, row) in rows)
                known[sku] = known.TryGetValue(sku, out var other)
                    ? (
                        other.Before is null || row.Before is null ? other.Before : Merged(row.Before, other.Before),
                        Merged(other.After, row.After)
                    )
                    : row;
            return;
        }

        kept.Add((outcome.Number!.Value, write.Source, rows));
    }

    private static async Task Undo(
        (long Number, int Source, Dictionary<string, (JsonObject? Before, JsonObject After)> Rows) step,
        StepRepository steps,
        Dictionary<string, JsonObject> model,
        List<(long Number, int Source, Dictionary<string, (JsonObject? Before, JsonObject After)> Rows)> kept
    )
    {
        var outcome = await steps.TakeBack(step.Number, "taken back", _ => true);
        if (step.Source < 0)
        {
            Assert.Null(outcome);
            return;
        }

        Assert.NotNull(outcome);
        var (stays, rows) = (0, new Dictionary<string, (JsonObject? Before, JsonObject After)>());
        foreach (var (sku, (before, after)) in step.Rows)
        {
            var now = model[sku];
            var untouched = after.Where(member => JsonNode.DeepEquals(now[member.Key], member.Value)).ToArray();
            stays += after.Count - untouched.Length;
            var members = new JsonObject();
            if (before is not null)
                foreach (var member in untouched)
                    members[member.Key] = before[member.Key]?.DeepClone();
            else if (untouched.Length == after.Count)
                members["gone"] = true;
            // What somebody takes back comes back with the row, if it was taken out.
            var differing = new JsonObject(members.Where(member => !JsonNode.DeepEquals(now[member.Key], member.Value)).Select(Copy));
            if (members.Count > 0 && now["gone"] is not null && !members.ContainsKey("gone"))
                differing["gone"] = null;
            if (differing.Count == 0)
                continue;
            rows[sku] = (
                new JsonObject(differing.Select(member => KeyValuePair.Create(member.Key, now[member.Key]?.DeepClone()))),
                differing
            );
            model[sku] = Over(now, differing);
        }

        Assert.Equal(stays, outcome.Kept.Count);
        Assert.Equal(rows.Count, outcome.Changed);
        if (outcome.Number is not { } number)
            return;
        // It cannot be taken back twice; that it was can.
        kept[kept.FindIndex(known => known.Number == step.Number)] = (step.Number, -1, step.Rows);
        kept.Add((number, 0, rows));
    }

    private static KeyValuePair<string, JsonNode?> Copy(KeyValuePair<string, JsonNode?> member) =>
        new(member.Key, member.Value?.DeepClone());

    private static JsonObject Merged(JsonObject first, JsonObject over)
    {
        var merged = first.DeepClone().AsObject();
        foreach (var (name, value) in over)
            merged[name] = value?.DeepClone();
        return merged;
    }

    private static JsonObject Over(JsonObject? document, JsonObject members)
    {
        var merged = document?.DeepClone().AsObject() ?? [];
        foreach (var (name, value) in members)
            if (value is null)
                merged.Remove(name);
            else
                merged[name] = value.DeepClone();
        return merged;
    }

    private static JsonObject Whole(GoodsRow row)
    {
        var document = Parse(row.Document);
        document["product"] = row.Product;
        return document;
    }

    private static Dictionary<string, JsonObject> Read(ShopRepository shops) =>
        shops.Find()!.Goods.Where(row => row.Kind == "variant").ToDictionary(row => row.Id, Whole);

    private static string Said(Dictionary<string, JsonObject> goods) =>
        string.Join(
            '\n',
            goods
                .OrderBy(item => item.Key, StringComparer.Ordinal)
                .Select(item =>
                    string.Join(
                        ' ',
                        item.Value.OrderBy(member => member.Key, StringComparer.Ordinal)
                            .Select(member => $"{member.Key}={member.Value?.ToJsonString()}")
                    )
                )
        );

    private static JsonObject Parse(string json) => JsonNode.Parse(json)!.AsObject();
}
