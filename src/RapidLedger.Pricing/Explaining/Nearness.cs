namespace RapidLedger.Pricing;

/// <summary>
/// How near the promotions that did not apply are. What keeps each out is found out cheaply; only those that are near, or that more in the
/// cart could bring, are gone into.
/// </summary>
internal sealed class Nearness
{
    // By what keeps them away, nearest first.
    private static readonly string[] ByReason =
        ["failed", "conditionNotMet", "codeNotEntered", "notBetter", "cannotMeet", "giftOut", "nothingLeft", "noMatchingItems", "betweenOccurrences", "notStarted", "limitReached", "shopperLimitReached", "ended"];

    // Those whose reason is always the same kind, in that order.
    private static readonly Obstacle[] Further = [Obstacle.Code, Obstacle.SpentCode, Obstacle.None, Obstacle.Between, Obstacle.Ahead, Obstacle.Limit, Obstacle.Over];

    // Of very many whose condition does not hold, so many are gone into for what more in the cart would bring.
    private const int MostWanting = 200;

    private readonly PricingStory story;
    private readonly long worth;
    private readonly List<(CompiledPromotion Promotion, Outcome Outcome)> explained = [];
    private readonly ILookup<Obstacle, CompiledPromotion> others;

    /// <param name="story">How the cart was priced.</param>
    /// <param name="worth">What the choice is worth.</param>
    public Nearness(PricingStory story, long worth)
    {
        (this.story, this.worth) = (story, worth);
        HashSet<CompiledPromotion> looked = new(story.Slots, ReferenceEqualityComparer.Instance);
        foreach (var (promotion, _) in story.PricePass?.Outcomes() ?? []) looked.Add(promotion);
        foreach (var paid in story.Paid ?? []) looked.Add(paid.Promotion);
        var failed = story.Failed?.Select(one => one.Promotion.Id).ToHashSet(StringComparer.Ordinal);
        var standing = story.Rulebook.Compiled.Select(promotion => (Promotion: promotion, Keeps: looked.Contains(promotion) || failed?.Contains(promotion.Promotion.Id) == true ? Obstacle.Failed : Keeps(promotion))).ToArray();
        CompiledPromotion[] near = [.. standing.Where(entry => entry.Keeps is Obstacle.Failed or Obstacle.Condition).Select(entry => entry.Promotion)];
        explained.AddRange(near.Zip(Explanation.Of(story, worth, near)));
        others = standing.Where(entry => entry.Keeps is not (Obstacle.Failed or Obstacle.Condition)).ToLookup(entry => entry.Keeps, entry => entry.Promotion);
    }

    /// <summary>Those that did not apply, nearest first, at most so many.</summary>
    public IReadOnlyList<Outcome> Nearest(int most)
    {
        var told = explained.Select(entry => entry.Outcome).Where(outcome => !outcome.Applied).ToList();
        List<CompiledPromotion> further = [];
        foreach (var obstacle in Further)
        {
            // Nothing that stands further away comes before enough that stands nearer.
            if (told.Count(outcome => Place(outcome) < PlaceOf(obstacle)) + further.Count >= most) break;
            further.AddRange(others[obstacle].Take(most));
        }

        told.AddRange(Explanation.Of(story, worth, [.. further]));
        return [.. told.OrderBy(Place).ThenBy(outcome => Remedy.Distance(outcome.Reason!)).ThenBy(outcome => outcome.Promotion, Promotion.Order).Take(most)];
    }

    /// <summary>Those that more in the cart could bring, or bring more of, in order of application; of very many the nearest.</summary>
    public IEnumerable<(CompiledPromotion Promotion, Outcome Outcome)> MayWant()
    {
        CompiledPromotion[] idle = [.. others[Obstacle.None].Where(LooksAtTheCart)];
        return Wanting().Concat(idle.Zip(Explanation.Of(story, worth, idle), (promotion, outcome) => (Promotion: promotion, Outcome: outcome))).OrderBy(entry => entry.Promotion.Promotion, Promotion.Order);
    }

    private IEnumerable<(CompiledPromotion Promotion, Outcome Outcome)> Wanting() => explained.Count <= MostWanting
        ? explained
        : explained.OrderBy(entry => entry.Outcome.Reason is { } reason ? Remedy.Distance(reason) : 0).ThenBy(entry => entry.Promotion.Promotion, Promotion.Order).Take(MostWanting);

    /// <summary>Whether a promotion gives something for what is in the cart.</summary>
    public bool LooksAtTheCart(CompiledPromotion promotion)
    {
        foreach (var reward in promotion.Rewards)
            for (var line = 0; line < story.View.Lines; line++) if (reward.LooksAt(story.View, line)) return true;
        return false;
    }

    private static int Place(Outcome outcome) => Array.IndexOf(ByReason, outcome.Reason!.Code);

    private static int PlaceOf(Obstacle obstacle) => Array.IndexOf(ByReason, obstacle switch
    {
        Obstacle.Code or Obstacle.SpentCode => "codeNotEntered",
        Obstacle.Between => "betweenOccurrences",
        Obstacle.Ahead => "notStarted",
        Obstacle.Limit => "limitReached",
        Obstacle.Over => "ended",
        _ => "noMatchingItems",
    });

    // One with which something goes wrong even here is gone into, and shown as what is wrong.
    private Obstacle Keeps(CompiledPromotion promotion)
    {
        try
        {
            return story.Eligibility.FirstObstacle(promotion, promotion.Markdown is null ? story.View : story.Unmarked);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return Obstacle.Failed;
        }
    }
}
