using System.IO.Compression;

namespace RapidLedger.Formats;

/// <summary>How a file of rows is written.</summary>
public enum TableForm
{
    /// <summary>Cells divided by a character (RFC 4180).</summary>
    Csv,

    /// <summary>A spreadsheet (ISO/IEC 29500).</summary>
    Spreadsheet,

    /// <summary>An object a line, or a list of objects (RFC 8259).</summary>
    Json,
}

/// <summary>A row of a file as it stands there.</summary>
/// <param name="Number">Counted from 1 as people count: the heading is row 1.</param>
/// <param name="Cells">Its cells, trimmed; a missing one is empty.</param>
public sealed record TableRow(int Number, IReadOnlyList<string> Cells);

/// <summary>
/// A file that another program wrote. What it is, is told from what is in it: the form, the encoding, the divider. It is read row by row,
/// in memory that does not grow with it.
/// </summary>
public sealed class TableFile
{
    /// <summary>The most columns that are read.</summary>
    public const int MostColumns = 1_000;

    /// <summary>The most rows that are read.</summary>
    public const int MostRows = 2_000_000;

    /// <summary>The largest that a compressed file may become, in bytes.</summary>
    public const long LargestUnpacked = 512L * 1024 * 1024;

    private const int MostSheets = 200;
    private const int Sniffed = 64 * 1024;

    private readonly string path;

    private TableFile(string path, TableForm form, string? encoding, char? divider, IReadOnlyList<string> sheets)
    {
        this.path = path;
        (Form, Encoding, Divider, Sheets) = (form, encoding, divider, sheets);
    }

    /// <summary>How it is written.</summary>
    public TableForm Form { get; }

    /// <summary>The name of its encoding (IANA); null: it has none of its own.</summary>
    public string? Encoding { get; }

    /// <summary>What divides cells; null: nothing does.</summary>
    public char? Divider { get; }

    /// <summary>The names of its sheets; a file that is no spreadsheet has none.</summary>
    public IReadOnlyList<string> Sheets { get; }

    /// <summary>Looks what a file is. A compressed one is unpacked beside itself.</summary>
    /// <param name="path">The file.</param>
    /// <exception cref="FormatException">It is nothing that can be read; the message says what to do.</exception>
    public static TableFile Open(string path)
    {
        Span<byte> begin = stackalloc byte[4];
        int read;
        using (var file = File.OpenRead(path))
            read = file.ReadAtLeast(begin, 4, throwOnEndOfStream: false);
        if (read == 0)
            throw new FormatException("The file is empty.");
        if (read >= 2 && begin[0] == 0x1F && begin[1] == 0x8B)
            return Open(Unpacked(path, () => new GZipStream(File.OpenRead(path), CompressionMode.Decompress)));
        if (read == 4 && begin.SequenceEqual("PK\u0003\u0004"u8))
            return OpenZip(path);
        if (read >= 2 && begin.StartsWith((ReadOnlySpan<byte>)[0xD0, 0xCF]))
            throw new FormatException("This is an old spreadsheet (.xls). Save it as .xlsx or CSV and bring that.");
        return OpenText(path);
    }

    /// <summary>The rows of a file of cells, the heading first. Rows in which every cell is empty are left out.</summary>
    /// <param name="sheet">Of a spreadsheet: which sheet, from 0.</param>
    /// <exception cref="FormatException">The file is broken or too large; the message says where.</exception>
    public IEnumerable<TableRow> Rows(int sheet = 0)
    {
        var rows = Form switch
        {
            TableForm.Csv => CsvRows.Of(path, Encoding!, Divider!.Value),
            TableForm.Spreadsheet => SheetRows.Of(path, sheet),
            _ => throw new InvalidOperationException("Objects have no cells."),
        };
        var count = 0;
        foreach (var row in rows)
        {
            if (row.Cells.Count > MostColumns)
                throw new FormatException($"Row {row.Number} has more than {MostColumns} columns. Is it a list of goods?");
            if (++count > MostRows)
                throw new FormatException($"The file has more than {MostRows} rows. Bring it in parts.");
            if (row.Cells.Any(cell => cell.Length > 0))
                yield return row;
        }
    }

    /// <summary>A file of objects, to be read as a stream of UTF-8.</summary>
    public Stream OpenRead() => File.OpenRead(path);

    private static TableFile OpenText(string path)
    {
        var encoding = TextEncoding.Of(path);
        using var reader = new StreamReader(path, TextEncoding.Named(encoding), detectEncodingFromByteOrderMarks: true);
        var begin = new char[Sniffed];
        var text = begin.AsSpan(0, reader.ReadBlock(begin, 0, begin.Length));
        if (text.Contains('\0'))
            throw new FormatException("The file holds characters that no list holds. Save it as CSV in UTF-8, or as .xlsx.");
        return text.TrimStart() is ['{' or '[', ..]
            ? new(path, TableForm.Json, encoding, null, [])
            : new(path, TableForm.Csv, encoding, CsvRows.DividerIn(text), []);
    }

    private static TableFile OpenZip(string path)
    {
        try
        {
            using var zip = ZipFile.OpenRead(path);
            // What is declared is what is unpacked at most: the framework stops there.
            if (zip.Entries.Sum(entry => entry.Length) > LargestUnpacked)
                throw new FormatException($"Unpacked, the file would be larger than {LargestUnpacked / 1024 / 1024} MB.");
            if (zip.GetEntry("xl/workbook.xml") is not null)
            {
                var sheets = SheetRows.Names(path);
                return sheets.Count is > 0 and <= MostSheets
                    ? new(path, TableForm.Spreadsheet, null, null, sheets)
                    : throw new FormatException($"A spreadsheet of 1 to {MostSheets} sheets is expected; this one has {sheets.Count}.");
            }

            var files = zip.Entries.Where(entry => entry.Name.Length > 0).Take(2).ToArray();
            if (files is not [var only])
                throw new FormatException("One file is expected in a .zip. Bring the one that is meant.");
            return Open(Unpacked(path, only.Open));
        }
        catch (Exception error) when (error is InvalidDataException or IOException)
        {
            throw new FormatException("The file is damaged: it cannot be unpacked. Save it again.", error);
        }
    }

    private static string Unpacked(string path, Func<Stream> open)
    {
        var beside = $"{path}.unpacked";
        if (path.EndsWith(".unpacked.unpacked", StringComparison.Ordinal))
            throw new FormatException("The file is packed in a packed file in another. Unpack it.");
        try
        {
            using var from = open();
            using var to = File.Create(beside);
            var (buffer, total) = (new byte[128 * 1024], 0L);
            for (int read; (read = from.Read(buffer)) > 0; to.Write(buffer, 0, read))
                if ((total += read) > LargestUnpacked)
                    throw new FormatException($"Unpacked, the file would be larger than {LargestUnpacked / 1024 / 1024} MB.");
        }
        catch (InvalidDataException error)
        {
            throw new FormatException("The file is damaged: it cannot be unpacked. Save it again.", error);
        }

        return beside;
    }
}
