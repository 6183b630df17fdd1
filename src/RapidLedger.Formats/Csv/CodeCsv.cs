using CsvHelper;

namespace RapidLedger.Formats;

/// <summary>Batches of codes as CSV (RFC 4180): read from a column <c>code</c>, written as <c>code,link</c>.</summary>
public static class CodeCsv
{
    /// <summary>The codes with their line numbers; what stands in other columns is a note.</summary>
    /// <exception cref="FormatException">There is no column <c>code</c>, or a row is broken; the message says where.</exception>
    public static IEnumerable<(int Line, string Code, string? Note)> Read(TextReader text)
    {
        foreach (var (line, cells) in CsvTable.AllRows(text, "code"))
        {
            var others = cells
                .Where(cell => cell.Key != "code" && cell.Value.Length > 0)
                .Select(cell => $"{cell.Key}: {cell.Value}")
                .ToArray();
            yield return (line, cells["code"], others.Length == 0 ? null : string.Join("; ", others));
        }
    }

    /// <summary>Writes codes with their links.</summary>
    public static async Task Write(TextWriter writer, IEnumerable<(string Code, string Link)> codes)
    {
        await using var csv = new CsvWriter(writer, CsvTable.Written, leaveOpen: true);
        csv.WriteField("code");
        csv.WriteField("link");
        await csv.NextRecordAsync();
        foreach (var (code, link) in codes)
        {
            csv.WriteField(code);
            csv.WriteField(link);
            await csv.NextRecordAsync();
        }
    }
}
