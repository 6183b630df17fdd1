using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a promotion.</summary>
internal static class PromotionReader
{
    private static readonly (string, State)[] States =
    [
        ("draft", State.Draft),
        ("live", State.Live),
        ("paused", State.Paused),
        ("archived", State.Archived),
    ];

    public static Promotion? Read(Node node, Scope scope)
    {
        if (
            node.Object(
                "id",
                "name",
                "label",
                "note",
                "state",
                "rank",
                "trigger",
                "window",
                "when",
                "rewards",
                "limits",
                "stacking",
                "says"
            )
            is not { } members
        )
            return null;
        var id = members.Required("id")?.Name();
        var name = members["name"]?.Text();
        var labels = members["label"] is { } shown ? ReadTexts(shown, withParts: false) : null;
        var note = members["note"]?.Text();
        var state = members["state"]?.Word<State>(States) ?? State.Live;
        var rank = members["rank"]?.Integer(0, 1_000_000) ?? Promotion.DefaultRank;
        var trigger = members["trigger"] is { } starts ? ReadTrigger(starts, scope) : null;
        var window = members["window"] is { } opens ? ReadWindow(opens, scope) : null;
        var after = new List<Node>();
        var when = members["when"] is { } condition
            ? ConditionReader.Read(condition, scope with { After = after, AllowsAfter = true, AtTop = true })
            : null;
        var rewards = members
            .Required("rewards")
            ?.Array(reward => RewardReader.Read(reward, scope), orEmpty: false, whenEmpty: "It gives nothing yet: add a reward.");
        // Of rewards that could not be read nothing is known.
        if (
            rewards is not null
            && rewards.Count == members["rewards"]!.Value.GetArrayLength()
            && rewards.Exists(reward => reward.SetsUnitPrices)
        )
            foreach (var basis in after)
                basis.Fault(
                    ProblemCode.NotAllowed,
                    "What other promotions leave can be asked for only by promotions that take nothing from units themselves."
                );
        StandAlone(members["rewards"]);
        var limits = members["limits"] is { } bounds ? ReadLimits(bounds, scope) : null;
        var stacking = members["stacking"] is { } beside ? ReadStacking(beside, scope) : null;
        var says = members["says"] is { } words ? ReadSays(words, limits) : null;
        var label = labels?.Written[0].Text;
        return id is null || rewards is null
            ? null
            : new(
                id,
                rewards.ToEquatableArray(),
                name,
                label,
                note,
                state,
                (int)rank,
                trigger,
                window,
                when,
                limits,
                stacking,
                says,
                labels is { Written: [{ Language: null }] } ? null : labels
            );
    }

    // By the kinds as written, so that a reward that is faulty elsewhere still counts.
    private static void StandAlone(Node? rewards)
    {
        Node[] items = [.. (rewards?.Items() ?? []).Where(item => item.Value.ValueKind == JsonValueKind.Object)];
        if (items.Length < 2)
            return;
        foreach (var item in items)
        {
            if (RewardReader.Known(item)?.Alone is not var (code, message))
                continue;
            rewards!.Fault(code, message);
            return;
        }
    }

    private static Trigger? ReadTrigger(Node node, Scope scope)
    {
        var before = node.Problems.Count;
        if (node.Object("automatic", "codes", "batches") is not { } members)
            return null;
        var (automatic, codes, batches) = (members["automatic"], members["codes"], members["batches"]);
        if (automatic is null == (codes is null && batches is null))
        {
            // An unknown name has been reported; that it leaves no known one follows from it.
            if (automatic is not null || node.Problems.Count == before)
                node.Fault(
                    ProblemCode.ExactlyOne,
                    "A promotion starts by itself, {\"automatic\": true}, or by codes, {\"codes\": […]}, {\"batches\": […]} or both. Keep one way."
                );
            return null;
        }

        if (automatic is not null)
        {
            if (automatic.Flag() == false)
                automatic.Fault(ProblemCode.UnknownValue, "A promotion that does not start by itself names its codes: {\"codes\": […]}.");
            return Trigger.Automatic;
        }

        var (seen, named) = (new HashSet<string>(StringComparer.Ordinal), new HashSet<string>(StringComparer.Ordinal));
        var entered = codes?.Array(code => ReadCode(code, seen), orEmpty: false) ?? [];
        var ofBatches = batches?.Array(batch => ReadBatch(batch, named, scope), orEmpty: false) ?? [];
        return new(entered.ToEquatableArray(), ofBatches.ToEquatableArray());
    }

