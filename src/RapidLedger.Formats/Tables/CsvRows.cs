using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace RapidLedger.Formats;

/// <summary>The rows of a file of divided cells.</summary>
internal static class CsvRows
{
    private const int LongestRow = 1_000_000;

    private static readonly char[] Dividers = [',', ';', '\t', '|'];

    /// <summary>What divides cells: of those that are usual the one that stands in the heading most often, outside of quotes.</summary>
    public static char DividerIn(ReadOnlySpan<char> text)
    {
        Span<int> counts = stackalloc int[Dividers.Length];
        var isQuoted = false;
        foreach (var letter in text)
        {
            if (letter == '"')
                isQuoted = !isQuoted;
            else if (!isQuoted && letter is '\n' or '\r')
                break;
            else if (!isQuoted && Array.IndexOf(Dividers, letter) is >= 0 and var which)
                counts[which]++;
        }

        var most = 0;
        for (var which = 1; which < counts.Length; which++)
            if (counts[which] > counts[most])
                most = which;
        return Dividers[most];
    }

    public static IEnumerable<TableRow> Of(string path, string encoding, char divider)
    {
        using var text = new BoundedReader(new StreamReader(path, TextEncoding.Named(encoding)), LongestRow);
        using var csv = new CsvParser(
            text,
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = divider.ToString(),
                BadDataFound = null,
                BufferSize = 64 * 1024,
            }
        );
        var number = 0;
        while (true)
        {
            text.BeginRow(number + 1);
            if (!csv.Read())
                break;
            // A row may run over several lines; people count rows.
            number++;
            yield return new(number, [.. csv.Record!.Select(cell => CsvTable.Plain(cell).Trim())]);
        }
    }

    /// <summary>Reads no further than a row may be long: who opened a quote and never closed it is told where.</summary>
    private sealed class BoundedReader(TextReader text, int longest) : TextReader
    {
        private long read;
        private int row;

        public void BeginRow(int number) => (row, read) = (number, 0);

        public override int Read(char[] buffer, int index, int count) => Counted(text.Read(buffer, index, count));

        public override int Read(Span<char> buffer) => Counted(text.Read(buffer));

        public override async Task<int> ReadAsync(char[] buffer, int index, int count) =>
            Counted(await text.ReadAsync(buffer, index, count));

        public override int Read() => throw new NotSupportedException();

        protected override void Dispose(bool disposing)
        {
            if (disposing)
                text.Dispose();
            base.Dispose(disposing);
        }

        private int Counted(int count)
        {
            read += count;
            return read <= longest
                ? count
                : throw new FormatException(
                    $"Row {row} is longer than {longest} characters. Is a quotation mark opened in it and never closed?"
                );
        }
    }
}
