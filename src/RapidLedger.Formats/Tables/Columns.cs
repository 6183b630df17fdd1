using System.Globalization;
using System.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>What a cell of a column is read as.</summary>
public enum CellKind
{
    /// <summary>A text.</summary>
    Text,

    /// <summary>An amount of money.</summary>
    Amount,

    /// <summary>A whole number.</summary>
    Whole,

    /// <summary>A weight in kilograms, kept in grams.</summary>
    Kilograms,

    /// <summary>Words, divided by commas, semicolons or bars.</summary>
    Words,

    /// <summary>A category: its id, or its names from the top.</summary>
    Category,

    /// <summary>A day, with a time or without.</summary>
    Moment,
}

/// <summary>What can stand in a column.</summary>
/// <param name="Name">The member that it becomes.</param>
/// <param name="Kind">How its cells are read.</param>
/// <param name="Words">What people read of it.</param>
/// <param name="Headings">How such columns are usually headed, in English and German.</param>
public sealed record ColumnField(string Name, CellKind Kind, string Words, IReadOnlyList<string> Headings);

/// <summary>Matches the headings of files to what can stand in their columns. Case, spaces and punctuation count for nothing.</summary>
public static class Columns
{
    /// <summary>With this begin the fields of options; behind it stands the option's name.</summary>
    public const string Option = "option:";

    /// <summary>The fields of lists of goods. Beside them: options by name, and prices by currency.</summary>
    public static IReadOnlyList<ColumnField> Goods { get; } =
    [
        new(
            "sku",
            CellKind.Text,
            "SKU",
            ["sku", "article number", "item number", "part number", "artikelnummer", "artikelnr", "art nr", "artnr", "variant sku"]
        ),
        new(
            "product",
            CellKind.Text,
            "product",
            ["product", "product id", "parent", "parent sku", "produkt", "produkt id", "hauptartikel", "vaterartikel"]
        ),
        new(
            "name",
            CellKind.Text,
            "name",
            ["name", "title", "product name", "item name", "bezeichnung", "artikelname", "artikelbezeichnung", "titel", "produktname"]
        ),
        new(
            "category",
            CellKind.Category,
            "category",
            ["category", "categories", "category path", "kategorie", "kategorien", "warengruppe"]
        ),
        new("brand", CellKind.Text, "brand", ["brand", "manufacturer", "marke", "hersteller"]),
        new("tags", CellKind.Words, "tags", ["tags", "tag", "keywords", "schlagworte", "schlagwörter", "stichworte", "merkmale"]),
        new("taxClass", CellKind.Text, "tax class", ["tax class", "taxclass", "steuerklasse", "steuersatzklasse", "mwst klasse"]),
        new(
            "regular",
            CellKind.Amount,
            "regular price",
            [
                "regular",
                "regular price",
                "list price",
                "full price",
                "rrp",
                "listenpreis",
                "normalpreis",
                "regulärer preis",
                "uvp",
                "verkaufspreis",
                "vk",
                "vk preis",
            ]
        ),
        new(
            "price",
            CellKind.Amount,
            "reduced price",
            [
                "price",
                "sale price",
                "reduced price",
                "special price",
                "preis",
                "angebotspreis",
                "aktionspreis",
                "sonderpreis",
                "reduzierter preis",
            ]
        ),
        new(
            "cost",
            CellKind.Amount,
            "cost",
            ["cost", "cost price", "unit cost", "purchase price", "kosten", "einkaufspreis", "ek", "ek preis", "einstandspreis"]
        ),
        new(
            "stock",
            CellKind.Whole,
            "stock",
            ["stock", "in stock", "inventory", "quantity", "qty", "on hand", "bestand", "lagerbestand", "menge", "verfügbar"]
        ),
        new(
            "grams",
            CellKind.Whole,
            "weight in grams",
            ["grams", "weight", "weight g", "weight grams", "gramm", "gewicht", "gewicht g", "gewicht gramm"]
        ),
        new("kg", CellKind.Kilograms, "weight in kilograms", ["kg", "weight kg", "kilograms", "gewicht kg", "kilogramm"]),
        new("options", CellKind.Text, "options as name=value|name=value", ["options", "optionen"]),
    ];

    /// <summary>The fields of lists of shoppers.</summary>
    public static IReadOnlyList<ColumnField> Shoppers { get; } =
    [
        new(
            "id",
            CellKind.Text,
            "id",
            ["id", "shopper", "shopper id", "customer", "customer id", "customer number", "kunde", "kundennummer", "kundennr", "kunden id"]
        ),
        new("name", CellKind.Text, "name", ["name", "full name", "customer name", "kundenname"]),
        new("groups", CellKind.Words, "groups", ["groups", "group", "customer group", "segment", "gruppen", "gruppe", "kundengruppe"]),
        new(
            "orders",
            CellKind.Whole,
            "orders",
            ["orders", "number of orders", "order count", "bestellungen", "anzahl bestellungen", "aufträge"]
        ),
        new("spent", CellKind.Amount, "spent", ["spent", "total spent", "lifetime spend", "revenue", "umsatz", "gesamtumsatz"]),
        new("place", CellKind.Text, "place", ["place", "country", "country code", "region", "ort", "land", "ländercode"]),
        new("language", CellKind.Text, "language", ["language", "locale", "sprache"]),
    ];

