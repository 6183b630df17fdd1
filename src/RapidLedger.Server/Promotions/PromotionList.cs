using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>How much of a promotion's tightest limit is used.</summary>
/// <param name="Used">Uses, or what was given.</param>
/// <param name="Of">The limit.</param>
/// <param name="Share">From 0 to 1 and above.</param>
internal sealed record UsedLimit(string Used, string Of, double Share);

/// <summary>One promotion in the list.</summary>
/// <param name="Phase">Where it stands at the clock: draft, starting, ending, nearlyUsed, usedUp, running, scheduled, paused, ended, archived.</param>
/// <param name="PhaseText">The same in words: "ends in 3 days".</param>
internal sealed record PromotionRow(
    string Id,
    string Name,
    string State,
    string Phase,
    string PhaseText,
    string Sentence,
    int Problems,
    bool HasDraft,
    long Revision,
    string? Opens,
    string? Closes,
    UsedLimit? Used,
    string[] Kinds,
    string[] Codes);

internal sealed record PromotionRows(IReadOnlyList<PromotionRow> Rows, int All, EditionInfo? Edition, long Drafts);

/// <summary>The list of promotions, by what needs attention at the clock.</summary>
internal static class PromotionList
{
    private static readonly Duration Soon = Duration.FromDays(14);

    private static readonly string[] ByAttention = ["ending", "starting", "nearlyUsed", "usedUp", "running", "draft", "scheduled", "paused", "ended", "archived"];

    public static IResult List(string? at, string? q, string? state, string? sku, PromotionRepository promotions, OpenShop shop, IClock clock)
    {
        var now = clock.GetCurrentInstant();
        if (at is not null && !InstantPattern.ExtendedIso.Parse(at).TryGetValue(default, out now)) return Answers.Refused("/at", ProblemCode.NotAnInstant, $"'{at}' is not a moment. Write 2027-03-05T09:00:00Z.");
        var usage = shop.UsageAt(now, null);
        var all = promotions.All();
        var ids = all.Select(stored => stored.Id).ToHashSet(StringComparer.Ordinal);
        var rows = all
            .Select(stored => (Stored: stored, Read: shop.Read(stored, ids)))
            .Where(entry => sku is null || Touches(entry.Read.Promotion, sku, shop))
            .Select(entry => Row(entry.Stored, entry.Read, usage.GetValueOrDefault(entry.Stored.Id, Usage.None), now, shop))
            .Where(row => Matches(row.Row, q, state))
            .OrderBy(row => Array.IndexOf(ByAttention, row.Row.Phase))
            .ThenBy(row => row.Turns)
            .ThenBy(row => row.Row.Name, StringComparer.Create(shop.Culture, System.Globalization.CompareOptions.None))
            .ThenBy(row => row.Row.Id, StringComparer.Ordinal)
            .Select(row => row.Row)
            .ToArray();
        var edition = promotions.NewestEdition();
        return Results.Ok(new PromotionRows(rows, all.Count, edition is null ? null : new(edition.Number, edition.PublishedAt), promotions.CountDrafts()));
    }

    private static bool Matches(PromotionRow row, string? q, string? state)
    {
        if (state is { Length: > 0 } && row.State != state && row.Phase != state) return false;
        return q is not { Length: > 0 } || q.Split(' ', StringSplitOptions.RemoveEmptyEntries).All(word =>
            row.Name.Contains(word, StringComparison.CurrentCultureIgnoreCase)
            || row.Sentence.Contains(word, StringComparison.CurrentCultureIgnoreCase)
            || row.Id.Contains(word, StringComparison.OrdinalIgnoreCase)
            || row.Kinds.Contains(word)
            || row.PhaseText.Contains(word, StringComparison.CurrentCultureIgnoreCase));
    }

    private static bool Touches(Promotion? promotion, string sku, OpenShop shop) =>
        promotion is not null && shop.Catalogue.Find(sku) >= 0 && Rulebook.Compile(shop.Catalogue, [promotion with { State = State.Live }]).LooksAt(sku);

    // Turns: when the next thing happens to it, for the order among its like.
    private static (PromotionRow Row, Instant Turns) Row(StoredPromotion stored, ReadPromotion read, Usage used, Instant now, OpenShop shop)
    {
        var promotion = read.Promotion;
        var window = promotion?.Window?.In(shop.Store.Zone) ?? OpenWindow.Always;
        var limit = promotion?.Limits is { } limits ? Tightest(limits, used, shop.Store.Currency) : null;
        var (phase, words, turns) = Phase(stored.State, promotion?.Window, window, limit, now, shop.Wording);
        var document = System.Text.Json.JsonDocument.Parse(stored.Shown).RootElement;
        return (new(
            stored.Id,
            promotion?.Named ?? Name(document) ?? stored.Id,
            stored.State,
            phase,
            words,
            promotion is null ? "" : string.Join(" · ", read.Clauses.Where(clause => !clause.Quiet && clause.Name is not "runs" and not "until").Select(clause => clause.Text)),
            read.Problems.Count,
            stored.Draft is not null,
            stored.Revision,
            window.Opens == Instant.MinValue ? null : window.Opens.ToString(),
            window.Closes == Instant.MaxValue ? null : window.Closes.ToString(),
            limit,
            [.. promotion?.Rewards.Select(reward => reward.GetType().Name.ToLowerInvariant()).Distinct() ?? []],
            [.. promotion?.Trigger?.Codes.Select(Trigger.Normal) ?? []]), turns);
    }

    private static string? Name(System.Text.Json.JsonElement document) =>
        document.TryGetProperty("name", out var name) && name.ValueKind == System.Text.Json.JsonValueKind.String && name.GetString() is { Length: > 0 } text ? text : null;

    private static (string Phase, string Words, Instant Turns) Phase(string state, Window? written, OpenWindow window, UsedLimit? limit, Instant now, Wording wording)
    {
        switch (state)
        {
            case "draft":
                return ("draft", "draft", now);
            case "paused":
                return ("paused", "paused", now);
            case "archived":
                return ("archived", "retired", now);
        }

        if (window.IsOver(now)) return ("ended", $"ended {wording.Ago(written!.End!.Value, now)}", window.Closes);
        if (window.IsAhead(now)) return (window.Opens - now <= Soon ? "starting" : "scheduled", $"starts in {wording.Away(now, written!.Start!.Value)}", window.Opens);
        if (limit?.Share >= 1) return ("usedUp", "used up", now);
        if (window.Closes != Instant.MaxValue && window.Closes - now <= Soon) return ("ending", $"ends in {wording.Lasts(now, written!.End!.Value)}", window.Closes);
        return limit?.Share >= 0.75 ? ("nearlyUsed", "nearly used up", now) : ("running", "running", now);
    }

    private static UsedLimit? Tightest(Limits limits, Usage used, Currency currency)
    {
        UsedLimit?[] all =
        [
            limits.Total is { } total ? new($"{used.Total}", $"{total}", Share(used.Total, total)) : null,
            limits.Budget is { } budget ? new(currency.Write(used.Budget), currency.Write(budget), Share(used.Budget, budget)) : null,
            limits.PerDay is { } day ? new($"{used.Today}", $"{day} a day", Share(used.Today, day)) : null,
        ];
        return all.OfType<UsedLimit>().MaxBy(limit => limit.Share);
    }

    private static double Share(long used, long of) => of == 0 ? 1 : Math.Round((double)used / of, 4);
}
