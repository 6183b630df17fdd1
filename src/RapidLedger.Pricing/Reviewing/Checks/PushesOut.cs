namespace RapidLedger.Pricing;

/// <summary>Live promotions that applied to the carts of this one, and never do beside it.</summary>
internal sealed class PushesOut : Check
{
    private const int Most = 3;

    public override string Name => "pushesOut";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var met = around.Meet(promotion);
        var kept = met
            .Trials.SelectMany(trial => trial.With.Applied)
            .Select(outcome => outcome.Promotion.Id)
            .ToHashSet(StringComparer.Ordinal);
        if (!kept.Contains(promotion.Id))
            yield break;
        var gone = met
            .Trials.SelectMany(trial => trial.Without.Applied.Select(outcome => (Trial: trial, Outcome: outcome)))
            .Where(one => !kept.Contains(one.Outcome.Promotion.Id) && !met.DoesMeet(one.Outcome.Promotion))
            .GroupBy(one => one.Outcome.Promotion.Id);
        foreach (var of in gone.Take(Most))
        {
            var (trial, outcome) = of.First();
            yield return Remark(
                "/stacking",
                $"Where it applies, “{outcome.Promotion.Named}” no longer does: on {WitnessWords.Goods(trial.Cart, around.Wording)}{WitnessWords.ForWhom(trial.Cart, around.Wording)} that takes {around.Wording.Say(outcome.Amount, trial.Without.Currency)}."
            ) with
            {
                Other = outcome.Promotion.Id,
            };
        }
    }
}
