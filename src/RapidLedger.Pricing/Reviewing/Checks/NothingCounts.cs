namespace RapidLedger.Pricing;

/// <summary>A condition that asks for items of which the catalogue holds none, or not so many different ones.</summary>
internal sealed class NothingCounts : Check
{
    public override string Name => "nothingCounts";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        // What must not be is as well if there is nothing of it.
        foreach (var (at, condition) in promotion.Conditions().Where(entry => !entry.At.Contains("/none", StringComparison.Ordinal)))
        {
            var (of, least) = Parts.Counts(condition);
            if (of is null || least == 0)
                continue;
            var kinds = around.Catalogue.Select(of).Take((int)Math.Min(least, int.MaxValue - 1)).Count();
            if (kinds == 0)
                yield return Doubt(at, $"No item is {around.Wording.Say(of)} at the moment: this never holds.");
            else if (condition is Distinct && kinds < least)
                yield return Doubt(
                    at,
                    $"{Wording.Number(least)} different ones of {around.Wording.Say(of)} are asked for, and there {(kinds == 1 ? "is" : "are")} {Wording.Number(kinds)}."
                );
        }
    }
}
