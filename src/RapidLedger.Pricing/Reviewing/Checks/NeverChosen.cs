namespace RapidLedger.Pricing;

/// <summary>
/// A promotion that does something by itself, and never where the others are live: a rival or a family always goes before it.
/// </summary>
internal sealed class NeverChosen : Check
{
    public override string Name => "neverChosen";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var met = around.Meet(promotion);
        if (met.Trials.Count == 0 || met.Trials.Any(trial => trial.With.HasApplied(promotion.Id)) || met.Seen.Count > 0)
            yield break;
        var shown = met.Trials[0];
        var outcome = shown.With.Outcomes.First(one => one.Promotion.Id == promotion.Id);
        var (rivals, family) = outcome.Reason is Reason.CannotMeet(var by, var name, _) ? (by, name) : ([], null);
        var winners = met.Pairs.Select(pair => pair.Winner).OfType<Promotion>().Where(winner => winner.Id != promotion.Id).ToArray();
        Promotion[] before = rivals.Count > 0 ? [.. rivals] : winners;
        var instead = before.Length > 0 ? Wording.Join(before.Select(rival => $"“{rival.Named}”"), "and") : "what else is live";
        yield return Doubt(
            "/stacking",
            $"On {Wording.Counted(met.Trials.Count, "cart")} tried it never applies: on {WitnessWords.Goods(shown.Cart, around.Wording)}{WitnessWords.ForWhom(shown.Cart, around.Wording)} it takes {around.Wording.Say(shown.Taken, shown.With.Currency)} alone, and {instead} goes before it{(family is null ? "" : $", of the same family {family}")}."
        ) with
        {
            Other = before.Length == 1 ? before[0].Id : null,
        };
    }
}
