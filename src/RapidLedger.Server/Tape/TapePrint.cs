using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Promotions;

namespace RapidLedger.Server.Tape;

/// <summary>A priced cart as it is printed. Amounts are decimal strings of its currency.</summary>
/// <param name="At">The moment it was priced at.</param>
/// <param name="MarginPercent">Margin in percent of net without tax; null: not known, or nothing is paid.</param>
/// <param name="WhyNot">The promotions that did not apply, nearest first.</param>
/// <param name="Proved">Whether the choice among the promotions is known to be the best.</param>
/// <param name="Gap">If not: by how much at most another could be better.</param>
internal sealed record TapePrint(
    string Currency,
    string At,
    IReadOnlyList<PrintedLine> Lines,
    IReadOnlyList<PrintedEntry> Entries,
    PrintedTotals Totals,
    IReadOnlyList<PrintedTax> Taxes,
    IReadOnlyList<PrintedCode> Codes,
    IReadOnlyList<PrintedWhyNot> WhyNot,
    IReadOnlyList<PrintedOffer> Offers,
    IReadOnlyList<PrintedNudge> Nudges,
    decimal? MarginPercent,
    bool Proved,
    string? Gap
);

internal sealed record PrintedLine(
    string Sku,
    string Name,
    int Quantity,
    string UnitRegular,
    string UnitPrice,
    string Regular,
    string Goods,
    string Net,
    string? Cost,
    string? Margin,
    IReadOnlyList<PrintedPart> Parts
);

internal sealed record PrintedPart(string Promotion, string Label, string Amount, long Units);

/// <summary>What one promotion took from one thing.</summary>
/// <param name="From">
/// markdown (in the goods already), goods (from single items), gift, order (from the whole of it), delivery, or credit.
/// </param>
/// <param name="Net">Of a gift, what is still to be paid for it.</param>
/// <param name="Before">What it takes under the live edition; null: nothing. Only beside a draft.</param>
internal sealed record PrintedEntry(
    string Promotion,
    string Label,
    string Name,
    string From,
    string Amount,
    long Units,
    string? Net,
    string? Before
);

/// <summary>Gifts that wait to be picked.</summary>
internal sealed record PrintedOffer(string Promotion, string Label, long Units, IReadOnlyList<PrintedItem> Items);

internal sealed record PrintedItem(string Sku, string Name);

/// <summary>What is missing to a promotion or step that is near.</summary>
/// <param name="Message">For the merchant.</param>
/// <param name="Shopper">As the shopper reads it.</param>
/// <param name="Add">What to add to the cart.</param>
/// <param name="Saves">By how much the promotion takes more then.</param>
internal sealed record PrintedNudge(string Promotion, string Message, string Shopper, IReadOnlyList<PrintedAddition> Add, string Saves);

internal sealed record PrintedAddition(string Sku, string Name, int Quantity);

internal sealed record PrintedTotals(
    string Regular,
    string Goods,
    string Discount,
    string Net,
    string Shipping,
    string ShippingDiscount,
    string Tax,
    bool TaxIncluded,
    string Total,
    string Credit,
    string Due,
    long Points,
    string? Margin,
    string? Contribution,
    string Saving,
    bool ShippingUnavailable
);

internal sealed record PrintedTax(string Class, decimal Percent, string Base, string Tax);

/// <summary>What became of a code.</summary>
/// <param name="Shopper">As the shopper reads it.</param>
internal sealed record PrintedCode(string Code, string Status, string? Promotion, string? Name, string Message, string Shopper);

/// <summary>A promotion that did not apply.</summary>
/// <param name="Remedy">A change to the cart that brings it nearer, if one is known.</param>
internal sealed record PrintedWhyNot(string Promotion, string Name, string Reason, string Message, PrintedRemedy? Remedy);

/// <summary>A change to the cart.</summary>
/// <param name="Kind">code, clock, add, place, channel, currency or group.</param>
/// <param name="Value">What to set it to; for add the SKU.</param>
/// <param name="Units">For add: how many.</param>
/// <param name="Words">What to press: "add 1 Inner tube, 28".</param>
internal sealed record PrintedRemedy(string Kind, string Value, int Units, string Words);

/// <summary>What the same cart comes to under the live edition.</summary>
/// <param name="Gone">Entries of the live edition that this print does not have.</param>
internal sealed record LiveBeside(string Due, string? Margin, IReadOnlyList<PrintedEntry> Gone);

/// <summary>The answer to a cart: a print, or what is wrong with the draft or the cart.</summary>
/// <param name="Print">Null if there are problems.</param>
/// <param name="Live">What the cart comes to under the live edition; only beside a draft.</param>
/// <param name="DraftProblems">What is wrong in the draft, by its JSON pointers.</param>
/// <param name="CartProblems">What is wrong in the cart, by its JSON pointers.</param>
/// <param name="Clauses">The draft in words.</param>
/// <param name="Comings">When the draft is open next, if it repeats.</param>
internal sealed record TapeAnswer(
    TapePrint? Print,
    LiveBeside? Live,
    IReadOnlyList<Problem> DraftProblems,
    IReadOnlyList<Problem> CartProblems,
    IReadOnlyList<Clause> Clauses,
    IReadOnlyList<NextOpening> Comings
)
{
    /// <summary>What a shopper would be told, if that was asked; only beside a draft.</summary>
    public JsonObject? AsShopper { get; init; }
}
