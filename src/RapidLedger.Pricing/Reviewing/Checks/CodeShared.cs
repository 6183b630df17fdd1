namespace RapidLedger.Pricing;

/// <summary>A code that starts another live promotion too.</summary>
internal sealed class CodeShared : Check
{
    public override string Name => "codeShared";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Trigger is not { IsAutomatic: false } trigger)
            yield break;
        var codes = trigger.Codes.Select(Trigger.Normal).ToArray();
        foreach (var other in around.Others)
        {
            if (other.Id == promotion.Id || other.Trigger is not { IsAutomatic: false } theirs)
                continue;
            foreach (var code in theirs.Codes.Select(Trigger.Normal).Distinct(StringComparer.Ordinal))
                if (Array.IndexOf(codes, code) is >= 0 and var place)
                    yield return Doubt(
                        $"/trigger/codes/{place}",
                        $"The code {code} also starts “{other.Named}”, which is live: one entry starts both."
                    ) with
                    {
                        Other = other.Id,
                    };
        }
    }
}
