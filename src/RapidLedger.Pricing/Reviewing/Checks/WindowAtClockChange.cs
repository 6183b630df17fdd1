namespace RapidLedger.Pricing;

/// <summary>An edge in the hour that a clock change leaves out or runs through twice.</summary>
internal sealed class WindowAtClockChange : Check
{
    public override string Name => "windowAtClockChange";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, edge) in new[] { ("/window/start", promotion.Window?.Start), ("/window/end", promotion.Window?.End) })
        {
            if (edge is not { } local)
                continue;
            var count = around.Store.Zone.MapLocal(local).Count;
            if (count == 0)
                yield return Remark(
                    at,
                    $"{around.Wording.Say(local)} does not exist: the clocks go forward past it. The next moment that does is taken."
                );
            else if (count == 2)
                yield return Remark(at, $"{around.Wording.Say(local)} comes twice: the clocks go back. The first is taken.");
        }
    }
}
