namespace RapidLedger.Pricing;

/// <summary>Takes something off the delivery charge.</summary>
/// <param name="Methods">The ids of the methods it is for; none: any.</param>
/// <param name="Take">How much.</param>
/// <param name="MaxDiscount">The most it takes.</param>
public sealed record Shipping(EquatableArray<string>? Methods, Take Take, Amount? MaxDiscount = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Shipping];

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) => [new Ready(Methods, compiler.Takes(Take), compiler.Amounts(MaxDiscount))];

    private sealed class Ready(EquatableArray<string>? methods, CartTake[] takes, AmountTable? cap) : ReadyReward
    {
        public override Stage Stage => Stage.Shipping;

        public override void Apply(Sheet sheet) => sheet.LowerShipping(Off(sheet));

        public override long Bound(Sheet sheet) => Off(sheet);

        private long Off(Sheet sheet)
        {
            if (methods is { } listed && !(sheet.Cart.Cart.Method is { } method && listed.Span.Contains(method))) return 0;
            var off = takes[sheet.Cart.CurrencyNumber].From(sheet.Shipping);
            return cap is null ? off : Math.Min(off, cap[sheet.Cart]);
        }
    }
}
