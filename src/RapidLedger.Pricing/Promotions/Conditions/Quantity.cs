namespace RapidLedger.Pricing;

/// <summary>The number of selected units compares so.</summary>
/// <param name="Of">Which units; none: the whole cart.</param>
/// <param name="Comparison">How the number stands to <paramref name="Number"/>.</param>
/// <param name="Number">Units, not below zero.</param>
public sealed record Quantity(Selection? Of, Comparison Comparison, long Number) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Quantity;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready(this, compiler.Selection(Of));

    private sealed class Ready(Quantity written, SelectionTest of) : Test
    {
        public override IEnumerable<int>? Touches => written.Comparison.Holds(0, written.Number) ? null : of.InTerms.ToArray();

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart) => written.Comparison.Holds(of.Units(cart), written.Number);

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            var units = of.Units(cart);
            if (!written.Comparison.Holds(units, written.Number))
                yield return new Gap.UnitsOff(written.Of, units, written.Comparison, written.Number);
        }
    }
}
