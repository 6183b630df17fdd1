namespace RapidLedger.Pricing;

/// <summary>The cart is not empty and every unit is selected.</summary>
public sealed record Only(Selection Of) : Condition
{
    internal override Test Compile(Compiler compiler) => new Ready(this, compiler.Selection(Of));

    private sealed class Ready(Only written, SelectionTest of) : Test
    {
        public override bool Holds(CartView cart)
        {
            for (var line = 0; line < cart.Lines; line++) if (!of.Selects(cart, line)) return false;
            return cart.Lines > 0;
        }

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            if (!Holds(cart)) yield return new Gap.OthersInCart(written.Of, cart.Lines == 0);
        }
    }
}
