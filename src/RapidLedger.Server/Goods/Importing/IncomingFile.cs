using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>What is to be known of a file that its content does not tell.</summary>
/// <param name="What">goods, shoppers or orders; null: as its headings say.</param>
/// <param name="Sheet">Of a spreadsheet: which sheet, from 0.</param>
/// <param name="Fields">By column what it is: empty leaves it out; null: as its heading says.</param>
/// <param name="Marks">
/// By column how its numbers (point or comma) or dates (day or month first) are written; empty: as its cells say.
/// </param>
internal sealed record FileReading(
    string? What = null,
    int Sheet = 0,
    IReadOnlyList<string>? Fields = null,
    IReadOnlyList<string>? Marks = null
);

/// <summary>A column of a file.</summary>
/// <param name="Heading">As it stands there.</param>
/// <param name="Field">What it is; empty: it is left out.</param>
/// <param name="Marks">
/// How its numbers or dates are written: point or comma, day or month, or either where that has to be asked; empty: it holds none.
/// </param>
/// <param name="Example">A cell that reads either way.</param>
/// <param name="Readings">What that cell is, as each of them.</param>
internal sealed record FileColumn(string Heading, string Field, string Marks, string? Example, IReadOnlyList<CellReading> Readings);

/// <summary>A way of reading a cell.</summary>
/// <param name="Marks">point, comma, day or month.</param>
/// <param name="Reads">What it is then.</param>
internal sealed record CellReading(string Marks, string Reads);

/// <summary>
/// A file of goods, shoppers or past orders, with how it is read. Its lines are read anew each time: nothing of them is kept.
/// </summary>
internal sealed class IncomingFile
{
    private const int LongestLine = 100_000;

    private readonly TableFile file;
    private readonly ShopSetup setup;
    private readonly ColumnPlan[] plans;
    private readonly int sheet;

    private IncomingFile(TableFile file, ShopSetup setup, string what, int sheet, FileColumn[] columns, ColumnPlan[] plans, int rows)
    {
        (this.file, this.setup, this.sheet, this.plans) = (file, setup, sheet, plans);
        (What, Columns, Rows) = (what, columns, rows);
    }

    /// <summary>goods, shoppers or orders.</summary>
    public string What { get; }

    /// <summary>Its columns; a file of objects has none.</summary>
    public IReadOnlyList<FileColumn> Columns { get; }

    /// <summary>How many rows it holds, without the heading.</summary>
    public int Rows { get; }

    /// <summary>How it is written.</summary>
    public TableFile Table => file;

    /// <summary>What can stand in its columns.</summary>
    public IReadOnlyList<ColumnField> Fields => FieldsOf(What);

    /// <summary>What keeps it from being read: a field that must be there, or a question that is open.</summary>
    public IReadOnlyList<string> Open =>
        file.Form == TableForm.Json
            ? []
            :
            [
                .. Needed
                    .Where(needed => Columns.All(column => column.Field != needed))
                    .Select(needed => $"No column is the {Fields.First(known => known.Name == needed).Words}. Say which one is."),
                .. Columns
                    .Where(column => column.Marks == "either")
                    .Select(column => $"'{column.Example}' under {column.Heading} reads either way. Say how it is meant."),
            ];

    private string[] Needed =>
        What switch
        {
            "orders" => ["order", "at", "sku", "quantity"],
            "shoppers" => ["id"],
            _ => IsAddition ? ["sku"] : ["sku", "regular"],
        };

    // A list that changes some fields of known goods needs no prices.
    private bool IsAddition => setup.Catalogue.Count > 0;

