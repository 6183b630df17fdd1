using System.Text.Json.Nodes;

namespace RapidLedger.Server.WhoMeets;

/// <summary>What has to be written in two promotions so that they meet, or do not.</summary>
internal static class StackingChange
{
    /// <summary>Both documents as they would be; null: nothing changes in it.</summary>
    /// <param name="change">What is wanted.</param>
    /// <param name="one">What is written in the one.</param>
    /// <param name="other">What is written in the other.</param>
    /// <param name="families">Those of which one applies to a cart.</param>
    public static (JsonObject? One, JsonObject? Other) Of(MeetingChange change, JsonObject one, JsonObject other, string[] families) =>
        change.To switch
        {
            "never" => (KeptOut(one, change.Other), null),
            "family" => (InFamily(one, change.Family), InFamily(other, change.Family)),
            _ => (LetIn(OutOfFamily(one, other, families) ?? one, change.Other, one), LetIn(other, change.One, other)),
        };

    private static JsonObject? KeptOut(JsonObject document, string other)
    {
        var (allow, entries) = Read(document);
        return allow switch
        {
            "none" => null,
            "only" => Written(document, "only", entries.Where(entry => entry != Named(other))),
            "except" => Written(document, "except", entries.Append(Named(other)).Distinct()),
            _ => Written(document, "except", [Named(other)]),
        };
    }

    // Changed from what it was at first, or not at all.
    private static JsonObject? LetIn(JsonObject document, string other, JsonObject before)
    {
        var (allow, entries) = Read(document);
        var changed = allow switch
        {
            "none" => Written(document, "only", [Named(other)]),
            "only" => Written(document, "only", entries.Append(Named(other)).Distinct()),
            "except" => Written(document, "except", entries.Where(entry => entry != Named(other))),
            _ => document,
        };
        return JsonNode.DeepEquals(changed, before) ? null : changed;
    }

    private static JsonObject InFamily(JsonObject document, string? family)
    {
        var written = document.DeepClone().AsObject();
        var stacking = written["stacking"] as JsonObject ?? [];
        stacking.Remove("family");
        stacking["allow"] ??= "any";
        stacking["family"] = family;
        written["stacking"] = stacking.DeepClone();
        return written;
    }

    private static JsonObject? OutOfFamily(JsonObject one, JsonObject other, string[] families)
    {
        if (
            (string?)one["stacking"]?["family"] is not { } family
            || (string?)other["stacking"]?["family"] != family
            || !families.Contains(family)
        )
            return null;
        var written = one.DeepClone().AsObject();
        written["stacking"]!.AsObject().Remove("family");
        return written;
    }

    private static (string Allow, string[] Entries) Read(JsonObject document) =>
        (
            (string?)document["stacking"]?["allow"] ?? "any",
            [.. (document["stacking"]?["with"] as JsonArray ?? []).Select(entry => (string)entry!)]
        );

    // Beside anything but nothing is beside anything.
    private static JsonObject Written(JsonObject document, string allow, IEnumerable<string> entries)
    {
        var written = document.DeepClone().AsObject();
        string[] with = [.. entries];
        var stacking = new JsonObject();
        if (allow != "except" || with.Length > 0)
        {
            stacking["allow"] = allow;
            stacking["with"] = new JsonArray([.. with.Select(entry => JsonValue.Create(entry))]);
        }
        else
        {
            stacking["allow"] = "any";
        }

        if (document["stacking"]?["family"] is { } family)
            stacking["family"] = family.DeepClone();
        if (stacking is { Count: 1 } && (string?)stacking["allow"] == "any")
            written.Remove("stacking");
        else
            written["stacking"] = stacking;
        return written;
    }

    private static string Named(string promotion) => $"promotion:{promotion}";
}
