namespace RapidLedger.Pricing;

/// <summary>
/// How far a cart is on the way to a promotion that starts by itself: on a ladder, or to a threshold of spend or quantity.
/// </summary>
/// <param name="Promotion">Which.</param>
/// <param name="Of">Of which items; none: of the whole cart.</param>
/// <param name="Measure">Whether units or money are measured.</param>
/// <param name="At">How far the cart is: units, or minor units of its currency.</param>
/// <param name="Steps">Ascending.</param>
public sealed record Progress(Promotion Promotion, Selection? Of, Measure Measure, long At, IReadOnlyList<ProgressStep> Steps)
{
    /// <summary>The most that are told of one cart.</summary>
    public const int Most = 20;

    // So many promotions are looked into at most.
    private const int MostLooked = 1_000;

    /// <summary>The sentence for a step.</summary>
    public string Tell(ProgressStep step, Wording wording) =>
        wording.Tell(Promotion, Measure, Math.Max(0, step.From - At), Of, step.Brings);

    // Of promotions that only this keeps from this cart: whatever else they ask for holds.
    internal static IReadOnlyList<Progress> In(PricingStory story)
    {
        var (view, told) = (story.View, new List<Progress>());
        if (view.Lines == 0)
            return told;
        var compiler = new Compiler(view.Catalogue);
        foreach (
            var compiled in story
                .Rulebook.Compiled.Where(one => one is { IsAutomatic: true, Failure: null, Markdown: null, Credit: null })
                .Take(MostLooked)
        )
        {
            if (told.Count == Most)
                break;
            var obstacle = story.Eligibility.FirstObstacle(compiled, view);
            if (obstacle is not (Obstacle.None or Obstacle.Condition))
                continue;
            var promotion = compiled.Promotion;
            Condition[] parts = promotion.When switch
            {
                null => [],
                AllOf(var all) => [.. all],
                var one => [one],
            };
            // What is made ready anew here is needed only where the condition as a whole does not hold.
            foreach (var way in Ways(promotion, parts))
            {
                if (
                    obstacle == Obstacle.Condition
                    && parts.Where(part => part != way.Condition).Any(part => !part.Compile(compiler).Holds(view))
                )
                    continue;
                var of = compiler.Selection(way.Of);
                var at = way.Measure == Measure.Spend ? of.Spend(view) : of.Units(view);
                told.Add(
                    new(
                        promotion,
                        way.Of is { IsEverything: true } ? null : way.Of,
                        way.Measure,
                        at,
                        [
                            .. way.Steps(view)
                                .OrderBy(step => step.From)
                                .Select(step => new ProgressStep(step.From, at >= step.From, step.Brings)),
                        ]
                    )
                );
            }
        }

        return told;
    }

    private static IEnumerable<Way> Ways(Promotion promotion, Condition[] parts)
    {
        foreach (var ladder in promotion.Rewards.OfType<Ladder>().Where(ladder => ladder.Apply != StepsThatCount.Beyond))
            yield return new(null, ladder.Of, ladder.Measure, view =>
                ladder.Steps.Select(step =>
                    (step.Spend is { } spend ? spend.For(view.Currency, view.Catalogue.Store) ?? 0 : step.Quantity, step.Rewards)
                )
            );
        foreach (var part in parts)
        {
            if (part is Spend { From: { } from, Basis: Basis.Before } spend)
                yield return new(spend, spend.Of, Measure.Spend, view =>
                    [(from.For(view.Currency, view.Catalogue.Store) ?? 0, promotion.Rewards)]
                );
            if (part is Quantity { Comparison: Comparison.AtLeast, Number: > 0 } quantity)
                yield return new(quantity, quantity.Of, Measure.Quantity, _ => [(quantity.Number, promotion.Rewards)]);
        }
    }

    private sealed record Way(
        Condition? Condition,
        Selection? Of,
        Measure Measure,
        Func<CartView, IEnumerable<(long From, EquatableArray<Reward> Brings)>> Steps
    );
}

/// <summary>One step on the way.</summary>
/// <param name="From">From where on: units, or minor units of the cart's currency.</param>
/// <param name="Reached">Whether the cart is there.</param>
/// <param name="Brings">What is given there.</param>
public sealed record ProgressStep(long From, bool Reached, EquatableArray<Reward> Brings);
