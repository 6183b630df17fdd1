namespace RapidLedger.Pricing;

/// <summary>
/// Another promotion that takes from the same items in the same cart, where nobody has said whether they may meet: what they take together.
/// </summary>
internal sealed class Meets : Check
{
    // From so many percent on, together, it is a doubt.
    private const int Much = 40;
    private const int Most = 3;

    public override string Name => "meets";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (IsSaid(promotion))
            yield break;
        var met = around.Meet(promotion);
        foreach (
            var pair in Shared
                .With(promotion, met, other => other.Rewards is not [Markdown] && !IsSaid(other))
                .Take(Most)
                .Select(one => one.Smallest(promotion, met))
        )
        {
            var sentence = $"It meets {Named(pair.Other)}: {pair.Say(around.Wording)}.";
            var mend = Apart(promotion, pair.Other);
            yield return (pair.Percent >= Much ? Doubt("/stacking", sentence, mend) : Remark("/stacking", sentence, mend)) with
            {
                Other = pair.Other.Id,
            };
        }
    }

    /// <summary>The other by its name, and that it needs its code if it does.</summary>
    public static string Named(Promotion other) => $"“{other.Named}”{(other.IsByCode ? " by its code" : "")}";

    /// <summary>That the two do not meet; null: something is said of its stacking already.</summary>
    public static Mend? Apart(Promotion promotion, Promotion other) =>
        promotion.Stacking is null
            ? new(
                $"not beside “{other.Named}”",
                "/stacking",
                new Dictionary<string, object> { ["allow"] = "except", ["with"] = new[] { $"promotion:{other.Id}" } }
            )
            : null;

    // Whether somebody has thought of what it may meet.
    private static bool IsSaid(Promotion promotion) =>
        promotion.Stacking is { } stacking && (stacking.Allow != Allow.Any || stacking.With.Count > 0);
}
