namespace RapidLedger.Pricing;

/// <summary>Something that must be true of cart, shopper, place or channel. Each kind is one file beside this one.</summary>
public abstract record Condition
{
    /// <summary>Makes it ready to be tested against many carts.</summary>
    internal abstract Test Compile(Compiler compiler);
}

/// <summary>A condition made ready.</summary>
internal abstract class Test
{
    /// <summary>Whether it holds for a cart.</summary>
    public abstract bool Holds(CartView cart);

    /// <summary>The terms of which a cart must hold at least one, or it does not hold; null if it can hold for any cart.</summary>
    public virtual IEnumerable<int>? Touches => null;

    /// <summary>The countries of which the cart must go to one, or it does not hold; null if it can hold wherever it goes.</summary>
    public virtual IEnumerable<string>? Countries => null;

    /// <summary>
    /// Why it does not hold: the fewest things that would have to change. Empty where it holds, or where nothing the shopper does could help.
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
    /// <summary>The least number that more of something leads to so that it stands so; null if more does not help.</summary>
    public static long? Least(this Comparison comparison, long number) => comparison switch
    {
        Comparison.AtLeast or Comparison.Exactly => number,
        Comparison.MoreThan => number + 1,
        _ => null,
    };

    /// <summary>Whether the left number stands so to the right one.</summary>
    public static bool Holds(this Comparison comparison, long left, long right) => comparison switch
    {
        Comparison.AtLeast => left >= right,
        Comparison.MoreThan => left > right,
        Comparison.Exactly => left == right,
        Comparison.AnythingBut => left != right,
        Comparison.LessThan => left < right,
        _ => left <= right,
    };
}