    /// <summary>The fields of lists of past orders: a row a line.</summary>
    public static IReadOnlyList<ColumnField> Orders { get; } =
    [
        new(
            "order",
            CellKind.Text,
            "order number",
            ["order", "order id", "order number", "order no", "bestellung", "bestellnummer", "auftrag", "auftragsnummer", "bestell nr"]
        ),
        new(
            "at",
            CellKind.Moment,
            "day and time",
            ["at", "date", "order date", "placed", "placed at", "created", "created at", "datum", "bestelldatum", "zeitpunkt"]
        ),
        new(
            "sku",
            CellKind.Text,
            "SKU",
            ["sku", "article number", "item number", "line sku", "lineitem sku", "artikelnummer", "artikelnr", "art nr", "artnr"]
        ),
        new("quantity", CellKind.Whole, "quantity", ["quantity", "qty", "units", "lineitem quantity", "menge", "anzahl", "stück"]),
        new(
            "paid",
            CellKind.Amount,
            "paid for the line",
            ["paid", "line total", "row total", "amount", "paid for line", "bezahlt", "zeilensumme", "positionssumme", "gesamtpreis"]
        ),
        new(
            "delivery",
            CellKind.Amount,
            "delivery",
            ["delivery", "shipping", "delivery cost", "shipping cost", "versand", "versandkosten"]
        ),
        new(
            "shopper",
            CellKind.Text,
            "shopper",
            ["shopper", "shopper id", "customer", "customer id", "customer number", "kunde", "kundennummer", "kundennr", "kunden id"]
        ),
        new("code", CellKind.Words, "codes", ["code", "codes", "discount code", "coupon", "gutschein", "gutscheincode", "rabattcode"]),
        new("place", CellKind.Text, "place", ["place", "country", "country code", "ship to country", "ort", "land", "lieferland"]),
        new("channel", CellKind.Text, "channel", ["channel", "sales channel", "kanal", "vertriebskanal"]),
        new("currency", CellKind.Text, "currency", ["currency", "currency code", "währung"]),
        new("method", CellKind.Text, "delivery method", ["method", "delivery method", "shipping method", "versandart"]),
    ];

    // Options that are headed by their own name.
    private static readonly string[] UsualOptions =
    [
        "size",
        "colour",
        "color",
        "material",
        "length",
        "width",
        "größe",
        "grösse",
        "farbe",
        "länge",
        "breite",
    ];

    /// <summary>Matches headings to fields; a column of which nothing is known is left out (null).</summary>
    /// <param name="headings">As they stand in the file.</param>
    /// <param name="fields">What can stand in its columns.</param>
    /// <param name="store">In whose currencies there are prices of their own.</param>
    public static string?[] Match(IReadOnlyList<string> headings, IReadOnlyList<ColumnField> fields, Store store)
    {
        var isGoods = ReferenceEquals(fields, Goods);
        var matched = new string?[headings.Count];
        var taken = new HashSet<string>(StringComparer.Ordinal);
        for (var column = 0; column < headings.Count; column++)
        {
            var field = FieldOf(headings[column], fields, isGoods ? store : null);
            if (field is not null && taken.Add(field))
                matched[column] = field;
        }

        // Where there is but one price, it is the regular one.
        if (isGoods && !taken.Contains("regular") && Array.IndexOf(matched, "price") is >= 0 and var only)
            matched[only] = "regular";
        return matched;
    }

    /// <summary>How the cells of a field are read.</summary>
    public static CellKind KindOf(string field, IReadOnlyList<ColumnField> fields) =>
        fields.FirstOrDefault(known => known.Name == field)?.Kind
        ?? (field.Contains(':') && !field.StartsWith(Option, StringComparison.Ordinal) ? CellKind.Amount : CellKind.Text);

    /// <summary>The currency of a field that is a price of one: <c>regular:GBP</c>; null: of the store's own.</summary>
    public static string? CurrencyOf(string field) =>
        field.StartsWith("regular:", StringComparison.Ordinal) || field.StartsWith("price:", StringComparison.Ordinal)
            ? field[(field.IndexOf(':') + 1)..]
            : null;

    /// <summary>Letters and digits alone, without accents and case.</summary>
    public static string Plain(string heading)
    {
        var plain = new StringBuilder();
        foreach (var letter in heading.Normalize(NormalizationForm.FormD).ToLowerInvariant())
            if (char.IsLetterOrDigit(letter) && CharUnicodeInfo.GetUnicodeCategory(letter) != UnicodeCategory.NonSpacingMark)
                plain.Append(letter is 'ß' ? "ss" : letter.ToString());
        return plain.ToString();
    }

    private static string? FieldOf(string heading, IReadOnlyList<ColumnField> fields, Store? store)
    {
        var plain = Plain(heading);
        if (plain.Length == 0)
            return null;
        if (fields.FirstOrDefault(field => field.Headings.Any(usual => Plain(usual) == plain)) is { } known)
            return known.Name;
        if (store is null)
            return null;
        if (
            heading.TrimStart().StartsWith("option", StringComparison.OrdinalIgnoreCase)
            && heading.Trim()[6..].TrimStart('e', 'n').Trim(' ', ':', '_', '-', '.') is { Length: > 0 } named
        )
            return $"{Option}{named}";
        if (UsualOptions.Any(usual => Plain(usual) == plain))
            return $"{Option}{heading.Trim()}";
        foreach (var currency in store.Currencies)
            if (
                plain.EndsWith(currency.Code.ToLowerInvariant(), StringComparison.Ordinal)
                && FieldOf(plain[..^3], fields, null) is { } price
                && (price == "regular" || price == "price")
            )
                return currency == store.Currency ? price : $"{price}:{currency.Code}";
        return null;
    }
}
