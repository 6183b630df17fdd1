namespace RapidLedger.Pricing;

/// <summary>
/// What is missing to a promotion that does not apply, or to more of one that does, and what that brings. It has been tried.
/// </summary>
/// <param name="Promotion">Which.</param>
/// <param name="Of">Of which items; none: of the whole cart.</param>
/// <param name="Measure">Whether units or money are missing.</param>
/// <param name="Missing">Units, or minor units of the cart's currency; above zero.</param>
/// <param name="Add">What to add to the cart: with it the promotion applies, or takes more than it did.</param>
/// <param name="Saves">By how much the promotion's amount grows then.</param>
/// <param name="Brings">What is given then.</param>
public sealed record Nudge(
    Promotion Promotion,
    Selection? Of,
    Measure Measure,
    long Missing,
    EquatableArray<Line> Add,
    long Saves,
    EquatableArray<Reward> Brings
)
{
    /// <summary>The most that are told of one cart.</summary>
    public const int Most = 8;

    // How often an addition is made larger when it turned out not to be enough.
    private const int MostTurns = 3;
    private const int MostTries = 40;

    /// <summary>The nudges of a priced cart, the smallest additions first.</summary>
    internal static IReadOnlyList<Nudge> For(PricedCart priced, PricingStory story, Nearness near)
    {
        if (priced.Cart.Lines.Count == 0)
            return [];
        var additions = new Additions(story.View);
        var told = new List<(long Value, Nudge Nudge)>();
        var mayWork = WorkBudget.OfOneEffort / 2 * story.Effort;
        var tries = 0;
        var ways = Lacking(story, near)
            .SelectMany(near => near.Ways, (near, wants) => (near.Promotion, near.Outcome, Wants: wants, Added: additions.Find(wants)))
            .Where(way => way.Added is not null)
            .OrderBy(way => additions.ValueOf(way.Added));
        foreach (var (promotion, outcome, wants, _) in ways)
        {
            if (told.Exists(other => other.Nudge.Promotion.Id == outcome.Promotion.Id))
                continue;
            if (told.Count == Most || ++tries > MostTries)
                break;
            if (Try(priced, story, promotion, outcome, wants, additions, ref mayWork) is { } nudge)
                told.Add((additions.ValueOf(nudge.Add), nudge));
        }

        return [.. told.OrderBy(entry => entry.Value).Select(entry => entry.Nudge)];
    }

    // Those that more in the cart could bring, with what each lacks.
    private static IEnumerable<(CompiledPromotion Promotion, Outcome Outcome, IEnumerable<Want[]> Ways)> Lacking(
        PricingStory story,
        Nearness near
    )
    {
        foreach (var (promotion, outcome) in near.MayWant())
        {
            if (promotion.Markdown is not null || promotion.Failure is not null)
                continue;
            if (outcome.Reason is Reason.ConditionNotMet(var gaps) && Wanted(gaps) is { } wants)
                yield return (promotion, outcome, [wants]);
            else if (outcome.Reason is null or Reason.NoMatchingItems && near.LooksAtTheCart(promotion))
                yield return (promotion, outcome, promotion.Rewards.SelectMany(reward => reward.Wants(story.View)));
        }
    }

    // What would fill all gaps; null where more in the cart cannot.
    private static Want[]? Wanted(EquatableArray<Gap> gaps)
    {
        var wants = gaps.Select(Want.For).OfType<Want>().ToArray();
        return gaps.Count == 0 || wants.Length < gaps.Count ? null : wants;
    }

    // The cart with the addition is priced; where that is not enough, with what is still missing too.
    private static Nudge? Try(
        PricedCart priced,
        PricingStory story,
        CompiledPromotion promotion,
        Outcome before,
        Want[] wants,
        Additions additions,
        ref long mayWork
    )
    {
        EquatableArray<Line> added = [];
        var turn = 0;
        for (Want[]? missing = wants; missing is not null && turn < MostTurns && mayWork >= priced.Work; turn++)
        {
            if (additions.Find(missing) is not { } found)
                return null;
            added = additions.Join(added, found);
            var tried = story.Rulebook.Price(
                priced.Cart with
                {
                    Lines = [.. priced.Cart.Lines, .. added],
                },
                story.Eligibility.Used,
                story.Effort,
                batchCodes: story.Eligibility.BatchCodes,
                left: story.View.Left
            );
            mayWork -= tried.Work;
            var after = tried.Find(before.Promotion);
            if (after is not null && (!before.Applied || after.Amount > before.Amount))
                return Tell(before, after, wants, added, additions, turn == 0);
            if (before.Applied)
                return null;
            missing = tried.OutcomeOf(promotion).Reason is Reason.ConditionNotMet(var gaps) ? Wanted(gaps) : null;
        }

        return null;
    }

    private static Nudge Tell(Outcome before, Outcome after, Want[] wants, EquatableArray<Line> added, Additions additions, bool atOnce)
    {
        var rewards = wants[0].Brings ?? before.Promotion.Rewards;
        var of = wants[0].Of.IsEverything ? null : wants[0].Of;
        // So much money is missing only where nothing else is, and where all that is added counts for it.
        return
            atOnce
            && wants is [{ Spend: > 0 and var spend }]
            && before.Reason is not Reason.ConditionNotMet([Gap.SpendShort { After: true }])
            ? new(before.Promotion, of, Measure.Spend, spend, added, after.Amount - before.Amount, rewards)
            : new(
                before.Promotion,
                wants.Length == 1 ? of : null,
                Measure.Quantity,
                additions.Units(added),
                added,
                after.Amount - before.Amount,
                rewards
            );
    }
}
