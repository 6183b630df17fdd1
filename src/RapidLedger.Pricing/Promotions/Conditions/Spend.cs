namespace RapidLedger.Pricing;

/// <summary>The sum of the current prices of the selected units is within bounds, both included.</summary>
/// <param name="Of">Which units; none: the whole cart.</param>
/// <param name="From">The least sum.</param>
/// <param name="To">The greatest sum.</param>
public sealed record Spend(Selection? Of, Amount? From, Amount? To) : Condition
{
    internal override Test Compile(Compiler compiler) =>
        new Ready(this, compiler.Selection(Of), compiler.Amounts(From), compiler.Amounts(To));

    private sealed class Ready(Spend written, SelectionTest of, AmountTable? from, AmountTable? to) : Test
    {
        public override bool Holds(CartView cart)
        {
            var spent = of.Spend(cart);
            return (from is null || spent >= from[cart]) && (to is null || spent <= to[cart]);
        }

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            var spent = of.Spend(cart);
            if (from is not null && spent < from[cart]) yield return new Gap.SpendShort(written.Of, spent, from[cart]);
            if (to is not null && spent > to[cart]) yield return new Gap.SpendOver(written.Of, spent, to[cart]);
        }
    }
}
