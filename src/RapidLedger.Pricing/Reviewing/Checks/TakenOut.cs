namespace RapidLedger.Pricing;

/// <summary>Something that was taken out of the shop is named: the promotion goes on, and nothing counts for it.</summary>
internal sealed class TakenOut : Check
{
    public override string Name => "takenOut";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        foreach (var term in Terms(reward).Distinct().Where(around.Catalogue.IsGone))
            yield return Doubt(
                at,
                $"{around.Wording.Say(term)} was taken out of the shop: nothing is given for it or of it. Take it out here too."
            );
        foreach (var (at, condition) in promotion.Conditions())
            if (Parts.Counts(condition).Of is { } of)
                foreach (var term in Terms(of).Distinct().Where(around.Catalogue.IsGone))
                    yield return Doubt(
                        at,
                        $"{around.Wording.Say(term)} was taken out of the shop: no cart can hold it. Take it out here too."
                    );
    }

    private static IEnumerable<Term> Terms(Reward reward) =>
        Parts
            .SelectionsOf(reward)
            .SelectMany(Terms)
            .Concat(reward is Gift { Give: Give.OneOf(var skus) } ? skus.Select(sku => (Term)new Term.OfSku(sku)) : []);

    private static IEnumerable<Term> Terms(Selection selection) => selection.In.Concat(selection.Out);
}
