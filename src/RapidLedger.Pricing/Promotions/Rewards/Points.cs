namespace RapidLedger.Pricing;

/// <summary>Awards points: a fixed number, or some for each whole amount of net.</summary>
/// <param name="Number">Points, above zero.</param>
/// <param name="Each">Awarded once for each of these in the net; none: once.</param>
public sealed record Points(long Number, Amount? Each = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Item];

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) => [new Ready(Number, compiler.Amounts(Each))];

    private sealed class Ready(long number, AmountTable? each) : ReadyReward
    {
        public override Stage Stage => Stage.Points;

        public override void Apply(Sheet sheet) => sheet.Award(each is null ? number : sheet.Net / each[sheet.Cart] * number);

        public override long Bound(Sheet sheet) => 0;

        public override long BoundOfPoints(Sheet sheet, long net) => each is null ? number : net / each[sheet.Cart] * number;
    }
}
