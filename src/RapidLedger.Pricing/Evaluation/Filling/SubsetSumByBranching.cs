namespace RapidLedger.Pricing;

/// <content>The least sum above a price where there are too many sums for a table.</content>
internal sealed partial class BundleFilling
{
    /// <summary>
    /// Computes the filling of least sum above a price by branch and bound, where there are too many sums for a table. A node bounds how
    /// many
    /// units of the dearest runs may stand in the sets; it is pruned where its cheapest filling is not below the incumbent's sum, or its
    /// dearest not above the price. The first incumbent is the dearest filling, from which runs are given up while it stays above.
    /// </summary>
    /// <remarks>Cost: two fillings for each node; exponentially many at the worst, so it ends with its budget and says so.</remarks>
    private sealed class SubsetSumByBranching
    {
        private readonly BundleFilling filling;
        private readonly long sets;
        private readonly long price;
        private readonly int[] order;
        private readonly long[] left;

        // No sum above the price is less.
        private readonly long lowerBound;
        private readonly long end;

        // The units of each run that the filling last looked at takes.
        private readonly long[] units;
        private long[]? incumbent;
        private long incumbentSum = long.MaxValue;
        private bool isCut;

        public SubsetSumByBranching(BundleFilling filling, long sets, long price)
        {
            (this.filling, this.sets, this.price) = (filling, sets, price);
            var (capacity, runs) = (filling.capacity!, filling.capacity!.Length);
            order =
            [
                .. Enumerable
                    .Range(0, runs)
                    .Where(i => Enumerable.Range(0, filling.slots.Length).Any(slot => filling.allowed[(slot * runs) + i]))
                    .OrderByDescending(i => filling.sheet.Runs[i].Price),
            ];
            left = (long[])capacity.Clone();
            units = new long[runs];
            lowerBound = NextSum(filling.Needs(sets).Sum());
            end = filling.sheet.Work.Spent + filling.sheet.Fillings.MostWork;
        }

        /// <summary>The best filling found; it is said if that need not be the least.</summary>
        public FilledSets? Find()
        {
            FindFirstIncumbent();
            Branch(0);
            if (isCut)
                filling.sheet.Fillings.MarkInexact(mayUndershoot: incumbent is null);
            if (incumbent is null)
                return null;
            if (isCut)
                return new([.. incumbent.Select(count => (int)count)], null, sets);
            long[] prices = [.. filling.sheet.Runs.ToArray().Select(run => run.Price)];
            var first = FirstFillingOfSum.Find(
                incumbent,
                prices,
                filling.allowed,
                filling.capacity!,
                filling.Needs(sets),
                filling.sheet.Work,
                end,
                out var isCutOff
            );
            if (isCutOff)
                filling.sheet.Fillings.MarkInexact(mayUndershoot: false);
            return new(first, null, sets);
        }

        // The dearest filling is above the price. Runs are given up one after the other, the dearest first, while the rest still is.
        private void FindFirstIncumbent()
        {
            var all = (long[])left.Clone();
            foreach (var i in order)
            {
                if (filling.sheet.Work.Spent > end || filling.sheet.Work.IsOver)
                    break;
                left[i] = 0;
                if (Extreme(Pick.Dearest) <= price)
                    left[i] = filling.capacity![i];
            }

            TryReplaceIncumbent(Extreme(Pick.Dearest));
            all.CopyTo(left, 0);
        }

        private void TryReplaceIncumbent(long sum)
        {
            if (sum <= price || sum >= incumbentSum)
                return;
            // Just those units: of all that are left another filling could be made, of another sum.
            (incumbent, incumbentSum) = ((long[])units.Clone(), sum);
        }

        // Below the place all units are open; above it at most as many as are left.
        private void Branch(int place)
        {
            if (incumbentSum == lowerBound)
                return;
            isCut |= filling.sheet.Work.Spent > end || filling.sheet.Work.IsOver;
            if (isCut)
                return;
            var cheapest = Extreme(Pick.Cheapest);
            if (cheapest < 0 || cheapest >= incumbentSum)
                return;
            if (cheapest > price)
            {
                TryReplaceIncumbent(cheapest);
                return;
            }

            if (place == order.Length || Extreme(Pick.Dearest) <= price)
                return;
            // Fewest of the dearest first: what is left out can never come back below.
            for (long count = 0; count <= filling.capacity![order[place]] && !isCut; count++)
            {
                left[order[place]] = count;
                Branch(place + 1);
            }

            left[order[place]] = filling.capacity![order[place]];
        }

        private long Extreme(Pick pick)
        {
            if (filling.anySlot)
            {
                var sum = filling.sheet.Fillings.Sets.Fill(sets, pick, left);
                for (var i = 0; i < units.Length; i++)
                    units[i] = filling.sheet.Fillings.Sets.Taken[i];
                return sum;
            }

            var flow = new SlotFlow<long>(left, filling.allowed, filling.Costs<long>(pick), filling.sheet.Work);
            if (!flow.FillMore(filling.Needs(sets)))
                return -1;
            Array.Clear(units);
            for (var place = 0; place < flow.BySlot.Length; place++)
                units[place % units.Length] += flow.BySlot[place];
            return filling.SumOf(flow.BySlot);
        }

        // Above the price, the least that the sum of so many units could be: all such sums differ by multiples of what prices differ by.
        private long NextSum(long units)
        {
            var first = filling.sheet.Runs[order[0]].Price;
            var by = SubsetSum.Differ(order.Select(i => filling.sheet.Runs[i].Price));
            if (by == 0)
                return units * first;
            var above = price + 1 - (units * first);
            return price + 1 + (((-above % by) + by) % by);
        }
    }
}
