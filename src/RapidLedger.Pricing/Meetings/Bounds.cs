namespace RapidLedger.Pricing;

/// <summary>Whole numbers that bounds tell apart.</summary>
internal static class Bounds
{
    /// <summary>Nothing, each bound, and what stands directly beside it: of each stretch between bounds at least one.</summary>
    /// <param name="bounds">In any order.</param>
    public static IEnumerable<long> Around(IEnumerable<long> bounds) =>
        bounds
            .SelectMany(bound => new[] { bound - 1, bound, bound == long.MaxValue ? bound : bound + 1 })
            .Append(0)
            .Where(number => number >= 0)
            .Distinct()
            .Order();
}
