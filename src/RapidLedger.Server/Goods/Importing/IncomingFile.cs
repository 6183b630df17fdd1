using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>What is to be known of a file that its content does not tell.</summary>
/// <param name="What">goods or shoppers; null: as its headings say.</param>
/// <param name="Sheet">Of a spreadsheet: which sheet, from 0.</param>
/// <param name="Fields">By column what it is: empty leaves it out; null: as its heading says.</param>
/// <param name="Marks">By column how its numbers are written, point or comma; empty: as its cells say.</param>
internal sealed record FileReading(
    string? What = null,
    int Sheet = 0,
    IReadOnlyList<string>? Fields = null,
    IReadOnlyList<string>? Marks = null
);

/// <summary>A column of a file.</summary>
/// <param name="Heading">As it stands there.</param>
/// <param name="Field">What it is; empty: it is left out.</param>
/// <param name="Marks">How its numbers are written: point, comma, or either where that has to be asked; empty: it holds none.</param>
/// <param name="Example">A cell that reads either way.</param>
/// <param name="AsPoint">What it is if a point stands before decimals.</param>
/// <param name="AsComma">What it is if a comma does.</param>
internal sealed record FileColumn(
    string Heading,
    string Field,
    string Marks,
    string? Example = null,
    string? AsPoint = null,
    string? AsComma = null
);

/// <summary>A file of goods or shoppers, with how it is read. Its lines are read anew each time: nothing of them is kept.</summary>
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

    /// <summary>goods or shoppers.</summary>
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
        What == "goods"
            ? IsAddition
                ? ["sku"]
                : ["sku", "regular"]
            : ["id"];

    // A list that changes some fields of known goods needs no prices.
    private bool IsAddition => setup.Catalogue.Count > 0;

    /// <summary>Looks at a file.</summary>
    /// <exception cref="FormatException">It cannot be read; the message says what to do.</exception>
    public static IncomingFile Of(string path, FileReading reading, ShopSetup setup)
    {
        var file = TableFile.Open(path);
        if (file.Form == TableForm.Json)
            return new(file, setup, reading.What ?? "goods", 0, [], [], 0);
        if (reading.Sheet < 0 || reading.Sheet >= Math.Max(1, file.Sheets.Count))
            throw new FormatException($"There is no sheet {reading.Sheet + 1} in it.");
        var (headings, rows) = (Array.Empty<string>(), 0);
        NumberReading[] numbers = [];
        int[][] dividers = [];
        foreach (var row in file.Rows(reading.Sheet))
        {
            if (headings.Length == 0)
            {
                headings = [.. row.Cells];
                numbers = [.. headings.Select(_ => new NumberReading())];
                dividers = [.. headings.Select(_ => new int[RowReader.CategoryDividers.Count])];
                continue;
            }

            rows++;
            for (var column = 0; column < Math.Min(headings.Length, row.Cells.Count); column++)
            {
                numbers[column].Look(row.Cells[column]);
                for (var divider = 0; divider < dividers[column].Length; divider++)
                    if (row.Cells[column].Contains(RowReader.CategoryDividers[divider], StringComparison.Ordinal))
                        dividers[column][divider]++;
            }
        }

        if (headings.Length == 0)
            throw new FormatException("There is nothing in it. A first row with headings is expected.");
        var what = reading.What ?? Told(headings, setup.Catalogue.Store);
        var matched = RapidLedger.Formats.Columns.Match(headings, FieldsOf(what), setup.Catalogue.Store);
        var fields = headings.Select((_, column) => reading.Fields?.ElementAtOrDefault(column) ?? matched[column] ?? "").ToArray();
        var columns = headings
            .Select((heading, column) => Column(heading, fields[column], numbers[column], reading.Marks?.ElementAtOrDefault(column), what))
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
                            DividerOf(dividers[place])
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
        what == "shoppers" ? RapidLedger.Formats.Columns.Shoppers : RapidLedger.Formats.Columns.Goods;

    // A list with a column of SKUs is one of goods.
    private static string Told(string[] headings, Store store) =>
        RapidLedger.Formats.Columns.Match(headings, RapidLedger.Formats.Columns.Goods, store) is var goods && goods.Contains("sku")
            ? "goods"
        : RapidLedger.Formats.Columns.Match(headings, RapidLedger.Formats.Columns.Shoppers, store).Contains("id") ? "shoppers"
        : "goods";

    private static FileColumn Column(string heading, string field, NumberReading numbers, string? said, string what)
    {
        var holdsNumbers =
            field.Length > 0
            && RapidLedger.Formats.Columns.KindOf(field, FieldsOf(what)) is CellKind.Amount or CellKind.Whole or CellKind.Kilograms;
        if (!holdsNumbers)
            return new(heading, field, "");
        var marks = said is "point" or "comma" ? said : numbers.Marks.ToString().ToLowerInvariant();
        return numbers.Example is { } example && numbers.Marks == NumberMarks.Either
            ? new(
                heading,
                field,
                marks,
                example,
                NumberReading.Digits(example, NumberMarks.Point),
                NumberReading.Digits(example, NumberMarks.Comma)
            )
            : new(heading, field, marks);
    }

    private static string? DividerOf(int[] counts)
    {
        var most = 0;
        for (var divider = 1; divider < counts.Length; divider++)
            if (counts[divider] > counts[most])
                most = divider;
        return counts[most] == 0 ? null : RowReader.CategoryDividers[most];
    }
}
