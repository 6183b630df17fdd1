namespace RapidLedger.Pricing;

/// <summary>The cart's channel is one of these.</summary>
public sealed record Channel(EquatableArray<string> Names) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Channel;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new NamedTest(Names, cart => cart.Cart.Channel, () => new Gap.OtherChannel(Names));
}

/// <summary>The cart's currency is one of these.</summary>
public sealed record PaidIn(EquatableArray<Currency> Currencies) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Currency;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) =>
        new NamedTest(
            Currencies.Select(currency => currency.Code).ToEquatableArray(),
            cart => cart.Currency.Code,
            () => new Gap.OtherCurrency(Currencies)
        );
}

/// <summary>The cart's delivery method is one of these.</summary>
public sealed record Method(EquatableArray<string> Ids) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Method;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new NamedTest(Ids, cart => cart.Cart.Method, () => new Gap.OtherMethod(Ids));
}

/// <summary>One name of the cart stands in a list.</summary>
internal sealed class NamedTest(EquatableArray<string> names, Func<CartView, string?> name, Func<Gap> gap) : Test
{
    public override IEnumerable<int>? Touches => null;

    public override IEnumerable<string>? Countries => null;

    public override bool Holds(CartView cart) => name(cart) is { } one && names.Span.Contains(one);

    public override IEnumerable<Gap> Gaps(CartView cart)
    {
        if (!Holds(cart))
            yield return gap();
    }
}
