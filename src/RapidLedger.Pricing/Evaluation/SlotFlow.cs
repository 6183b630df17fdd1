using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>How many units of each run stand in each slot.</summary>
internal interface ISlotFilling
{
    /// <summary>How many units of a run stand in a slot.</summary>
    long this[int slot, int run] { get; }

    /// <summary>Fills every slot with as many units as it needs, at least cost; false if that cannot be.</summary>
    bool Fill(ReadOnlySpan<long> needs);

    /// <summary>Fills every slot with so many more units, so that all together cost least; false if that cannot be.</summary>
    bool FillMore(ReadOnlySpan<long> needs);

    /// <summary>Of all fillings that cost the same, goes over to the one in which slot by slot the units that come first are used.</summary>
    void PreferFirst();
}

/// <summary>
/// Fills slots with units at least cost: a transportation problem between slots that need so many units and runs that hold so many,
/// solved by successive shortest paths (Busacker and Gowen). Paths lead from slot to slot: one takes a unit from another, which takes
/// its own from a third, and the last one takes a unit that stood in none. Runs keep it small however many units there are.
/// </summary>
internal sealed class SlotFlow<TCost> : ISlotFilling
    where TCost : struct, INumber<TCost>, IMinMaxValue<TCost>
{
    private readonly int slots;
    private readonly int runs;
    private readonly long[] capacity;
    private readonly bool[,] allowed;
    private readonly TCost[,] cost;
    // One row more than slots: the units that stand in none.
    private readonly long[,] flow;
    private readonly long[] open;
    private readonly TCost[] distance;
    private readonly (int Slot, int Run)[] next;
    private readonly TCost[,] step;
    private readonly int[,] stepRun;
    private bool[,]? isFixed;

    public SlotFlow(long[] capacity, bool[,] allowed, TCost[,] cost)
    {
        (this.capacity, this.allowed, this.cost) = (capacity, allowed, cost);
        (slots, runs) = (allowed.GetLength(0), capacity.Length);
        flow = new long[slots + 1, runs];
        open = new long[slots];
        distance = new TCost[slots + 1];
        next = new (int, int)[slots + 1];
        step = new TCost[slots + 1, slots + 1];
        stepRun = new int[slots + 1, slots + 1];
        Empty();
    }

    private static TCost Unreached => TCost.MaxValue;

    public long this[int slot, int run] => flow[slot, run];

    /// <summary>What the filling costs.</summary>
    public TCost Cost
    {
        get
        {
            var sum = TCost.Zero;
            for (var slot = 0; slot < slots; slot++) for (var run = 0; run < runs; run++) sum += cost[slot, run] * TCost.CreateChecked(flow[slot, run]);
            return sum;
        }
    }

    public bool Fill(ReadOnlySpan<long> needs)
    {
        Empty();
        return FillMore(needs);
    }

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

    public void PreferFirst()
    {
        // With the lengths of the cheapest ways as potentials, a circle that costs nothing has only steps that cost nothing.
        Array.Clear(distance);
        FindPaths();
        TCost[] potential = [.. distance];
        isFixed = new bool[slots, runs];
        for (var slot = 0; slot < slots; slot++)
        {
            for (var run = 0; run < runs; run++)
            {
                if (!allowed[slot, run]) continue;
                isFixed[slot, run] = true;
                while (flow[slot, run] < capacity[run] && CouldMove(slot, run, potential))
                {
                    // A circle: the slot gets a unit of the run, whoever had it takes another, and so on until the slot gives one up.
                    Array.Fill(distance, Unreached);
                    distance[slot] = TCost.Zero;
                    FindPaths();
                    var giver = -1;
                    for (var other = 0; other <= slots && giver < 0; other++)
                        if (other != slot && distance[other] != Unreached && CanGive(other, run) && CostOf(slot, run) - CostOf(other, run) + distance[other] == TCost.Zero) giver = other;
                    if (giver < 0) break;
                    var amount = Math.Min(flow[giver, run], Narrowest(giver, slot));
                    flow[giver, run] -= amount;
                    flow[slot, run] += amount;
                    Push(giver, amount, slot);
                }
            }
        }

        isFixed = null;
    }

    private bool CouldMove(int slot, int run, TCost[] potential)
    {
        for (var giver = 0; giver <= slots; giver++)
            if (giver != slot && CanGive(giver, run) && CostOf(slot, run) - CostOf(giver, run) + potential[giver] == potential[slot]) return true;
        return false;
    }

    private void Empty()
    {
        Array.Clear(flow);
        for (var run = 0; run < runs; run++) flow[slots, run] = capacity[run];
    }

    private TCost CostOf(int slot, int run) => slot == slots ? TCost.Zero : cost[slot, run];

    private bool CanGive(int slot, int run) => flow[slot, run] > 0 && (slot == slots || isFixed is null || !isFixed[slot, run]);

    // The cheapest way from each slot to the one at distance zero, by Bellman and Ford. While slots are being filled, what stands in
    // none is where every way ends; when equal fillings are compared it is a slot like the others, which anything may stand in.
    private void FindPaths()
    {
        for (var taker = 0; taker <= slots; taker++)
        {
            for (var giver = 0; giver <= slots; giver++)
            {
                var (best, by) = (Unreached, -1);
                if (taker != giver)
                {
                    for (var run = 0; run < runs; run++)
                    {
                        if (taker < slots && (!allowed[taker, run] || (isFixed is not null && isFixed[taker, run]))) continue;
                        if (!CanGive(giver, run)) continue;
                        var by1 = CostOf(taker, run) - CostOf(giver, run);
                        if (by1 < best) (best, by) = (by1, run);
                    }
                }

                (step[taker, giver], stepRun[taker, giver]) = (best, by);
            }
        }

        for (var changed = true; changed;)
        {
            changed = false;
            for (var taker = 0; taker <= slots; taker++)
            {
                for (var giver = 0; giver <= slots; giver++)
                {
                    if (stepRun[taker, giver] < 0 || distance[giver] == Unreached) continue;
                    var length = step[taker, giver] + distance[giver];
                    if (length >= distance[taker]) continue;
                    (distance[taker], next[taker]) = (length, (giver, stepRun[taker, giver]));
                    changed = true;
                }
            }
        }
    }

    private long Narrowest(int start, int? end = null)
    {
        var amount = long.MaxValue;
        for (var slot = start; slot != (end ?? slots); slot = next[slot].Slot) amount = Math.Min(amount, flow[next[slot].Slot, next[slot].Run]);
        return amount;
    }

    private void Push(int start, long amount, int? end = null)
    {
        for (var slot = start; slot != (end ?? slots); slot = next[slot].Slot)
        {
            var (giver, run) = next[slot];
            flow[slot, run] += amount;
            flow[giver, run] -= amount;
        }
    }
}
