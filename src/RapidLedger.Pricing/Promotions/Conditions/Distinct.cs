namespace RapidLedger.Pricing;

/// <summary>The number of different SKUs among the selected units compares so.</summary>
/// <param name="Of">Which units; none: the whole cart.</param>
/// <param name="Comparison">How the number stands to <paramref name="Number"/>.</param>
/// <param name="Number">SKUs, not below zero.</param>
public sealed record Distinct(Selection? Of, Comparison Comparison, long Number) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Distinct;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready(this, compiler.Selection(Of));

    private sealed class Ready(Distinct written, SelectionTest of) : Test
    {
        public override IEnumerable<int>? Touches => written.Comparison.Holds(0, written.Number) ? null : of.InTerms.ToArray();

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart) => written.Comparison.Holds(Count(cart), written.Number);

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            var count = Count(cart);
            if (!written.Comparison.Holds(count, written.Number))
                yield return new Gap.KindsOff(written.Of, count, written.Comparison, written.Number);
        }

        private int Count(CartView cart)
        {
            var count = 0;
            for (var line = 0; line < cart.Lines; line++)
                if (cart.IsFirstOfSku(line) && of.Selects(cart, line))
                    count++;
            return count;
        }
    }
}
