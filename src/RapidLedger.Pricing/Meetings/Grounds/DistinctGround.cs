namespace RapidLedger.Pricing;

/// <summary>No cart holds as many different items as both ask for.</summary>
internal sealed class DistinctGround : NumberGround
{
    public override string Name => "distinct";

    protected override Selection? Of(Condition condition) => ((Distinct)condition).Of;

    protected override (Comparison Comparison, long Number) Compared(Condition condition) =>
        condition is Distinct(_, var comparison, var number) ? (comparison, number) : throw new System.Diagnostics.UnreachableException();

    protected override long LeastInCart(Pair pair) => 1;
}
