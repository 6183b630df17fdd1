namespace RapidLedger.Pricing;

/// <summary>What is counted in a cart cannot come to what both ask for: of the same items, or of some and of the whole cart.</summary>
internal abstract class CountedGround : ConditionGround
{
    protected override string What => "cart";

    /// <summary>The items that a condition counts; null: the whole cart.</summary>
    protected abstract Selection? Of(Condition condition);

    /// <summary>Whether some of the demands can hold of numbers, those of each selection among them.</summary>
    /// <param name="numbers">By selection, which of some whole numbers it may be: the least and the greatest; the last of them is any
    /// greater one.</param>
    protected static bool Fit(IReadOnlyDictionary<Selection, (long Least, long Most)?> numbers) =>
        numbers.Values.All(range => range is not null)
        && (
            !numbers.TryGetValue(Selection.Everything, out var whole)
            || numbers.Values.All(range => range!.Value.Least <= whole!.Value.Most)
        );

    /// <summary>The least and the greatest number with which demands hold; null: there is none.</summary>
    /// <param name="bounds">Those that they name.</param>
    /// <param name="holds">Whether all of them hold.</param>
    /// <param name="least">No less than this is looked at.</param>
    protected static (long Least, long Most)? Range(IEnumerable<long> bounds, Func<long, bool> holds, long least)
    {
        long[] tried = [.. Bounds.Around(bounds).Where(number => number >= least)];
        long[] held = [.. tried.Append(least).Where(holds)];
        if (held.Length == 0)
            return null;
        return (held.Min(), tried.Length == 0 || held.Max() == tried[^1] ? long.MaxValue : held.Max());
    }

    /// <summary>The demands by what they count.</summary>
    protected IEnumerable<IGrouping<Selection, Demand>> BySelection(IReadOnlyList<Demand> demands) =>
        demands.GroupBy(demand => Of(demand.Condition) is { IsEverything: false } of ? of : Selection.Everything);
}
