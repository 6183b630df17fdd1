namespace RapidLedger.Pricing;

/// <summary>What keeps a promotion from being looked at, in the order in which that is asked.</summary>
internal enum Obstacle
{
    /// <summary>Nothing: it is eligible.</summary>
    None,
    /// <summary>It cannot be priced at all.</summary>
    Failed,
    /// <summary>None of its codes is in the cart.</summary>
    Code,
    /// <summary>Its window has not opened.</summary>
    Ahead,
    /// <summary>Its window has closed, or none of its times is still to come.</summary>
    Over,
    /// <summary>It is between two of its times.</summary>
    Between,
    /// <summary>A limit is reached.</summary>
    Limit,
    /// <summary>Its condition does not hold.</summary>
    Condition,
}

/// <summary>Whether a promotion is looked at, and if not, why.</summary>
/// <param name="usage">What has been used so far, by promotion.</param>
/// <param name="entered">The codes of the cart, in normal form, each once.</param>
internal sealed class Eligibility(IReadOnlyDictionary<string, Usage> usage, string[] entered)
{
    /// <summary>The codes of the cart, in normal form, each once, in the order entered.</summary>
    public ReadOnlySpan<string> Entered => entered;

    /// <summary>What has been used so far, by promotion.</summary>
    public IReadOnlyDictionary<string, Usage> Used => usage;

    /// <summary>Of a cart.</summary>
    public static Eligibility Of(Cart cart, IReadOnlyDictionary<string, Usage> usage) =>
        new(usage, cart.Codes.Count == 0 ? [] : [.. cart.Codes.Select(Trigger.Normal).Distinct(StringComparer.Ordinal)]);

    /// <summary>What has been used of a promotion.</summary>
    public Usage UsageOf(CompiledPromotion promotion) => usage.Count == 0 ? Usage.None : usage.GetValueOrDefault(promotion.Promotion.Id, Usage.None);

    /// <summary>The first thing that rules a promotion out for a cart.</summary>
    public Obstacle FirstObstacle(CompiledPromotion promotion, CartView cart)
    {
        if (promotion.Failure is not null) return Obstacle.Failed;
        if (promotion.Codes.Count > 0 && !IsEntered(promotion)) return Obstacle.Code;
        var at = cart.Cart.At;
        if (promotion.Window.IsAhead(at)) return Obstacle.Ahead;
        if (promotion.Window.IsOver(at)) return Obstacle.Over;
        if (promotion.Occurrences is { } occurrences && !occurrences.IsOpen(at)) return occurrences.Next(at) is null ? Obstacle.Over : Obstacle.Between;
        if (LimitReached(promotion, cart) is not null) return Obstacle.Limit;
        return promotion.When is null || promotion.When.Holds(cart) ? Obstacle.None : Obstacle.Condition;
    }

    /// <summary>Why a promotion is not looked at, with its figures; null: it is.</summary>
    public Reason? WhyNot(CompiledPromotion promotion, CartView cart)
    {
        var (at, window) = (cart.Cart.At, promotion.Promotion.Window);
        return FirstObstacle(promotion, cart) switch
        {
            Obstacle.None => null,
            Obstacle.Failed => new Reason.Failed(promotion.Failure!),
            Obstacle.Code => new Reason.CodeNotEntered(),
            Obstacle.Ahead => new Reason.NotStarted(window!.Start!.Value, window.GraceMinutes),
            Obstacle.Over => new Reason.Ended(Ended(promotion, cart), window!.GraceMinutes),
            Obstacle.Between => new Reason.BetweenOccurrences(promotion.Occurrences!.Next(at)!.Starts, window!.GraceMinutes),
            Obstacle.Limit => LimitReached(promotion, cart),
            _ => new Reason.ConditionNotMet(promotion.When!.Gaps(cart).ToEquatableArray()),
        };
    }

    // The end as written, or that of its last time if it does not last so long.
    private static NodaTime.LocalDateTime Ended(CompiledPromotion promotion, CartView cart)
    {
        var zone = cart.Catalogue.Store.Zone;
        var last = promotion.Occurrences?.Last(cart.Cart.At)?.Ends.InZone(zone).LocalDateTime;
        var end = promotion.Promotion.Window!.End;
        return last is null || (end is not null && end < last) ? end ?? last ?? cart.Cart.At.InZone(zone).LocalDateTime : last.Value;
    }

    private Reason.LimitReached? LimitReached(CompiledPromotion promotion, CartView cart)
    {
        if (promotion.Promotion.Limits is not { } limits) return null;
        var used = UsageOf(promotion);
        return limits.Reached(used, cart.Cart.Shopper?.Id is not null) switch
        {
            null => null,
            Limit.Total => new(Limit.Total, used.Total, limits.Total!.Value),
            Limit.PerShopper => new(Limit.PerShopper, used.Shopper, limits.PerShopper!.Value),
            Limit.PerDay => new(Limit.PerDay, used.Today, limits.PerDay!.Value),
            _ => new(Limit.Budget, used.Budget, limits.Budget!.Value),
        };
    }

    private bool IsEntered(CompiledPromotion promotion)
    {
        foreach (var code in entered) if (promotion.Codes.Contains(code)) return true;
        return false;
    }
}
