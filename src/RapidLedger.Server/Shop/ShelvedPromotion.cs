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
    private ReadPromotion? inForce;
    private string? name;
    private string? sentence;
    private string? text;
    private SortKey? sortKey;
    private OpenWindow? window;
    private Occurrences? occurrences;
    private Rulebook? alone;
    private Findings? found;

    /// <summary>What the saved version says, where there is one: it is what is live, whatever is being written beside it.</summary>
    public ReadPromotion InForce => inForce ??= Stored is { Draft: not null, Document: { } saved } ? Shop.Read(saved) : Read;

    /// <summary>Its name as people read it, also where its document cannot be read.</summary>
    public string Name => name ??= InForce.Promotion?.Named ?? NameIn(Stored.Document ?? Stored.Shown) ?? Stored.Id;

    /// <summary>The rule in a sentence, without when it runs and until when.</summary>
    public string Sentence =>
        sentence ??= string.Join(
            " · ",
            InForce
                .Clauses.Where(clause => !clause.Quiet && clause.Name is not "runs" and not "until" and not "says")
                .Select(clause => clause.Text)
        );

    /// <summary>All that a search looks through, in capitals.</summary>
    public string Text => text ??= string.Join('\n', [Name, Sentence, Stored.Id, .. Kinds]).ToUpperInvariant();

    /// <summary>Its place among names in the shop's language.</summary>
    public SortKey SortKey => sortKey ??= Shop.Culture.CompareInfo.GetSortKey(Name);

    /// <summary>When it is open, repetition aside.</summary>
    public OpenWindow Window => window ??= InForce.Promotion?.Window?.In(Shop.Store.Zone) ?? OpenWindow.Always;

    /// <summary>When within that it is open, if it repeats.</summary>
    public Occurrences? Occurrences =>
        InForce.Promotion?.Window is { Repeat: not null } repeating ? occurrences ??= Occurrences.Of(repeating, Shop.Store.Zone) : null;

    /// <summary>The kinds of reward it gives.</summary>
    public IEnumerable<string> Kinds =>
        InForce.Promotion?.Rewards.Select(reward => reward.GetType().Name.ToLowerInvariant()).Distinct() ?? [];

    /// <summary>How much a second look finds that matters, worked out once for an edition and a day.</summary>
    public (int Errors, int Doubts) Found(Instant now)
    {
        var (edition, day) = (Shop.Live.Number, now.InZone(Shop.Store.Zone).Date);
        if (found is { } known && known.Edition == edition && known.Day == day)
            return known.Counts;
        var findings = Read.Promotion is { } promotion ? Review.Of(promotion, Shop.Around(promotion, now)) : [];
        var counts = (
            findings.Count(finding => finding.Severity == Severity.Error),
            findings.Count(finding => finding.Severity == Severity.Doubt)
        );
        found = new(edition, day, counts);
        return counts;
    }

    /// <summary>The family that it is of; null: of none.</summary>
    public string? Family => InForce.Promotion?.Stacking?.Family;

    /// <summary>Whether carts of a channel can earn it, as far as what it asks of all carts says.</summary>
    public bool IsFor(string channel) =>
        (
            InForce.Promotion?.When switch
            {
                null => [],
                AllOf all => all.Parts.AsEnumerable(),
                var one => [one],
            }
        )
            .OfType<Channel>()
            .All(asked => asked.Names.Contains(channel));

    /// <summary>Whether it looks at an item of the catalogue.</summary>
    public bool Touches(string sku) =>
        InForce.Promotion is { } promotion
        && Shop.Catalogue.Find(sku) >= 0
        && (alone ??= Rulebook.Compile(Shop.Catalogue, [promotion with { State = State.Live }])).LooksAt(sku);

    private sealed record Findings(long Edition, LocalDate Day, (int Errors, int Doubts) Counts);

    private static string? NameIn(string document)
    {
        using var parsed = JsonDocument.Parse(document);
        return
            parsed.RootElement is { ValueKind: JsonValueKind.Object } root
            && root.TryGetProperty("name", out var name)
            && name.ValueKind == JsonValueKind.String
            && name.GetString() is { Length: > 0 } text
            ? text
            : null;
    }
}
