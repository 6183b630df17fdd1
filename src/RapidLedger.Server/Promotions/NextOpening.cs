using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.Promotions;

/// <summary>A time at which a repeating promotion will be open.</summary>
/// <param name="Words">From when to when, in the shop's time.</param>
/// <param name="ClocksChange">The clocks change in it, so that it lasts longer or shorter than it says, or begins at another hour.</param>
internal sealed record NextOpening(string Words, bool ClocksChange)
{
    private const int Shown = 5;

    /// <summary>The next ones after a moment; none if the promotion does not repeat.</summary>
    public static IReadOnlyList<NextOpening> Of(Promotion promotion, Instant after, OpenShop shop)
    {
        if (promotion.Window is not { } window || Occurrences.Of(window, shop.Store.Zone) is not { } occurrences)
            return [];
        var (zone, found) = (shop.Store.Zone, new List<NextOpening>());
        for (var at = after; found.Count < Shown && occurrences.Next(at) is { } next; at = next.Opens)
        {
            var (starts, ends) = (next.Starts.InZoneLeniently(zone), next.Ends.InZone(zone));
            var until = ends.Date == next.Starts.Date ? $"{ends.LocalDateTime.TimeOfDay:HH:mm}" : shop.Wording.SayEnd(ends.LocalDateTime);
            found.Add(
                new(
                    $"{next.Starts.DayOfWeek.ToString()[..3]} {shop.Wording.Say(next.Starts)} to {until}",
                    zone.MapLocal(next.Starts).Count != 1 || starts.Offset != ends.Offset
                )
            );
        }

        return found;
    }
}
