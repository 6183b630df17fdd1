using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// A result as an order keeps it, read again; amounts are in minor units of its currency. What an older version did not write is 0 or
/// empty.
/// </summary>
public sealed class KeptResult
{
    private KeptResult(JsonObject result, Currency currency)
    {
        long Minor(JsonNode? amount) =>
            amount is JsonValue value && value.TryGetValue<string>(out var text) && currency.Read(text, out var minor) == AmountFault.None
                ? minor
                : 0;
        KeptPart Part(JsonNode part) => new((string?)part["promotion"] ?? "", Minor(part["amount"]));

        Currency = currency;
        Lines =
        [
            .. List(result["lines"])
                .Select(line => new KeptLine(Sku(line), Units(line), Minor(line["net"]), [.. List(line["parts"]).Select(Part)])),
            // What a gift takes is what it would have cost.
            .. List(result["gifts"])
                .Select(gift => new KeptLine(
                    Sku(gift),
                    Units(gift),
                    Minor(gift["net"]),
                    [new((string?)gift["promotion"] ?? "", Minor(gift["value"]) - Minor(gift["net"]))]
                )),
        ];
        Promotions =
        [
            .. List(result["promotions"])
                .Select(promotion => new KeptPromotion(
                    (string?)promotion["id"] ?? "",
                    (string?)promotion["from"] ?? "order",
                    Minor(promotion["amount"])
                )),
        ];
        Taxes =
        [
            .. List(result["taxes"])
                .Select(tax => new KeptTax(
                    (string?)tax["class"],
                    tax["percent"] is JsonValue rate && rate.TryGetValue<decimal>(out var percent) ? Percent.From(percent) : null,
                    Minor(tax["tax"])
                )),
        ];
        AppliedCodes = [.. List(result["codes"]).Where(code => (string?)code["status"] == "applied").Select(code => (string)code["code"]!)];
        var totals = result["totals"];
        (Net, Total, Credit) = (Minor(totals?["net"]), Minor(totals?["total"]), Minor(totals?["credit"]));
        Delivery = Minor(totals?["shipping"]) - Minor(totals?["shippingDiscount"]);
    }

    /// <summary>Reads it.</summary>
    /// <param name="json">What <see cref="StoreResult"/> wrote.</param>
    /// <param name="usual">The currency of a result that says none.</param>
    public static KeptResult Read(string json, Currency usual)
    {
        var result = JsonNode.Parse(json)!.AsObject();
        return new(result, Currency.Find((string?)result["currency"] ?? "") ?? usual);
    }

    /// <summary>What it was paid in.</summary>
    public Currency Currency { get; }

    /// <summary>The lines of the cart, and after them the gifts.</summary>
    public IReadOnlyList<KeptLine> Lines { get; }

    /// <summary>The promotions that applied.</summary>
    public IReadOnlyList<KeptPromotion> Promotions { get; }

    /// <summary>Taxes by class, where there are any.</summary>
    public IReadOnlyList<KeptTax> Taxes { get; }

    /// <summary>The codes that were good, as they were entered.</summary>
    public IReadOnlyList<string> AppliedCodes { get; }

    /// <summary>What the lines came to.</summary>
    public long Net { get; }

    /// <summary>What delivery came to.</summary>
    public long Delivery { get; }

    /// <summary>What the order came to, with tax.</summary>
    public long Total { get; }

    /// <summary>How much of that cards paid.</summary>
    public long Credit { get; }

    /// <summary>Tax that is not in the prices; 0: they include it, or there is none.</summary>
    public long TaxOnTop => Total - Net - Delivery;

    /// <summary>The rate by which a class was taxed; null: it was not.</summary>
    public Percent? RateOf(string taxClass) => Taxes.FirstOrDefault(tax => tax.Class == taxClass)?.Rate;

    private static string Sku(JsonNode line) => (string?)line["sku"] ?? "";

    private static long Units(JsonNode line) => Math.Max(1, (long?)line["quantity"] ?? 1);

    private static IEnumerable<JsonNode> List(JsonNode? node) => (node as JsonArray ?? []).OfType<JsonNode>();
}

/// <summary>A line of a kept result, or a gift.</summary>
/// <param name="Sku">The item.</param>
/// <param name="Units">1 or more.</param>
/// <param name="Net">What it came to.</param>
/// <param name="Parts">What promotions took of it; of markdowns it is not told.</param>
public sealed record KeptLine(string Sku, long Units, long Net, IReadOnlyList<KeptPart> Parts);

/// <summary>What a promotion took of a line.</summary>
/// <param name="Promotion">Its id.</param>
/// <param name="Amount">How much.</param>
public sealed record KeptPart(string Promotion, long Amount);

/// <summary>A promotion that applied.</summary>
/// <param name="Id">Its id.</param>
/// <param name="From">What it lowered: goods (a markdown), order, or credit (a card that paid).</param>
/// <param name="Amount">How much it gave.</param>
public sealed record KeptPromotion(string Id, string From, long Amount);

/// <summary>The tax of a class.</summary>
/// <param name="Class">The class; null: of what has none.</param>
/// <param name="Rate">In percent; null: there is none where it went.</param>
/// <param name="Tax">How much.</param>
public sealed record KeptTax(string? Class, Percent? Rate, long Tax);
