namespace RapidLedger.Pricing;

/// <summary>The fillings of the bundles of one cart, and how far each may go to be exact.</summary>
internal sealed class Fillings
{
    private readonly Dictionary<ReadyReward, BundleFilling> byReward = new(ReferenceEqualityComparer.Instance);

    /// <summary>Room for sets in which it does not matter where a unit stands.</summary>
    public TransversalGreedy Sets { get; } = new();

    /// <summary>The most work that one filling may put into being exact.</summary>
    public long MostWork { get; private set; }

    /// <summary>Whether everything that was filled so far is what was asked for, and not only close to it.</summary>
    public bool IsExact { get; private set; } = true;

    /// <summary>
    /// Whether fillings are found by a heuristic: greedily where a flow would be needed, and of equal ones any. For incumbents.
    /// </summary>
    public bool IsHeuristic { get; set; }

    /// <summary>Whether some filling may take less than the one that was asked for.</summary>
    public bool MayUndershoot { get; private set; }

    /// <summary>Whether no bundle was filled since it was begun.</summary>
    public bool IsEmpty => byReward.Count == 0;

    /// <summary>Notes that a filling was too hard to be found exactly.</summary>
    /// <param name="mayUndershoot">Whether what was found in its place may take less.</param>
    public void MarkInexact(bool mayUndershoot)
    {
        if (IsHeuristic)
            return;
        (IsExact, MayUndershoot) = (false, MayUndershoot || mayUndershoot);
    }

    /// <summary>Forgets what was found, and gives each filling so much work from now on, to be exact.</summary>
    public void Begin(long mostWork)
    {
        byReward.Clear();
        (MostWork, IsExact, MayUndershoot, IsHeuristic) = (mostWork, true, false, false);
    }

    public void Clear() => Begin(0);

    /// <summary>The filling of a bundle, made when it is first asked for.</summary>
    public BundleFilling Of(ReadyReward reward, Func<BundleFilling> make)
    {
        if (!byReward.TryGetValue(reward, out var filling))
            byReward.Add(reward, filling = make());
        return filling;
    }
}
