namespace RapidLedger.Pricing;

/// <summary>Takes something off the delivery charge.</summary>
/// <param name="Methods">The ids of the methods it is for; none: any.</param>
/// <param name="Take">How much.</param>
/// <param name="MaxDiscount">The most it takes.</param>
public sealed record Shipping(EquatableArray<string>? Methods, Take Take, Amount? MaxDiscount = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Shipping];

    /// <summary>Whether it is for a delivery method; null: none is chosen.</summary>
    public bool IsFor(string? method) => Methods is not { } listed || (method is not null && listed.Span.Contains(method));

    /// <inheritdoc/>
    public override bool SetsUnitPrices => false;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Shipping;

    internal override string Say(Wording wording) => DeliveryWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => Reach.Nothing;

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) =>
        [new Ready(this, compiler.Takes(Take), compiler.Amounts(MaxDiscount))];

    private sealed class Ready(Shipping written, CartTake[] takes, AmountTable? cap) : ReadyReward
    {
        public override Stage Stage => Stage.Shipping;

        public override IEnumerable<int>? Touches => null;

        public override bool LooksAt(CartView cart, int line) => false;

        public override void Apply(Sheet sheet) => sheet.LowerShipping(Off(sheet));

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            return Off(sheet);
        }

        public override long BoundOf(Sheet sheet, long goods) => 0;

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest) => true;

        public override long BoundOfPoints(Sheet sheet, long net) => 0;

        public override (long Units, long Net) BoundOfGifts(Sheet sheet) => (0, 0);

        public override IEnumerable<Want[]> Wants(CartView cart) => [];

        public override Idleness WhyIdle(Sheet sheet)
        {
            if (sheet.Shipping == 0)
                return new Idleness.NoDelivery(sheet.Cart.Cart.Method is null);
            return IsFor(sheet) ? new Idleness.NothingToTake(null) : new Idleness.OtherMethod(written.Methods!.Value);
        }

        private long Off(Sheet sheet)
        {
            if (!IsFor(sheet))
                return 0;
            var off = takes[sheet.Cart.CurrencyNumber].From(sheet.Shipping);
            return cap is null ? off : Math.Min(off, cap[sheet.Cart]);
        }

        private bool IsFor(Sheet sheet) => written.IsFor(sheet.Cart.Cart.Method);
    }
}
