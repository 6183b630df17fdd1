using System.Text.Json;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Tape;

namespace RapidLedger.Server.Promotions;

/// <summary>The second look at a promotion of the open shop.</summary>
internal static class SecondLook
{
    public static IReadOnlyList<FoundInDraft> At(Promotion promotion, OpenShop shop, IClock clock) =>
    [
        .. Review.Of(promotion, new(shop.Catalogue, shop.Live.Rulebook.Promotions, shop.Wording, clock.GetCurrentInstant())).Select(finding => new FoundInDraft(
            finding.Check,
            finding.Severity.ToString().ToLowerInvariant(),
            finding.At,
            finding.Sentence,
            finding.Mend is { } mend ? new(mend.Words, mend.At, mend.Value is null ? null : JsonSerializer.SerializeToElement(mend.Value)) : null)),
    ];
}
