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

    /// <summary>Those of its codes that are cannot be used any more.</summary>
    SpentCode,

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

/// <summary>A code of a cart.</summary>
/// <param name="Normal">In normal form.</param>
/// <param name="OfBatch">Of a batch: as it stands; null: it is in none.</param>
internal readonly record struct EnteredCode(string Normal, BatchCode? OfBatch);

/// <summary>Whether a promotion is looked at, and if not, why.</summary>
/// <param name="usage">What has been used so far, by promotion.</param>
/// <param name="entered">The codes of the cart, each once.</param>
/// <param name="batchCodes">The codes of batches that are known.</param>
internal sealed class Eligibility(
    IReadOnlyDictionary<string, Usage> usage,
    EnteredCode[] entered,
    IReadOnlyDictionary<string, BatchCode> batchCodes
)
{
    /// <summary>The codes of the cart, each once, in the order entered.</summary>
    public ReadOnlySpan<EnteredCode> Entered => entered;

    /// <summary>What has been used so far, by promotion.</summary>
    public IReadOnlyDictionary<string, Usage> Used => usage;

    /// <summary>Of a cart.</summary>
    /// <param name="cart">The cart.</param>
    /// <param name="usage">What has been used so far, by promotion.</param>
    /// <param name="batchCodes">The codes of batches among its codes, by their bare form.</param>
    public static Eligibility Of(Cart cart, IReadOnlyDictionary<string, Usage> usage, IReadOnlyDictionary<string, BatchCode> batchCodes)
    {
        if (cart.Codes.Count == 0)
            return new(usage, [], batchCodes);
        if (cart.Codes.Count == 1)
            return new(usage, [Entered(Trigger.Normal(cart.Codes[0]))], batchCodes);
        // One code of a batch, spelled in two ways, is one.
        return new(
            usage,
            [
                .. cart
                    .Codes.Select(Trigger.Normal)
                    .Distinct(StringComparer.Ordinal)
                    .Select(Entered)
                    .DistinctBy(code => code.OfBatch is null ? code.Normal : Trigger.Bare(code.Normal), StringComparer.Ordinal),
            ],
            batchCodes
        );

        EnteredCode Entered(string normal) =>
            new(normal, batchCodes.Count == 0 ? null : batchCodes.GetValueOrDefault(Trigger.Bare(normal)));
    }

    /// <summary>The codes of the cart that start a promotion: its own before those of batches, else as entered.</summary>
    public IEnumerable<EnteredCode> CodesOf(CompiledPromotion promotion) =>
        entered.Where(promotion.IsStartedBy).OrderBy(code => promotion.Codes.Contains(code.Normal) ? 0 : 1);

    /// <summary>What keeps a code from being used for a promotion that it starts; null: it is good.</summary>
    public CodeFault? FaultOf(EnteredCode code, CompiledPromotion promotion, CartView cart)
    {
        long? held = promotion.Credit is null ? null : Held(promotion, code, cart);
        if (BatchCodeOf(promotion, code) is { } ofBatch)
            return ofBatch.FaultOn(cart.Cart.At.InZone(cart.Catalogue.Store.Zone).Date, held);
        return held == 0 ? CodeFault.UsedUp : null;
    }

    /// <summary>
    /// What is on a card, in minor units of the cart's currency: on the promotion's own, or on that of a code of a batch.
    /// </summary>
    public long Held(CompiledPromotion promotion, EnteredCode code, CartView cart) =>
        promotion.Credit!.Held(cart.Currency, cart.Catalogue.Store, BatchCodeOf(promotion, code)?.Drawn ?? UsageOf(promotion).Drawn);

    // What is a promotion's own is so, whatever batch it may be in too.
    private static BatchCode? BatchCodeOf(CompiledPromotion promotion, EnteredCode code) =>
        promotion.Codes.Contains(code.Normal) ? null : code.OfBatch;

    /// <summary>The codes of the cart that a promotion can be started by now: the first of them is used.</summary>
    public IEnumerable<EnteredCode> GoodCodesOf(CompiledPromotion promotion, CartView cart) =>
        CodesOf(promotion).Where(code => FaultOf(code, promotion, cart) is null);

    /// <summary>The codes of batches that are known, by their bare form.</summary>
    public IReadOnlyDictionary<string, BatchCode> BatchCodes => batchCodes;

    /// <summary>What has been used of a promotion.</summary>
    public Usage UsageOf(CompiledPromotion promotion) =>
        usage.Count == 0 ? Usage.None : usage.GetValueOrDefault(promotion.Promotion.Id, Usage.None);

    /// <summary>The first thing that rules a promotion out for a cart.</summary>
    public Obstacle FirstObstacle(CompiledPromotion promotion, CartView cart)
    {
        if (promotion.Failure is not null)
            return Obstacle.Failed;
        if (!promotion.IsAutomatic && CodeObstacle(promotion, cart) is not Obstacle.None and var obstacle)
            return obstacle;
        var at = cart.Cart.At;
        if (promotion.Window.IsAhead(at))
            return Obstacle.Ahead;
        if (promotion.Window.IsOver(at))
            return Obstacle.Over;
        if (promotion.Occurrences is { } occurrences && !occurrences.IsOpen(at))
            return occurrences.Next(at) is null ? Obstacle.Over : Obstacle.Between;
        if (LimitReached(promotion, cart) is not null)
            return Obstacle.Limit;
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
            Obstacle.SpentCode => CodesOf(promotion).First() is var code
                ? new Reason.CodeSpent(code.Normal, FaultOf(code, promotion, cart)!.Value, code.OfBatch?.LastDay)
                : null,
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
        if (promotion.Promotion.Limits is not { } limits)
            return null;
        var used = UsageOf(promotion);
        return limits.Reached(used, cart.Cart.IsShopperKnown) switch
        {
            null => null,
            Limit.Total => new(Limit.Total, used.Total, limits.Total!.Value),
            Limit.PerShopper => new(Limit.PerShopper, used.Shopper, limits.PerShopper!.Value),
            Limit.PerDay => new(Limit.PerDay, used.Today, limits.PerDay!.Value),
            _ => new(Limit.Budget, used.Budget, limits.Budget!.Value),
        };
    }

    private Obstacle CodeObstacle(CompiledPromotion promotion, CartView cart)
    {
        var obstacle = Obstacle.Code;
        foreach (var code in entered)
        {
            if (!promotion.IsStartedBy(code))
                continue;
            if (FaultOf(code, promotion, cart) is null)
                return Obstacle.None;
            obstacle = Obstacle.SpentCode;
        }

        return obstacle;
    }
}
