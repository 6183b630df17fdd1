using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <summary>A whole shop as files: its rules and goods, not what was done by them.</summary>
/// <param name="Store">What pricing needs of the settings, as in a case.</param>
/// <param name="Settings">What it does not need.</param>
/// <param name="Catalogue">Goods, as in a case.</param>
/// <param name="Promotions">All promotions, of whatever state.</param>
/// <param name="Batches">The batches of codes.</param>
/// <param name="Carts">The carts kept under a name, in order.</param>
/// <param name="Shoppers">Its shoppers; null: the files say nothing of them.</param>
/// <param name="HasStock">Whether the files say what is left of each item.</param>
/// <param name="WrittenOn">The day from which the dates in it count (ISO 8601); null: they are meant as they stand.</param>
public sealed record ShopArchive(
    JsonObject Store,
    JsonObject Settings,
    JsonObject Catalogue,
    IReadOnlyList<ArchivedPromotion> Promotions,
    IReadOnlyList<ArchivedBatch> Batches,
    IReadOnlyList<ArchivedCart> Carts,
    IReadOnlyList<ArchivedShopper>? Shoppers,
    bool HasStock,
    string? WrittenOn = null
);

/// <summary>A promotion in the files of a shop.</summary>
/// <param name="Id">Which.</param>
/// <param name="State">draft, live, paused or archived.</param>
/// <param name="Document">What was saved last; null: nothing ever was.</param>
/// <param name="Draft">What is written beside it, as typed; null: nothing is.</param>
/// <param name="Meant">What a second look found and the merchant has said is meant as written, with its words.</param>
public sealed record ArchivedPromotion(
    string Id,
    string State,
    JsonObject? Document,
    JsonObject? Draft,
    IReadOnlyList<(string Finding, string Words)> Meant
);

/// <summary>A batch of codes in the files of a shop.</summary>
/// <param name="Id">Which.</param>
/// <param name="Note">Where it comes from.</param>
/// <param name="UsesEach">Orders that may use each; null: any number.</param>
/// <param name="LastDay">ISO 8601; null: always.</param>
/// <param name="Void">Whether the whole of it is void.</param>
/// <param name="Codes">Its codes; null: the files say nothing of them.</param>
public sealed record ArchivedBatch(string Id, string Note, long? UsesEach, string? LastDay, bool Void, IReadOnlyList<ArchivedCode>? Codes);

/// <summary>A code in the files of a shop.</summary>
/// <param name="Code">As written.</param>
/// <param name="Used">By how many orders.</param>
/// <param name="Drawn">What was drawn on a card, in minor units of the base currency.</param>
/// <param name="Void">Whether it is void.</param>
/// <param name="Note">What stands beside it; null: nothing.</param>
public sealed record ArchivedCode(string Code, long Used, long Drawn, bool Void, string? Note);

/// <summary>A cart kept under a name, in the files of a shop.</summary>
public sealed record ArchivedCart(string Id, string Name, JsonObject Cart);

/// <summary>A shopper in the files of a shop.</summary>
/// <param name="Id">Who it is.</param>
/// <param name="Name">The name people read.</param>
/// <param name="Groups">The groups.</param>
/// <param name="Orders">Past orders.</param>
/// <param name="Spent">Lifetime spend, in minor units of the base currency.</param>
/// <param name="Place">Where the shopper lives, if known.</param>
/// <param name="Language">What the shopper reads (BCP 47), if known.</param>
public sealed record ArchivedShopper(
    string Id,
    string Name,
    IReadOnlyList<string> Groups,
    long Orders,
    long Spent,
    string? Place,
    string? Language
);

/// <summary>What is wrong with the files of a shop.</summary>
/// <param name="File">In which.</param>
/// <param name="Line">At which line of a table; null: in none.</param>
/// <param name="At">A JSON pointer into a document; empty: all of it.</param>
/// <param name="Message">What, and what to do.</param>
public sealed record ArchiveProblem(string File, int? Line, string At, string Message)
{
    /// <inheritdoc/>
    public override string ToString() => $"{File}{(Line is { } line ? $", line {line}" : "")}{At}: {Message}";
}
