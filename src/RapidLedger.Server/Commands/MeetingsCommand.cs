using System.CommandLine;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Commands;

/// <summary><c>meetings</c>: which of the live promotions of a file can meet in one cart, one line a pair.</summary>
internal static class MeetingsCommand
{
    private static readonly JsonSerializerOptions Plain = new()
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static Command Create()
    {
        var file = new Argument<string>("FILE") { Description = "A case file, or a whole shop as export writes it: a folder or zip." };
        var promotion = new Option<string?>("--promotion") { Description = "Only the pairs of this promotion, by its id." };
        var command = new Command(
            "meetings",
            "Tells of each two live promotions whether they can meet in one cart, with a cart that shows it. One JSON document a line."
        )
        {
            file,
            promotion,
        };
        command.SetAction(
            (parsed, gone) => Task.FromResult(Run(parsed.GetRequiredValue(file), parsed.GetValue(promotion), Console.Out, gone))
        );
        return command;
    }

    internal static int Run(string path, string? only, TextWriter output, CancellationToken gone = default)
    {
        if (Read(path) is not var (rules, rulebook, now))
            return 1;
        if (only is not null && rulebook.Promotions.All(promotion => promotion.Id != only))
        {
            Console.Error.WriteLine($"{path}: there is no live promotion '{only}'.");
            return 1;
        }

        var meetings = new Meetings(rulebook, now);
        string[] ids = [.. rulebook.Promotions.Select(promotion => promotion.Id)];
        foreach (var (place, one) in ids.Index())
        foreach (var other in ids.Skip(place + 1).Where(other => only is null || one == only || other == only))
            output.WriteLine(Line(meetings.Between(one, other, gone: gone), rules));
        return 0;
    }

    private static string Line(Meeting meeting, JsonObject rules) =>
        new JsonObject
        {
            ["a"] = meeting.One.Id,
            ["b"] = meeting.Other.Id,
            ["verdict"] = JsonNamingPolicy.CamelCase.ConvertName(meeting.Verdict.ToString()),
            ["ground"] = meeting.Ground,
            ["message"] = meeting.Message,
            ["case"] = meeting.Witness is { } witness ? WitnessCase.Of(rules, witness, meeting.Message) : null,
        }.ToJsonString(Plain);

    // What is wrong is told; then there is nothing.
    private static (JsonObject Rules, Rulebook Rulebook, Instant Now)? Read(string path)
    {
        try
        {
            var now = ProgramClock.Machine.GetCurrentInstant();
            if (!ArchiveFolder.IsShop(path))
                return ReadCase(path, File.ReadAllBytes(path));
            var (read, problems) = ArchiveFolder.Read(path);
            foreach (var problem in problems)
                Console.Error.WriteLine($"{path}/{problem}");
            if (read is not { } shop)
                return null;
            var rules = new JsonObject
            {
                ["store"] = shop.Store.DeepClone(),
                ["catalogue"] = shop.Catalogue.DeepClone(),
                ["promotions"] = new JsonArray([
                    .. shop.Promotions.Where(promotion => promotion.State == "live").Select(promotion => AsLive(promotion.Document!)),
                ]),
                ["batches"] = new JsonObject([
                    .. shop.Batches.Select(batch =>
                        KeyValuePair.Create<string, JsonNode?>(batch.Id, new JsonObject { ["codes"] = new JsonObject() })
                    ),
                ]),
                ["cart"] = new JsonObject { ["at"] = now.ToString(), ["lines"] = new JsonArray() },
            };
            return ReadCase(path, Encoding.UTF8.GetBytes(rules.ToJsonString()));
        }
        catch (Exception error) when (error is FormatException or IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine($"{path}: {error.Message}");
            return null;
        }
    }

    private static (JsonObject Rules, Rulebook Rulebook, Instant Now)? ReadCase(string path, byte[] json)
    {
        var reading = CaseReader.Read(json);
        foreach (var problem in reading.Problems)
            Console.Error.WriteLine($"{path}{problem.At}: {problem.Message}");
        if (reading.Value is not { } read)
            return null;
        return (JsonNode.Parse(ByteOrderMark.Utf8(json).Span)!.AsObject(), Rulebook.Compile(read.Index, read.Promotions), read.Cart.At);
    }

    private static JsonObject AsLive(JsonObject document)
    {
        var live = document.DeepClone().AsObject();
        live["state"] = "live";
        return live;
    }
}
