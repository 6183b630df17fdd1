using Microsoft.AspNetCore.Mvc;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>How much of a promotion's tightest limit is used.</summary>
/// <param name="Used">Uses, or what was given.</param>
/// <param name="Of">The limit.</param>
/// <param name="Share">From 0 to 1 and above.</param>
internal sealed record UsedLimit(string Used, string Of, double Share);

/// <summary>One promotion in the list.</summary>
/// <param name="Phase">Where it stands at the clock: draft, starting, ending, nearlyUsed, usedUp, running, between, scheduled, paused,
/// ended, archived.</param>
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
    string[] Codes
);

/// <summary>What a second look at a promotion finds that matters; those of which it finds nothing are left out.</summary>
internal sealed record RowFindings(string Id, int Errors, int Doubts);

/// <summary>A part of the list.</summary>
/// <param name="Rows">The rows asked for.</param>
/// <param name="Skip">How many stand before them.</param>
/// <param name="Matching">How many match the filter.</param>
/// <param name="All">How many there are.</param>
internal sealed record PromotionRows(IReadOnlyList<PromotionRow> Rows, int Skip, int Matching, int All, EditionInfo? Edition, long Drafts);

/// <summary>What is wanted of the list.</summary>
/// <param name="At">The moment it is looked at from; none: now.</param>
/// <param name="Q">Words that all stand in the name, the rule or the state.</param>
/// <param name="State">A state or a phase.</param>
/// <param name="Sku">Only those that look at this item.</param>
/// <param name="Id">Only this one.</param>
/// <param name="Skip">So many rows are left out.</param>
/// <param name="Take">So many at the most.</param>
/// <param name="Kind">Only those that give a reward of this kind.</param>
/// <param name="Family">Only those of this family.</param>
/// <param name="Channel">Only those that carts of this channel can earn.</param>
/// <param name="Sort">attention (by default), name, start, end or use: the most used first.</param>
/// <param name="First">Ids, with commas between them, that stand before all others in this order.</param>
internal sealed record ListWish(
    [FromQuery(Name = "at")] string? At,
    [FromQuery(Name = "q")] string? Q,
    [FromQuery(Name = "state")] string? State,
    [FromQuery(Name = "sku")] string? Sku,
    [FromQuery(Name = "id")] string? Id,
    [FromQuery(Name = "skip")] int? Skip,
    [FromQuery(Name = "take")] int? Take,
    [FromQuery(Name = "kind")] string? Kind = null,
    [FromQuery(Name = "family")] string? Family = null,
    [FromQuery(Name = "channel")] string? Channel = null,
    [FromQuery(Name = "sort")] string? Sort = null,
    [FromQuery(Name = "first")] string? First = null
);

/// <summary>What a list goes by.</summary>
internal enum ListOrder
{
    /// <summary>What needs attention.</summary>
    Attention,

    /// <summary>The name.</summary>
    Name,

    /// <summary>When it starts.</summary>
    Start,

    /// <summary>When it ends.</summary>
    End,

    /// <summary>How much of its tightest limit is used.</summary>
    Use,
}

/// <summary>The list of promotions, by what needs attention at the clock, in parts.</summary>
internal static class PromotionList
{
    private const int MostRows = 1_000;
    private const int MostFindings = 200;

    private static readonly Duration Soon = Duration.FromDays(14);

    private static readonly string[] ByAttention =
    [
        "ending",
        "starting",
        "nearlyUsed",
        "usedUp",
        "running",
        "between",
        "draft",
        "scheduled",
        "paused",
        "ended",
        "archived",
    ];