    /// <summary>Looks at a file.</summary>
    /// <exception cref="FormatException">It cannot be read; the message says what to do.</exception>
    public static IncomingFile Of(string path, FileReading reading, ShopSetup setup)
    {
        var file = TableFile.Open(path);
        if (file.Form == TableForm.Json)
            return new(file, setup, reading.What ?? ToldByMembers(file), 0, [], [], 0);
        if (reading.Sheet < 0 || reading.Sheet >= Math.Max(1, file.Sheets.Count))
            throw new FormatException($"There is no sheet {reading.Sheet + 1} in it.");
        var (headings, rows, what) = (Array.Empty<string>(), 0, "goods");
        string[] fields = [];
        CellKind[] kinds = [];
        CellForms[] forms = [];
        int[][] dividers = [];
        foreach (var row in file.Rows(reading.Sheet))
        {
            if (headings.Length == 0)
            {
                headings = [.. row.Cells];
                what = reading.What ?? Told(headings, setup.Catalogue.Store);
                var matched = RapidLedger.Formats.Columns.Match(headings, FieldsOf(what), setup.Catalogue.Store);
                fields = [.. headings.Select((_, column) => reading.Fields?.ElementAtOrDefault(column) ?? matched[column] ?? "")];
                kinds = [.. fields.Select(field => KindOf(field, what))];
                forms = [.. headings.Select(_ => new CellForms(new(), new()))];
                dividers = [.. headings.Select(_ => new int[RowReader.CategoryDividers.Count])];
                continue;
            }

            rows++;
            for (var column = 0; column < Math.Min(headings.Length, row.Cells.Count); column++)
            {
                // Each cell is looked at as what its column is, and no further.
                var cell = row.Cells[column];
                if (HoldsNumbers(kinds[column]))
                    forms[column].Numbers.Look(cell);
                else if (kinds[column] == CellKind.Moment)
                    forms[column].Dates.Look(cell);
                else if (kinds[column] == CellKind.Category)
                    for (var divider = 0; divider < dividers[column].Length; divider++)
                        dividers[column][divider] += cell.Contains(RowReader.CategoryDividers[divider], StringComparison.Ordinal) ? 1 : 0;
            }
        }

        if (headings.Length == 0)
            throw new FormatException("There is nothing in it. A first row with headings is expected.");
        var columns = headings
            .Select((heading, column) => Column(heading, fields[column], forms[column], reading.Marks?.ElementAtOrDefault(column), what))
            .ToArray();
        return new(
            file,
            setup,
            what,
            reading.Sheet,
            columns,
            [
                .. columns.Select(
                    (column, place) =>
                        new ColumnPlan(
                            column.Field.Length == 0 ? null : column.Field,
                            column.Marks == "comma" ? NumberMarks.Comma : NumberMarks.Point,
                            DividerOf(dividers[place]),
                            column.Marks == "month" ? DayOrder.MonthFirst : DayOrder.DayFirst
                        )
                ),
            ],
            rows
        );
    }

