using System.Globalization;
using System.Text;

namespace RapidLedger.Server.Goods;

/// <summary>Makes ids of new categories.</summary>
internal static class CategoryId
{
    /// <summary>An id that one can read in a file: of the name, with a number where it is taken.</summary>
    /// <param name="name">What people call it.</param>
    /// <param name="isTaken">Whether an id is, or ever was, another's.</param>
    public static string Of(string name, Predicate<string> isTaken)
    {
        var letters = new StringBuilder();
        foreach (var letter in name.Normalize(NormalizationForm.FormD).ToLowerInvariant())
            if (char.IsAsciiLetterOrDigit(letter))
                letters.Append(letter);
            else if (
                CharUnicodeInfo.GetUnicodeCategory(letter) != UnicodeCategory.NonSpacingMark
                && letters.Length > 0
                && letters[^1] != '-'
            )
                letters.Append('-');
        var stem = letters.ToString().Trim('-') is { Length: > 0 } read ? read : "category";
        var id = stem;
        for (var number = 2; isTaken(id); number++)
            id = string.Create(CultureInfo.InvariantCulture, $"{stem}-{number}");
        return id;
    }
}