    private static string? ReadBatch(Node node, HashSet<string> seen, Scope scope)
    {
        if (scope.Batches.Read(node) is not { } batch)
            return null;
        if (seen.Add(batch))
            return batch;
        node.Fault(ProblemCode.Duplicate, $"The batch '{batch}' stands here twice. Keep one.");
        return null;
    }

    private static string? ReadCode(Node node, HashSet<string> seen)
    {
        if (node.Text() is not { } code)
            return null;
        var normal = Trigger.Normal(code);
        if (CodeText.FaultOf(normal) is var (kind, message))
            node.Fault(kind, message);
        else if (!seen.Add(normal))
            node.Fault(ProblemCode.Duplicate, $"The code {normal} stands here twice. Keep one.");
        else
            return code;
        return null;
    }

    private static Window? ReadWindow(Node node, Scope scope)
    {
        if (node.Object("start", "end", "graceMinutes", "repeat", "lasts") is not { } members)
            return null;
        var start = members["start"]?.LocalTime();
        var end = members["end"]?.LocalTime();
        var grace = members["graceMinutes"]?.Integer(0, Window.MostGrace) ?? 0;
        var repeat = ReadRepeat(members, start, scope.Zone ?? DateTimeZone.Utc);
        if (start is { } from && end is { } to && to <= from)
            members["end"]!.Fault(
                ProblemCode.EndBeforeStart,
                $"The end must be later than the start: {to:uuuu-MM-dd HH:mm} is not after {from:uuuu-MM-dd HH:mm}."
            );
        return new(start, end, (int)grace, repeat);
    }

    private static Repeat? ReadRepeat(Members members, LocalDateTime? start, DateTimeZone zone)
    {
        if (members["repeat"] is null && members["lasts"] is null)
            return null;
        members.Required("start");
        var lasts = members.Required("lasts") is { } span ? ReadDuration(span) : null;
        if (members.Required("repeat") is not { } written || written.Text() is not { } text)
            return null;
        if (RecurrenceRule.Read(text) is not { } rule)
        {
            written.Fault(
                ProblemCode.NotARule,
                $"'{text}' is not a recurrence rule of RFC 5545 that can be used here. Write FREQ=WEEKLY;BYDAY=FR, say; hourly is the most often."
            );
            return null;
        }

        // A rule that is read is known to hit, and to begin where the window does.
        if (start is { } from)
        {
            var first = new Repeat(rule, Period.Zero).FirstFrom(from, zone);
            if (first is null)
                written.Fault(ProblemCode.NotARule, $"'{text}' never hits from {from:uuuu-MM-dd HH:mm} on. Change the rule, or the start.");
            else if (first != from)
                members["start"]!.Fault(
                    ProblemCode.NotAnOccurrence,
                    $"The start is not a time of the rule '{text}': its first from there on is {first:uuuu-MM-dd HH:mm}. Begin then."
                );
            if (first != from)
                return null;
        }

        return lasts is null ? null : new(rule, lasts);
    }

    private static Period? ReadDuration(Node node)
    {
        if (node.Text() is not { } text)
            return null;
        if (
            PeriodPattern.NormalizingIso.Parse(text).TryGetValue(Period.Zero, out var period)
            && period is { Months: 0, Years: 0, Milliseconds: 0, Ticks: 0, Nanoseconds: 0 }
            && new[] { period.Weeks, period.Days, period.Hours, period.Minutes, period.Seconds } is var parts
            && parts.All(part => part is >= 0 and <= 10_000_000_000)
            && parts.Any(part => part > 0)
            && (period.Weeks * 7m) + period.Days + (period.Hours / 24m) + (period.Minutes / 1_440m) + (period.Seconds / 86_400m)
                <= Repeat.MostDays
        )
            return period;
        node.Fault(
            ProblemCode.NotADuration,
            $"'{text}' is not a duration that can be used here. Write PT5H or P1DT12H; months and years are not of one length."
        );
        return null;
    }

