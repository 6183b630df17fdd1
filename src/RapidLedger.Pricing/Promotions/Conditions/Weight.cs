namespace RapidLedger.Pricing;

/// <summary>The weight of all units compares so.</summary>
/// <param name="Comparison">How the weight stands to <paramref name="Grams"/>.</param>
/// <param name="Grams">Grams, not below zero.</param>
public sealed record Weight(Comparison Comparison, long Grams) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Weight;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready(this);

    private sealed class Ready(Weight written) : Test
    {
        public override IEnumerable<int>? Touches => null;

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart) => written.Comparison.Holds(cart.Grams, written.Grams);

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            if (!Holds(cart))
                yield return new Gap.WeightOff(cart.Grams, written.Comparison, written.Grams);
        }
    }
}
