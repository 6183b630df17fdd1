namespace RapidLedger.Pricing;

/// <summary>Says what each step of a ladder gives.</summary>
internal static class LadderWords
{
    public static string Say(Ladder ladder, Wording wording)
    {
        var of = ladder.Of.IsEverything ? "" : $" of {wording.Say(ladder.Of)}";
        var steps = ladder.Steps.Select(step =>
            $"from {Threshold(step, wording)}{of}: {Wording.Join(step.Rewards.Select(reward => reward.Say(wording)), "and")}"
        );
        var how = ladder.Apply switch
        {
            StepsThatCount.Highest => "the highest step reached counts",
            StepsThatCount.All => "each step reached counts",
            _ => "each unit counts by its own place, dearest first",
        };
        return $"{string.Join("; ", steps)} ({how})";
    }

    /// <summary>Where a step begins: <c>€50.00</c>, <c>3 items</c>.</summary>
    public static string Threshold(LadderStep step, Wording wording) =>
        step.Spend is { } spend ? wording.Say(spend) : Wording.Counted(step.Quantity, "item");
}