    /// <summary>Its lines.</summary>
    /// <param name="bad">Is told what cannot be read.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public async IAsyncEnumerable<IncomingLine> Lines(
        Action<BadLine> bad,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken gone
    )
    {
        if (file.Form == TableForm.Json)
        {
            await using var stream = file.OpenRead();
            await foreach (var line in JsonLines.Read(stream, LongestLine, bad, gone))
                yield return line;
            yield break;
        }

        var reader = new RowReader(plans, Fields, setup.Catalogue.Store);
        var isHeading = true;
        foreach (var row in file.Rows(sheet))
        {
            gone.ThrowIfCancellationRequested();
            if (isHeading)
            {
                isHeading = false;
                continue;
            }

            // A row of which a cell cannot be read is told by that alone.
            var isWhole = true;
            var members = reader.Read(row, (field, code, message) =>
            {
                isWhole = false;
                bad(new(row.Number, field, code, message));
            });
            if (isWhole)
                yield return new(row.Number, Completed(members));
        }
    }

    /// <summary>Its first rows as they stand there, the heading apart.</summary>
    public IReadOnlyList<TableRow> First(int count) => file.Form == TableForm.Json ? [] : [.. file.Rows(sheet).Skip(1).Take(count)];

    // Options and prices of other currencies that have no column here stay as they are; a category by one name is of the top.
    private JsonObject Completed(JsonObject members)
    {
        if (What != "goods")
            return members;
        if (
            members["category"] is JsonValue single
            && single.TryGetValue<string>(out var category)
            && !setup.Catalogue.Categories.ContainsKey(category)
        )
            members["category"] = new JsonArray(category);
        if (
            members["sku"] is not JsonValue named
            || !named.TryGetValue<string>(out var sku)
            || setup.Catalogue.Find(sku) is not (>= 0 and var number)
        )
            return members;
        var variant = setup.Catalogue.Variant(number);
        if (members["options"] is JsonObject options && Columns.All(column => column.Field != "options"))
            foreach (var option in variant.Options)
                if (Columns.All(column => column.Field != $"{RapidLedger.Formats.Columns.Option}{option.Name}"))
                    options.TryAdd(option.Name, option.Value);
        if (members["prices"] is JsonObject prices)
            foreach (var price in variant.Regular.Named.Where(price => price.Currency != setup.Catalogue.Store.Currency))
                if (Columns.All(column => RapidLedger.Formats.Columns.CurrencyOf(column.Field) != price.Currency.Code))
                {
                    var kept = new JsonObject { ["regular"] = price.Currency.Write(price.Minor) };
                    if (variant.Price?.Find(price.Currency) is { } reduced)
                        kept["price"] = price.Currency.Write(reduced);
                    prices.TryAdd(price.Currency.Code, kept);
                }

        return members;
    }

    private static IReadOnlyList<ColumnField> FieldsOf(string what) =>
        what switch
        {
            "shoppers" => RapidLedger.Formats.Columns.Shoppers,
            "orders" => RapidLedger.Formats.Columns.Orders,
            _ => RapidLedger.Formats.Columns.Goods,
        };

    // A list with SKUs is one of goods; where it has numbers and days of orders beside them, of orders. A number alone may be what a
    // supplier's list calls the item's (Bestellnummer).
    private static string Told(string[] headings, Store store)
    {
        bool Has(string what, string field) => RapidLedger.Formats.Columns.Match(headings, FieldsOf(what), store).Contains(field);
        return Has("orders", "order") && Has("orders", "at") && Has("orders", "sku") ? "orders"
            : Has("goods", "sku") || !Has("shoppers", "id") ? "goods"
            : "shoppers";
    }

    // By its first line, as far as that can be read.
    private static string ToldByMembers(TableFile file)
    {
        using var reader = new StreamReader(file.OpenRead());
        var begin = new char[LongestLine];
        var line = new string(begin, 0, reader.ReadBlock(begin, 0, begin.Length)).TrimStart().Split('\n')[0];
        return line.Contains("\"order\"", StringComparison.Ordinal) ? "orders"
            : line.Contains("\"sku\"", StringComparison.Ordinal) || !line.Contains("\"id\"", StringComparison.Ordinal) ? "goods"
            : "shoppers";
    }

    private static FileColumn Column(string heading, string field, CellForms forms, string? said, string what)
    {
        var kind = KindOf(field, what);
        var (marks, example) = kind switch
        {
            CellKind.Moment => (forms.Dates.Order.ToString().Replace("First", "", StringComparison.Ordinal), forms.Dates.Example),
            _ when HoldsNumbers(kind) => (forms.Numbers.Marks.ToString(), forms.Numbers.Example),
            _ => ("", null),
        };
        marks = marks.ToLowerInvariant();
        return new(
            heading,
            field,
            marks.Length > 0 && said is "point" or "comma" or "day" or "month" ? said : marks,
            marks == "either" ? example : null,
            marks != "either" || example is null ? []
                : kind == CellKind.Moment ? [new("day", Said(example, DayOrder.DayFirst)), new("month", Said(example, DayOrder.MonthFirst))]
                : [new("point", Said(example, NumberMarks.Point)), new("comma", Said(example, NumberMarks.Comma))]
        );
    }

    private static CellKind KindOf(string field, string what) =>
        field.Length == 0 ? CellKind.Text : RapidLedger.Formats.Columns.KindOf(field, FieldsOf(what));

    private static bool HoldsNumbers(CellKind kind) => kind is CellKind.Amount or CellKind.Whole or CellKind.Kilograms;

    private static string Said(string cell, NumberMarks marks) => NumberReading.Digits(cell, marks) ?? "";

    private static string Said(string cell, DayOrder order) => DateReading.Read(cell, order) is { } read ? read.Split('T')[0] : "";

    private sealed record CellForms(NumberReading Numbers, DateReading Dates);

    private static string? DividerOf(int[] counts)
    {
        var most = 0;
        for (var divider = 1; divider < counts.Length; divider++)
            if (counts[divider] > counts[most])
                most = divider;
        return counts[most] == 0 ? null : RowReader.CategoryDividers[most];
    }
}
