namespace RapidLedger.Pricing;

/// <summary>Something that must be true of cart, shopper, place or channel. Each kind is one file beside this one.</summary>
public abstract record Condition
{
    /// <summary>Of a table with an entry for each kind, the entry of this one.</summary>
    public abstract T In<T>(ConditionKinds<T> kinds);

    /// <summary>What it says, in words.</summary>
    internal abstract ConditionSpeech Speak(Wording wording);

    /// <summary>Makes it ready to be tested against many carts.</summary>
    internal abstract Test Compile(Compiler compiler);
}

/// <summary>
/// An entry for each kind of condition, under the name used in files. A new kind is one more member here; whoever makes a table
/// then does not compile until it has an entry.
/// </summary>
public sealed record ConditionKinds<T> : KindTable<T>
{
#pragma warning disable CS1591 // The names are those of the kinds.
    public required T All { get; init; }

    public required T Any { get; init; }

    public required T None { get; init; }

    public required T Spend { get; init; }

    public required T Quantity { get; init; }

    public required T Distinct { get; init; }

    public required T Only { get; init; }

    public required T Weight { get; init; }

    public required T Shopper { get; init; }

    public required T Destination { get; init; }

    public required T Channel { get; init; }

    public required T Currency { get; init; }

    public required T Method { get; init; }
#pragma warning restore CS1591
}

/// <summary>
/// A condition made ready. What it says of itself is a promise that the choice and the index build on, so nothing is said by default.
/// </summary>
internal abstract class Test
{
    /// <summary>Whether it holds for a cart.</summary>
    public abstract bool Holds(CartView cart);

    /// <summary>The terms of which a cart must hold at least one, or it does not hold; null if it can hold for any cart.</summary>
    public abstract IEnumerable<int>? Touches { get; }

    /// <summary>The countries of which the cart must go to one, or it does not hold; null if it can hold wherever it goes.</summary>
    public abstract IEnumerable<string>? Countries { get; }

    /// <summary>
    /// Why it does not hold: the fewest things that would have to change. Empty where it holds, or where nothing could help.
    /// </summary>
    public abstract IEnumerable<Gap> Gaps(CartView cart);
}

/// <summary>How two whole numbers compare.</summary>
public enum Comparison
{
    /// <summary>&gt;=</summary>
    AtLeast,

    /// <summary>&gt;</summary>
    MoreThan,

    /// <summary>=</summary>
    Exactly,

    /// <summary>!=</summary>
    AnythingBut,

    /// <summary>&lt;</summary>
    LessThan,

    /// <summary>&lt;=</summary>
    AtMost,
}

/// <summary>Compares.</summary>
public static class ComparisonExtensions
{
    /// <summary>
    /// The least number that more of something leads to from where it stands, so that it stands so; null if more does not help.
    /// </summary>
    public static long? Least(this Comparison comparison, long from, long number) =>
        comparison switch
        {
            Comparison.AtLeast or Comparison.Exactly => number > from ? number : null,
            Comparison.MoreThan => number >= from ? number + 1 : null,
            Comparison.AnythingBut => number == from ? number + 1 : null,
            _ => null,
        };

    /// <summary>Whether the left number stands so to the right one.</summary>
    public static bool Holds(this Comparison comparison, long left, long right) =>
        comparison switch
        {
            Comparison.AtLeast => left >= right,
            Comparison.MoreThan => left > right,
            Comparison.Exactly => left == right,
            Comparison.AnythingBut => left != right,
            Comparison.LessThan => left < right,
            _ => left <= right,
        };
}
