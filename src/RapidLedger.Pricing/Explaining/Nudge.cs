namespace RapidLedger.Pricing;

/// <summary>What is missing to a promotion, or to the next step of a ladder, and what that would bring.</summary>
/// <param name="Promotion">Which.</param>
/// <param name="Of">Of which items; none: of the whole cart.</param>
/// <param name="Measure">Whether units or money are missing.</param>
/// <param name="Missing">Units, or minor units of the cart's currency; above zero.</param>
/// <param name="Brings">What is given then.</param>
public sealed record Nudge(Promotion Promotion, Selection? Of, Measure Measure, long Missing, EquatableArray<Reward> Brings)
{
    /// <summary>The nudges of a priced cart, in order of application: promotions one thing short, and the next step of each ladder.</summary>
    internal static IReadOnlyList<Nudge> For(PricedCart priced)
    {
        var nudges = new List<Nudge>();
        foreach (var outcome in priced.Outcomes)
        {
            if (outcome.Reason is Reason.ConditionNotMet([var gap]) && Short(outcome.Promotion, gap) is { } nudge) nudges.Add(nudge);
            if (outcome.Reason is not (null or Reason.NoMatchingItems)) continue;
            foreach (var ladder in outcome.Promotion.Rewards.OfType<Ladder>()) if (NextStep(outcome.Promotion, ladder, priced) is { } step) nudges.Add(step);
        }

        return nudges;
    }

    private static Nudge? Short(Promotion promotion, Gap gap) => gap switch
    {
        Gap.SpendShort(var of, var spent, var from) => new(promotion, of, Measure.Spend, from - spent, promotion.Rewards),
        Gap.UnitsOff(var of, var units, var comparison, var number) when comparison.Least(number) is { } least && units < least => new(promotion, of, Measure.Quantity, least - units, promotion.Rewards),
        _ => null,
    };

    private static Nudge? NextStep(Promotion promotion, Ladder ladder, PricedCart priced)
    {
        var of = new Compiler(priced.Catalogue).Selection(ladder.Of);
        var measured = ladder.Measure == Measure.Quantity ? of.Units(priced.View) : of.Spend(priced.View);
        foreach (var step in ladder.Steps)
        {
            var from = step.Spend?.For(priced.Currency, priced.Catalogue.Store) ?? step.Quantity;
            if (from > measured) return new(promotion, ladder.Of, ladder.Measure, from - measured, step.Rewards);
        }

        return null;
    }
}
