namespace RapidLedger.Pricing;

/// <summary>
/// Fills slots with units at least cost: a transportation problem between slots that need so many units and runs that hold so many,
/// solved by successive shortest paths (Busacker and Gowen). Runs keep it small however many units there are.
/// </summary>
internal sealed class SlotFlow(long[] capacity, bool[,] allowed, Int128[,] cost)
{
    private readonly int slots = allowed.GetLength(0);
    private readonly int runs = capacity.Length;
    private readonly long[,] flow = new long[allowed.GetLength(0), capacity.Length];
    private readonly long[] used = new long[capacity.Length];
    private readonly long[] open = new long[allowed.GetLength(0)];
    // One node more than slots and runs: the units that stand in no slot.
    private readonly Int128[] distance = new Int128[allowed.GetLength(0) + capacity.Length + 1];
    private readonly int[] from = new int[allowed.GetLength(0) + capacity.Length + 1];

    private static Int128 Unreached => Int128.MaxValue;

    /// <summary>How many units of a run stand in a slot.</summary>
    public long this[int slot, int run] => flow[slot, run];

    /// <summary>What the filling costs.</summary>
    public Int128 Cost
    {
        get
        {
            Int128 sum = 0;
            for (var slot = 0; slot < slots; slot++) for (var run = 0; run < runs; run++) sum += cost[slot, run] * flow[slot, run];
            return sum;
        }
    }

    /// <summary>Fills every slot with as many units as it needs, at least cost; false if that cannot be.</summary>
    public bool Fill(ReadOnlySpan<long> needs)
    {
        Array.Clear(flow);
        Array.Clear(used);
        return FillMore(needs);
    }

    /// <summary>Fills every slot with so many more units, so that all together cost least; false if that cannot be.</summary>
    public bool FillMore(ReadOnlySpan<long> needs)
    {
        needs.CopyTo(open);
        while (true)
        {
            Array.Fill(distance, Unreached);
            var any = false;
            for (var slot = 0; slot < slots; slot++)
            {
                if (open[slot] == 0) continue;
                distance[slot] = 0;
                from[slot] = -1;
                any = true;
            }

            if (!any) return true;
            Relax(null);
            var end = -1;
            for (var run = 0; run < runs; run++)
                if (used[run] < capacity[run] && distance[slots + run] < (end < 0 ? Unreached : distance[end])) end = slots + run;
            if (end < 0) return false;

            var amount = capacity[end - slots] - used[end - slots];
            var node = end;
            for (; from[node] >= 0; node = from[node]) if (node < slots) amount = Math.Min(amount, flow[node, from[node] - slots]);
            amount = Math.Min(amount, open[node]);
            open[node] -= amount;
            used[end - slots] += amount;
            Push(end, amount);
        }
    }

    /// <summary>
    /// Of all fillings that cost the same, the one in which slot by slot the units that come first are used: moves along circles that cost nothing.
    /// </summary>
    public void PreferFirst()
    {
        var isFixed = new bool[slots, runs];
        for (var slot = 0; slot < slots; slot++)
        {
            for (var run = 0; run < runs; run++)
            {
                while (allowed[slot, run])
                {
                    Array.Fill(distance, Unreached);
                    distance[slots + run] = 0;
                    from[slots + run] = -1;
                    isFixed[slot, run] = true;
                    Relax(isFixed);
                    if (distance[slot] == Unreached || distance[slot] + cost[slot, run] != 0) break;
                    var amount = Bottleneck(slot);
                    if (amount == 0) break;
                    var unused = slots + runs;
                    for (var node = slot; from[node] >= 0; node = from[node])
                    {
                        if (node == unused) used[from[node] - slots] += amount;
                        else if (from[node] == unused) used[node - slots] -= amount;
                    }

                    Push(slot, amount);
                    flow[slot, run] += amount;
                }

                isFixed[slot, run] = true;
            }
        }
    }

    private long Bottleneck(int end)
    {
        var amount = long.MaxValue;
        var unused = slots + runs;
        for (var node = end; from[node] >= 0; node = from[node])
        {
            if (node == unused) amount = Math.Min(amount, capacity[from[node] - slots] - used[from[node] - slots]);
            else if (from[node] == unused) amount = Math.Min(amount, used[node - slots]);
            else if (node < slots) amount = Math.Min(amount, flow[node, from[node] - slots]);
        }

        return amount;
    }

    private void Push(int end, long amount)
    {
        var unused = slots + runs;
        for (var node = end; from[node] >= 0; node = from[node])
        {
            if (node == unused || from[node] == unused) continue;
            if (node < slots) flow[node, from[node] - slots] -= amount;
            else flow[from[node], node - slots] += amount;
        }
    }

    // Bellman and Ford, over what can still be changed: a slot may take from a run, a run may be given back by a slot.
    private void Relax(bool[,]? isFixed)
    {
        var unused = slots + runs;
        for (var changed = true; changed;)
        {
            changed = false;
            for (var slot = 0; slot < slots; slot++)
            {
                for (var run = 0; run < runs; run++)
                {
                    if (!allowed[slot, run] || (isFixed?[slot, run] ?? false)) continue;
                    changed |= Improve(slot, slots + run, cost[slot, run]);
                    if (flow[slot, run] > 0) changed |= Improve(slots + run, slot, -cost[slot, run]);
                }
            }

            if (isFixed is null) continue;
            for (var run = 0; run < runs; run++)
            {
                if (used[run] < capacity[run]) changed |= Improve(slots + run, unused, 0);
                if (used[run] > 0) changed |= Improve(unused, slots + run, 0);
            }
        }

        bool Improve(int start, int end, Int128 step)
        {
            if (distance[start] == Unreached || distance[start] + step >= distance[end]) return false;
            (distance[end], from[end]) = (distance[start] + step, start);
            return true;
        }
    }
}
