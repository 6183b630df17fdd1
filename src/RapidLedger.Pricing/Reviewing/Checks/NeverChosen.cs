namespace RapidLedger.Pricing;

/// <summary>
/// A promotion that does something by itself, and never where the others are live: a rival or a family always goes before it.
/// </summary>
internal sealed class NeverChosen : Check
{
    public override string Name => "neverChosen";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var trials = around.Try(promotion);
        if (trials.Count == 0 || trials.Any(trial => trial.With.Applied.Any(outcome => outcome.Promotion.Id == promotion.Id)))
            yield break;
        var shown = trials[0];
        var outcome = shown.With.Outcomes.First(one => one.Promotion.Id == promotion.Id);
        var (rivals, family) = outcome.Reason is Reason.CannotMeet(var by, var name, _) ? (by, name) : ([], null);
        var instead = rivals.Count > 0 ? Wording.Join(rivals.Select(rival => $"“{rival.Named}”"), "and") : "what else is live";
        yield return Doubt(
            "/stacking",
            $"On {Wording.Counted(trials.Count, "cart")} tried it never applies: on {shown.Say(around.Wording)} it takes {around.Wording.Say(shown.Taken)} alone, and {instead} goes before it{(family is null ? "" : $", of the same family {family}")}."
        );
    }
}
