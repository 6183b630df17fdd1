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

    /// <summary>
    /// Of all fillings that cost the same, goes over to the one in which slot by slot the units that come first are used.
    /// </summary>
    void PreferFirst();
}

/// <summary>
/// Computes how slots are filled with units at least cost: a transportation problem between slots that need so many units and runs that
/// hold
/// so many, solved by successive shortest paths (Busacker and Gowen 1960; Ahuja, Magnanti and Orlin, Network Flows, 1993, section 9.7).
/// <para>Paths lead from slot to slot: one takes a unit from another, which takes its own from a third, and the last takes a unit that
/// stood in
/// none; the shortest is found by Bellman and Ford over the slots. Runs keep it small however many units there are, and where there are
/// many
/// runs, heaps tell which of them is the cheapest to take.</para>
/// <para>Cost: for each path slots squared, and slots times runs, or a logarithm of them, for each slot whose units changed.</para>
/// </summary>
internal sealed partial class SlotFlow<TCost> : ISlotFilling
    where TCost : struct, INumber<TCost>, IMinMaxValue<TCost>
{
    // Up to so many runs they are looked through for the cheapest.
    private const int FewRuns = 48;

    private readonly int slots;
    private readonly int runs;
    private readonly long[] capacity;
    private readonly WorkBudget work;

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
    public SlotFlow(long[] capacity, bool[] allowed, TCost[] cost, WorkBudget work)
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
        work.Count(2L * flow.Length);
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
                if (distance[slot] == Unreached)
                    return false;
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
                if (!allowed[(slot * runs) + run])
                    continue;
                var amount = Math.Min(need, units[run] - (capacity[run] - flow[(slots * runs) + run]));
                if (amount == 0)
                    continue;
                Move(slots, slot, run, amount);
                need -= amount;
            }

            if (need == 0)
                continue;
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

    // The cheapest way from each slot to one at distance zero, by Bellman and Ford. While slots are being filled, that is what stands in
    // none; when equal fillings are compared, any of them.
    private void FindPaths()
    {
        work.Count(6L * slots * (slots + 1));
        for (var giver = 0; giver <= slots; giver++)
        {
            if (!isStale[giver])
                continue;
            if (runs <= FewRuns)
                FindSteps(giver);
            else
                FindStepsByHeap(giver);
        }

        // Of ways that cost the same the one of fewest steps: no unit is then handed on through a slot that holds few of its run, which
        // would move those few at a time.
        Array.Clear(hops);
        for (var changed = true; changed; )
        {
            changed = false;
            for (var taker = 0; taker <= slots; taker++)
            {
                for (var giver = slots; giver >= 0; giver--)
                {
                    var run = stepRun[(giver * (slots + 1)) + taker];
                    if (run < 0 || distance[giver] == Unreached)
                        continue;
                    var length = step[(giver * (slots + 1)) + taker] + distance[giver];
                    if (length > distance[taker] || (length == distance[taker] && hops[giver] + 1 >= hops[taker]))
                        continue;
                    (distance[taker], hops[taker], next[taker]) = (length, hops[giver] + 1, (giver, run));
                    changed = true;
                }
            }
        }
    }

    private void FindSteps(int giver)
    {
        isStale[giver] = false;
        work.Count((long)(slots + 1) * runs / 4);
        var steps = step.AsSpan(giver * (slots + 1), slots + 1);
        var stepRuns = stepRun.AsSpan(giver * (slots + 1), slots + 1);
        stepRuns.Fill(-1);
        for (var run = 0; run < runs; run++)
        {
            if (flow[(giver * runs) + run] == 0)
                continue;
            for (var taker = 0; taker <= slots; taker++)
            {
                var place = (taker * runs) + run;
                if (taker == giver || !allowed[place])
                    continue;
                var by = cost[place] - cost[(giver * runs) + run];
                if (stepRuns[taker] < 0 || by < steps[taker])
                    (steps[taker], stepRuns[taker]) = (by, run);
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
            if (taker == giver)
                continue;
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
        heap.EnqueueRange(
            Enumerable
                .Range(0, runs)
                .Where(run => flow[(giver * runs) + run] > 0 && allowed[(taker * runs) + run])
                .Select(run => (run, (cost[(taker * runs) + run] - cost[(giver * runs) + run], run)))
        );
        return heap;
    }

    private long Narrowest(int start, int? end = null)
    {
        var amount = long.MaxValue;
        for (var slot = start; slot != (end ?? slots); slot = next[slot].Slot)
            amount = Math.Min(amount, flow[(next[slot].Slot * runs) + next[slot].Run]);
        return amount;
    }

    private void Push(int start, long amount, int? end = null)
    {
        for (var slot = start; slot != (end ?? slots); slot = next[slot].Slot)
            Move(next[slot].Slot, slot, next[slot].Run, amount);
    }

    private void Move(int giver, int taker, int run, long amount)
    {
        var (from, to) = ((giver * runs) + run, (taker * runs) + run);
        // Only a run that is used up, or new in a slot, opens or closes a way.
        if (flow[from] == amount)
            isStale[giver] = true;
        if (flow[to] == 0)
        {
            isStale[taker] = true;
            for (var next = 0; next <= slots; next++)
            {
                if (next == taker || !allowed[(next * runs) + run])
                    continue;
                cheapest[(taker * (slots + 1)) + next]?.Enqueue(run, (cost[(next * runs) + run] - cost[to], run));
            }
        }

        flow[from] -= amount;
        flow[to] += amount;
    }
}
