namespace RapidLedger.Pricing;

/// <summary>How a cart came to be priced: what its explanation goes back to.</summary>
/// <param name="Rulebook">The promotions.</param>
/// <param name="View">The cart after the price pass.</param>
/// <param name="Unmarked">The cart before it.</param>
/// <param name="Eligibility">What has been used and entered.</param>
/// <param name="Effort">How much work the choice was given.</param>
/// <param name="Slots">The eligible promotions that were chosen among, in order of application.</param>
/// <param name="Chosen">What was chosen of them.</param>
/// <param name="Applied">What became of those.</param>
/// <param name="Charge">For delivery, before any promotion.</param>
/// <param name="PricePass">The price pass, if there was one.</param>
/// <param name="Paid">What became of the eligible credits.</param>
/// <param name="Failed">The promotions with which something went wrong.</param>
internal sealed record PricingStory(
    Rulebook Rulebook,
    CartView View,
    CartView Unmarked,
    Eligibility Eligibility,
    int Effort,
    CompiledPromotion[] Slots,
    Chosen Chosen,
    Outcome[] Applied,
    long Charge,
    PricePass? PricePass,
    List<PaidCredit>? Paid,
    List<CompiledPromotion>? Failed
);

/// <summary>Tells what became of every live promotion and why, after the cart has been priced: on a sheet of its own.</summary>
internal sealed class Explanation
{
    // What a promotion takes alone is always found out; what a choice with it would come to, only as long as this lasts.
    private const long ForAlternatives = WorkBudget.OfOneEffort / 4;

    private readonly PricingStory story;
    private readonly long worth;
    private readonly Workplace workplace;
    private readonly Dictionary<CompiledPromotion, Outcome> known = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<CompiledPromotion, int> slots = new(ReferenceEqualityComparer.Instance);

    private Explanation(PricingStory story, long worth, Workplace workplace)
    {
        (this.story, this.worth, this.workplace) = (story, worth, workplace);
        for (var slot = 0; slot < story.Slots.Length; slot++)
            slots.Add(story.Slots[slot], slot);
        for (var i = 0; i < story.Applied.Length; i++)
            known.Add(story.Slots[story.Chosen.Slots[i]], story.Applied[i]);
        foreach (var (promotion, outcome) in story.PricePass?.Outcomes() ?? [])
            known.Add(promotion, outcome);
        foreach (var paid in story.Paid ?? [])
            known.Add(paid.Promotion, paid.Outcome);
        workplace.Sheet.Work.Open(long.MaxValue, default);
        workplace.Sheet.Open(story.View, story.Charge, Math.Max(1, story.Slots.Length));
        workplace.Sheet.Fillings.Begin(WorkBudget.OfOneEffort / 256);
        workplace.Choice.Open(workplace.Sheet, story.Slots, story.Charge);
    }

    private bool ByRank => story.Rulebook.Catalogue.Store.Policy == Policy.Rank;

    /// <summary>What became of every live promotion, in order of application.</summary>
    /// <param name="story">How it was priced.</param>
    /// <param name="worth">What the choice is worth.</param>
    public static IReadOnlyList<Outcome> Of(PricingStory story, long worth) => Of(story, worth, story.Rulebook.Compiled);

    /// <summary>What became of some promotions of the rulebook, in their order.</summary>
    public static Outcome[] Of(PricingStory story, long worth, CompiledPromotion[] asked)
    {
        if (asked.Length == 0)
            return [];
        var workplace = Workplace.Take();
        var explanation = new Explanation(story, worth, workplace);
        var outcomes = Array.ConvertAll(asked, explanation.OutcomeOf);
        workplace.Return();
        return outcomes;
    }

    // A promotion that cannot be explained is shown as what is wrong, and the others all the same.
    private Outcome OutcomeOf(CompiledPromotion promotion)
    {
        if (known.TryGetValue(promotion, out var outcome))
            return outcome;
        try
        {
            return new(promotion.Promotion, 0, 0, WhyNot(promotion));
        }
        catch (Exception error)
        {
            return new(promotion.Promotion, 0, 0, new Reason.Failed(error.Message));
        }
    }

