using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>How the codes of a batch look, and how hard they are to guess.</summary>
/// <param name="Alphabet">The characters they are drawn from; each once.</param>
/// <param name="Length">How many are drawn for each.</param>
/// <param name="Prefix">What stands before them.</param>
/// <param name="Group">After so many of them a hyphen; 0: none.</param>
public sealed record CodeForm(string Alphabet, int Length, string Prefix = "", int Group = 0)
{
    /// <summary>
    /// Douglas Crockford's base 32 (crockford.com/base32.html): digits and letters without I, L, O and U, which look like others or make
    /// words.
    /// </summary>
    public const string Crockford = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";

    /// <summary>The letters A to Z.</summary>
    public const string Letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ";

    /// <summary>The digits 0 to 9.</summary>
    public const string Digits = "0123456789";

    /// <summary>The most codes that are made at once.</summary>
    public const long MostCodes = 1_000_000;

    // One hit in so many guesses is a warning; one in so few is refused.
    private const long Doubtful = 10_000_000;
    private const long Refused = 100_000;

    /// <summary>How many codes there can be.</summary>
    public BigInteger Possible => BigInteger.Pow(Alphabet.Length, Length);

    /// <summary>A code as it is handed out.</summary>
    /// <param name="draw">Gives a number from 0 up to one below another, from a generator that cannot be foretold.</param>
    public string Draw(Func<int, int> draw)
    {
        var drawn = new char[Length];
        for (var place = 0; place < Length; place++)
            drawn[place] = Alphabet[draw(Alphabet.Length)];
        return Group == 0 || Group >= Length
            ? Prefix + new string(drawn)
            : Prefix + string.Join('-', drawn.Chunk(Group).Select(part => new string(part)));
    }

    /// <summary>What is wrong with the form, by member; none: nothing.</summary>
    /// <param name="count">How many codes are to be made.</param>
    public IEnumerable<(string Member, string Sentence)> Faults(long count)
    {
        if (count is < 1 or > MostCodes)
            yield return ("count", $"1 to {MostCodes} codes can be made at once, not {count}.");
        if (Length < 1)
            yield return ("length", "A code needs at least one character that is drawn.");
        else if (Trigger.Bare(Trigger.Normal(Prefix)).Length + Length > Trigger.LongestCode)
            yield return ("length", $"With its prefix a code holds at most {Trigger.LongestCode} characters.");
        else if (count > Possible / 2)
            yield return ("length", $"There are only {Possible} such codes. Make them longer.");
        if (Prefix.Any(char.IsControl))
            yield return ("prefix", "A code must not hold control characters.");
        if (Group < 0)
            yield return ("group", "Groups are of one character or more.");
    }

    /// <summary>How hard good codes are to guess.</summary>
    /// <param name="good">How many there are.</param>
    public Hardness Hardness(long good)
    {
        var guesses = good < 1 ? Possible : Possible / good;
        var severity =
            guesses < Refused ? Severity.Error
            : guesses < Doubtful ? Severity.Doubt
            : default(Severity?);
        return new(severity, $"one guess in {InWords(guesses)} hits");
    }

    private static string InWords(BigInteger number)
    {
        (BigInteger Size, string Name)[] names =
        [
            (BigInteger.Pow(10, 18), "quintillion"),
            (BigInteger.Pow(10, 15), "quadrillion"),
            (BigInteger.Pow(10, 12), "trillion"),
            (BigInteger.Pow(10, 9), "billion"),
            (BigInteger.Pow(10, 6), "million"),
        ];
        foreach (var (size, name) in names)
            if (number >= size)
                return $"{number / size} {name}";
        return ((long)number).ToString("N0", System.Globalization.CultureInfo.InvariantCulture);
    }
}

/// <summary>How hard codes are to guess.</summary>
/// <param name="Severity">Error: they are not made unless that is meant; doubt: think twice; null: hard enough.</param>
/// <param name="Words">One guess in so many hits.</param>
public sealed record Hardness(Severity? Severity, string Words);
