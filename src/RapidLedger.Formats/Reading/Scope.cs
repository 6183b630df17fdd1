using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>What a promotion or a cart may refer to, and the currencies amounts are read in.</summary>
internal sealed record Scope
{
    /// <summary>The store's base currency; null if it could not be read: then amounts are read with any decimals.</summary>
    public Currency? Base { get; init; }

    /// <summary>The currency of the cart; null if it could not be read.</summary>
    public Currency? Paid { get; init; }

    /// <summary>The store, once its rates are known; null: amounts are not converted.</summary>
    public Store? Store { get; init; }

    /// <summary>The currencies besides the base currency that an amount must be usable in; only the cart's, where there is one.</summary>
    public IReadOnlyList<Currency> Others { get; init; } = [];

    /// <summary>Called with an amount that is more than can be counted once it is converted; null: that is told at the amount.</summary>
    public Action<Node, Currency>? TooMuch { get; init; }

    /// <summary>The zone of local times; null if it could not be read.</summary>
    public NodaTime.DateTimeZone? Zone { get; init; }

    /// <summary>
    /// Where conditions stand that look at what other promotions leave: whether they may is told once the rewards are read.
    /// </summary>
    public List<Node>? After { get; init; }

    /// <summary>Whether a condition here may look at what other promotions leave.</summary>
    public bool AllowsAfter { get; init; }

    /// <summary>Whether what is read stands at the top of a condition.</summary>
    public bool AtTop { get; init; }

    public Known Categories { get; init; } = Known.Anything;

    public Known Products { get; init; } = Known.Anything;

    public Known Skus { get; init; } = Known.Anything;

    /// <summary>Those of the SKUs that were taken out: they are known, and cannot be bought.</summary>
    public IReadOnlySet<string> Gone { get; init; } = new HashSet<string>();

    public Known Promotions { get; init; } = Known.Anything;

    public Known Families { get; init; } = Known.Anything;

    public Known Methods { get; init; } = Known.Anything;

    public Known Batches { get; init; } = Known.Anything;

    /// <summary>An amount: a text in the base currency, or an object by currency.</summary>
    public Amount? Amount(Node node)
    {
        if (node.Value.ValueKind == System.Text.Json.JsonValueKind.String)
            return Minor(node, Base) is { } inBase ? Usable(node, Pricing.Amount.In(Base ?? AnyCurrency, inBase)) : null;
        if (node.Value.ValueKind != System.Text.Json.JsonValueKind.Object)
        {
            node.Fault(
                ProblemCode.WrongType,
                $"An amount is written as a text, such as \"12.50\", or as an object by currency, not as {node.Kind}."
            );
            return null;
        }

        var named = new List<NamedAmount>();
        var before = node.Problems.Count;
        foreach (var (name, value) in node.Dictionary()!)
        {
            if (Currency.Find(name) is not { } currency)
                value.Fault(ProblemCode.UnknownCurrency, $"'{name}' is not a currency of ISO 4217.");
            else if (Minor(value, currency) is { } minor)
                named.Add(new(currency, minor));
        }

        if (node.Problems.Count > before)
            return null;
        if (Base is not null && Paid is not null && !named.Exists(entry => entry.Currency == Base || entry.Currency == Paid))
        {
            node.Fault(ProblemCode.CurrencyMissing, $"This amount says nothing in {Base}{(Paid == Base ? "" : $" or {Paid}")}. Add it.");
            return null;
        }

        return Usable(node, new Amount(named.ToEquatableArray()));
    }

    /// <summary>A language by its tag (BCP 47).</summary>
    public static string? ReadLanguage(Node node)
    {
        if (node.Text() is not { } tag || Language.IsTag(tag))
            return node.Value.ValueKind == System.Text.Json.JsonValueKind.String ? node.Text() : null;
        node.Fault(ProblemCode.UnknownValue, $"'{tag}' is not a language tag of BCP 47. Write en, de or de-AT, say.");
        return null;
    }

