namespace RapidLedger.Pricing;

/// <summary>The cart is not empty and every unit is selected.</summary>
public sealed record Only(Selection Of) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Only;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready(this, compiler.Selection(Of));

    private sealed class Ready(Only written, SelectionTest of) : Test
    {
        public override IEnumerable<int>? Touches => of.InTerms.ToArray();

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart)
        {
            for (var line = 0; line < cart.Lines; line++)
                if (!of.Selects(cart, line))
                    return false;
            return cart.Lines > 0;
        }

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            if (!Holds(cart))
                yield return new Gap.OthersInCart(written.Of, cart.Lines == 0);
        }
    }
}
