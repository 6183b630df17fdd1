using System.Text.RegularExpressions;

namespace RapidLedger.Pricing;

/// <summary>What a promotion says to the shopper in its own words, and where a shop may announce it.</summary>
/// <param name="Near">When something is missing to it.</param>
/// <param name="Reached">When it applies.</param>
/// <param name="Refused">When a code was entered and it does not apply.</param>
/// <param name="Show">Where; none said: in the basket only.</param>
public sealed partial record Says(Texts? Near = null, Texts? Reached = null, Texts? Refused = null, EquatableArray<Showing> Show = default)
{
    /// <summary>The most characters of a text.</summary>
    public const int MostCharacters = 200;

    /// <summary>The parts in braces that pricing fills in.</summary>
    public static readonly IReadOnlyList<string> Parts = ["label", "missing", "reward", "saved", "ends", "left"];

    /// <summary>The first part in a text that is not known, as it stands there; null: all are.</summary>
    public static string? UnknownPart(string text) =>
        Part().Matches(text).Select(match => match.Groups[1].Value).FirstOrDefault(part => !Parts.Contains(part));

    /// <summary>A text with its parts filled in.</summary>
    /// <param name="text">The text.</param>
    /// <param name="value">What stands for a part.</param>
    public static string Fill(string text, Func<string, string> value) => Part().Replace(text, match => value(match.Groups[1].Value));

    [GeneratedRegex(@"\{([^{}]*)\}")]
    private static partial Regex Part();
}

/// <summary>Where a shop may announce a promotion.</summary>
public enum Showing
{
    /// <summary>Beside an item.</summary>
    Item,

    /// <summary>In the basket.</summary>
    Basket,

    /// <summary>Among the offers of today.</summary>
    Today,
}

/// <summary>A text, or texts by language.</summary>
/// <param name="Written">At least one; the language is of BCP 47, none: for every language.</param>
public sealed record Texts(EquatableArray<TextIn> Written)
{
    /// <summary>The text for a reader.</summary>
    /// <param name="language">The reader's; its language without region is taken too.</param>
    /// <param name="store">The store's, taken next; then the first there is.</param>
    public string In(string? language, string? store) =>
        (Find(language) ?? Find(Language.Of(language)) ?? Find(store) ?? Find(Language.Of(store)) ?? Written[0]).Text;

    private TextIn? Find(string? language) =>
        Written.FirstOrDefault(text => text.Language is null || string.Equals(text.Language, language, StringComparison.OrdinalIgnoreCase));
}

/// <summary>A text in a language; none: in any.</summary>
public sealed record TextIn(string? Language, string Text);

/// <summary>Languages by their tags (BCP 47).</summary>
public static partial class Language
{
    /// <summary>Whether a text can be a tag: letters and digits, parts of up to eight joined by hyphens.</summary>
    public static bool IsTag(string text) => Tag().IsMatch(text);

    /// <summary>The language without region or script: <c>de</c> of <c>de-AT</c>.</summary>
    public static string? Of(string? tag) => tag?.Split('-')[0];

    [GeneratedRegex("^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$")]
    private static partial Regex Tag();
}
