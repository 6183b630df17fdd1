using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>A window that is over before anybody has seen it.</summary>
internal sealed class WindowPast : Check
{
    public override string Name => "windowPast";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Window is not { End: { } end } window)
            yield break;
        var without = new Mend("without an end", "/window/end", null);
        if (window.In(around.Store.Zone).IsOver(around.Now))
            yield return Doubt("/window/end", $"The end, {around.Wording.Say(end)}, has passed: it would be over at once.", without);
        else if (window.In(around.Store.Zone).Closes - around.Now < Duration.FromHours(1))
            yield return Doubt("/window/end", $"It is over in {around.Wording.Lasts(around.Now, end)}.", without);
    }
}
