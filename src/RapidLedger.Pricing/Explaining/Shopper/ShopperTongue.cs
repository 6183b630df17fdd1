using System.Globalization;

namespace RapidLedger.Pricing;

/// <summary>The product's own sentences for shoppers in one language. A further language is one more file of this kind.</summary>
internal abstract class ShopperTongue
{
    private static readonly ShopperTongue[] All = [new English(), new German()];

    /// <summary>The tags of all there are.</summary>
    public static IEnumerable<string> Languages => All.Select(tongue => tongue.Language);

    /// <summary>The one of a language, or of the store's, or English.</summary>
    public static ShopperTongue Of(string? language, string? store) => Find(language) ?? Find(store) ?? All[0];

    /// <summary>Its tag without region.</summary>
    public abstract string Language { get; }

    /// <summary>
    /// How amounts and dates are written, unless the shop's own locale is of this language; null: as the shop writes them.
    /// </summary>
    public abstract CultureInfo? Culture { get; }

    /// <summary>Why a promotion did not apply.</summary>
    public abstract string Say(Reason reason, Wording wording);

    /// <summary>What is missing, and what it brings.</summary>
    public abstract string Say(Nudge nudge, Wording wording);

    /// <summary>What is missing: <c>€4.10 more</c>, <c>2 more of Inner tubes</c>.</summary>
    public abstract string Missing(Measure measure, long missing, Selection? of, Wording wording);

    /// <summary>What is given: <c>10 % off</c>.</summary>
    public abstract string Reward(Reward reward, Wording wording);

    /// <summary>A promotion that applied.</summary>
    public abstract string Applied(string label, long saved, Wording wording);

    /// <summary>A step that is reached, or what is missing to it.</summary>
    public abstract string Step(string label, string? missing, Wording wording);

    /// <summary>A code that nobody knows.</summary>
    public abstract string UnknownCode { get; }

    /// <summary>A code that is not looked at, because too many unknown ones were tried.</summary>
    public abstract string TooManyCodes { get; }

    /// <summary>Words in a row.</summary>
    public abstract string And(IEnumerable<string> words);

    /// <summary>Between the last two of which one is enough.</summary>
    public abstract string Or { get; }

    /// <summary>Before what may not be.</summary>
    public abstract string Not { get; }

    /// <summary>
    /// What a condition takes: <c>from €50.00 of Tyres</c>, <c>in Germany or Austria</c>. Brackets are said by their parts.
    /// </summary>
    public abstract string Takes(Condition condition, Wording wording);

    /// <summary>The least number that compares so, where more than it does too; null: it is said otherwise.</summary>
    protected static long? OrMore(Comparison comparison, long number) =>
        comparison switch
        {
            Comparison.AtLeast => number,
            Comparison.MoreThan => number + 1,
            _ => null,
        };

    /// <summary>The greatest number that compares so, where fewer do too; null: it is said otherwise.</summary>
    protected static long? OrFewer(Comparison comparison, long number) =>
        comparison switch
        {
            Comparison.AtMost => number,
            Comparison.LessThan => number - 1,
            _ => null,
        };

    private static ShopperTongue? Find(string? language) =>
        Pricing.Language.Of(language) is { } plain
            ? Array.Find(All, tongue => string.Equals(tongue.Language, plain, StringComparison.OrdinalIgnoreCase))
            : null;
}
