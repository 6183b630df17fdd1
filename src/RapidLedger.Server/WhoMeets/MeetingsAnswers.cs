using System.Text.Json;

namespace RapidLedger.Server.WhoMeets;

/// <summary>Who meets whom, promotion by promotion.</summary>
/// <param name="Rows">In order of application.</param>
/// <param name="Pairs">How many pairs there are.</param>
/// <param name="Known">How many of them have been looked at; the others are looked at when it is asked again. 0 of many: too many.</param>
/// <param name="Families">The families of which one applies to a cart.</param>
internal sealed record MeetingsTable(IReadOnlyList<MeetingsRow> Rows, int Pairs, int Known, IReadOnlyList<string> Families);

/// <summary>One promotion.</summary>
/// <param name="IsDraft">It is looked at as it is being written.</param>
/// <param name="Heading">Under which heading of what is written it stands: family, none, only, except or any.</param>
/// <param name="Family">The family of which one applies to a cart; null: none.</param>
/// <param name="Rank">Lower goes first.</param>
/// <param name="Meets">With how many of the others it was found in one cart; null: not all have been looked at.</param>
internal sealed record MeetingsRow(string Id, string Name, bool IsDraft, string Heading, string? Family, int Rank, int? Meets);

/// <summary>Whom one promotion meets.</summary>
/// <param name="IsWhole">Whether all others have been looked at; the rest is when it is asked again.</param>
/// <param name="Most">The cart in which most were found to apply beside it; null: it meets nobody, or not all have been looked at.</param>
internal sealed record MeetingsOf(string Id, string Name, IReadOnlyList<MeetingPair> Pairs, bool IsWhole, MostMet? Most);

/// <summary>The most that met in one cart, best found.</summary>
/// <param name="Names">All of them, the one too, in order of application.</param>
/// <param name="Together">What they take together, as people read it.</param>
/// <param name="Margin">What is left as margin, in percent; null: not known.</param>
/// <param name="IsBelowFloor">Whether that is less than the shop wants to keep.</param>
/// <param name="Cart">The cart, as on the tape.</param>
internal sealed record MostMet(IReadOnlyList<string> Names, string Together, decimal? Margin, bool IsBelowFloor, JsonElement Cart);

/// <summary>Another promotion, and whether the two meet.</summary>
/// <param name="Verdict">can, never, wins, loses, notFound; null: not looked at yet.</param>
/// <param name="Ground">Of never: what rules it out.</param>
/// <param name="Why">In a sentence.</param>
/// <param name="Together">What both take in the cart that shows it, as people read it; null: there is none, or both take nothing.</param>
/// <param name="Margin">What is left of that cart as margin, in percent; null: not known.</param>
/// <param name="IsBelowFloor">Whether that is less than the shop wants to keep.</param>
/// <param name="Cart">The cart that shows it, as on the tape.</param>
internal sealed record MeetingPair(
    string Id,
    string Name,
    bool IsDraft,
    string? Verdict,
    string? Ground,
    string? Why,
    string? Together,
    decimal? Margin,
    bool IsBelowFloor,
    JsonElement? Cart
);

/// <summary>How many one promotion meets.</summary>
/// <param name="Meets">Those with which it was found in one cart; of very many, where no carts are looked for here, those that nothing
/// written keeps from it.</param>
/// <param name="Others">How many others there are.</param>
/// <param name="IsFound">Whether they were found in carts.</param>
/// <param name="IsWhole">Whether all others have been looked at; the rest is when it is asked again.</param>
internal sealed record MeetingsCount(int Meets, int Others, bool IsFound, bool IsWhole);

/// <summary>What two promotions are to be to each other.</summary>
/// <param name="One">The id of the one whose page it is.</param>
/// <param name="Other">The id of the other.</param>
/// <param name="To">never, family or can.</param>
/// <param name="Family">Of family: which, of those of which one applies to a cart.</param>
internal sealed record MeetingChange(string One, string Other, string To, string? Family = null);

/// <summary>Where a promotion is to stand in the order of application.</summary>
/// <param name="Id">Which.</param>
/// <param name="Before">Before which other; null: behind all.</param>
internal sealed record MeetingMove(string Id, string? Before = null);

/// <summary>A draft as it would be written for that; nothing is written yet.</summary>
/// <param name="Revision">The revision that it would be written onto.</param>
/// <param name="Document">The whole draft.</param>
/// <param name="Before">What is written now.</param>
/// <param name="HadDraft">Whether that is a draft already.</param>
/// <param name="Sentence">What will stand in it, in words.</param>
internal sealed record ChangedDraft(
    string Id,
    string Name,
    long Revision,
    JsonElement Document,
    JsonElement Before,
    bool HadDraft,
    string Sentence
);
