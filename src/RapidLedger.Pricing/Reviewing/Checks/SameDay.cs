using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>Another promotion of the same items that begins on the day this one ends, or ends on the day it begins.</summary>
internal sealed class SameDay : Check
{
    public override string Name => "sameDay";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Window is not { } window || (window.Start is null && window.End is null))
            yield break;
        var others = around.About(promotion, promotion.Selections().SelectMany(selection => around.Items(selection)));
        foreach (var other in others)
        {
            if (window.Start is { } start && other.Window?.End is { } ends && LastDay(ends) == start.Date)
                yield return Remark(
                    "/window/start",
                    $"“{other.Named}”, of the same items, ends {around.Wording.SayEnd(ends)}, the day this begins."
                ) with
                {
                    Other = other.Id,
                };
            if (window.End is { } end && other.Window?.Start is { } starts && starts.Date == LastDay(end))
                yield return Remark(
                    "/window/end",
                    $"“{other.Named}”, of the same items, begins {around.Wording.Say(starts)}, the day this ends."
                ) with
                {
                    Other = other.Id,
                };
        }
    }

    // What ends at midnight ends with the day before.
    private static LocalDate LastDay(LocalDateTime end) => end.TimeOfDay == LocalTime.Midnight ? end.Date.PlusDays(-1) : end.Date;
}
