using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace RapidLedger.Formats;

/// <summary>Rows of a CSV file (RFC 4180) with a header, by column name.</summary>
internal static class CsvTable
{
    /// <summary>The rows with their line numbers.</summary>
    /// <exception cref="FormatException">A column is missing or a row is broken; the message says where.</exception>
    public static IEnumerable<(int Line, IReadOnlyDictionary<string, string> Cells)> Rows(TextReader text, params string[] columns)
    {
        using var csv = new CsvReader(text, new CsvConfiguration(CultureInfo.InvariantCulture));
        if (!csv.Read() || !csv.ReadHeader()) throw new FormatException("The file is empty; a header is expected in its first line.");
        var missing = columns.Except(csv.HeaderRecord!).ToArray();
        if (missing.Length > 0) throw new FormatException($"The header lacks: {string.Join(", ", missing)}.");
        while (csv.Read())
            yield return (csv.Parser.RawRow, columns.ToDictionary(column => column, column => csv.GetField(column) ?? ""));
    }
}
