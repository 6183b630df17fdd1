namespace RapidLedger.Formats;

/// <summary>Something wrong in a document.</summary>
/// <param name="At">Where: a JSON pointer (RFC 6901).</param>
/// <param name="Code">What kind: one of <see cref="ProblemCode"/>.</param>
/// <param name="Message">What, in a plain sentence, and what to do.</param>
public sealed record Problem(string At, string Code, string Message);

/// <summary>The kinds of problem.</summary>
public static class ProblemCode
{
#pragma warning disable CS1591 // The names say what they are.
    public const string UnknownName = "unknownName";
    public const string Missing = "missing";
    public const string WrongType = "wrongType";
    public const string ExactlyOne = "exactlyOne";
    public const string UnknownValue = "unknownValue";
    public const string UnknownCurrency = "unknownCurrency";
    public const string UnknownTimeZone = "unknownTimeZone";
    public const string UnknownPlace = "unknownPlace";
    public const string UnknownCategory = "unknownCategory";
    public const string UnknownProduct = "unknownProduct";
    public const string UnknownSku = "unknownSku";
    public const string UnknownPromotion = "unknownPromotion";
    public const string UnknownFamily = "unknownFamily";
    public const string UnknownMethod = "unknownMethod";
    public const string UnknownBatch = "unknownBatch";
    public const string TooManyDecimals = "tooManyDecimals";
    public const string Negative = "negative";
    public const string NotAnAmount = "notAnAmount";
    public const string OutOfRange = "outOfRange";
    public const string TooDeep = "tooDeep";
    public const string NotAnInteger = "notAnInteger";
    public const string Duplicate = "duplicate";
    public const string Cycle = "cycle";
    public const string AboveRegular = "aboveRegular";
    public const string CurrencyMissing = "currencyMissing";
    public const string NoRate = "noRate";
    public const string NotARate = "notARate";
    public const string EndBeforeStart = "endBeforeStart";
    public const string NotALocalTime = "notALocalTime";
    public const string NotAnInstant = "notAnInstant";
    public const string NotADuration = "notADuration";
    public const string NotARule = "notARule";
    public const string NotAnOccurrence = "notAnOccurrence";
    public const string NotAscending = "notAscending";
    public const string Empty = "empty";
    public const string GiftNotFree = "giftNotFree";
    public const string MarkdownAlone = "markdownAlone";
    public const string CreditAlone = "creditAlone";
    public const string NotAllowed = "notAllowed";
    public const string NotJson = "notJson";
    public const string Failed = "failed";
    public const string Busy = "busy";
    public const string Conflict = "conflict";
    public const string NotMeant = "notMeant";
    public const string InUse = "inUse";
    public const string NotStored = "notStored";
#pragma warning restore CS1591

    /// <summary>All of them.</summary>
    public static IReadOnlyList<string> All { get; } =
    [.. typeof(ProblemCode).GetFields().Where(field => field.IsLiteral).Select(field => (string)field.GetRawConstantValue()!)];
}
