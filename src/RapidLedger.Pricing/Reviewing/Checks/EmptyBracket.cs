namespace RapidLedger.Pricing;

/// <summary>A bracket with nothing in it.</summary>
internal sealed class EmptyBracket : StoppingCheck
{
    public override string Name => "emptyBracket";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, condition) in promotion.Conditions())
        {
            if (condition is AnyOf { Parts.Count: 0 })
                yield return Error(at, "Any of nothing never holds: put something in this bracket, or take it out.");
            else if (condition is NoneOf { Parts.Count: 0 } or AllOf { Parts.Count: 0 } && at != "/when")
                yield return Remark(at, "There is nothing in this bracket: it always holds.");
        }
    }
}