    /// <summary>An amount in a currency, as far as that can be told.</summary>
    public long? In(Amount amount, Currency currency) => Store is null ? amount.Find(currency) : amount.For(currency, Store);

    // In every currency it will be asked for in, it can be counted with.
    private Amount? Usable(Node node, Amount amount)
    {
        foreach (var currency in Others)
        {
            if (Store is null || !(amount.For(currency, Store) > Magnitudes.Most))
                continue;
            if (TooMuch is { } tell)
                tell(node, currency);
            else
                node.Fault(
                    ProblemCode.OutOfRange,
                    $"In {currency} this comes to more than can be counted. Lower it, or name an amount for {currency}."
                );
            return null;
        }

        return amount;
    }

    /// <summary>An amount of the base currency, as minor units.</summary>
    public long? InBase(Node node) => Minor(node, Base);

    /// <summary>A text of one currency, as minor units.</summary>
    public static long? Minor(Node node, Currency? currency)
    {
        if (node.Value.ValueKind != System.Text.Json.JsonValueKind.String)
        {
            node.Fault(ProblemCode.WrongType, $"An amount is written as a text, such as \"12.50\", not as {node.Kind}.");
            return null;
        }

        if (node.Text() is not { } text)
            return null;
        var in_ = currency ?? AnyCurrency;
        switch (in_.Read(text, out var minor))
        {
            case AmountFault.None:
                return minor;
            case AmountFault.Negative:
                node.Fault(ProblemCode.Negative, $"'{text}' is below zero. Write it without the sign.");
                return null;
            case AmountFault.TooManyDecimals:
                // With the base currency unknown, its decimals are too; that has been reported where it is named.
                if (currency is not null)
                    node.Fault(ProblemCode.TooManyDecimals, $"'{text}' has more decimals than {currency} has ({currency.Exponent}).");
                return null;
            case AmountFault.OutOfRange:
                node.Fault(ProblemCode.OutOfRange, $"'{text}' is more than can be handled ({in_.Write(Currency.Greatest)}).");
                return null;
            default:
                node.Fault(ProblemCode.NotAnAmount, $"'{text}' is not an amount. Write digits and a point, such as 12.50.");
                return null;
        }
    }

    /// <summary>A place.</summary>
    public static Place? ReadPlace(Node node)
    {
        if (node.Text() is not { } text)
            return null;
        if (Place.Find(text) is { } place)
            return place;
        node.Fault(ProblemCode.UnknownPlace, $"'{text}' is not a country of ISO 3166-1 or a subdivision of ISO 3166-2. Write DE or ES-CN.");
        return null;
    }

    /// <summary>A currency.</summary>
    public static Currency? ReadCurrency(Node node)
    {
        if (node.Text() is not { } text)
            return null;
        if (Currency.Find(text) is { } currency)
            return currency;
        node.Fault(ProblemCode.UnknownCurrency, $"'{text}' is not a currency of ISO 4217. Write EUR, GBP, JPY.");
        return null;
    }

    private static Currency AnyCurrency => Currency.Find("KWD")!;
}

/// <summary>The names that may be referred to.</summary>
/// <param name="Names">Null: any, because the list itself could not be read.</param>
/// <param name="What">What they name, in words.</param>
/// <param name="Code">The problem of a name that is not among them.</param>
internal sealed record Known(IReadOnlySet<string>? Names, string What, string Code)
{
    /// <summary>Nothing is checked.</summary>
    public static readonly Known Anything = new(null, "", "");

    /// <summary>A name that must be known.</summary>
    public string? Read(Node node) => node.Text() is { } name && Check(name, node) ? name : null;

    /// <summary>Reports a name that is not known.</summary>
    public bool Check(string name, Node node)
    {
        if (Names?.Contains(name) ?? true)
            return true;
        node.Fault(Code, $"There is no {What} '{name}'.");
        return false;
    }
}
