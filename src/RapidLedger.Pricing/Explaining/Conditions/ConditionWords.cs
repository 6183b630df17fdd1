namespace RapidLedger.Pricing;

/// <summary>Says what must be true. Conditions on the cart read after "when", those on shopper, place and channel after "for".</summary>
internal static class ConditionWords
{
    /// <summary>Whether a condition says who, where or how, not what the cart holds.</summary>
    public static bool IsAboutWhom(Condition condition) => condition switch
    {
        Buyer or Destination or Channel or PaidIn or Method => true,
        NoneOf(var parts) => parts.Count > 0 && parts.All(IsAboutWhom),
        AnyOf(var parts) => parts.Count > 0 && parts.All(IsAboutWhom),
        _ => false,
    };

    public static string Say(Condition condition, Wording wording) => condition switch
    {
        AllOf(var parts) => parts.Count == 0 ? "always" : Join(parts, "and", wording),
        AnyOf(var parts) => parts.Count == 0 ? "never" : Join(parts, "or", wording),
        NoneOf(var parts) => parts.Count == 0 ? "always" : $"it is not so that {Join(parts, "or", wording)}",
        Spend(var of, var from, var to, var basis) => (of is null || of.IsEverything
            ? $"the cart comes to {Bounds(from, to, wording)}"
            : $"the cart holds {wording.Say(of, "goods")} for {Bounds(from, to, wording)}") + (basis == Basis.After ? " after other promotions" : ""),
        Quantity(var of, var comparison, var number) => $"the cart holds {Wording.Say(comparison, Text(number))} {(of is null || of.IsEverything ? number == 1 ? "item" : "items" : $"of {wording.Say(of)}")}",
        Distinct(var of, var comparison, var number) => $"the cart holds {Wording.Say(comparison, Text(number))} different {(number == 1 ? "item" : "items")}{(of is null || of.IsEverything ? "" : $" of {wording.Say(of)}")}",
        Only(var of) => $"the cart holds nothing but {wording.Say(of)}",
        Weight(var comparison, var grams) => $"the cart weighs {Wording.Say(comparison, Text(grams))} g",
        Destination(var places) => $"it goes to {To(places, wording)}",
        Buyer buyer => $"the shopper is of {Buyers(buyer, wording)}",
        Channel or PaidIn or Method => Whom(condition, wording),
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    /// <summary>After "for": <c>guests</c>, <c>carts that go in Germany</c>.</summary>
    public static string Whom(Condition condition, Wording wording) => condition switch
    {
        Buyer buyer => Buyers(buyer, wording),
        Destination(var places) => $"carts to {To(places, wording)}",
        Channel(var names) => $"the channel {Wording.Join(names, "or")}",
        PaidIn(var currencies) => $"payment in {Wording.Join(currencies.Select(currency => currency.Code), "or")}",
        Method(var ids) => $"delivery by {Wording.Join(ids.Select(id => wording.Catalogue.Store.Shipping.FirstOrDefault(method => method.Id == id)?.Name ?? id), "or")}",
        NoneOf(var parts) => $"not {Wording.Join(parts.Select(part => Whom(part, wording)), "or")}",
        AnyOf(var parts) => Wording.Join(parts.Select(part => Whom(part, wording)), "or"),
        _ => Say(condition, wording),
    };

    public static string Buyers(Buyer buyer, Wording wording) => buyer switch
    {
        Buyer.Guest => "guests",
        Buyer.SignedIn => "signed-in shoppers",
        Buyer.InGroup(var groups) => $"the group {Wording.Join(groups, "or")}",
        Buyer.OneOf(var ids) => $"the shopper {Wording.Join(ids, "or")}",
        Buyer.Orders(Comparison.Exactly, 0) => "first orders",
        Buyer.Orders(var comparison, var number) => $"shoppers with {Wording.Say(comparison, Text(number))} past {(number == 1 ? "order" : "orders")}",
        Buyer.Spent(var from, var to) => $"shoppers who have spent {Bounds(InBase(from, wording), InBase(to, wording), wording)} before",
        _ => throw new System.Diagnostics.UnreachableException(),
    };

    public static string To(Places places, Wording wording)
    {
        var words = places.In is { } taken ? Wording.Join(taken.Select(wording.Say), "or") : "anywhere";
        return places.Out.Count == 0 ? words : $"{words} without {Wording.Join(places.Out.Select(wording.Say), "or")}";
    }

    private static Amount? InBase(long? minor, Wording wording) => minor is { } known ? Amount.In(wording.Catalogue.Store.Currency, known) : null;

    private static string Bounds(Amount? from, Amount? to, Wording wording) => (from, to) switch
    {
        ({ } least, { } most) => $"{wording.Say(least)} to {wording.Say(most)}",
        ({ } least, null) => $"at least {wording.Say(least)}",
        (null, { } most) => $"at most {wording.Say(most)}",
        _ => "anything",
    };

    /// <summary>Several conditions in a row; what is joined itself stands in brackets.</summary>
    public static string Join(EquatableArray<Condition> parts, string word, Wording wording) =>
        Wording.Join(parts.Select(part => parts.Count > 1 && part is (AllOf { Parts.Count: > 1 } or AnyOf { Parts.Count: > 1 }) ? $"({Say(part, wording)})" : Say(part, wording)), word);

    private static string Text(long number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture);
}
