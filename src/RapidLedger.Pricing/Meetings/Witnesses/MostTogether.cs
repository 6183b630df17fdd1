namespace RapidLedger.Pricing;

/// <summary>
/// Looks for the cart in which most promotions apply beside one: what earns each of the others is put to it, one after the other.
/// </summary>
internal static class MostTogether
{
    private const int MostRounds = 3;

    /// <summary>The best cart found; null: none in which it meets another is known.</summary>
    /// <param name="side">Which.</param>
    /// <param name="seen">Carts in which pairs meet.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    public static Witness? Of(Side side, SeenCarts seen, CancellationToken gone)
    {
        if (seen.WidestOf(side.Promotion.Id) is not { } best)
            return null;
        for (var (round, grown) = (0, true); grown && round < MostRounds; round++)
        {
            grown = false;
            foreach (var other in side.Around.Sides)
            {
                if (best.Takes(other.Promotion) is not null)
                    continue;
                foreach (var cart in Beside(best.Cart, other))
                {
                    gone.ThrowIfCancellationRequested();
                    var priced = side.Around.Rulebook.Price(cart, gone: gone, batchCodes: best.BatchCodes, left: side.Around.Left);
                    var more = new Witness(priced, best.BatchCodes);
                    if (priced.Applied.Count <= best.Priced.Applied.Count || more.Takes(side.Promotion) is null)
                        continue;
                    (best, grown) = (more, true);
                    break;
                }
            }
        }

        return best;
    }

    // With what earns it, its code, the groups that it asks for, and a delivery if there is none.
    private static IEnumerable<Cart> Beside(Cart cart, Side other)
    {
        var trigger = other.Promotion.Trigger ?? Trigger.Automatic;
        if (trigger is { IsAutomatic: false, Codes.Count: 0 })
            yield break;
        string[] groups =
        [
            .. other
                .Ways.SelectMany(way => way)
                .Where(demand => demand.Holds)
                .Select(demand => demand.Condition)
                .OfType<Buyer.InGroup>()
                .SelectMany(buyer => buyer.Groups.Take(1)),
        ];
        var with = cart with
        {
            Codes = trigger.IsAutomatic ? cart.Codes : [.. cart.Codes, trigger.Codes[0]],
            Shopper =
                groups.Length == 0
                    ? cart.Shopper
                    : (cart.Shopper ?? new()) with
                    {
                        Groups = [.. (cart.Shopper?.Groups ?? []).Concat(groups).Distinct()],
                    },
            Method = cart.Method ?? other.Around.Catalogue.Store.Shipping.Select(method => method.Id).FirstOrDefault(),
        };
        yield return with;
        foreach (var lines in other.Earning.Take(2))
            yield return with with
            {
                Lines = CartsOfPair.Merged(cart.Lines, lines, Math.Max),
            };
    }
}
