namespace RapidLedger.Pricing;

/// <summary>A deep discount that never ends by itself.</summary>
internal sealed class NoEnd : Check
{
    private const decimal Deep = 30;

    public override string Name => "noEnd";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (
            promotion.Deepest() is >= Deep and var deepest
            && promotion.Window?.End is null
            && promotion.Limits is null
            && promotion.Rewards.All(reward => reward is Discount or Markdown)
        )
            yield return Doubt("/window/end", $"It takes {deepest:0.##} % and has neither an end nor a limit.");
    }
}
