using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>How many units of each run stand in each slot.</summary>
internal interface ISlotFilling
{
    /// <summary>Slot after slot, how many units of each run stand in it.</summary>
    long[] BySlot { get; }

    /// <summary>Fills every slot with so many more units, so that all together cost least; false if that cannot be.</summary>
    bool FillMore(ReadOnlySpan<long> needs);

    /// <summary>
    /// Fills every slot with units of those that are given, all of which cost the same wherever they stand and together cost least.
    /// False if it takes more than to fill slot by slot; nothing is filled then.
    /// </summary>
    bool FillWith(ReadOnlySpan<int> units, ReadOnlySpan<long> needs);

    /// <summary>Empties every slot.</summary>
    void Empty();

    /// <summary>Remembers the filling.</summary>
    void Save();

    /// <summary>Goes back to the filling that is remembered.</summary>
    void Restore();

    /// <summary>Of all fillings that cost the same, goes over to the one in which slot by slot the units that come first are used.</summary>
    void PreferFirst();
}

/// <summary>
/// Fills slots with units at least cost: a transportation problem between slots that need so many units and runs that hold so many,
/// solved by successive shortest paths (Busacker and Gowen). Paths lead from slot to slot: one takes a unit from another, which takes
/// its own from a third, and the last one takes a unit that stood in none. Runs keep it small however many units there are, and where
/// there are many runs, heaps tell which of them is the cheapest to take.
/// </summary>
internal sealed class SlotFlow<TCost> : ISlotFilling
    where TCost : struct, INumber<TCost>, IMinMaxValue<TCost>
{
    // Up to so many runs they are looked through for the cheapest.
    private const int FewRuns = 48;

    private readonly int slots;
    private readonly int runs;
    private readonly long[] capacity;
    private readonly Work work;
    // By giver and taker the runs that the giver holds, the cheapest to be taken first; those that it holds no more are passed over.
    private readonly PriorityQueue<int, (TCost By, int Run)>?[] cheapest;
    // Slot after slot, in each the runs; the last row is that of the units that stand in no slot.
    private readonly bool[] allowed;
    private readonly TCost[] cost;
    private readonly long[] flow;
    private readonly long[] open;
    private readonly TCost[] distance;
    // How many steps the way at that distance has.
    private readonly int[] hops;
    private readonly (int Slot, int Run)[] next;
    // The cheapest way for a slot to take a unit from another one, and whether it must be found anew because that one's units changed.
    private readonly TCost[] step;
    private readonly int[] stepRun;
    private readonly bool[] isStale;
    private long[]? saved;

    /// <param name="capacity">Units in each run.</param>
    /// <param name="allowed">Slot after slot, which runs may stand in it.</param>
    /// <param name="cost">Slot after slot, what a unit of each run costs in it.</param>
    /// <param name="work">Counts what is done.</param>
    public SlotFlow(long[] capacity, bool[] allowed, TCost[] cost, Work work)
    {
        this.work = work;
        (runs, slots) = (capacity.Length, allowed.Length / capacity.Length);
        this.capacity = capacity;
        this.allowed = [.. allowed, .. Enumerable.Repeat(true, runs)];
        this.cost = [.. cost, .. new TCost[runs]];
        flow = new long[(slots + 1) * runs];
        open = new long[slots];
        distance = new TCost[slots + 1];
        hops = new int[slots + 1];
        next = new (int, int)[slots + 1];
        step = new TCost[(slots + 1) * (slots + 1)];
        stepRun = new int[(slots + 1) * (slots + 1)];
        isStale = new bool[slots + 1];
        cheapest = new PriorityQueue<int, (TCost, int)>?[(slots + 1) * (slots + 1)];
        work.Count(4L * flow.Length);
        Empty();
    }

    private static TCost Unreached => TCost.MaxValue;

    public long[] BySlot => flow[..(slots * runs)];

    public bool FillMore(ReadOnlySpan<long> needs)
    {
        needs.CopyTo(open);
        for (var slot = 0; slot < slots; slot++)
        {
            while (open[slot] > 0)
            {
                Array.Fill(distance, Unreached);
                distance[slots] = TCost.Zero;
                FindPaths();
                if (distance[slot] == Unreached) return false;
                var amount = Math.Min(open[slot], Narrowest(slot));
                Push(slot, amount);
                open[slot] -= amount;
            }
        }

        return true;
    }

    public bool FillWith(ReadOnlySpan<int> units, ReadOnlySpan<long> needs)
    {
        Empty();
        for (var slot = 0; slot < slots; slot++)
        {
            var need = needs[slot];
            for (var run = 0; run < runs && need > 0; run++)
            {
                if (!allowed[(slot * runs) + run]) continue;
                var amount = Math.Min(need, units[run] - (capacity[run] - flow[(slots * runs) + run]));
                if (amount == 0) continue;
                Move(slots, slot, run, amount);
                need -= amount;
            }

            if (need == 0) continue;
            Empty();
            return false;
        }

        return true;
    }

    public void Empty()
    {
        Array.Clear(flow);
        capacity.CopyTo(flow, slots * runs);
        Array.Fill(isStale, true);
        Array.Clear(cheapest);
    }

    public void Save() => flow.CopyTo(saved ??= new long[flow.Length], 0);

    public void Restore()
    {
        saved!.CopyTo(flow, 0);
        Array.Fill(isStale, true);
        Array.Clear(cheapest);
    }

    public void PreferFirst()
    {
        // With the lengths of the cheapest ways as potentials, a circle that costs nothing has only steps that cost nothing: each run
        // moves only among the slots where its cost less the potential is least.
        Array.Clear(distance);
        FindPaths();
        Array.Clear(cheapest);
        var isFree = new bool[(slots + 1) * runs];
        int[] shared = [.. Enumerable.Range(0, runs).Where(run => Free(run, isFree) > 1)];
        work.Count((long)(slots + 1) * runs);
        // By giver and taker, where among those the next stands that the one can hand to the other; none: -1.
        var handed = new int[(slots + 1) * (slots + 1)];
        var reached = new List<int>(slots + 1);
        for (var slot = 0; slot < slots; slot++)
        {
            reached.Clear();
            foreach (var run in shared)
            {
                var place = (slot * runs) + run;
                if (!isFree[place]) continue;
                if (work.IsOver) break;
                // As many as can come in from others; then they stay.
                isFree[place] = false;
                if (flow[place] > 0 && reached.Exists(taker => next[taker] == (slot, run))) reached.Clear();
                while (flow[place] < capacity[run] && NearestGiver(slot, run) is >= 0 and var giver)
                {
                    var amount = Math.Min(flow[(giver * runs) + run], Narrowest(giver, slot));
                    Move(giver, slot, run, amount);
                    Push(giver, amount, slot);
                    for (var taker = giver; taker != slot; taker = next[taker].Slot) Gets(taker, next[taker].Run);
                    reached.Clear();
                }
            }
        }

        Array.Fill(isStale, true);

        // A circle: the slot gets a unit of the run, whoever had it takes another, and so on until the slot gives one up. The nearest that could
        // give it, by steps from the slot on; -1 if nobody could.
        int NearestGiver(int slot, int run)
        {
            var isHeld = false;
            for (var other = 0; other <= slots; other++) isHeld |= CanGive(other, run);
            if (!isHeld) return -1;
            // Whoever it is for, the ways from the slot are the same, as long as no unit moves and none that they lead over stays.
            if (reached.Count == 0) Reach(slot);
            foreach (var giver in reached) if (CanGive(giver, run)) return giver;
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
                    if (hops[taker] >= 0 || Handed(giver, taker) is not (>= 0 and var run)) continue;
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
            for (; at >= 0 && looked < shared.Length && !(CanGive(giver, shared[at]) && isFree[(taker * runs) + shared[at]]); looked++) at = (at + 1) % shared.Length;
            work.Count(looked);
            if (looked == shared.Length) at = -1;
            return at < 0 ? -1 : shared[at];
        }

        // What a slot holds anew it may hand on to those to which it could hand nothing.
        void Gets(int slot, int run)
        {
            for (var taker = 0; taker <= slots; taker++)
            {
                ref var at = ref handed[(slot * (slots + 1)) + taker];
                if (at < 0 && isFree[(taker * runs) + run]) at = Array.BinarySearch(shared, run);
            }
        }

        bool CanGive(int slot, int run) => isFree[(slot * runs) + run] && flow[(slot * runs) + run] > 0;
    }

    // Marks where a run costs least beyond the potentials: it may move among these, and stands in no others.
    private int Free(int run, bool[] isFree)
    {
        var (least, found) = (Unreached, 0);
        for (var slot = 0; slot <= slots; slot++) if (allowed[(slot * runs) + run]) least = TCost.Min(least, cost[(slot * runs) + run] - distance[slot]);
        for (var slot = 0; slot <= slots; slot++)
        {
            if (!allowed[(slot * runs) + run] || cost[(slot * runs) + run] - distance[slot] != least) continue;
            isFree[(slot * runs) + run] = true;
            found++;
        }

        return found;
    }

    // The cheapest way from each slot to one at distance zero, by Bellman and Ford. While slots are being filled, that is what stands in
    // none; when equal fillings are compared, any of them.
    private void FindPaths()
    {
        work.Count(2L * slots * (slots + 1));
        for (var giver = 0; giver <= slots; giver++)
        {
            if (!isStale[giver]) continue;
            if (runs <= FewRuns) FindSteps(giver);
            else FindStepsByHeap(giver);
        }

        // Of ways that cost the same the one of fewest steps: no unit is then handed on through a slot that holds few of its run, which
        // would move those few at a time.
        Array.Clear(hops);
        for (var changed = true; changed;)
        {
            changed = false;
            for (var taker = 0; taker <= slots; taker++)
            {
                for (var giver = slots; giver >= 0; giver--)
                {
                    var run = stepRun[(giver * (slots + 1)) + taker];
                    if (run < 0 || distance[giver] == Unreached) continue;
                    var length = step[(giver * (slots + 1)) + taker] + distance[giver];
                    if (length > distance[taker] || (length == distance[taker] && hops[giver] + 1 >= hops[taker])) continue;
                    (distance[taker], hops[taker], next[taker]) = (length, hops[giver] + 1, (giver, run));
                    changed = true;
                }
            }
        }
    }

    private void FindSteps(int giver)
    {
        isStale[giver] = false;
        work.Count((long)(slots + 1) * runs / 2);
        var steps = step.AsSpan(giver * (slots + 1), slots + 1);
        var stepRuns = stepRun.AsSpan(giver * (slots + 1), slots + 1);
        stepRuns.Fill(-1);
        for (var run = 0; run < runs; run++)
        {
            if (flow[(giver * runs) + run] == 0) continue;
            for (var taker = 0; taker <= slots; taker++)
            {
                var place = (taker * runs) + run;
                if (taker == giver || !allowed[place]) continue;
                var by = cost[place] - cost[(giver * runs) + run];
                if (stepRuns[taker] < 0 || by < steps[taker]) (steps[taker], stepRuns[taker]) = (by, run);
            }
        }
    }

    private void FindStepsByHeap(int giver)
    {
        isStale[giver] = false;
        for (var taker = 0; taker <= slots; taker++)
        {
            var pair = (giver * (slots + 1)) + taker;
            stepRun[pair] = -1;
            if (taker == giver) continue;
            var heap = cheapest[pair] ??= Heap(giver, taker);
            while (heap.TryPeek(out var run, out var at))
            {
                if (flow[(giver * runs) + run] > 0)
                {
                    (step[pair], stepRun[pair]) = (at.By, run);
                    break;
                }

                heap.Dequeue();
            }
        }
    }

    private PriorityQueue<int, (TCost By, int Run)> Heap(int giver, int taker)
    {
        work.Count(2L * runs);
        var heap = new PriorityQueue<int, (TCost By, int Run)>();
        heap.EnqueueRange(Enumerable.Range(0, runs).Where(run => flow[(giver * runs) + run] > 0 && allowed[(taker * runs) + run])
            .Select(run => (run, (cost[(taker * runs) + run] - cost[(giver * runs) + run], run))));
        return heap;
    }

    private long Narrowest(int start, int? end = null)
    {
        var amount = long.MaxValue;
        for (var slot = start; slot != (end ?? slots); slot = next[slot].Slot) amount = Math.Min(amount, flow[(next[slot].Slot * runs) + next[slot].Run]);
        return amount;
    }

    private void Push(int start, long amount, int? end = null)
    {
        for (var slot = start; slot != (end ?? slots); slot = next[slot].Slot) Move(next[slot].Slot, slot, next[slot].Run, amount);
    }

    private void Move(int giver, int taker, int run, long amount)
    {
        var (from, to) = ((giver * runs) + run, (taker * runs) + run);
        // Only a run that is used up, or new in a slot, opens or closes a way.
        if (flow[from] == amount) isStale[giver] = true;
        if (flow[to] == 0)
        {
            isStale[taker] = true;
            for (var next = 0; next <= slots; next++)
            {
                if (next == taker || !allowed[(next * runs) + run]) continue;
                cheapest[(taker * (slots + 1)) + next]?.Enqueue(run, (cost[(next * runs) + run] - cost[to], run));
            }
        }

        flow[from] -= amount;
        flow[to] += amount;
    }
}
