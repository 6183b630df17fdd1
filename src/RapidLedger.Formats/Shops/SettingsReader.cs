using System.Globalization;
using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads what a shop says about itself beside what pricing needs.</summary>
public static class SettingsReader
{
    private const int LongestName = 100;
    private const int LongestLink = 500;

    /// <summary>Reads settings from UTF-8 JSON.</summary>
    /// <returns>The settings, or every problem with its place.</returns>
    public static Reading<ShopSettings> Read(ReadOnlyMemory<byte> json) => JsonText.Read(json, Read);

    private static ShopSettings? Read(Node node)
    {
        if (
            node.Object("name", "locale", "channels", "groups", "places", "link", "effort", "holdMinutes", "isDemo", "writtenOn")
            is not { } members
        )
            return null;
        var name = members.Required("name") is { } named ? ReadName(named) : null;
        var locale = members.Required("locale") is { } written ? ReadLocale(written) : null;
        var channels = members["channels"] is { } where ? ReadNames(where, orEmpty: false) : [Cart.Web];
        var groups = members["groups"] is { } said ? ReadNames(said, orEmpty: true) : [];
        var places = members["places"] is { } known ? ReadPlaces(known) : [];
        // What was emptied may stand there as nothing.
        var link = members["link"] is { Value.ValueKind: not JsonValueKind.Null } form ? ReadLink(form) : null;
        var effort = members["effort"] is { } work ? work.Integer(1, Rulebook.MostEffort) : 1;
        var hold = members["holdMinutes"] is { } minutes ? minutes.Integer(1, ShopSettings.LongestHold) : ShopSettings.UsualHold;
        var isDemo = members["isDemo"]?.Flag() ?? false;
        return name is null || locale is null || channels is null || groups is null || places is null || effort is null || hold is null
            ? null
            : new(name, locale, [.. channels], [.. groups], [.. places], link, (int)effort, (int)hold, isDemo);
    }

    private static string? ReadName(Node node)
    {
        if (node.Text() is not { } text)
            return null;
        if (text.Trim().Length is > 0 and <= LongestName)
            return text;
        node.Fault(ProblemCode.OutOfRange, $"The shop needs a name of 1 to {LongestName} characters.");
        return null;
    }

    private static string? ReadLocale(Node node)
    {
        if (node.Text() is not { } text)
            return null;
        if (IsLocale(text))
            return text;
        node.Fault(ProblemCode.UnknownValue, $"'{text}' is not a language and country, such as en-GB.");
        return null;
    }

    /// <summary>Whether amounts and dates can be written as people of this language and country do.</summary>
    /// <param name="locale">A tag of BCP 47, such as en-GB.</param>
    public static bool IsLocale(string locale)
    {
        try
        {
            return locale.Length > 0 && CultureInfo.GetCultureInfo(locale, predefinedOnly: true).Name.Length > 0;
        }
        catch (CultureNotFoundException)
        {
            return false;
        }
    }

    private static List<string>? ReadNames(Node node, bool orEmpty)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        return node.Array(
            entry =>
            {
                if (entry.Name() is not { } name)
                    return null;
                if (!seen.Add(name))
                    entry.Fault(ProblemCode.Duplicate, $"'{name}' stands here twice. Keep one.");
                return name;
            },
            orEmpty
        );
    }

    private static List<NamedPlace>? ReadPlaces(Node node)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        return node.Array(entry =>
        {
            if (entry.Object("code", "name") is not { } members)
                return null;
            var place = members.Required("code") is { } code ? Scope.ReadPlace(code) : null;
            var name = members.Required("name")?.Name();
            if (place is not null && !seen.Add(place.Code))
                members["code"]!.Fault(ProblemCode.Duplicate, $"{place.Code} has a name already. Keep one.");
            return place is null || name is null ? null : new NamedPlace(place.Code, name);
        });
    }

    private static string? ReadLink(Node node)
    {
        if (node.Text() is not { } link)
            return null;
        if (link.Length > LongestLink)
            node.Fault(ProblemCode.OutOfRange, $"A link has at most {LongestLink} characters.");
        else if (!link.Contains(ShopSettings.CodeInLink, StringComparison.Ordinal))
            node.Fault(
                ProblemCode.WrongType,
                $"A link carries {ShopSettings.CodeInLink} where the code is to stand, such as https://shop.example/?code={ShopSettings.CodeInLink}."
            );
        else if (
            !Uri.TryCreate(link.Replace(ShopSettings.CodeInLink, "CODE", StringComparison.Ordinal), UriKind.Absolute, out var address)
            || address.Scheme is not ("https" or "http")
        )
            node.Fault(ProblemCode.WrongType, "A link begins with https:// and the shop's address.");
        else
            return link;
        return null;
    }
}