    private Reason WhyNot(CompiledPromotion promotion)
    {
        if (story.Failed?.Find(failed => failed.Promotion.Id == promotion.Promotion.Id) is { Failure: { } failure })
            return new Reason.Failed(failure);
        if (slots.TryGetValue(promotion, out var slot))
            return WhyNotChosen(slot);
        if (story.Eligibility.WhyNot(promotion, promotion.Markdown is null ? story.View : story.Unmarked) is { } reason)
            return reason;
        if (story.View.Lines == 0)
            return promotion.Credit is null ? new Reason.NoMatchingItems(new Idleness.EmptyCart()) : new Reason.NothingLeft();
        if (promotion.Markdown is not null)
            return new Reason.NoMatchingItems(new Idleness.NothingOfIt(((Markdown)promotion.Promotion.Rewards[0]).Anything));
        return new Reason.NoMatchingItems(WhyIdle(promotion));
    }

    private Idleness WhyIdle(CompiledPromotion promotion)
    {
        workplace.Sheet.Clear(story.Charge);
        // The first that has a reason of its own to tell: that a higher step counts is said only if nothing else is.
        var whys = promotion.Rewards.Select(reward => reward.WhyIdle(workplace.Sheet)).ToArray();
        return whys.FirstOrDefault(why => why is not Idleness.HigherStepCounts) ?? whys[0];
    }

    private Reason WhyNotChosen(int slot)
    {
        var (choice, sheet, chosen) = (workplace.Choice, workplace.Sheet, story.Chosen.Slots);
        choice.Price([slot], out _);
        if (sheet.Of(slot).IsNothing)
            return sheet.Gifts.IsShort(slot) ? new Reason.GiftOut() : new Reason.NoMatchingItems(WhyIdle(story.Slots[slot]));
        int[] blocking = Array.FindAll(chosen, other => !choice.CanMeet(other, slot));
        if (blocking.Length > 0)
            return new Reason.CannotMeet(Named(blocking), SavesMore(slot, blocking), ByRank && blocking[0] < slot);
        if (choice.UnmetAfter(slot, chosen) is { } unmet)
            return new Reason.ConditionNotMet([unmet]);
        return NotBetter(slot, chosen);
    }

    // What the cart would save less with it in the place of those that keep it out.
    private long? SavesMore(int slot, int[] blocking)
    {
        if (workplace.Sheet.Work.Spent > ForAlternatives)
            return null;
        int[] tried = [.. story.Chosen.Slots.Except(blocking).Append(slot).Order()];
        if (!workplace.Choice.IsChoice(tried))
            return null;
        var less = worth - workplace.Sheet.Total.Worth;
        return less >= 0 ? less : null;
    }

    private Reason.NotBetter NotBetter(int slot, int[] chosen)
    {
        // By rank it was tried beside those that go before it.
        int[] beside = ByRank ? Array.FindAll(chosen, other => other < slot) : chosen;
        int[] tried = [.. beside.Append(slot).Order()];
        if (workplace.Sheet.Work.Spent > ForAlternatives)
            return new(Verdict.Unknown, Named(beside), ByRank: ByRank);
        var (choice, sheet) = (workplace.Choice, workplace.Sheet);
        choice.Price(beside, out _);
        var before = sheet.Total;
        var met = choice.Price(tried, out var unmet);
        if (sheet.Of(slot).IsNothing)
            return new(Verdict.LeftNothing, Named(beside), ByRank: ByRank);
        if (!met)
            return new(Verdict.StopsOthers, Named([unmet!.Value.Slot]), ByRank: ByRank);
        int[] idle = Array.FindAll(tried, other => sheet.Of(other).IsNothing);
        if (idle.Length > 0)
            return new(Verdict.StopsOthers, Named(idle), ByRank: ByRank);
        var less = before.Worth - sheet.Total.Worth;
        return less > 0 ? new(Verdict.Less, Named(beside), less, ByRank)
            : less == 0 ? new(Verdict.Same, Named(beside), ByRank: ByRank)
            : new(Verdict.Unknown, Named(beside), ByRank: ByRank);
    }

    private EquatableArray<Promotion> Named(int[] of) => [.. of.Select(slot => story.Slots[slot].Promotion)];
}
