namespace RapidLedger.Pricing;

/// <summary>Who of two promotions meets whom.</summary>
public enum MeetingVerdict
{
    /// <summary>A cart was found in which both apply.</summary>
    Can,

    /// <summary>What is written rules it out for every cart, whatever has been used.</summary>
    Never,

    /// <summary>
    /// No cart was found in which both apply, and here is one in which both could and only one does. Other carts may differ.
    /// </summary>
    OneWins,

    /// <summary>None of these was found with the work given.</summary>
    NotFound,
}

/// <summary>Whether two promotions of a rulebook can meet in one cart.</summary>
/// <param name="One">The first.</param>
/// <param name="Other">The second.</param>
/// <param name="Verdict">What was found.</param>
/// <param name="Message">Why, in a sentence.</param>
/// <param name="Ground">Of <see cref="MeetingVerdict.Never"/>: what rules it out, by the name used in files.</param>
/// <param name="Witness">Of <see cref="MeetingVerdict.Can"/> and <see cref="MeetingVerdict.OneWins"/>: the smallest cart found, priced
/// with all promotions of the rulebook.</param>
public sealed record Meeting(
    Promotion One,
    Promotion Other,
    MeetingVerdict Verdict,
    string Message,
    string? Ground = null,
    Witness? Witness = null
)
{
    /// <summary>By what a pair is kept: the ids of both in order.</summary>
    public static (string, string) KeyOf(string one, string other) => string.CompareOrdinal(one, other) < 0 ? (one, other) : (other, one);

    /// <summary>Of <see cref="MeetingVerdict.OneWins"/>: the one that applies.</summary>
    public Promotion? Winner =>
        Verdict != MeetingVerdict.OneWins ? null
        : Witness!.Takes(One) is not null ? One
        : Other;
}

/// <summary>A cart that shows what was found of two promotions, priced.</summary>
/// <param name="Priced">As the core prices it, with nothing used.</param>
/// <param name="BatchCodes">The codes of batches in it, by their bare form: they are invented.</param>
public sealed record Witness(PricedCart Priced, IReadOnlyDictionary<string, BatchCode> BatchCodes)
{
    /// <summary>The cart.</summary>
    public Cart Cart => Priced.Cart;

    /// <summary>Its units.</summary>
    public long Units => Cart.Lines.Sum(line => (long)line.Quantity);

    /// <summary>What a promotion takes in it, in minor units of its currency; null: it does not apply.</summary>
    public long? Takes(Promotion promotion) => Priced.Applied.FirstOrDefault(outcome => outcome.Promotion.Id == promotion.Id)?.Amount;
}
