namespace RapidLedger.Pricing;

/// <summary>
/// How near the promotions that did not apply are. What keeps each out is found out cheaply; only those that are near, or that more in the
/// cart could bring, are gone into.
/// </summary>
internal sealed class Nearness
{
    // By what keeps them away, nearest first.
    private static readonly string[] ByReason =
    [
        "failed",
        "conditionNotMet",
        // Started, by a code that was entered or by itself, and kept out by others: nearer than what nobody asked for.
        "notBetter",
        "cannotMeet",
        "codeNotEntered",
        "giftOut",
        "nothingLeft",
        "noMatchingItems",
        "betweenOccurrences",
        "notStarted",
        "limitReached",
        "shopperLimitReached",
        "ended",
    ];

    // Those whose reason is always the same kind, in that order.
    private static readonly Obstacle[] Further =
    [
        Obstacle.Code,
        Obstacle.SpentCode,
        Obstacle.None,
        Obstacle.Between,
        Obstacle.Ahead,
        Obstacle.Limit,
        Obstacle.Over,
    ];

    // Of very many whose condition does not hold, so many are gone into for what more in the cart would bring.
    private const int MostWanting = 200;

    private readonly PricingStory story;
    private readonly long worth;

    // In order of application.
    private readonly Explained[] explained;
    private readonly Dictionary<Obstacle, List<CompiledPromotion>> others = [];

    /// <param name="story">How the cart was priced.</param>
    /// <param name="worth">What the choice is worth.</param>
    public Nearness(PricingStory story, long worth)
    {
        (this.story, this.worth) = (story, worth);
        HashSet<CompiledPromotion> looked = new(story.Slots, ReferenceEqualityComparer.Instance);
        foreach (var (promotion, _) in story.PricePass?.Outcomes() ?? [])
            looked.Add(promotion);
        foreach (var paid in story.Paid ?? [])
            looked.Add(paid.Promotion);
        var failed = story.Failed?.Select(one => one.Promotion.Id).ToHashSet(StringComparer.Ordinal);
        List<CompiledPromotion> near = [];
        foreach (var promotion in story.Rulebook.Compiled)
        {
            var keeps = looked.Contains(promotion) || failed?.Contains(promotion.Promotion.Id) == true ? Obstacle.Failed : Keeps(promotion);
            if (keeps is Obstacle.Failed or Obstacle.Condition)
                near.Add(promotion);
            else if (others.TryGetValue(keeps, out var same))
                same.Add(promotion);
            else
                others.Add(keeps, [promotion]);
        }

        explained = [.. near.Zip(Explanation.Of(story, worth, [.. near]), (promotion, outcome) => new Explained(promotion, outcome))];
    }

    /// <summary>Those that did not apply, nearest first, at most so many.</summary>
    public IReadOnlyList<Outcome> Nearest(int most)
    {
        var told = explained.Where(entry => !entry.Outcome.Applied).ToList();
        List<CompiledPromotion> further = [];
        foreach (var obstacle in Further)
        {
            // Nothing that stands further away comes before enough that stands nearer.
            var place = PlaceOf(obstacle);
            if (told.Count(entry => entry.Place < place) + further.Count >= most)
                break;
            further.AddRange(Others(obstacle).Take(most));
        }

        // Those that are not among the nearest of their own are not among the nearest of all.
        told = First(told, most, (left, right) =>
            left.Place != right.Place ? left.Place - right.Place : left.Distance.CompareTo(right.Distance)
        );
        told.AddRange(further.Zip(Explanation.Of(story, worth, [.. further]), (promotion, outcome) => new Explained(promotion, outcome)));
        return
        [
            .. told.OrderBy(entry => entry.Place)
                .ThenBy(entry => entry.Distance)
                .ThenBy(entry => entry.Outcome.Promotion, Promotion.Order)
                .Take(most)
                .Select(entry => entry.Outcome),
        ];
    }

    /// <summary>Those that more in the cart could bring, or bring more of, in order of application; of very many the nearest.</summary>
    public IEnumerable<(CompiledPromotion Promotion, Outcome Outcome)> MayWant()
    {
        CompiledPromotion[] idle = [.. Others(Obstacle.None).Where(LooksAtTheCart)];
        return First(explained, MostWanting, (left, right) => left.Distance.CompareTo(right.Distance))
            .Concat(idle.Zip(Explanation.Of(story, worth, idle), (promotion, outcome) => new Explained(promotion, outcome)))
            .OrderBy(entry => entry.Promotion.Promotion, Promotion.Order)
            .Select(entry => (entry.Promotion, entry.Outcome));
    }

    private IReadOnlyList<CompiledPromotion> Others(Obstacle obstacle) => others.TryGetValue(obstacle, out var same) ? same : [];

    // The first so many in some order, and as they stand where that is the same: of very many quicker than to sort them all.
    private static List<Explained> First(IReadOnlyCollection<Explained> all, int most, Comparison<Explained> order)
    {
        var first = new List<Explained>(Math.Min(all.Count, most) + 1);
        var comparer = Comparer<Explained>.Create((left, right) => order(left, right) is not 0 and var differ ? differ : -1);
        foreach (var entry in all)
        {
            if (first.Count == most && order(first[^1], entry) <= 0)
                continue;
            // Behind all that are the same.
            first.Insert(~first.BinarySearch(entry, comparer), entry);
            if (first.Count > most)
                first.RemoveAt(most);
        }

        return first;
    }

    /// <summary>Whether a promotion gives something for what is in the cart.</summary>
    public bool LooksAtTheCart(CompiledPromotion promotion)
    {
        foreach (var reward in promotion.Rewards)
            for (var line = 0; line < story.View.Lines; line++)
                if (reward.LooksAt(story.View, line))
                    return true;
        return false;
    }

    private static int PlaceOf(Obstacle obstacle) =>
        Array.IndexOf(
            ByReason,
            obstacle switch
            {
                Obstacle.Code or Obstacle.SpentCode => "codeNotEntered",
                Obstacle.Between => "betweenOccurrences",
                Obstacle.Ahead => "notStarted",
                Obstacle.Limit => "limitReached",
                Obstacle.Over => "ended",
                _ => "noMatchingItems",
            }
        );

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

    /// <summary>What became of one, with how near it is: applied, 0.</summary>
    private readonly record struct Explained(CompiledPromotion Promotion, Outcome Outcome)
    {
        public int Place { get; } = Outcome.Reason is { } reason ? Array.IndexOf(ByReason, reason.Code) : 0;

        public decimal Distance { get; } = Outcome.Reason is { } reason ? Remedy.Distance(reason) : 0;
    }
}
