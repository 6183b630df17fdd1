namespace RapidLedger.Pricing;

/// <content>Of fillings that cost the same, the one that uses the units that come first.</content>
internal sealed partial class SlotFlow<TCost>
{
    public void PreferFirst()
    {
        // With the lengths of the cheapest ways as potentials, a circle that costs nothing has only steps that cost nothing: each run
        // moves only among the slots where its cost less the potential is least.
        Array.Clear(distance);
        FindPaths();
        Array.Clear(cheapest);
        var isFree = new bool[(slots + 1) * runs];
        int[] shared = [.. Enumerable.Range(0, runs).Where(run => Free(run, isFree) > 1)];
        work.Count(3L * (slots + 1) * runs);
        // By giver and taker, where among those the next stands that the one can hand to the other; none: -1.
        var handed = new int[(slots + 1) * (slots + 1)];
        var reached = new List<int>(slots + 1);
        for (var slot = 0; slot < slots; slot++)
        {
            reached.Clear();
            foreach (var run in shared)
            {
                var place = (slot * runs) + run;
                if (!isFree[place])
                    continue;
                if (work.IsOver)
                    break;
                // As many as can come in from others; then they stay.
                isFree[place] = false;
                if (flow[place] > 0 && reached.Exists(taker => next[taker] == (slot, run)))
                    reached.Clear();
                while (flow[place] < capacity[run] && NearestGiver(slot, run) is >= 0 and var giver)
                {
                    var amount = Math.Min(flow[(giver * runs) + run], Narrowest(giver, slot));
                    Move(giver, slot, run, amount);
                    Push(giver, amount, slot);
                    for (var taker = giver; taker != slot; taker = next[taker].Slot)
                        Gets(taker, next[taker].Run);
                    reached.Clear();
                }
            }
        }

        Array.Fill(isStale, true);

        // A circle: the slot gets a unit of the run, whoever had it takes another, and so on until the slot gives one up. The nearest that
        // could
        // give it, by steps from the slot on; -1 if nobody could.
        int NearestGiver(int slot, int run)
        {
            var isHeld = false;
            for (var other = 0; other <= slots; other++)
                isHeld |= CanGive(other, run);
            if (!isHeld)
                return -1;
            // Whoever it is for, the ways from the slot are the same, as long as no unit moves and none that they lead over stays.
            if (reached.Count == 0)
                Reach(slot);
            foreach (var giver in reached)
                if (CanGive(giver, run))
                    return giver;
            return -1;
        }

        void Reach(int slot)
        {
            work.Count((slots + 1) * (slots + 1));
            Array.Fill(hops, -1);
            (hops[slot], next[slot]) = (0, (-1, -1));
            reached.Add(slot);
            for (var at = 0; at < reached.Count; at++)
            {
                var giver = reached[at];
                for (var taker = 0; taker <= slots; taker++)
                {
                    if (hops[taker] >= 0 || Handed(giver, taker) is not (>= 0 and var run))
                        continue;
                    (hops[taker], next[taker]) = (hops[giver] + 1, (giver, run));
                    reached.Add(taker);
                }
            }
        }

        // Goes round those that are shared from where it found the last one.
        int Handed(int giver, int taker)
        {
            ref var at = ref handed[(giver * (slots + 1)) + taker];
            var looked = 0;
            for (; at >= 0 && looked < shared.Length && !(CanGive(giver, shared[at]) && isFree[(taker * runs) + shared[at]]); looked++)
                at = (at + 1) % shared.Length;
            work.Count(2L * looked);
            if (looked == shared.Length)
                at = -1;
            return at < 0 ? -1 : shared[at];
        }

        // What a slot holds anew it may hand on to those to which it could hand nothing.
        void Gets(int slot, int run)
        {
            for (var taker = 0; taker <= slots; taker++)
            {
                ref var at = ref handed[(slot * (slots + 1)) + taker];
                if (at < 0 && isFree[(taker * runs) + run])
                    at = Array.BinarySearch(shared, run);
            }
        }

        bool CanGive(int slot, int run) => isFree[(slot * runs) + run] && flow[(slot * runs) + run] > 0;
    }

    // Marks where a run costs least beyond the potentials: it may move among these, and stands in no others.
    private int Free(int run, bool[] isFree)
    {
        var (least, found) = (Unreached, 0);
        for (var slot = 0; slot <= slots; slot++)
            if (allowed[(slot * runs) + run])
                least = TCost.Min(least, cost[(slot * runs) + run] - distance[slot]);
        for (var slot = 0; slot <= slots; slot++)
        {
            if (!allowed[(slot * runs) + run] || cost[(slot * runs) + run] - distance[slot] != least)
                continue;
            isFree[(slot * runs) + run] = true;
            found++;
        }

        return found;
    }
}
