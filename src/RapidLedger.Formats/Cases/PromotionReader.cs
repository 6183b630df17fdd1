using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a promotion.</summary>
internal static class PromotionReader
{
    private static readonly (string, State)[] States = [("draft", State.Draft), ("live", State.Live), ("paused", State.Paused), ("archived", State.Archived)];

    public static Promotion? Read(Node node, Scope scope)
    {
        if (node.Object("id", "name", "label", "note", "state", "rank", "trigger", "window", "when", "rewards", "limits", "stacking") is not { } members) return null;
        var id = members.Required("id")?.Name();
        var name = members["name"]?.Text();
        var label = members["label"]?.Text();
        var note = members["note"]?.Text();
        var state = members["state"]?.Word<State>(States) ?? State.Live;
        var rank = members["rank"]?.Integer(0, 1_000_000) ?? Promotion.DefaultRank;
        var trigger = members["trigger"] is { } starts ? ReadTrigger(starts) : null;
        var window = members["window"] is { } opens ? ReadWindow(opens) : null;
        var asked = scope with { AllowsAfter = !TakesFromUnits(members["rewards"]), AtTop = true };
        var when = members["when"] is { } condition ? ConditionReader.Read(condition, asked) : null;
        var rewards = members.Required("rewards")?.Array(reward => RewardReader.Read(reward, scope), orEmpty: false, whenEmpty: "It gives nothing yet: add a reward.");
        StandAlone(members["rewards"]);
        var limits = members["limits"] is { } bounds ? ReadLimits(bounds, scope) : null;
        var stacking = members["stacking"] is { } beside ? ReadStacking(beside, scope) : null;
        return id is null || rewards is null
            ? null
            : new(id, rewards.ToEquatableArray(), name, label, note, state, (int)rank, trigger, window, when, limits, stacking);
    }

    // By the kinds as written, so that a reward that is faulty elsewhere still counts.
    private static IEnumerable<JsonElement> Written(JsonElement? rewards)
    {
        if (rewards is not { ValueKind: JsonValueKind.Array } list) yield break;
        foreach (var reward in list.EnumerateArray())
        {
            if (reward.ValueKind != JsonValueKind.Object) continue;
            yield return reward;
            if (!reward.TryGetProperty("steps", out var steps) || steps.ValueKind != JsonValueKind.Array) continue;
            foreach (var step in steps.EnumerateArray())
                if (step.ValueKind == JsonValueKind.Object && step.TryGetProperty("rewards", out var inner))
                    foreach (var of in Written(inner)) yield return of;
        }
    }

    private static bool Is(JsonElement reward, string member, string word) =>
        reward.TryGetProperty(member, out var value) && value.ValueKind == JsonValueKind.String && new Node(value, Pointer.Root, new()).Text() == word;

    private static bool TakesFromUnits(Node? rewards) => Written(rewards?.Value).Any(reward =>
        Is(reward, "kind", "markdown") || Is(reward, "kind", "buyGet") || Is(reward, "kind", "bundle")
        || (Is(reward, "kind", "discount") && Is(reward, "per", "unit")));

    private static void StandAlone(Node? rewards)
    {
        if (rewards is not { Value.ValueKind: JsonValueKind.Array } || rewards.Value.GetArrayLength() < 2) return;
        if (rewards.Value.EnumerateArray().Any(reward => reward.ValueKind == JsonValueKind.Object && Is(reward, "kind", "markdown")))
            rewards.Fault(ProblemCode.MarkdownAlone, "A markdown stands alone in its promotion. Put the other rewards in one of their own.");
        else if (rewards.Value.EnumerateArray().Any(reward => reward.ValueKind == JsonValueKind.Object && Is(reward, "kind", "credit")))
            rewards.Fault(ProblemCode.CreditAlone, "A credit stands alone in its promotion. Put the other rewards in one of their own.");
    }

    private static Trigger? ReadTrigger(Node node)
    {
        switch (node.One("automatic", "codes"))
        {
            case ("automatic", var automatic):
                if (automatic.Flag() == false) automatic.Fault(ProblemCode.UnknownValue, "A promotion that does not start by itself names its codes: {\"codes\": […]}.");
                return Trigger.Automatic;
            case ("codes", var codes):
                var seen = new HashSet<string>(StringComparer.Ordinal);
                return codes.Array(code => ReadCode(code, seen), orEmpty: false) is { } entered ? new(entered.ToEquatableArray()) : null;
            default:
                return null;
        }
    }

