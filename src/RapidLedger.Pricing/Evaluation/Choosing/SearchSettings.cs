namespace RapidLedger.Pricing;

/// <summary>
/// What tunes the search: each trades time on carts as shops have them for how close hard carts come to the best within one effort. All
/// were
/// set by the hunt of the benchmarks (1,000 hard carts, 250 wide ones; docs/decisions/0004), one changed at a time. None changes what is
/// proved, only when.
/// </summary>
internal static class SearchSettings
{
    /// <summary>
    /// Nodes of the first dive, beside one for each step. Nine of ten carts as shops have them are proved within it; with fewer, they pay
    /// for
    /// a heuristic that they do not need, with more, hard carts reach it later.
    /// </summary>
    public const int NodesOfFirstDive = 150;

    /// <summary>The first dive ends here too, in units of work: so that carts of many lines do not spend an effort on it.</summary>
    public const long UntilFirstDive = WorkBudget.OfOneEffort / 16;

    /// <summary>
    /// The local search ends here, counted from the first node; what is left of the effort is for proving. Earlier, more is proved and wide
    /// carts come less close; later, the other way round.
    /// </summary>
    public const long UntilLocalSearch = WorkBudget.OfOneEffort * 13 / 16;

    /// <summary>With several efforts the local search goes on to here before branch and bound gets all the rest.</summary>
    public const long UntilSecondLocalSearch = WorkBudget.OfOneEffort * 4;

    /// <summary>
    /// What the fillings of all promotions together may cost at first to be exact; each gets its share. Small, as most fillings are easy
    /// and a
    /// few hard ones would take what all others need.
    /// </summary>
    public const long ForFirstFillings = WorkBudget.OfOneEffort / 8;

    /// <summary>Where a filling was not exact, the search is made again with so many times the work for each.</summary>
    public const int MoreForFillings = 8;

    /// <summary>
    /// After so many checks in a row that pruned nothing, a node is no longer asked which promotions it needs: the check costs as much as a
    /// bound for each.
    /// </summary>
    public const int MostFruitlessNeeds = 8;

    /// <summary>
    /// After so many times in a row that prices unit by unit said no more of a part than its own bound, they are no longer worked out for
    /// it.
    /// </summary>
    public const int MostFruitlessPrices = 64;

    /// <summary>Up to so many promotions are packed together by a small search of their own; more are taken greedily.</summary>
    public const int MostToPack = 128;

    /// <summary>Nodes of that small search.</summary>
    public const int MostPackingNodes = 200;

    /// <summary>Up to so many promotions a clique cover is a bound: sets of them are bits of one word.</summary>
    public const int MostForCliqueCover = 64;

    /// <summary>So many bounds (parts times lines) are worked out whether or not there is work left; more only while there is.</summary>
    public const int FewToBound = 20_000;

    /// <summary>
    /// A bound that costs at most so much for each run (sorting, no filling) is worked out anew whenever it is asked for.
    /// </summary>
    public const int CheapPerRun = 16;
}
