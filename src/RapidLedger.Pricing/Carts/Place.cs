namespace RapidLedger.Pricing;

/// <summary>A country or one of its subdivisions.</summary>
/// <param name="Code">ISO 3166-1 alpha-2 (<c>DE</c>) or ISO 3166-2 (<c>ES-CN</c>).</param>
public sealed record Place(string Code)
{
    /// <summary>The two letters of the country.</summary>
    public string Country => Code[..2];

    /// <summary>Whether it is a country, not a subdivision.</summary>
    public bool IsCountry => Code.Length == 2;

    /// <summary>The place of a code, or null: an unknown country, or a subdivision not of the form of ISO 3166-2.</summary>
    public static Place? Find(string code) =>
        code.Length >= 2 && Countries.NameOf(code[..2]) is not null && (code.Length == 2 || IsSubdivision(code)) ? new Place(code) : null;

    /// <summary>Whether another place is this one or lies in it.</summary>
    public bool Holds(Place other) => Code == other.Code || (IsCountry && other.Country == Code);

    private static bool IsSubdivision(string code) =>
        code.Length is >= 4 and <= 6 && code[2] == '-' && code.AsSpan(3).IndexOfAnyExcept(LettersAndDigits) < 0;

    private static readonly System.Buffers.SearchValues<char> LettersAndDigits = System.Buffers.SearchValues.Create(
        "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789"
    );
}

/// <summary>A set of places: anywhere, or those of <paramref name="In"/>, without those of <paramref name="Out"/>.</summary>
/// <param name="In">Null means anywhere.</param>
/// <param name="Out">Places left out.</param>
public sealed record Places(EquatableArray<Place>? In, EquatableArray<Place> Out = default)
{
    /// <summary>Whether a destination is one of them; no destination never is.</summary>
    public bool Hold(Place? destination)
    {
        if (destination is null || (In is { } places && !AnyHolds(places, destination)))
            return false;
        return !AnyHolds(Out, destination);
    }

    private static bool AnyHolds(EquatableArray<Place> places, Place destination)
    {
        foreach (var place in places)
            if (place.Holds(destination))
                return true;
        return false;
    }
}
