namespace RapidLedger.Pricing;

/// <summary>A country or one of its subdivisions.</summary>
/// <param name="Code">ISO 3166-1 alpha-2 (<c>DE</c>) or ISO 3166-2 (<c>ES-CN</c>).</param>
public sealed record Place(string Code)
{
    // ISO 3166-1 alpha-2, officially assigned.
    private const string Countries =
        "AD AE AF AG AI AL AM AO AQ AR AS AT AU AW AX AZ BA BB BD BE BF BG BH BI BJ BL BM BN BO BQ BR BS BT BV BW BY BZ CA CC CD CF CG CH "
        + "CI CK CL CM CN CO CR CU CV CW CX CY CZ DE DJ DK DM DO DZ EC EE EG EH ER ES ET FI FJ FK FM FO FR GA GB GD GE GF GG GH GI GL GM GN "
        + "GP GQ GR GS GT GU GW GY HK HM HN HR HT HU ID IE IL IM IN IO IQ IR IS IT JE JM JO JP KE KG KH KI KM KN KP KR KW KY KZ LA LB LC LI "
        + "LK LR LS LT LU LV LY MA MC MD ME MF MG MH MK ML MM MN MO MP MQ MR MS MT MU MV MW MX MY MZ NA NC NE NF NG NI NL NO NP NR NU NZ OM "
        + "PA PE PF PG PH PK PL PM PN PR PS PT PW PY QA RE RO RS RU RW SA SB SC SD SE SG SH SI SJ SK SL SM SN SO SR SS ST SV SX SY SZ TC TD "
        + "TF TG TH TJ TK TL TM TN TO TR TT TV TW TZ UA UG UM US UY UZ VA VC VE VG VI VN VU WF WS YE YT ZA ZM ZW";

    private static readonly HashSet<string> Known = [.. Countries.Split(' ')];

    /// <summary>The two letters of the country.</summary>
    public string Country => Code[..2];

    /// <summary>Whether it is a country, not a subdivision.</summary>
    public bool IsCountry => Code.Length == 2;

    /// <summary>The place of a code, or null: an unknown country, or a subdivision not of the form of ISO 3166-2.</summary>
    public static Place? Find(string code) =>
        code.Length >= 2 && Known.Contains(code[..2]) && (code.Length == 2 || IsSubdivision(code)) ? new Place(code) : null;

    /// <summary>Whether another place is this one or lies in it.</summary>
    public bool Holds(Place other) => Code == other.Code || (IsCountry && other.Country == Code);

    private static bool IsSubdivision(string code) =>
        code.Length is >= 4 and <= 6 && code[2] == '-' && code.AsSpan(3).IndexOfAnyExcept(LettersAndDigits) < 0;

    private static readonly System.Buffers.SearchValues<char> LettersAndDigits = System.Buffers.SearchValues.Create("ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789");
}

/// <summary>A set of places: anywhere, or those of <paramref name="In"/>, without those of <paramref name="Out"/>.</summary>
/// <param name="In">Null means anywhere.</param>
/// <param name="Out">Places left out.</param>
public sealed record Places(EquatableArray<Place>? In, EquatableArray<Place> Out = default)
{
    /// <summary>Whether a destination is one of them; no destination never is.</summary>
    public bool Hold(Place? destination)
    {
        if (destination is null || (In is { } places && !AnyHolds(places, destination))) return false;
        return !AnyHolds(Out, destination);
    }

    private static bool AnyHolds(EquatableArray<Place> places, Place destination)
    {
        foreach (var place in places) if (place.Holds(destination)) return true;
        return false;
    }
}