    public static IResult List([AsParameters] ListWish wish, PromotionRepository promotions, OpenShop shop, IClock clock)
    {
        var (at, q, state, sku, id, skip, take, kind, family, channel, sort, first) = wish;
        var now = clock.GetCurrentInstant();
        if (at is not null)
        {
            if (
                !InstantPattern.ExtendedIso.Parse(at).TryGetValue(default, out now)
                || now.InUtc().Year is < Window.FirstYear or > Window.LastYear
            )
                return Answers.Refused(
                    "/at",
                    ProblemCode.NotAnInstant,
                    $"'{at}' is not a moment that is counted with. Write 2027-03-05T09:00:00Z."
                );
        }

        if (skip < 0)
            return Answers.Refused("/skip", ProblemCode.Negative, "So many rows cannot be left out.");
        if (take is < 0 or > MostRows)
            return Answers.Refused("/take", ProblemCode.OutOfRange, $"At most {MostRows} rows are given at once.");
        if (!Enum.TryParse<ListOrder>(sort ?? "attention", true, out var order) || !Enum.IsDefined(order))
            return Answers.Refused(
                "/sort",
                ProblemCode.UnknownValue,
                $"Lists go by {string.Join(", ", Enum.GetNames<ListOrder>().Select(name => name.ToLowerInvariant()))}."
            );
        var usage = shop.UsageAt(now);
        var ahead = (first ?? "")
            .Split(',', StringSplitOptions.RemoveEmptyEntries)
            .Take(MostRows)
            .Select((one, place) => (one, place))
            .DistinctBy(entry => entry.one)
            .ToDictionary(entry => entry.one, entry => entry.place, StringComparer.Ordinal);
        var words = q?.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(word => word.ToUpperInvariant()).ToArray() ?? [];
        var all = shop.Promotions;
        // Where each stands is worked out for all, in words only for those that are shown.
        var matching = all.Where(promotion =>
                (id is null || promotion.Stored.Id == id)
                && (sku is null || promotion.Touches(sku))
                && (kind is not { Length: > 0 } || promotion.Kinds.Contains(kind))
                && (family is not { Length: > 0 } || promotion.Family == family)
                && (channel is not { Length: > 0 } || promotion.IsFor(channel))
            )
            .Select(promotion => Standing.Of(promotion, usage.GetValueOrDefault(promotion.Stored.Id, Usage.None), now, shop))
            .Where(standing => state is not { Length: > 0 } || standing.Promotion.Stored.State == state || standing.Phase == state)
            .Where(standing =>
                Array.TrueForAll(words, word =>
                    standing.Promotion.Text.Contains(word, StringComparison.Ordinal)
                    || standing.Words(shop, now).Contains(word, StringComparison.OrdinalIgnoreCase)
                )
            )
            .OrderBy(standing => ahead.GetValueOrDefault(standing.Promotion.Stored.Id, int.MaxValue))
            .ThenBy(standing => standing.PlaceIn(order))
            .ThenBy(standing => order == ListOrder.Attention ? standing.Turns : Instant.MinValue)
            .ThenBy(
                standing => standing.Promotion.SortKey,
                Comparer<System.Globalization.SortKey>.Create(System.Globalization.SortKey.Compare)
            )
            .ThenBy(standing => standing.Promotion.Stored.Id, StringComparer.Ordinal)
            .ToArray();
        var rows = matching.Skip(skip ?? 0).Take(take ?? MostRows).Select(standing => Row(standing, now, shop)).ToArray();
        return Results.Ok(new PromotionRows(rows, skip ?? 0, matching.Length, all.Count, EditionInfo.Newest(promotions), shop.Drafts));
    }

    /// <summary>How much a second look at some promotions finds; asked for beside the list, which does not wait for it.</summary>
    public static IResult Findings(string ids, OpenShop shop, IClock clock, CancellationToken gone)
    {
        string[] asked = [.. ids.Split(',', StringSplitOptions.RemoveEmptyEntries).Distinct(StringComparer.Ordinal)];
        if (asked.Length > MostFindings)
            return Answers.Refused("/ids", ProblemCode.OutOfRange, $"At most {MostFindings} promotions are looked at at once.");
        var now = clock.GetCurrentInstant();
        var wanted = asked.ToHashSet(StringComparer.Ordinal);
        var found = new List<RowFindings>();
        foreach (
            var promotion in shop.Promotions.Where(promotion =>
                wanted.Contains(promotion.Stored.Id) && promotion.Stored.State != "archived"
            )
        )
        {
            gone.ThrowIfCancellationRequested();
            if (promotion.Found(now) is var (errors, doubts) && errors + doubts > 0)
                found.Add(new(promotion.Stored.Id, errors, doubts));
        }

        return Results.Ok(found);
    }

