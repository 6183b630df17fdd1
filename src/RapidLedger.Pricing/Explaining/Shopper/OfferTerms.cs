namespace RapidLedger.Pricing;

/// <summary>Of whoever looks at offers, what is known. What is not known is said as a condition of the offer.</summary>
/// <param name="Shopper">Who it is; null: somebody not signed in.</param>
/// <param name="IsNamed">Whether it is known who it is.</param>
/// <param name="Destination">Where it would go; null: not known.</param>
/// <param name="Currency">What is paid in; null: not known.</param>
public sealed record OfferAsker(Shopper? Shopper, bool IsNamed, Place? Destination, Currency? Currency);

/// <summary>What an offer takes: its conditions in the shopper's words, as far as they are not settled by who asks.</summary>
public static class OfferTerms
{
    private enum Settled
    {
        No,
        Yes,

        // It depends on the cart, or on what is not known of who asks.
        Open,
    }

    private static readonly ConditionKinds<Func<Condition, OfferAsker, Settled>> ByKind = new()
    {
        All = (condition, asker) =>
            condition is AllOf(var parts) ? Among(parts, asker, byOne: Settled.No, byAll: Settled.Yes) : Settled.Open,
        Any = (condition, asker) =>
            condition is AnyOf(var parts) ? Among(parts, asker, byOne: Settled.Yes, byAll: Settled.No) : Settled.Open,
        None = (condition, asker) =>
            condition is NoneOf(var parts) ? Not(Among(parts, asker, byOne: Settled.Yes, byAll: Settled.No)) : Settled.Open,
        Spend = OfTheCart,
        Quantity = OfTheCart,
        Distinct = OfTheCart,
        Only = OfTheCart,
        Weight = OfTheCart,
        Channel = OfTheCart,
        Method = OfTheCart,
        // What is only for some shoppers is told to nobody who is not one of them; to whom nobody knows it is said for whom it is.
        Shopper = (condition, asker) =>
            condition is Buyer buyer && !buyer.Is(asker.Shopper) ? Settled.No
            : asker.IsNamed ? Settled.Yes
            : Settled.Open,
        Destination = (condition, asker) =>
            asker.Destination is not { } place || condition is not Destination(var places) ? Settled.Open
            : places.Hold(place) ? Settled.Yes
            : Settled.No,
        Currency = (condition, asker) =>
            asker.Currency is not { } currency || condition is not PaidIn(var currencies) ? Settled.Open
            : currencies.Contains(currency) ? Settled.Yes
            : Settled.No,
    };

    /// <summary>The conditions in words, in the order in which they are written; null: it is not for whoever asks.</summary>
    /// <param name="promotion">The offer.</param>
    /// <param name="asker">Who asks.</param>
    /// <param name="wording">The words, in the shopper's language and currency.</param>
    public static IReadOnlyList<string>? Of(Promotion promotion, OfferAsker asker, Wording wording)
    {
        if (promotion.When is not { } when)
            return [];
        return Of(when, asker) == Settled.No ? null : [.. Said(when, asker, wording)];
    }

    private static Settled Of(Condition condition, OfferAsker asker) => condition.In(ByKind)(condition, asker);

    private static Settled Not(Settled settled) =>
        settled switch
        {
            Settled.Yes => Settled.No,
            Settled.No => Settled.Yes,
            _ => Settled.Open,
        };

    private static Settled OfTheCart(Condition condition, OfferAsker asker) => Settled.Open;

    // Of several: what one of them alone settles, else what all that are settled say, if none is open.
    private static Settled Among(IEnumerable<Condition> parts, OfferAsker asker, Settled byOne, Settled byAll)
    {
        var sofar = byAll;
        foreach (var part in parts)
        {
            var settled = Of(part, asker);
            if (settled == byOne)
                return byOne;
            if (settled == Settled.Open)
                sofar = Settled.Open;
        }

        return sofar;
    }

    private static IEnumerable<string> Said(Condition condition, OfferAsker asker, Wording wording)
    {
        if (Of(condition, asker) != Settled.Open)
            return [];
        return condition switch
        {
            AllOf(var parts) => parts.SelectMany(part => Said(part, asker, wording)),
            AnyOf(var parts) => [wording.EitherOf(parts.Select(part => Said(part, asker, wording)))],
            NoneOf(var parts) => [wording.NotIf(parts.Select(part => Said(part, asker, wording)))],
            _ => [wording.Takes(condition)],
        };
    }
}
