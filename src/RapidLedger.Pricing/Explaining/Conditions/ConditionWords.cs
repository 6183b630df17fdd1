namespace RapidLedger.Pricing;

/// <summary>A condition in words.</summary>
/// <param name="Statement">After "when": <c>the cart comes to at least 50.00</c>.</param>
/// <param name="Unwanted">Why a promotion does not apply that must not have it: <c>is not for guests</c>.</param>
/// <param name="Whom">After "for": <c>guests</c>; null where it is about what the cart holds.</param>
internal sealed record ConditionSpeech(string Statement, string Unwanted, string? Whom = null)
{
    /// <summary>Of what the cart holds.</summary>
    public static ConditionSpeech OfCart(string statement) => new(statement, $"not when {statement}");

    /// <summary>Of shopper, place or channel.</summary>
    public static ConditionSpeech OfWhom(string statement, string whom) => new(statement, $"is not for {whom}", whom);
}

/// <summary>Says what must be true. Conditions on the cart read after "when", those on shopper, place and channel after "for".</summary>
internal static class ConditionWords
{
    public static ConditionSpeech Speak(AllOf all, Wording wording) =>
        ConditionSpeech.OfCart(all.Parts.Count == 0 ? "always" : Join(all.Parts, "and", wording));

    public static ConditionSpeech Speak(AnyOf any, Wording wording)
    {
        var statement = any.Parts.Count == 0 ? "never" : Join(any.Parts, "or", wording);
        return Whom(any.Parts, wording) is { } whom ? ConditionSpeech.OfWhom(statement, whom) : ConditionSpeech.OfCart(statement);
    }

    public static ConditionSpeech Speak(NoneOf none, Wording wording)
    {
        if (none.Parts.Count == 0)
            return ConditionSpeech.OfCart("always");
        var statement = $"it is not so that {Join(none.Parts, "or", wording)}";
        return Whom(none.Parts, wording) is { } whom
            ? new(statement, $"is only for {whom}", $"not {whom}")
            : new(statement, $"only when {Join(none.Parts, "or", wording)}");
    }

    public static ConditionSpeech Speak(Spend spend, Wording wording) =>
        ConditionSpeech.OfCart(
            (
                spend.Of is null || spend.Of.IsEverything
                    ? $"the cart comes to {Bounds(spend.From, spend.To, wording)}"
                    : $"the cart holds {wording.Say(spend.Of, "goods")} for {Bounds(spend.From, spend.To, wording)}"
            ) + (spend.Basis == Basis.After ? " after other promotions" : "")
        );

    public static ConditionSpeech Speak(Quantity quantity, Wording wording)
    {
        var number = quantity.Number;
        var of = quantity.Of is null || quantity.Of.IsEverything ? Wording.Plural(number, "item") : $"of {wording.Say(quantity.Of)}";
        return ConditionSpeech.OfCart($"the cart holds {Wording.Say(quantity.Comparison, Wording.Number(number))} {of}");
    }

    public static ConditionSpeech Speak(Distinct distinct, Wording wording) =>
        ConditionSpeech.OfCart(
            $"the cart holds {Wording.Say(distinct.Comparison, Wording.Number(distinct.Number))} different {Wording.Plural(distinct.Number, "item")}{wording.Of(distinct.Of)}"
        );

    public static ConditionSpeech Speak(Only only, Wording wording) =>
        ConditionSpeech.OfCart($"the cart holds nothing but {wording.Say(only.Of)}");

    public static ConditionSpeech Speak(Weight weight, Wording wording) =>
        ConditionSpeech.OfCart($"the cart weighs {Wording.Say(weight.Comparison, Wording.Number(weight.Grams))} g");

    public static ConditionSpeech Speak(Destination destination, Wording wording) =>
        ConditionSpeech.OfWhom($"it goes to {To(destination.Places, wording)}", $"carts to {To(destination.Places, wording)}");

    public static ConditionSpeech Speak(Buyer buyer, Wording wording) =>
        ConditionSpeech.OfWhom($"it is bought by {Buyers(buyer, wording)}", Buyers(buyer, wording));

    public static ConditionSpeech Speak(Channel channel, Wording wording) =>
        ConditionSpeech.OfWhom($"it is bought on {Wording.Join(channel.Names, "or")}", $"the channel {Wording.Join(channel.Names, "or")}");

    public static ConditionSpeech Speak(PaidIn paid, Wording wording)
    {
        var currencies = Wording.Join(paid.Currencies.Select(currency => currency.Code), "or");
        return ConditionSpeech.OfWhom($"it is paid in {currencies}", $"carts paid in {currencies}");
    }

    public static ConditionSpeech Speak(Method method, Wording wording) =>
        ConditionSpeech.OfWhom($"it is delivered by {wording.Methods(method.Ids)}", $"delivery by {wording.Methods(method.Ids)}");

    public static string Buyers(Buyer buyer, Wording wording) =>
        buyer switch
        {
            Buyer.Guest => "guests",
            Buyer.SignedIn => "signed-in shoppers",
            Buyer.InGroup(var groups) => $"the group {Wording.Join(groups, "or")}",
            Buyer.OneOf(var ids) => $"the shopper {Wording.Join(ids, "or")}",
            Buyer.Orders(Comparison.Exactly, 0) => "first orders",
            Buyer.Orders(var comparison, var number) =>
                $"shoppers with {Wording.Say(comparison, Wording.Number(number))} past {Wording.Plural(number, "order")}",
            Buyer.Spent(var from, var to) =>
                $"shoppers who have spent {Bounds(InBase(from, wording), InBase(to, wording), wording)} before",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    public static string To(Places places, Wording wording)
    {
        var words = places.In is { } taken ? Wording.Join(taken.Select(wording.Say), "or") : "anywhere";
        return places.Out.Count == 0 ? words : $"{words} without {Wording.Join(places.Out.Select(wording.Say), "or")}";
    }

    /// <summary>Several conditions in a row; what is joined itself stands in brackets.</summary>
    public static string Join(EquatableArray<Condition> parts, string word, Wording wording) =>
        Wording.Join(
            parts.Select(part =>
                parts.Count > 1 && part is (AllOf { Parts.Count: > 1 } or AnyOf { Parts.Count: > 1 })
                    ? $"({part.Speak(wording).Statement})"
                    : part.Speak(wording).Statement
            ),
            word
        );

    // All of them, if all are about whom.
    private static string? Whom(EquatableArray<Condition> parts, Wording wording)
    {
        string?[] whom = [.. parts.Select(part => part.Speak(wording).Whom)];
        return whom.Length == 0 || whom.Contains(null) ? null : Wording.Join(whom!, "or");
    }

    // Lifetime spend is kept in the base currency, whatever the cart is paid in.
    private static string? InBase(long? minor, Wording wording) =>
        minor is { } known ? wording.Say(known, wording.Catalogue.Store.Currency) : null;

    private static string Bounds(Amount? from, Amount? to, Wording wording) =>
        Bounds(from is null ? null : wording.Say(from), to is null ? null : wording.Say(to), wording);

    private static string Bounds(string? from, string? to, Wording wording) =>
        (from, to) switch
        {
            ({ } least, { } most) => $"{least} to {most}",
            ({ } least, null) => $"at least {least}",
            (null, { } most) => $"at most {most}",
            _ => "anything",
        };
}