    private static string? ReadCode(Node node, HashSet<string> seen)
    {
        if (node.Text() is not { } code) return null;
        var normal = Trigger.Normal(code);
        if (normal.Length == 0) node.Fault(ProblemCode.Empty, "A code must not be empty.");
        else if (!seen.Add(normal)) node.Fault(ProblemCode.Duplicate, $"The code {normal} stands here twice. Keep one.");
        else return code;
        return null;
    }

    private static Window? ReadWindow(Node node)
    {
        if (node.Object("start", "end", "graceMinutes", "repeat", "lasts") is not { } members) return null;
        var start = members["start"]?.LocalTime();
        var end = members["end"]?.LocalTime();
        var grace = members["graceMinutes"]?.Integer(0, 10_080) ?? 0;
        var repeat = ReadRepeat(members);
        if (start is { } from && end is { } to && to <= from)
            members["end"]!.Fault(ProblemCode.EndBeforeStart, $"The end must be later than the start: {to:uuuu-MM-dd HH:mm} is not after {from:uuuu-MM-dd HH:mm}.");
        return new(start, end, (int)grace, repeat);
    }

    private static Repeat? ReadRepeat(Members members)
    {
        if (members["repeat"] is null && members["lasts"] is null) return null;
        var rule = members.Required("repeat")?.Text();
        if (rule is not null && !Repeat.CanRead(rule))
        {
            members["repeat"]!.Fault(ProblemCode.NotARule, $"'{rule}' is not a recurrence rule of RFC 5545 that can be used here. Write FREQ=WEEKLY;BYDAY=FR, say; hourly is the most often.");
            rule = null;
        }

        var lasts = members.Required("lasts") is { } span ? ReadDuration(span) : null;
        members.Required("start");
        return rule is null || lasts is null ? null : new(rule, lasts);
    }

    private static Period? ReadDuration(Node node)
    {
        if (node.Text() is not { } text) return null;
        if (PeriodPattern.NormalizingIso.Parse(text).TryGetValue(Period.Zero, out var period)
            && period is { Months: 0, Years: 0, Milliseconds: 0, Ticks: 0, Nanoseconds: 0 }
            && new[] { period.Weeks, period.Days, period.Hours, period.Minutes, period.Seconds } is var parts
            && parts.All(part => part is >= 0 and <= 100_000) && parts.Any(part => part > 0)) return period;
        node.Fault(ProblemCode.NotADuration, $"'{text}' is not a duration that can be used here. Write PT5H or P1DT12H; months and years are not of one length.");
        return null;
    }

    private static Limits? ReadLimits(Node node, Scope scope)
    {
        if (node.Object("total", "perShopper", "perDay", "budget") is not { } members) return null;
        return new(
            members["total"]?.Integer(0),
            members["perShopper"]?.Integer(0),
            members["perDay"]?.Integer(0),
            members["budget"] is { } budget ? scope.InBase(budget) : null);
    }

    private static Stacking? ReadStacking(Node node, Scope scope)
    {
        if (node.Object("allow", "with", "family") is not { } members) return null;
        var allow = members["allow"]?.Word(("any", Allow.Any), ("none", Allow.None), ("only", Allow.Only), ("except", Allow.Except)) ?? Allow.Any;
        var family = members["family"] is { } named ? scope.Families.Read(named) : null;
        if (allow is Allow.Any or Allow.None) members.NotAllowed("only 'only' and 'except' name others", "with");
        var with = (allow is Allow.Only or Allow.Except ? members.Required("with") : null)?.Array(entry => ReadEntry(entry, scope));
        return new(allow, with?.ToEquatableArray() ?? [], family);
    }

    private static StackingEntry? ReadEntry(Node node, Scope scope)
    {
        if (node.Text() is not { } text) return null;
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        var (kind, name) = colon < 0 ? (text, "") : (text[..colon], text[(colon + 1)..]);
        switch (kind, name)
        {
            case ("promotion", _):
                return scope.Promotions.Check(name, node) ? new StackingEntry.OfPromotion(name) : null;
            case ("family", _):
                return scope.Families.Check(name, node) ? new StackingEntry.OfFamily(name) : null;
            case ("pass", "item"):
                return new StackingEntry.InPass(Pass.Item);
            case ("pass", "order"):
                return new StackingEntry.InPass(Pass.Order);
            case ("pass", "shipping"):
                return new StackingEntry.InPass(Pass.Shipping);
            case ("pass", "credit"):
                return new StackingEntry.InPass(Pass.Credit);
            default:
                node.Fault(ProblemCode.UnknownValue, $"'{text}' names nothing to meet. Write promotion:ID, family:NAME or pass:item, order, shipping or credit.");
                return null;
        }
    }
}
