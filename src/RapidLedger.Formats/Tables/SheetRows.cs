using System.Globalization;
using System.Xml;
using ExcelDataReader;
using ExcelDataReader.Exceptions;

namespace RapidLedger.Formats;

/// <summary>The rows of a sheet of a spreadsheet; of a formula what it came to when the file was saved.</summary>
internal static class SheetRows
{
    // The reader asks for one of them by its name.
    static SheetRows() => TextEncoding.Register();

    public static IReadOnlyList<string> Names(string path)
    {
        var names = new List<string>();
        Reading(() =>
        {
            using var stream = File.OpenRead(path);
            using var reader = ExcelReaderFactory.CreateOpenXmlReader(stream);
            do names.Add(reader.Name);
            while (names.Count <= 10_000 && reader.NextResult());
            return true;
        });
        return names;
    }

    public static IEnumerable<TableRow> Of(string path, int sheet)
    {
        using var stream = File.OpenRead(path);
        using var reader = Reading(() =>
        {
            var opened = ExcelReaderFactory.CreateOpenXmlReader(stream);
            for (var skipped = 0; skipped < sheet; skipped++)
                opened.NextResult();
            return opened;
        });
        var number = 0;
        while (Reading(reader.Read))
        {
            number++;
            if (reader.FieldCount > TableFile.MostColumns)
                throw new FormatException($"The sheet has more than {TableFile.MostColumns} columns. Is it a list of goods?");
            yield return new(number, [.. Enumerable.Range(0, reader.FieldCount).Select(place => Text(reader.GetValue(place)))]);
        }
    }

    private static string Text(object? cell) =>
        cell switch
        {
            null => "",
            // What was typed, without the noise of binary fractions: a sheet keeps fifteen digits.
            double number => Math.Abs(number) < 1e15
                ? ((decimal)number).ToString(CultureInfo.InvariantCulture)
                : number.ToString("R", CultureInfo.InvariantCulture),
            DateTime { TimeOfDay.Ticks: 0 } day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            DateTime moment => moment.ToString("yyyy-MM-dd'T'HH:mm:ss", CultureInfo.InvariantCulture),
            bool flag => flag ? "true" : "false",
            IFormattable other => other.ToString(null, CultureInfo.InvariantCulture),
            _ => cell.ToString()!.Trim(),
        };

    private static T Reading<T>(Func<T> read)
    {
        try
        {
            return read();
        }
        catch (Exception error)
            when (error
                    is ExcelReaderException
                        or XmlException
                        or InvalidDataException
                        or IndexOutOfRangeException
                        or ArgumentException
                        or OverflowException
            )
        {
            throw new FormatException("The spreadsheet is damaged. Save it again, or as CSV.", error);
        }
    }
}
