namespace RapidLedger.Pricing;

/// <summary>Two promotions that are asked whether they can meet.</summary>
internal sealed class Pair(Side one, Side other)
{
    private IReadOnlyList<IReadOnlyList<Demand>>? ways;
    private long? leastUnits;

    public Side One => one;

    public Side Other => other;

    public Meetings Around => one.Around;

    /// <summary>What must hold in one cart for both, in each of the ways in which that can be.</summary>
    public IReadOnlyList<IReadOnlyList<Demand>> Ways => ways ??= Pricing.Ways.Both(one.Ways, other.Ways);

    /// <summary>So many units a cart must hold at least for both: what the one needs and the other too counts once.</summary>
    public long LeastUnits =>
        leastUnits ??=
            one != other && one.Touched.Zip(other.Touched).All(item => !(item.First && item.Second))
                ? one.LeastUnits + other.LeastUnits
                : Math.Max(one.LeastUnits, other.LeastUnits);

    /// <summary>Whether a markdown or a credit is among them: those take no part in the choice.</summary>
    public bool HasMarkdown => one.Compiled.Markdown is not null || other.Compiled.Markdown is not null;

    public bool HasCredit => one.Compiled.Credit is not null || other.Compiled.Credit is not null;
}
