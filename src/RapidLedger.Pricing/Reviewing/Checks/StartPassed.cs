namespace RapidLedger.Pricing;

/// <summary>It was to start, and was never put live; or it was copied with its old start.</summary>
internal sealed class StartPassed : Check
{
    public override string Name => "startPassed";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (
            promotion.Window is not { Start: { } start, Repeat: null } window
            || start >= around.LocalNow
            || window.In(around.Store.Zone).IsOver(around.Now)
        )
            yield break;
        if (around.Others.Any(other => other.Id == promotion.Id))
            yield break;
        yield return Remark(
            "/window/start",
            $"Its start, {around.Wording.Say(start)}, has passed and it is not live: it starts the moment it is put live.",
            new("from then on", "/window/start", null)
        );
    }
}
