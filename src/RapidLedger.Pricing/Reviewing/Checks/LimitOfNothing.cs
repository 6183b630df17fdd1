namespace RapidLedger.Pricing;

/// <summary>A limit of nothing, with which the promotion never applies.</summary>
internal sealed class LimitOfNothing : Check
{
    public override string Name => "limitOfNothing";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Limits is not { } limits)
            yield break;
        foreach (
            var (member, limit) in new[]
            {
                ("total", limits.Total),
                ("perShopper", limits.PerShopper),
                ("perDay", limits.PerDay),
                ("budget", limits.Budget),
            }
        )
            if (limit == 0)
                yield return Doubt(
                    $"/limits/{member}",
                    "With a limit of 0 it never applies: take the limit out, or pause the promotion.",
                    new("no limit", $"/limits/{member}", null)
                );
    }
}
