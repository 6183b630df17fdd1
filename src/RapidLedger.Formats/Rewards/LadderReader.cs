using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// Reads <c>{"kind": "ladder", "measure": "quantity"|"spend", "of": selection, "apply": …, "steps": [{"from": …, "rewards": […]}]}</c>.
/// </summary>
internal static class LadderReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "measure", "of", "apply", "steps") is not { } members)
            return null;
        var measure = members.Required("measure")?.Word(("quantity", Measure.Quantity), ("spend", Measure.Spend));
        var of = members.Required("of") is { } selection ? SelectionReader.Read(selection, scope) : null;
        var apply = members
            .Required("apply")
            ?.Word(("highest", StepsThatCount.Highest), ("all", StepsThatCount.All), ("beyond", StepsThatCount.Beyond));
        if (measure == Measure.Spend && apply == StepsThatCount.Beyond)
            members["apply"]!.Fault(ProblemCode.NotAllowed, "'beyond' counts units: it goes with the measure 'quantity'.");
        var last = new Ascent(scope);
        var steps = members
            .Required("steps")
            ?.Array(
                step => ReadStep(step, measure, new(of, apply == StepsThatCount.Beyond), last, scope),
                orEmpty: false,
                whenEmpty: "A ladder has at least one step."
            );
        return measure is null || of is null || apply is null || steps is null
            ? null
            : new Ladder(measure.Value, of, apply.Value, steps.ToEquatableArray());
    }

    private static LadderStep? ReadStep(Node node, Measure? measure, Place place, Ascent last, Scope scope)
    {
        if (node.Object("from", "rewards") is not { } members)
            return null;
        var from = members.Required("from");
        var quantity = measure == Measure.Quantity ? from?.Integer(1, 1_000_000_000) : null;
        var spend = measure == Measure.Spend && from is not null ? scope.Amount(from) : null;
        if ((quantity is { } units && !last.Rises(units)) || (spend is not null && !last.Rises(spend)))
            from!.Fault(ProblemCode.NotAscending, "Each step begins above the one before it.");
        var rewards = members
            .Required("rewards")
            ?.Array(reward => ReadReward(reward, place, scope), orEmpty: false, whenEmpty: "This step gives nothing yet: add a reward.");
        if (place.IsBeyond && rewards?.Count > 1)
            members["rewards"]!.Items().ElementAt(1).Fault(ProblemCode.NotAllowed, "With 'beyond' a step is one discount per unit.");
        return rewards is null ? null : new(quantity ?? 0, spend, rewards.ToEquatableArray());
    }

    private static Reward? ReadReward(Node node, Place place, Scope scope)
    {
        if (RewardReader.FormOf(node) is not { } form)
            return null;
        if (form.OnStep is { } read && (!place.IsBeyond || form.OnBeyond))
            return read(node, scope, place);
        RewardReader
            .KindOf(node)!
            .Fault(
                ProblemCode.NotAllowed,
                place.IsBeyond ? "With 'beyond' a step is one discount per unit." : "A step gives discounts, delivery, gifts and points."
            );
        return null;
    }

    /// <summary>Where on a ladder a reward stands.</summary>
    /// <param name="Of">What the ladder measures; null if that could not be read.</param>
    /// <param name="IsBeyond">Whether its steps take from units by their places.</param>
    public sealed record Place(Selection? Of, bool IsBeyond);

    // Each step begins above the one before it, in every currency that either names.
    private sealed class Ascent(Scope scope)
    {
        private long quantity;
        private Amount? spend;

        public bool Rises(long next)
        {
            var rises = next > quantity;
            quantity = Math.Max(quantity, next);
            return rises;
        }

        public bool Rises(Amount next)
        {
            var before = spend;
            spend = next;
            return before is null
                || before
                    .Named.Concat(next.Named)
                    .Select(entry => entry.Currency)
                    .Distinct()
                    .All(currency => scope.In(before, currency) is not { } low || scope.In(next, currency) is not { } high || high > low);
        }
    }
}
