using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace RapidLedger.Formats;

/// <summary>Rows of a CSV file (RFC 4180) with a header, by column name.</summary>
internal static class CsvTable
{
    // A quote that never closes would make one cell of all that follows.
    private const double LongestCell = 1 << 20;

    // A cell that begins so is run as a formula by spreadsheets (owasp.org/www-community/attacks/CSV_Injection): a quote is written before
    // it, and taken off when read.
    private static readonly char[] Formula = ['=', '+', '-', '@', '\'', '\t', '\r'];

    /// <summary>How files are written that people may open in a spreadsheet.</summary>
    public static readonly CsvConfiguration Written = new(CultureInfo.InvariantCulture)
    {
        InjectionOptions = InjectionOptions.Escape,
        InjectionCharacters = Formula,
        InjectionEscapeCharacter = '\'',
    };

    /// <summary>The rows with their line numbers.</summary>
    /// <exception cref="FormatException">A column is missing or a row is broken; the message says where.</exception>
    public static IEnumerable<(int Line, IReadOnlyDictionary<string, string> Cells)> Rows(TextReader text, params string[] columns)
    {
        foreach (var (line, cells) in AllRows(text, columns))
            yield return (line, columns.ToDictionary(column => column, column => cells[column]));
    }

    /// <summary>The same with whatever other columns there are.</summary>
    /// <exception cref="FormatException">A column is missing or a row is broken; the message says where.</exception>
    public static IEnumerable<(int Line, IReadOnlyDictionary<string, string> Cells)> AllRows(TextReader text, params string[] columns)
    {
        using var csv = new CsvReader(
            text,
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                BadDataFound = null,
                MissingFieldFound = null,
                MaxFieldSize = LongestCell,
            }
        );
        if (!csv.Read() || !csv.ReadHeader())
            throw new FormatException("The file is empty; a header is expected in its first line.");
        var missing = columns.Except(csv.HeaderRecord!).ToArray();
        if (missing.Length > 0)
            throw new FormatException($"The header lacks: {string.Join(", ", missing)}.");
        while (csv.Read())
            yield return (
                csv.Parser.RawRow,
                csv.HeaderRecord!.Select((column, place) => (column, place))
                    .GroupBy(cell => cell.column, StringComparer.Ordinal)
                    .ToDictionary(cell => cell.Key, cell => Plain(csv.GetField(cell.First().place) ?? ""))
            );
    }

    /// <summary>A cell without the quote that keeps it from being run as a formula.</summary>
    public static string Plain(string cell) => cell is ['\'', var next, ..] && Formula.Contains(next) ? cell[1..] : cell;
}
