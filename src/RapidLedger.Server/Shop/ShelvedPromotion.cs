using System.Globalization;
using System.Text.Json;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>A stored promotion as read, with what lists of many need of it, worked out once.</summary>
/// <param name="Stored">As stored.</param>
/// <param name="Read">What its shown document says.</param>
/// <param name="Shop">Whose it is.</param>
internal sealed record ShelvedPromotion(StoredPromotion Stored, ReadPromotion Read, OpenShop Shop)
{
    private string? name;
    private string? sentence;
    private string? text;
    private SortKey? sortKey;
    private OpenWindow? window;
    private Occurrences? occurrences;
    private Rulebook? alone;
    private Findings? found;

    /// <summary>Its name as people read it, also where its document cannot be read.</summary>
    public string Name => name ??= Read.Promotion?.Named ?? NameIn(Stored.Shown) ?? Stored.Id;

    /// <summary>The rule in a sentence, without when it runs and until when.</summary>
    public string Sentence => sentence ??= string.Join(" · ", Read.Clauses.Where(clause => !clause.Quiet && clause.Name is not "runs" and not "until" and not "says").Select(clause => clause.Text));

    /// <summary>All that a search looks through, in capitals.</summary>
    public string Text => text ??= string.Join('\n', [Name, Sentence, Stored.Id, .. Kinds]).ToUpperInvariant();

    /// <summary>Its place among names in the shop's language.</summary>
    public SortKey SortKey => sortKey ??= Shop.Culture.CompareInfo.GetSortKey(Name);

    /// <summary>When it is open, repetition aside.</summary>
    public OpenWindow Window => window ??= Read.Promotion?.Window?.In(Shop.Store.Zone) ?? OpenWindow.Always;

    /// <summary>When within that it is open, if it repeats.</summary>
    public Occurrences? Occurrences => Read.Promotion?.Window is { Repeat: not null } repeating ? occurrences ??= Occurrences.Of(repeating, Shop.Store.Zone) : null;

    /// <summary>The kinds of reward it gives.</summary>
    public IEnumerable<string> Kinds => Read.Promotion?.Rewards.Select(reward => reward.GetType().Name.ToLowerInvariant()).Distinct() ?? [];

    /// <summary>How much a second look finds that matters, worked out once for an edition and a day.</summary>
    public (int Errors, int Doubts) Found(Instant now)
    {
        var (edition, day) = (Shop.Live.Number, now.InZone(Shop.Store.Zone).Date);
        if (found is { } known && known.Edition == edition && known.Day == day) return known.Counts;
        var findings = Read.Promotion is { } promotion ? Review.Of(promotion, new(Shop.Catalogue, Shop.Live.Rulebook.Promotions, Shop.Wording, now)) : [];
        var counts = (findings.Count(finding => finding.Severity == Severity.Error), findings.Count(finding => finding.Severity == Severity.Doubt));
        found = new(edition, day, counts);
        return counts;
    }

    /// <summary>Whether it looks at an item of the catalogue.</summary>
    public bool Touches(string sku) => Read.Promotion is { } promotion && Shop.Catalogue.Find(sku) >= 0
        && (alone ??= Rulebook.Compile(Shop.Catalogue, [promotion with { State = State.Live }])).LooksAt(sku);

    private sealed record Findings(long Edition, LocalDate Day, (int Errors, int Doubts) Counts);

    private static string? NameIn(string document)
    {
        using var parsed = JsonDocument.Parse(document);
        return parsed.RootElement is { ValueKind: JsonValueKind.Object } root && root.TryGetProperty("name", out var name)
            && name.ValueKind == JsonValueKind.String && name.GetString() is { Length: > 0 } text ? text : null;
    }
}
