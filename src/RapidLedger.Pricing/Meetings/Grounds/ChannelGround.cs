namespace RapidLedger.Pricing;

/// <summary>No channel is one that both are for.</summary>
internal sealed class ChannelGround : Facet<string>
{
    // A channel that nobody names: a shop may call its channels as it likes.
    private const string Another = "another";

    public override string Name => "channel";

    protected override string What => "channel";

    protected override IEnumerable<string> Values(IReadOnlyList<Demand> demands, Pair pair) =>
        [
            Cart.Web,
            .. demands.Select(demand => demand.Condition).OfType<Channel>().SelectMany(channel => channel.Names),
            .. pair.Around.ChannelsNamed,
            Another,
        ];

    protected override bool Holds(Condition condition, string value) => condition is Channel channel && channel.Names.Contains(value);
}