    private static PromotionRow Row(Standing standing, Instant now, OpenShop shop)
    {
        var (stored, window) = (standing.Promotion.Stored, standing.Promotion.Window);
        return new(
            stored.Id,
            standing.Promotion.Name,
            stored.State,
            standing.Phase,
            standing.Words(shop, now),
            standing.Promotion.Sentence,
            standing.Promotion.Read.Problems.Count,
            stored.Draft is not null,
            stored.Revision,
            window.Opens == Instant.MinValue ? null : window.Opens.ToString(),
            window.Closes == Instant.MaxValue ? null : window.Closes.ToString(),
            standing.Limit,
            [.. standing.Promotion.Kinds],
            [.. standing.Promotion.InForce.Promotion?.Trigger?.Codes.Select(Trigger.Normal) ?? []]
        );
    }

    /// <summary>Where a promotion stands at a moment.</summary>
    /// <param name="Phase">See <see cref="PromotionRow"/>.</param>
    /// <param name="Turns">When the next thing happens to it, for the order among its like.</param>
    private sealed record Standing(ShelvedPromotion Promotion, string Phase, Instant Turns, UsedLimit? Limit)
    {
        /// <summary>What it goes by in an order; by its name where that is the same.</summary>
        public double PlaceIn(ListOrder order) =>
            order switch
            {
                ListOrder.Name => 0,
                ListOrder.Start => Promotion.Window.Opens == Instant.MinValue
                    ? double.MinValue
                    : Promotion.Window.Opens.ToUnixTimeSeconds(),
                ListOrder.End => Promotion.Window.Closes == Instant.MaxValue
                    ? double.MaxValue
                    : Promotion.Window.Closes.ToUnixTimeSeconds(),
                ListOrder.Use => -(Limit?.Share ?? -1),
                _ => Array.IndexOf(ByAttention, Phase),
            };

        public static Standing Of(ShelvedPromotion promotion, Usage used, Instant now, OpenShop shop)
        {
            var limit = promotion.InForce.Promotion?.Limits is { } limits ? Tightest(limits, used, shop.Store.Currency) : null;
            var (phase, turns) = PhaseOf(promotion, limit, now);
            return new(promotion, phase, turns, limit);
        }

        /// <summary>The phase in words.</summary>
        public string Words(OpenShop shop, Instant now)
        {
            var written = Promotion.InForce.Promotion?.Window;
            return Phase switch
            {
                "ended" => Promotion.Occurrences is not null && written?.End is null
                    ? "over"
                    : $"ended {shop.Wording.Ago(written!.End!.Value, now)}",
                "starting" or "scheduled" => $"starts in {shop.Wording.Away(now, written!.Start!.Value)}",
                "between" => $"again in {shop.Wording.Away(now, Turns.InZone(shop.Store.Zone).LocalDateTime)}",
                "ending" => $"ends in {shop.Wording.Lasts(now, written!.End!.Value)}",
                "usedUp" => "used up",
                "nearlyUsed" => "nearly used up",
                "archived" => "retired",
                _ => Phase,
            };
        }

        private static (string Phase, Instant Turns) PhaseOf(ShelvedPromotion promotion, UsedLimit? limit, Instant now)
        {
            if (promotion.Stored.State is "draft" or "paused" or "archived")
                return (promotion.Stored.State, now);
            var window = promotion.Window;
            if (window.IsOver(now))
                return ("ended", window.Closes);
            if (window.IsAhead(now))
                return (window.Opens - now <= Soon ? "starting" : "scheduled", window.Opens);
            if (limit?.Share >= 1)
                return ("usedUp", now);
            if (promotion.Occurrences is { } occurrences && !occurrences.IsOpen(now))
                return occurrences.Next(now) is { } next
                    ? ("between", next.Starts.InZoneLeniently(promotion.Shop.Store.Zone).ToInstant())
                    : ("ended", now);
            if (window.Closes != Instant.MaxValue && window.Closes - now <= Soon)
                return ("ending", window.Closes);
            return (limit?.Share >= 0.75 ? "nearlyUsed" : "running", now);
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
}
