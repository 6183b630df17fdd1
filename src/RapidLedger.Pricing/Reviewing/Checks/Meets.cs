namespace RapidLedger.Pricing;

/// <summary>
/// Another promotion that takes from the same items in the same cart, where nobody has said whether they may meet: what they take together.
/// </summary>
internal sealed class Meets : Check
{
    // From so many percent on, together, it is a doubt.
    private const int Much = 40;
    private const int Most = 3;

    public override string Name => "meets";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (IsSaid(promotion))
            yield break;
        var together =
            from trial in around.Try(promotion)
            from line in trial.WithCodes.Lines
            let own = line.Parts.Where(part => part.Promotion.Id == promotion.Id).Sum(part => part.Amount)
            where own > 0
            from part in line.Parts
            where part.Promotion.Id != promotion.Id && !IsSaid(part.Promotion)
            select (Other: part.Promotion, Trial: trial, line.Goods, Taken: own + part.Amount);
        foreach (
            var pair in together
                .GroupBy(one => one.Other.Id)
                .Select(of => of.MaxBy(one => (decimal)one.Taken / one.Goods))
                .OrderByDescending(one => (decimal)one.Taken / one.Goods)
                .Take(Most)
        )
        {
            var share = 100m * pair.Taken / pair.Goods;
            var sentence =
                $"It meets {Named(pair.Other)}: on {pair.Trial.Say(around.Wording)} they take {around.Wording.Say(pair.Taken)} of {around.Wording.Say(pair.Goods)} together, {share:0.#} %.";
            var mend = Apart(promotion, pair.Other);
            yield return (share >= Much ? Doubt("/stacking", sentence, mend) : Remark("/stacking", sentence, mend)) with
            {
                Other = pair.Other.Id,
            };
        }
    }

    /// <summary>The other by its name, and that it needs its code if it does.</summary>
    public static string Named(Promotion other) => $"“{other.Named}”{(other.Trigger is { IsAutomatic: false } ? " by its code" : "")}";

    /// <summary>That the two do not meet; null: something is said of its stacking already.</summary>
    public static Mend? Apart(Promotion promotion, Promotion other) =>
        promotion.Stacking is null
            ? new(
                $"not beside “{other.Named}”",
                "/stacking",
                new Dictionary<string, object> { ["allow"] = "except", ["with"] = new[] { $"promotion:{other.Id}" } }
            )
            : null;

    // Whether somebody has thought of what it may meet.
    private static bool IsSaid(Promotion promotion) =>
        promotion.Stacking is { } stacking && (stacking.Allow != Allow.Any || stacking.With.Count > 0);
}
