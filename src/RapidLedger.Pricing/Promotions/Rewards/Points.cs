namespace RapidLedger.Pricing;

/// <summary>Awards points: a fixed number, or some for each whole amount of net.</summary>
/// <param name="Number">Points, above zero.</param>
/// <param name="Each">Awarded once for each of these in the net; none: once.</param>
public sealed record Points(long Number, Amount? Each = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Item];

    /// <inheritdoc/>
    public override bool SetsUnitPrices => false;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Points;

    internal override string Say(Wording wording) => PointsWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => new(0, Number * (Each is null ? 1 : cart.Net / cart.Divisor(Each)));

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) => [new Ready(Number, compiler.Divisors(Each))];

    private sealed class Ready(long number, AmountTable? each) : ReadyReward
    {
        public override Stage Stage => Stage.Points;

        public override IEnumerable<int>? Touches => null;

        public override bool LooksAt(CartView cart, int line) => true;

        public override void Apply(Sheet sheet) => sheet.Award(each is null ? number : sheet.Net / each[sheet.Cart] * number);

        public override long Bound(Sheet sheet, out long dearest) => dearest = 0;

        public override long BoundOf(Sheet sheet, long goods) => 0;

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest) => true;

        public override long BoundOfPoints(Sheet sheet, long net) => each is null ? number : net / each[sheet.Cart] * number;

        public override (long Units, long Net) BoundOfGifts(Sheet sheet) => (0, 0);

        // More points are no saving.
        public override IEnumerable<Want[]> Wants(CartView cart) => [];

        public override Idleness WhyIdle(Sheet sheet) =>
            each is null ? new Idleness.NothingLeftToTake() : new Idleness.PaysTooLittle(sheet.Net, each[sheet.Cart]);
    }
}
