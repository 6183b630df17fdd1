namespace RapidLedger.Pricing;

/// <content>How few promotions it takes to bring what is missing, and which of them it takes.</content>
internal sealed partial class Outlook
{
    /// <summary>The fewest promotions not yet in that could add so much worth, and points or gifts if those are missing too.</summary>
    public int Fewest(int level, int from, ReadOnlySpan<bool> isOpen, List<int> taken, Wanted wanted)
    {
        var (missing, wantsMore) = (wanted.Worth, wanted.Points > 0 || wanted.Units > 0);
        var worth = worths.AsSpan(0, eligible.Length);
        worth.Clear();
        for (var at = from; at < parts.Count; at++)
        {
            if (!isOpen[parts[at].Slot]) continue;
            if (taken.Contains(parts[at].Slot))
            {
                // What is in already may still bring them.
                missing -= alone[(level * parts.Count) + at];
                wantsMore = false;
            }
            else worth[parts[at].Slot] += alone[(level * parts.Count) + at];
        }

        worth.Sort();
        var count = 0;
        for (var i = worth.Length - 1; i >= 0 && missing > 0; i--, count++) missing -= worth[i];
        return wantsMore ? Math.Max(1, count) : count;
    }

    /// <summary>
    /// Finds among those that are not in yet the ones without which what is still to come could not add so much, as far as is told by bounds that
    /// may be loose.
    /// </summary>
    /// <param name="level">The level of the search.</param>
    /// <param name="from">The place of the first part still to come.</param>
    /// <param name="isOpen">Whether a promotion is in, or could still come in; the same again afterwards.</param>
    /// <param name="taken">Those that are in.</param>
    /// <param name="wanted">What is missing.</param>
    /// <param name="needed">They are added here.</param>
    /// <param name="spare">So many that are not needed are enough.</param>
    /// <returns>False where more than that are not needed: then not all were asked.</returns>
    public bool FindNeeded(int level, int from, Span<bool> isOpen, List<int> taken, Wanted wanted, List<int> needed, int spare)
    {
        lowest.Open(sheet, sheet.Runs);
        var coming = default(Coming);
        Span<bool> isAsked = eligible.Length <= 128 ? stackalloc bool[eligible.Length] : new bool[eligible.Length];
        isAsked.Clear();
        foreach (var slot in taken) isAsked[slot] = true;
        for (var at = from; at < parts.Count; at++)
        {
            var slot = parts[at].Slot;
            if (!isOpen[slot]) continue;
            if (!isAsked[slot])
            {
                isAsked[slot] = true;
                isOpen[slot] = false;
                var isNeeded = !ReachesFurther(coming, level, from, at + 1, isOpen, wanted);
                isOpen[slot] = true;
                if (isNeeded) needed.Add(slot);
                else if (spare-- <= 0) return false;
            }

            Add(ref coming, lowest, level, at, anew: false);
        }

        return true;
    }

    /// <summary>Whether what is still to come could add so much, as far as is told by bounds that may be loose.</summary>
    public bool Reaches(int level, int from, ReadOnlySpan<bool> isOpen, Wanted wanted) =>
        AsFarAsKnown(level, from, isOpen, wanted.Worth) >= wanted.Worth && BringsBeside(level, from, isOpen, wanted);

    // The same, where up to a place all stands already at the lowest prices.
    private bool ReachesFurther(Coming coming, int level, int from, int at, ReadOnlySpan<bool> isOpen, Wanted wanted)
    {
        sheet.Work.Count((parts.Count / 4) + (lowest.Lines.Length / 4));
        if (!BringsBeside(level, from, isOpen, wanted) || AtMostAlone(level, from, isOpen) < wanted.Worth || (excludes && Apart(level, from, isOpen) < wanted.Worth)) return false;
        without.Copy(lowest);
        for (; at < parts.Count && coming.Most(sheet) < wanted.Worth; at++) if (isOpen[parts[at].Slot]) Add(ref coming, without, level, at, anew: false);
        return coming.Most(sheet) >= wanted.Worth;
    }

    private bool BringsBeside(int level, int from, ReadOnlySpan<bool> isOpen, Wanted wanted) =>
        Points(level, from, isOpen, wanted.Worth) >= wanted.Points && GiftUnits(from, isOpen) >= wanted.Units;
}

/// <summary>What is missing to a choice.</summary>
/// <param name="Worth">In minor units.</param>
/// <param name="Points">Beside it.</param>
/// <param name="Units">Of gifts, beside it.</param>
internal readonly record struct Wanted(long Worth, long Points, long Units);
