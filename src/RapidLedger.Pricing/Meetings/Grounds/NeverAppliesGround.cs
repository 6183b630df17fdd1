namespace RapidLedger.Pricing;

/// <summary>One of them can apply in no cart.</summary>
internal sealed class NeverAppliesGround : Ground
{
    public override string Name => "neverApplies";

    public override string? RulesOut(Pair pair) => pair.One.NeverApplies ?? pair.Other.NeverApplies;

    /// <summary>Why no cart earns a promotion, in a sentence; null: nothing written says so.</summary>
    public static string? Of(Side side)
    {
        var never = $"{side.Named} can apply in no cart";
        if (side.Compiled.Failure is { } failure)
            return $"{never}: {failure}";
        if (side.Promotion.Limits is { } limits && (limits.Total == 0 || limits.PerDay == 0 || limits.Budget == 0))
            return $"{never}: it may be used 0 times.";
        if (side.Opens is null)
            return $"{never}: it is over.";
        if (side.Needs.Any(items => !items.Contains(true)))
            return $"{never}: it finds nothing to take from, or to give.";
        var self = new Pair(side, side);
        return side.Ways.All(way => way.Any(AsksForNothing) || ConditionGround.All.Any(ground => !ground.Allows(way, self)))
            ? $"{never}: its conditions exclude each other."
            : null;

        bool AsksForNothing(Demand demand) => demand.Holds && side.Around.NeedsOf(demand.Condition) is { } items && !items.Contains(true);
    }
}
