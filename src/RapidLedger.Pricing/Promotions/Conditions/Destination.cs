namespace RapidLedger.Pricing;

/// <summary>The cart goes to one of the places; one without destination does not.</summary>
public sealed record Destination(Places Places) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Destination;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready(this);

    private sealed class Ready(Destination written) : Test
    {
        public override IEnumerable<string>? Countries => written.Places.In?.Select(place => place.Country).Distinct();

        public override IEnumerable<int>? Touches => null;

        public override bool Holds(CartView cart) => written.Places.Hold(cart.Cart.Destination);

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            if (!Holds(cart))
                yield return new Gap.OtherPlace(written.Places, cart.Cart.Destination);
        }
    }
}
