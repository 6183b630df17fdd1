namespace RapidLedger.Pricing;

/// <content>How few promotions it takes to bring what is missing, and which of them it takes.</content>
internal sealed partial class UpperBounds
{
    /// <summary>The fewest promotions not yet in that could add so much worth, and points or gifts if those are missing too.</summary>
    public int FewestPromotions(int level, int from, ReadOnlySpan<bool> isOpen, List<int> taken, Missing missing)
    {
        var (worthMissing, wantsMore) = (missing.Worth, missing.Points > 0 || missing.Units > 0);
        var worth = worths.AsSpan(0, eligible.Length);
        worth.Clear();
        for (var at = from; at < parts.Count; at++)
        {
            if (!isOpen[parts[at].Slot])
                continue;
            if (taken.Contains(parts[at].Slot))
            {
                // What is in already may still bring them.
                worthMissing -= solo[(level * parts.Count) + at];
                wantsMore = false;
            }
            else
                worth[parts[at].Slot] += solo[(level * parts.Count) + at];
        }

        worth.Sort();
        var count = 0;
        for (var i = worth.Length - 1; i >= 0 && worthMissing > 0; i--, count++)
            worthMissing -= worth[i];
        return wantsMore ? Math.Max(1, count) : count;
    }

    /// <summary>
    /// Finds among those that are not in yet the ones without which what is still to come could not add so much, as far as is told by
    /// bounds that
    /// may be loose.
    /// </summary>
    /// <param name="level">The level of the search.</param>
    /// <param name="from">The place of the first part still to come.</param>
    /// <param name="isOpen">Whether a promotion is in, or could still come in; the same again afterwards.</param>
    /// <param name="taken">Those that are in.</param>
    /// <param name="missing">What is missing.</param>
    /// <param name="needed">They are added here.</param>
    /// <param name="spare">So many that are not needed are enough.</param>
    /// <returns>False where more than that are not needed: then not all were asked.</returns>
    public bool FindNeeded(int level, int from, Span<bool> isOpen, List<int> taken, Missing missing, List<int> needed, int spare)
    {
        lowest.Open(sheet, sheet.Runs);
        var sum = default(BoundSum);
        Span<bool> isAsked = eligible.Length <= 128 ? stackalloc bool[eligible.Length] : new bool[eligible.Length];
        isAsked.Clear();
        foreach (var slot in taken)
            isAsked[slot] = true;
        for (var at = from; at < parts.Count; at++)
        {
            var slot = parts[at].Slot;
            if (!isOpen[slot])
                continue;
            if (!isAsked[slot])
            {
                isAsked[slot] = true;
                isOpen[slot] = false;
                var isNeeded = !ReachesFurther(sum, level, from, at + 1, isOpen, missing);
                isOpen[slot] = true;
                if (isNeeded)
                    needed.Add(slot);
                else if (spare-- <= 0)
                    return false;
            }

            Add(ref sum, lowest, level, at, anew: false);
        }

        return true;
    }

    /// <summary>Whether what is still to come could add so much, as far as is told by bounds that may be loose.</summary>
    public bool Reaches(int level, int from, ReadOnlySpan<bool> isOpen, Missing missing) =>
        ByKnownBounds(level, from, isOpen, missing.Worth) >= missing.Worth && ReachesTies(level, from, isOpen, missing);

    // The same, where up to a place all stands already at the lowest prices.
    private bool ReachesFurther(BoundSum sum, int level, int from, int at, ReadOnlySpan<bool> isOpen, Missing missing)
    {
        sheet.Work.Count((parts.Count / 4) + (lowest.Lines.Length / 4));
        if (
            !ReachesTies(level, from, isOpen, missing)
            || SumOfSoloBounds(level, from, isOpen) < missing.Worth
            || (excludes && CliqueCover(level, from, isOpen) < missing.Worth)
        )
            return false;
        without.Copy(lowest);
        for (; at < parts.Count && sum.Most(sheet) < missing.Worth; at++)
            if (isOpen[parts[at].Slot])
                Add(ref sum, without, level, at, anew: false);
        return sum.Most(sheet) >= missing.Worth;
    }

    private bool ReachesTies(int level, int from, ReadOnlySpan<bool> isOpen, Missing missing) =>
        Points(level, from, isOpen, missing.Worth) >= missing.Points && GiftUnits(from, isOpen) >= missing.Units;
}

/// <summary>What is missing to a choice.</summary>
/// <param name="Worth">In minor units.</param>
/// <param name="Points">Beside it.</param>
/// <param name="Units">Of gifts, beside it.</param>
internal readonly record struct Missing(long Worth, long Points, long Units);
