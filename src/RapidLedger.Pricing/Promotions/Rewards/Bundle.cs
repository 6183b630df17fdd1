namespace RapidLedger.Pricing;

/// <summary>A set sold together: one or more slots to fill, with a take for each slot or one for the whole set.</summary>
/// <param name="Slots">At least one.</param>
/// <param name="Take">For the whole set; none: the slots have theirs.</param>
/// <param name="Repeat">How many sets at the most.</param>
/// <param name="Fill">Whether the shopper gets the greatest reduction, or the smallest that is one.</param>
public sealed record Bundle(EquatableArray<Slot> Slots, Take? Take, Repetition Repeat, Pick Fill = Pick.Dearest) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Item];

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) =>
    [
        new Ready(
            [.. Slots.Select(slot => new ReadySlot(compiler.Selection(slot.Of), slot.Quantity, slot.Take is { } take ? compiler.Takes(take) : null))],
            Take is { } whole ? compiler.Takes(whole) : null,
            Repeat,
            Fill),
    ];

    private sealed record ReadySlot(SelectionTest Of, long Quantity, CartTake[]? Takes);

    private sealed class Ready(ReadySlot[] slots, CartTake[]? takes, Repetition repeat, Pick fill) : ReadyReward
    {
        private readonly long perSet = slots.Sum(slot => slot.Quantity);

        public override Stage Stage => Stage.Item;

        public override IEnumerable<int> Touches => slots[0].Of.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => Array.Exists(slots, slot => slot.Of.Selects(cart, line));

        public override void Apply(Sheet sheet)
        {
            var filling = new Filling(this, sheet);
            if (filling.Solve() is not { } solved) return;
            if (takes is not null && filling.Whole.Kind != Pricing.Take.Kind.Percent)
            {
                var (parts, weights) = (new List<RunPart>(), new List<SpreadRun>());
                for (var i = 0; i < sheet.Runs.Length; i++)
                {
                    var count = (int)solved.UnitsOf(i);
                    if (count == 0) continue;
                    parts.Add(new(i, count));
                    weights.Add(new(sheet.Runs[i].Price, count));
                }

                sheet.LowerBySpreading(parts, weights, filling.Reduction(solved));
                return;
            }

            var reductions = new List<UnitReduction>();
            for (var i = 0; i < sheet.Runs.Length; i++)
                for (var slot = 0; slot < slots.Length; slot++)
                    if (solved.Flow[slot, i] is > 0 and var count) reductions.Add(new(i, (int)count, filling.TakeOf(slot).From(sheet.Runs[i].Price)));
            sheet.LowerBy(reductions);
        }

        /// <summary>Each slot for itself, as if units could stand in several: never less than any filling takes.</summary>
        public override long Bound(Sheet sheet, long goods)
        {
            var most = repeat.Of(long.MaxValue);
            foreach (var slot in slots) most = Math.Min(most, Units(sheet, slot) / slot.Quantity);
            if (most == 0) return 0;
            var whole = takes?[sheet.Cart.CurrencyNumber];
            if (whole is { Kind: Pricing.Take.Kind.Amount, Minor: var amount }) return Math.Min(goods, amount * most);
            var price = whole is { Kind: Pricing.Take.Kind.Price, Minor: var minor } ? minor : 0;
            // What the first, second, … set takes at the most, dearest units first; the last place holds all further ones together.
            Span<long> ofSet = stackalloc long[(int)Math.Min(most, 32)];
            ofSet.Clear();
            foreach (var slot in slots)
            {
                var take = price > 0 || whole is { Kind: Pricing.Take.Kind.Price } ? (CartTake?)null : whole ?? slot.Takes?[sheet.Cart.CurrencyNumber] ?? default;
                long place = 0;
                var end = most * slot.Quantity;
                foreach (var i in sheet.ByPrice(slot.Of, Pick.Dearest))
                {
                    var worth = take is { } taken ? taken.From(sheet.Runs[i].Price) : sheet.Runs[i].Price;
                    for (long done = 0; done < sheet.Runs[i].Count && place < end;)
                    {
                        var set = Math.Min(place / slot.Quantity, ofSet.Length - 1);
                        var until = set == ofSet.Length - 1 ? end : (set + 1) * slot.Quantity;
                        var count = Math.Min(until - place, sheet.Runs[i].Count - done);
                        ofSet[(int)set] += worth * count;
                        done += count;
                        place += count;
                    }
                }
            }

            // A set counts for what it exceeds its price by; those in the last place for all of it less at least one price.
            long bound = 0;
            foreach (var set in ofSet) bound += Math.Max(0, set - price);
            return Math.Min(goods, bound);
        }

        private static long Units(Sheet sheet, ReadySlot slot)
        {
            var selected = sheet.Selected(slot.Of);
            long units = 0;
            foreach (var run in sheet.Runs) if (selected[run.Line]) units += run.Count;
            return units;
        }

        /// <summary>A way to fill so many sets.</summary>
        private sealed record Solved(SlotFlow Flow, long Sets, int Slots)
        {
            public long UnitsOf(int run)
            {
                long units = 0;
                for (var slot = 0; slot < Slots; slot++) units += Flow[slot, run];
                return units;
            }
        }

        /// <summary>The filling of one bundle on one sheet.</summary>
        private sealed class Filling
        {
            // A reduction and a sum of prices in one number, to be compared in that order: sums stay below this.
            private static readonly Int128 Step = (Int128)1 << 56;

            // Up to so many sets they are added one by one; above, the last that pays is searched for.
            private const int FewSets = 48;

            // How many partial choices the search for the least sum above a price may look at.
            private const int MostTried = 4_000;

            private readonly Ready bundle;
            private readonly Sheet sheet;
            private readonly long[] capacity;
            private readonly bool[,] allowed;

            public Filling(Ready bundle, Sheet sheet)
            {
                (this.bundle, this.sheet) = (bundle, sheet);
                capacity = new long[sheet.Runs.Length];
                allowed = new bool[bundle.Slots.Length, sheet.Runs.Length];
                for (var slot = 0; slot < bundle.Slots.Length; slot++)
                {
                    var selected = sheet.Selected(bundle.Slots[slot].Of);
                    for (var i = 0; i < capacity.Length; i++) allowed[slot, i] = selected[sheet.Runs[i].Line];
                }

                for (var i = 0; i < capacity.Length; i++) capacity[i] = sheet.Runs[i].Count;
            }

            public CartTake Whole => bundle.Takes![sheet.Cart.CurrencyNumber];

            // A slot without a take is paid in full.
            public CartTake TakeOf(int slot) => (bundle.Takes ?? bundle.Slots[slot].Takes)?[sheet.Cart.CurrencyNumber] ?? default;

            private bool ByWholeSum => bundle.Takes is not null && Whole.Kind != Pricing.Take.Kind.Percent;

            /// <summary>The filling that the bundle asks for, or null if none takes anything off.</summary>
            public Solved? Solve()
            {
                var fitting = SetsThatCouldFit();
                if (fitting == 0) return null;
                if (bundle.Fill == Pick.Dearest && fitting <= FewSets) return OneByOne(fitting);
                var most = MostSets(fitting);
                if (most == 0) return null;
                return bundle.Fill == Pick.Dearest ? Dearest(most) : Cheapest(most);
            }

            public long Reduction(Solved solved)
            {
                long sum = 0, reduction = 0;
                for (var i = 0; i < capacity.Length; i++)
                {
                    sum += sheet.Runs[i].Price * solved.UnitsOf(i);
                    if (ByWholeSum) continue;
                    for (var slot = 0; slot < bundle.Slots.Length; slot++) reduction += TakeOf(slot).From(sheet.Runs[i].Price) * solved.Flow[slot, i];
                }

                if (!ByWholeSum) return reduction;
                return Whole.Kind == Pricing.Take.Kind.Amount ? Math.Min(sum, Whole.Minor * solved.Sets) : Math.Max(0, sum - (Whole.Minor * solved.Sets));
            }

            // Sets are added while they pay: the greatest reduction is concave in their number, so the first that does not is the end.
            private Solved? OneByOne(long most)
            {
                var flow = new SlotFlow(capacity, allowed, Costs(-1));
                var one = Needs(1);
                Int128 before = 0;
                long sets = 0;
                while (sets < most && flow.FillMore(one))
                {
                    var reached = Reached(new(flow, sets + 1, bundle.Slots.Length));
                    if (reached < before)
                    {
                        flow.Fill(Needs(sets));
                        break;
                    }

                    (before, sets) = (reached, sets + 1);
                }

                if (sets == 0) return null;
                // A set that could not be filled leaves units in slots.
                if (sets < most && !IsFull(flow, sets)) flow.Fill(Needs(sets));
                var solved = new Solved(flow, sets, bundle.Slots.Length);
                if (Reduction(solved) == 0) return null;
                flow.PreferFirst();
                return solved;
            }

            private bool IsFull(SlotFlow flow, long sets)
            {
                for (var slot = 0; slot < bundle.Slots.Length; slot++)
                {
                    long units = 0;
                    for (var i = 0; i < capacity.Length; i++) units += flow[slot, i];
                    if (units != sets * bundle.Slots[slot].Quantity) return false;
                }

                return true;
            }

            private Solved? Dearest(long most)
            {
                // The greatest reduction of k sets is concave in k (a linear programme in its right-hand side), so steps are told by their sign.
                var sets = !ByWholeSum || Whole.Kind == Pricing.Take.Kind.Price
                    ? Last(most, k => Greatest(k) >= (k == 1 ? 0 : Greatest(k - 1)))
                    : most;
                if (sets == 0 || Filled(sets, -1) is not { } solved || Reduction(solved) == 0) return null;
                solved.Flow.PreferFirst();
                return solved;
            }

            private Solved? Cheapest(long most)
            {
                var sets = Last(most, k => Greatest(k) > 0);
                if (sets == 0) return null;
                var solved = Filled(sets, 1)!;
                if (Reduction(solved) == 0)
                    solved = ByWholeSum && Whole.Kind == Pricing.Take.Kind.Price ? LeastAbove(sets) : LeastWithOneLowered(sets);
                solved?.Flow.PreferFirst();
                return solved;
            }

            /// <summary>The greatest reduction of so many sets, or what they exceed their price by, below zero if they do not.</summary>
            private Int128 Greatest(long sets) => Reached(Filled(sets, -1)!);

            private Int128 Reached(Solved solved)
            {
                if (!ByWholeSum) return Reduction(solved);
                long sum = 0;
                for (var i = 0; i < capacity.Length; i++) sum += sheet.Runs[i].Price * solved.UnitsOf(i);
                return Whole.Kind == Pricing.Take.Kind.Amount ? Math.Min(sum, Whole.Minor * solved.Sets) : sum - (Whole.Minor * solved.Sets);
            }

            // By each slot for itself, and by all units together.
            private long SetsThatCouldFit()
            {
                var most = bundle.Repeat.Of(capacity.Sum() / bundle.PerSet);
                for (var slot = 0; slot < bundle.Slots.Length; slot++) most = Math.Min(most, Units(slot) / bundle.Slots[slot].Quantity);
                return most;
            }

            private long MostSets(long most)
            {
                var free = new Int128[bundle.Slots.Length, capacity.Length];
                var flow = new SlotFlow(capacity, allowed, free);
                return flow.Fill(Needs(most)) ? most : Last(most, k => flow.Fill(Needs(k)));
            }

            private Solved? Filled(long sets, int sign)
            {
                var flow = new SlotFlow(capacity, allowed, Costs(sign));
                return flow.Fill(Needs(sets)) ? new(flow, sets, bundle.Slots.Length) : null;
            }

            // Whole sums go by prices alone; others by what is taken from each unit, and then by prices.
            private Int128[,] Costs(int sign)
            {
                var costs = new Int128[bundle.Slots.Length, capacity.Length];
                for (var slot = 0; slot < bundle.Slots.Length; slot++)
                    for (var i = 0; i < capacity.Length; i++)
                        costs[slot, i] = sign * ((ByWholeSum ? 0 : TakeOf(slot).From(sheet.Runs[i].Price) * Step) + sheet.Runs[i].Price);
                return costs;
            }

            /// <summary>Of the fillings that lower at least one unit, the one that takes least: each unit in turn is made to be in.</summary>
            private Solved? LeastWithOneLowered(long sets)
            {
                Solved? best = null;
                var costs = Costs(1);
                for (var slot = 0; slot < bundle.Slots.Length; slot++)
                {
                    for (var i = 0; i < capacity.Length; i++)
                    {
                        var lowers = ByWholeSum ? sheet.Runs[i].Price : TakeOf(slot).From(sheet.Runs[i].Price);
                        if (!allowed[slot, i] || lowers == 0) continue;
                        long[] apart = [.. capacity, 1];
                        apart[i]--;
                        var flow = new SlotFlow(apart, Widened(slot), Widened(costs, slot, i));
                        if (!flow.Fill(Needs(sets))) continue;
                        var folded = Folded(flow, i);
                        var solved = new Solved(folded, sets, bundle.Slots.Length);
                        if (Reduction(solved) > 0 && (best is null || folded.Cost < best.Flow.Cost)) best = solved;
                    }
                }

                return best;
            }

            // One unit of a run set apart, which only one slot may take, at a cost that makes it be taken.
            private bool[,] Widened(int slot)
            {
                var wide = new bool[bundle.Slots.Length, capacity.Length + 1];
                for (var s = 0; s < bundle.Slots.Length; s++) for (var i = 0; i < capacity.Length; i++) wide[s, i] = allowed[s, i];
                wide[slot, capacity.Length] = true;
                return wide;
            }

            private Int128[,] Widened(Int128[,] costs, int slot, int run)
            {
                var wide = new Int128[bundle.Slots.Length, capacity.Length + 1];
                for (var s = 0; s < bundle.Slots.Length; s++) for (var i = 0; i < capacity.Length; i++) wide[s, i] = costs[s, i];
                wide[slot, capacity.Length] = costs[slot, run] - (Step * Step);
                return wide;
            }

            private SlotFlow Folded(SlotFlow wide, int run)
            {
                var needs = Needs(0);
                var fixedCapacity = new long[capacity.Length];
                var only = new bool[bundle.Slots.Length, capacity.Length];
                for (var slot = 0; slot < bundle.Slots.Length; slot++)
                {
                    for (var i = 0; i < capacity.Length; i++)
                    {
                        var count = wide[slot, i] + (i == run ? wide[slot, capacity.Length] : 0);
                        needs[slot] += count;
                        fixedCapacity[i] += count;
                        only[slot, i] = allowed[slot, i];
                    }
                }

                var flow = new SlotFlow(fixedCapacity, only, Costs(1));
                flow.Fill(needs);
                return flow;
            }

            /// <summary>
            /// The filling of least sum that exceeds the price of so many sets: a covering knapsack over the units, by branch and bound with
            /// the least and the greatest sum that a partial choice can still be filled to.
            /// </summary>
            private Solved? LeastAbove(long sets)
            {
                var price = Whole.Minor * sets;
                var order = Enumerable.Range(0, capacity.Length).Where(i => Enumerable.Range(0, bundle.Slots.Length).Any(slot => allowed[slot, i]))
                    .OrderByDescending(i => sheet.Runs[i].Price).ToArray();
                var (best, bestSum, tried) = ((SlotFlow?)null, Int128.MaxValue, 0);
                Branch(0, [.. capacity]);
                return best is null ? null : new(best, sets, bundle.Slots.Length);

                // Below the place all units are open; above it exactly as many as left in the capacity may be used.
                void Branch(int place, long[] left)
                {
                    if (++tried > MostTried) return;
                    var least = Fill(left, 1);
                    var greatest = least is null ? null : Fill(left, -1);
                    if (least is null || greatest is null || -greatest.Cost <= price || least.Cost >= bestSum) return;
                    if (least.Cost > price)
                    {
                        (best, bestSum) = (least, least.Cost);
                        return;
                    }

                    if (place == order.Length) return;
                    // Fewest of the dearest first: what is left out can never come back below.
                    for (long count = 0; count <= capacity[order[place]]; count++)
                    {
                        var next = (long[])left.Clone();
                        next[order[place]] = count;
                        Branch(place + 1, next);
                    }
                }

                SlotFlow? Fill(long[] left, int sign)
                {
                    var flow = new SlotFlow(left, allowed, Costs(sign));
                    return flow.Fill(Needs(sets)) ? flow : null;
                }
            }

            private long[] Needs(long sets) => [.. bundle.Slots.Select(slot => sets * slot.Quantity)];

            private long Units(int slot)
            {
                long units = 0;
                for (var i = 0; i < capacity.Length; i++) if (allowed[slot, i]) units += capacity[i];
                return units;
            }

            /// <summary>The last number from 1 to some most for which something holds that holds for all before it; 0 if for none.</summary>
            private static long Last(long most, Func<long, bool> holds)
            {
                long low = 0, high = most;
                while (low < high)
                {
                    var middle = low + ((high - low + 1) / 2);
                    if (holds(middle)) low = middle;
                    else high = middle - 1;
                }

                return low;
            }
        }

        private ReadySlot[] Slots => slots;

        private CartTake[]? Takes => takes;

        private Repetition Repeat => repeat;

        private Pick Fill => fill;

        private long PerSet => perSet;
    }
}

/// <summary>One place in a set.</summary>
/// <param name="Of">What fills it.</param>
/// <param name="Quantity">Units for one set.</param>
/// <param name="Take">What is taken from each unit in it; none: nothing, or what the set's own take says.</param>
public sealed record Slot(Selection Of, long Quantity, Take? Take = null);
