namespace RapidLedger.Pricing;

/// <summary>They are never open at the same time from now on, repeats and grace included.</summary>
internal sealed class WindowGround : Ground
{
    public override string Name => "window";

    public override string? RulesOut(Pair pair)
    {
        var say = pair.Around.Wording;
        foreach (var side in (Side[])[pair.One, pair.Other])
            if (side.Opens is null)
                return $"{side.Named} is over{(side.Promotion.Window?.End is { } end ? $", since {say.SayEnd(end)}" : "")}.";
        return pair.Around.Openings.Common(pair.One, pair.Other, pair.Around.Now) is { IsNever: true }
            ? $"{pair.One.Named} and {pair.Other.Named} are never open at the same time."
            : null;
    }
}
