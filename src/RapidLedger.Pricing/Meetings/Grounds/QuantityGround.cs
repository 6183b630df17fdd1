namespace RapidLedger.Pricing;

/// <summary>No cart holds as many units as both ask for.</summary>
internal sealed class QuantityGround : NumberGround
{
    public override string Name => "quantity";

    protected override Selection? Of(Condition condition) => ((Quantity)condition).Of;

    protected override (Comparison Comparison, long Number) Compared(Condition condition) =>
        condition is Quantity(_, var comparison, var number) ? (comparison, number) : throw new System.Diagnostics.UnreachableException();

    protected override long LeastInCart(Pair pair) => pair.LeastUnits;
}