    private static Says? ReadSays(Node node, Limits? limits)
    {
        if (node.Object("near", "reached", "refused", "show") is not { } members)
            return null;
        var (near, reached, refused) = (Read("near"), Read("reached"), Read("refused"));
        var shown = new HashSet<string>(StringComparer.Ordinal);
        var show = members["show"]
            ?.Array(place =>
            {
                if (place.Word(("item", Showing.Item), ("basket", Showing.Basket), ("today", Showing.Today)) is not { } showing)
                    return null;
                if (shown.Add(showing.ToString()))
                    return new Shown(showing);
                place.Fault(ProblemCode.Duplicate, "This place stands here twice. Keep one.");
                return null;
            });
        return new(near, reached, refused, (show ?? []).Select(place => place.Showing).ToEquatableArray());

        Texts? Read(string name) =>
            members[name] is { } texts ? ReadTexts(texts, withParts: true, hasTotal: limits?.Total is not null) : null;
    }

    // A text, or texts by language.
    private static Texts? ReadTexts(Node node, bool withParts, bool hasTotal = false)
    {
        if (node.Value.ValueKind != JsonValueKind.Object)
            return ReadText(node, null) is { } one ? new([one]) : null;
        var texts = new List<TextIn>();
        foreach (var (language, value) in node.Dictionary() ?? [])
        {
            if (!Language.IsTag(language))
                value.Fault(ProblemCode.UnknownValue, $"'{language}' is not a language tag of BCP 47. Write en, de or de-AT, say.");
            else if (texts.Exists(text => string.Equals(text.Language, language, StringComparison.OrdinalIgnoreCase)))
                value.Fault(ProblemCode.Duplicate, $"The language {language} stands here twice. Keep one.");
            else if (ReadText(value, language) is { } text)
                texts.Add(text);
        }

        if (texts.Count > 0)
            return new(texts.ToEquatableArray());
        if (node.Value.EnumerateObject().MoveNext() is false)
            node.Fault(ProblemCode.Empty, "At least one language is needed here.");
        return null;

        TextIn? ReadText(Node written, string? language)
        {
            if (written.Text() is not { } text)
                return null;
            if (withParts && text.Length > Says.MostCharacters)
                written.Fault(
                    ProblemCode.OutOfRange,
                    $"A text holds at most {Says.MostCharacters} characters; this one has {text.Length}."
                );
            else if (withParts && Says.UnknownPart(text) is { } part)
                written.Fault(
                    ProblemCode.UnknownValue,
                    $"{{{part}}} is not a part that is filled in. There are {string.Join(", ", Says.Parts.Select(known => $"{{{known}}}"))}."
                );
            else if (withParts && !hasTotal && text.Contains("{left}", StringComparison.Ordinal))
                written.Fault(
                    ProblemCode.NotAllowed,
                    "{left} tells how many uses are left, and there is no limit in all. Set limits.total, or leave it away."
                );
            else
                return new(language, text);
            return null;
        }
    }

    private sealed record Shown(Showing Showing);

    private static Limits? ReadLimits(Node node, Scope scope)
    {
        if (node.Object("total", "perShopper", "perDay", "budget") is not { } members)
            return null;
        return new(
            members["total"]?.Integer(0),
            members["perShopper"]?.Integer(0),
            members["perDay"]?.Integer(0),
            members["budget"] is { } budget ? scope.InBase(budget) : null
        );
    }

    private static Stacking? ReadStacking(Node node, Scope scope)
    {
        if (node.Object("allow", "with", "family") is not { } members)
            return null;
        var allow = members["allow"]?.Word(("any", Allow.Any), ("none", Allow.None), ("only", Allow.Only), ("except", Allow.Except))
            ?? Allow.Any;
        var family = members["family"] is { } named ? scope.Families.Read(named) : null;
        if (allow is Allow.Any or Allow.None)
            members.NotAllowed("only 'only' and 'except' name others", "with");
        var with = (allow is Allow.Only or Allow.Except ? members.Required("with") : null)?.Array(entry => ReadEntry(entry, scope));
        return new(allow, with?.ToEquatableArray() ?? [], family);
    }

    private static StackingEntry? ReadEntry(Node node, Scope scope)
    {
        if (node.Text() is not { } text)
            return null;
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
                node.Fault(
                    ProblemCode.UnknownValue,
                    $"'{text}' names nothing to meet. Write promotion:ID, family:NAME or pass:item, order, shipping or credit."
                );
                return null;
        }
    }
}
