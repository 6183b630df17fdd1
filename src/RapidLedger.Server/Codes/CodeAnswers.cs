namespace RapidLedger.Server.Codes;

/// <summary>Codes to be made.</summary>
/// <param name="Count">How many: 1 to 1,000,000.</param>
/// <param name="Length">How many characters are drawn for each.</param>
/// <param name="Alphabet">crockford (without look-alikes), letters or digits.</param>
/// <param name="Group">After so many characters a hyphen; none: no hyphens.</param>
/// <param name="UsesEach">Orders that may use each; 0: any number; none: one.</param>
/// <param name="LastDay">The last day on which they are good, ISO 8601.</param>
/// <param name="Meant">They may be as easy to guess as they are.</param>
internal sealed record MakeRequest(
    long Count,
    int Length = 8,
    string Alphabet = "crockford",
    string? Prefix = null,
    int? Group = null,
    long? UsesEach = null,
    string? LastDay = null,
    string? Note = null,
    bool? Meant = null
);

/// <summary>How hard codes are to guess, with an example.</summary>
/// <param name="Severity">error or doubt; null: hard enough.</param>
internal sealed record HardnessAnswer(string Words, string? Severity, string Example);

/// <summary>A batch of codes.</summary>
/// <param name="Promotion">The promotion that they start; null: none yet.</param>
/// <param name="UsesEach">Null: any number.</param>
/// <param name="Wanted">How many it is to hold, while it is being made.</param>
/// <param name="Fault">Why it could not be made whole.</param>
internal sealed record BatchRow(
    string Id,
    string Note,
    string MadeAt,
    string? Promotion,
    string? PromotionName,
    long? UsesEach,
    string? LastDay,
    bool Void,
    long Codes,
    long Used,
    long Voided,
    long? Wanted,
    string? Fault
);

/// <summary>A promotion's own code.</summary>
/// <param name="State">Of its promotion: live, draft, paused or archived.</param>
/// <param name="Uses">Orders that its promotion was used by.</param>
/// <param name="Limit">Of how many; null: without limit.</param>
internal sealed record OwnCode(string Code, string Promotion, string PromotionName, string State, long Uses, long? Limit, string Link);

/// <summary>A code of a batch.</summary>
internal sealed record BatchCodeRow(string Code, string Batch, bool Void, long Used, string? Drawn, string? LastUsedAt, string? Note);

/// <summary>Codes that begin so.</summary>
/// <param name="After">To go on after; null: that was all.</param>
internal sealed record FoundCodes(IReadOnlyList<OwnCode> Own, IReadOnlyList<BatchCodeRow> OfBatches, string? After);

/// <summary>All that is known of a code.</summary>
/// <param name="Story">In a sentence.</param>
/// <param name="Orders">The orders that it was used by, the newest first.</param>
internal sealed record CodeStory(
    string Code,
    string Story,
    string? Promotion,
    string? PromotionName,
    string? Batch,
    bool Void,
    long Used,
    IReadOnlyList<string> Orders,
    string Link
);

/// <summary>Codes of batches to be made void, or valid again, all at once.</summary>
internal sealed record VoidRequest(string[] Codes, bool Void);

/// <summary>What comes of stopping a batch that is being made.</summary>
/// <param name="Keep">Whether what was made is kept.</param>
internal sealed record StopRequest(bool Keep);
