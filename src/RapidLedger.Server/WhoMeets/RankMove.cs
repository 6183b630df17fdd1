using RapidLedger.Pricing;

namespace RapidLedger.Server.WhoMeets;

/// <summary>The ranks with which a promotion goes somewhere else in the order of application.</summary>
internal static class RankMove
{
    /// <summary>The ranks that change, the moved one's first; none: it stands there already.</summary>
    /// <param name="inOrder">All promotions, in order of application.</param>
    /// <param name="id">Which moves: one of them.</param>
    /// <param name="before">Before which of them; null: behind all.</param>
    public static IReadOnlyList<(Promotion Promotion, int Rank)> Of(IReadOnlyList<Promotion> inOrder, string id, string? before)
    {
        var moved = inOrder.First(promotion => promotion.Id == id);
        var others = inOrder.Where(promotion => promotion.Id != id).ToList();
        var place = before is null ? others.Count : others.FindIndex(promotion => promotion.Id == before);
        var (previous, next) = (place > 0 ? others[place - 1] : null, place < others.Count ? others[place] : null);
        if (IsBetween(moved))
            return [];
        moved = moved with { Rank = RankBetween() };
        var changed = new List<(Promotion, int)> { (moved, moved.Rank) };
        // Where no rank is free there, those behind go further back, as far as that is needed.
        var last = moved;
        foreach (var behind in others.Skip(place))
        {
            if (Promotion.Order.Compare(last, behind) < 0)
                break;
            last = behind with { Rank = last.Rank + (string.CompareOrdinal(last.Id, behind.Id) < 0 ? 0 : 1) };
            changed.Add((last, last.Rank));
        }

        return changed;

        bool IsBetween(Promotion promotion) =>
            (previous is null || Promotion.Order.Compare(previous, promotion) < 0)
            && (next is null || Promotion.Order.Compare(promotion, next) < 0);

        // In the middle of what is free; else the least that goes behind the one before it.
        int RankBetween()
        {
            var least =
                previous is null ? 0
                : string.CompareOrdinal(previous.Id, id) < 0 ? previous.Rank
                : previous.Rank + 1;
            var most = next is null ? least + 20 : next.Rank - 1;
            return most > least ? least + ((most - least + 1) / 2) : least;
        }
    }
}
