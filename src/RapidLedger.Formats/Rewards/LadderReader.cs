using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "ladder", "measure": "quantity"|"spend", "of": selection, "apply": …, "steps": [{"from": …, "rewards": […]}]}</c>.</summary>
internal static class LadderReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "measure", "of", "apply", "steps") is not { } members) return null;
        var measure = members.Required("measure")?.Word(("quantity", Measure.Quantity), ("spend", Measure.Spend));
        var of = members.Required("of") is { } selection ? SelectionReader.Read(selection, scope) : null;
        var apply = members.Required("apply")?.Word(("highest", StepsThatCount.Highest), ("all", StepsThatCount.All), ("beyond", StepsThatCount.Beyond));
        if (measure == Measure.Spend && apply == StepsThatCount.Beyond)
            members["apply"]!.Fault(ProblemCode.NotAllowed, "'beyond' counts units: it goes with the measure 'quantity'.");
        var last = new Ascent(scope);
        var steps = members.Required("steps")?.Array(step => ReadStep(step, measure, of, apply, last, scope), orEmpty: false, whenEmpty: "A ladder has at least one step.");
        return measure is null || of is null || apply is null || steps is null ? null : new Ladder(measure.Value, of, apply.Value, steps.ToEquatableArray());
    }

    private static LadderStep? ReadStep(Node node, Measure? measure, Selection? of, StepsThatCount? apply, Ascent last, Scope scope)
    {
        if (node.Object("from", "rewards") is not { } members) return null;
        var from = members.Required("from");
        var quantity = measure == Measure.Quantity ? from?.Integer(1, 1_000_000_000) : null;
        var spend = measure == Measure.Spend && from is not null ? scope.Amount(from) : null;
        if ((quantity is { } units && !last.Rises(units)) || (spend is not null && !last.Rises(spend)))
            from!.Fault(ProblemCode.NotAscending, "Each step begins above the one before it.");
        var rewards = members.Required("rewards")?.Array(reward => ReadReward(reward, of, apply, scope), orEmpty: false, whenEmpty: "This step gives nothing yet: add a reward.");
        if (apply == StepsThatCount.Beyond && rewards?.Count > 1)
            members["rewards"]!.Fault(ProblemCode.NotAllowed, "With 'beyond' a step is one discount per unit.");
        return rewards is null ? null : new(quantity ?? 0, spend, rewards.ToEquatableArray());
    }

    private static Reward? ReadReward(Node node, Selection? of, StepsThatCount? apply, Scope scope)
    {
        if (RewardReader.KindOf(node) is not { } kind) return null;
        var named = kind.Text();
        if (apply == StepsThatCount.Beyond && named != "discount")
        {
            kind.Fault(ProblemCode.NotAllowed, "With 'beyond' a step is one discount per unit.");
            return null;
        }

        if (named is "buyGet" or "ladder" or "bundle" or "markdown" or "credit")
        {
            kind.Fault(ProblemCode.NotAllowed, "A step gives discounts, delivery, gifts and points.");
            return null;
        }

        if (named != "discount") return RewardReader.Read(node, scope);
        var beyond = apply == StepsThatCount.Beyond;
        if (beyond) Refuse(node, "each unit counts by its own place", "on", "pick", "maxUnits", "maxDiscount");
        return DiscountReader.Read(node, scope, of ?? Selection.Everything, beyond);
    }

    private static void Refuse(Node node, string why, params ReadOnlySpan<string> names)
    {
        foreach (var (name, member) in node.Dictionary()!) if (names.Contains(name)) member.Fault(ProblemCode.NotAllowed, $"'{name}' is not allowed here: {why}.");
    }

    // Steps by spend rise in the base currency, or in the first they both name.
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
            if (before is null) return true;
            var shared = scope.Base is { } inBase && before.Find(inBase) is not null && next.Find(inBase) is not null
                ? inBase
                : before.Named.Select(entry => entry.Currency).FirstOrDefault(currency => next.Find(currency) is not null);
            return shared is null || next.Find(shared) > before.Find(shared);
        }
    }
}
