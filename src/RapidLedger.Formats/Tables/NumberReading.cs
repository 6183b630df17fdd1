using System.Globalization;
using System.Text.RegularExpressions;

namespace RapidLedger.Formats;

/// <summary>How the numbers of a column are written.</summary>
public enum NumberMarks
{
    /// <summary>A point before decimals: <c>1,234.50</c>.</summary>
    Point,

    /// <summary>A comma before decimals: <c>1.234,50</c>.</summary>
    Comma,

    /// <summary>Either, and it makes a difference: <c>1.234</c>. It has to be asked.</summary>
    Either,
}

/// <summary>
/// Reads numbers as people and programs write them: currency signs, thousands marks and spaces are read over; whether a point or a comma
/// stands before decimals is decided for a column from all its cells.
/// </summary>
public sealed partial class NumberReading
{
    private bool mayBePoint = true;
    private bool mayBeComma = true;
    private bool differs;
    private int points;
    private int commas;

    /// <summary>A cell that reads either way and makes a difference; null: there is none.</summary>
    public string? Example { get; private set; }

    /// <summary>Looks at a cell of the column.</summary>
    public void Look(string cell)
    {
        var bare = Bare(cell);
        if (bare.Length == 0)
            return;
        var (point, comma) = (Read(bare, NumberMarks.Point), Read(bare, NumberMarks.Comma));
        // What is no number either way says nothing about the others.
        if (point is null && comma is null)
            return;
        (mayBePoint, mayBeComma) = (mayBePoint && point is not null, mayBeComma && comma is not null);
        points += point is null ? 0 : 1;
        commas += comma is null ? 0 : 1;
        if (point == comma || point is null || comma is null)
            return;
        differs = true;
        Example ??= cell;
    }

    /// <summary>How the column is written, as far as its cells tell.</summary>
    public NumberMarks Marks =>
        mayBePoint && mayBeComma
            ? differs
                ? NumberMarks.Either
                : NumberMarks.Point
            : mayBePoint || (!mayBeComma && points >= commas)
                ? NumberMarks.Point
                : NumberMarks.Comma;

    /// <summary>A cell as digits and a point, such as <c>1234.5</c>; null: it is no number.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="marks">How its column is written.</param>
    public static string? Digits(string cell, NumberMarks marks) => Read(Bare(cell), marks);

    /// <summary>The currency that stands in a cell by its code (ISO 4217): <c>12,50 USD</c>; null: none does.</summary>
    public static string? CurrencyIn(string cell) => Code().Match(cell) is { Success: true } code ? code.Value.ToUpperInvariant() : null;

    private static string Bare(string cell) => Noise().Replace(cell, "");

    private static string? Read(string bare, NumberMarks marks)
    {
        var isNegative = bare.StartsWith('-');
        var digits = bare.TrimStart('-', '+');
        var (group, point) = marks == NumberMarks.Comma ? ('.', ',') : (',', '.');
        var parts = digits.Split(point);
        if (
            parts.Length > 2
            || (parts.Length == 2 && parts[1].Length == 0)
            || parts.Any(part => part.Any(letter => letter != group && !char.IsAsciiDigit(letter)))
        )
            return null;
        if (parts.Length == 2 && parts[1].Contains(group))
            return null;
        var groups = parts[0].Split(group);
        if (groups.Length > 1 && (groups[0].Length is 0 or > 3 || groups.Skip(1).Any(three => three.Length != 3)))
            return null;
        var whole = string.Concat(groups);
        if (whole.Length + (parts.Length == 2 ? parts[1].Length : 0) == 0 || whole.Length > 24)
            return null;
        var decimals = parts.Length == 2 ? parts[1].TrimEnd('0') : "";
        var read = whole.TrimStart('0') is { Length: > 0 } significant ? significant : "0";
        return string.Create(CultureInfo.InvariantCulture, $"{(isNegative ? "-" : "")}{read}{(decimals.Length > 0 ? "." : "")}{decimals}");
    }

    // Currency signs and codes, spaces of all kinds, and the apostrophe of Swiss thousands.
    [GeneratedRegex(@"[\p{Sc}\s\u00A0\u2009\u202F'’]|(?<![A-Za-z])[A-Za-z]{3}(?![A-Za-z])")]
    private static partial Regex Noise();

    [GeneratedRegex(@"(?<![A-Za-z])[A-Za-z]{3}(?![A-Za-z])")]
    private static partial Regex Code();
}
