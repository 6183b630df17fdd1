namespace RapidLedger.Pricing;

/// <summary>Buy some, get some: for so many units bought, others are lowered.</summary>
/// <param name="Bought">What must be bought.</param>
/// <param name="Got">What is lowered for it; the same selection where <paramref name="Same"/> is said.</param>
/// <param name="Deal">How many for how many.</param>
/// <param name="Take">How much is taken from each unit got.</param>
/// <param name="Pick">Which units are got.</param>
/// <param name="Same">Within units of one SKU or product only.</param>
public sealed record BuyGet(Selection Bought, Selection Got, Deal Deal, Take Take, Pick Pick = Pick.Cheapest, Same? Same = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Item];

    /// <inheritdoc/>
    public override bool SetsUnitPrices => true;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.BuyGet;

    internal override string Say(Wording wording) => BuyGetWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => Reach.Nothing;

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) =>
        [
            new Ready(
                this,
                compiler.Selection(Bought),
                compiler.Selection(Got),
                Deal is Deal.BySpend spend ? compiler.Divisors(spend.Spend) : null,
                compiler.Takes(Take)
            ),
        ];

    private sealed class Ready(BuyGet written, SelectionTest bought, SelectionTest got, AmountTable? spend, CartTake[] takes) : UnitReward
    {
        public override Stage Stage => Stage.Item;

        public override IEnumerable<int> Touches => got.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => bought.Selects(cart, line) || got.Selects(cart, line);

        public override void Apply(Sheet sheet)
        {
            var take = takes[sheet.Cart.CurrencyNumber];
            var got = sheet.Lend();
            Find(sheet, MostInGroups, got);
            if (got.Count > 0)
            {
                var lowering = sheet.BeginLowering();
                foreach (var part in got)
                    lowering.Add(part, take.From(sheet.Runs[part.Run].Price));
                lowering.Done();
            }

            sheet.Return(got);
        }

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            var take = takes[sheet.Cart.CurrencyNumber];
            // The cheapest that leave enough to buy, and the dearest, are the best of a matroid, as they are group by group: the cheapest
            // of
            // them, the next, and so on only fall with prices.
            var parts = sheet.Lend();
            Find(sheet, long.MaxValue, parts);
            var left = long.MaxValue;
            if (written is { Same: not null, Deal: Deal.ByQuantity { Get: var get, Repeat.Most: { } most and < int.MaxValue } })
            {
                // Which groups come first may change as prices fall: the dearest units of all groups bound every order.
                parts.Sort((x, y) => sheet.Runs[y.Run].Price.CompareTo(sheet.Runs[x.Run].Price));
                left = Math.Min(get * most, left);
            }

            long bound = 0;
            foreach (var part in parts)
            {
                var count = Math.Min(left, part.Count);
                bound += take.From(sheet.Runs[part.Run].Price) * count;
                left -= count;
            }

            sheet.Return(parts);
            return bound;
        }

        public override long BoundOf(Sheet sheet, long goods) => goods;

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest)
        {
            var take = takes[sheet.Cart.CurrencyNumber];
            if (written.Same is not null)
                return prices.LowerAny(got, take);
            var (buyable, buys, gets, both) = Applications(sheet);
            // Where all that are got could be spared from those to be bought, none is passed over.
            return Math.Min(gets, both) <= buyable - buys ? prices.LowerFew(got, written.Pick, gets, take) : prices.LowerAny(got, take);
        }

        private long MostInGroups => written.Deal is Deal.ByQuantity { Repeat.Most: { } most } ? most : long.MaxValue;

        public override IEnumerable<Want[]> Wants(CartView cart)
        {
            if (written.Same is { } same)
            {
                var groups = Enumerable
                    .Range(0, cart.Lines)
                    .Where(line => bought.Selects(cart, line))
                    .GroupBy(line => same == Pricing.Same.Sku ? cart.Variant(line) : cart.Catalogue.ProductNumber(cart.Variant(line)));
                foreach (var group in groups)
                {
                    var units = group.Sum(line => (long)cart.Quantity(line));
                    if (NextUnits(units) is > 0 and var missing)
                        yield return [new(written.Bought, missing) { Variant = cart.Variant(group.First()) }];
                }

                yield break;
            }

            bool[] isBought = [.. Enumerable.Range(0, cart.Lines).Select(line => bought.Selects(cart, line))];
            bool[] isGot = [.. Enumerable.Range(0, cart.Lines).Select(line => got.Selects(cart, line))];
            var (buyable, gettable, either, spent) = Holding.Of(cart, isBought, isGot);
            var wants = new List<Want>();
            if (written.Deal is Deal.BySpend { Get: var each, Repeat: var repeat })
            {
                var next = Math.Min(spent / spend![cart], gettable / each) + 1;
                if (next > (repeat.Most ?? long.MaxValue))
                    yield break;
                if (spent < spend[cart] * (Int128)next)
                    wants.Add(new(written.Bought, 0, (long)((spend[cart] * (Int128)next) - spent)));
                if (gettable < each * next)
                    wants.Add(new(written.Got, (each * next) - gettable));
                yield return [.. wants];
                yield break;
            }

            var (buys, gets) = NextDeal(buyable, gettable, either);
            if (buys == 0)
                yield break;
            if (gettable < gets)
                wants.Add(new(written.Got, gets - gettable));
            if (buyable < buys)
                wants.Add(new(written.Bought, buys - buyable));
            // No unit is in both roles.
            if (buys + gets - either - wants.Sum(want => want.Units) is > 0 and var more)
            {
                if (wants.Count == 0)
                    wants.Add(new(written.Got, more));
                else
                    wants[^1] = wants[^1] with { Units = wants[^1].Units + more };
            }

            yield return [.. wants];
        }

        public override Idleness WhyIdle(Sheet sheet)
        {
            var cart = sheet.Cart;
            if (bought.Units(cart) == 0)
                return new Idleness.NothingOfIt(written.Bought);
            if (got.Units(cart) == 0)
                return new Idleness.NothingOfIt(written.Got);
            var parts = sheet.Lend();
            Find(sheet, MostInGroups, parts);
            var isIdle = parts.Count > 0;
            sheet.Return(parts);
            if (isIdle)
                return new Idleness.NothingToTake(written.Got);
            return Wants(cart).MinBy(wants => wants.Sum(want => want.Units)) switch
            {
                [{ Spend: > 0 and var missing }, ..] => new Idleness.ComesToTooLittle(written.Bought, spend![cart] - missing, spend[cart]),
                [var want, ..] => new Idleness.LacksUnits(want.Of, want.Units),
                _ => new Idleness.NothingToTake(written.Got),
            };
        }

        // How many more of a group lead to its next application; 0: none is to come.
        private long NextUnits(long units)
        {
            if (written.Deal is Deal.BySchedule schedule)
            {
                var (buys, gets) = schedule.Fitting((buy, get) => buy + get <= units);
                var sum = 0L;
                foreach (var row in schedule.Rows)
                    if ((sum += row.Buy + row.Get) > buys + gets)
                        return sum - units;
                return 0;
            }

            var deal = (Deal.ByQuantity)written.Deal;
            var each = deal.Buy + deal.Get;
            return units / each >= (deal.Repeat.Most ?? long.MaxValue) ? 0 : each - (units % each);
        }

        // What must be bought and got for one application more than there are; nothing if none is to come.
        private (long Buys, long Gets) NextDeal(long buyable, long gettable, long either)
        {
            if (written.Deal is Deal.BySchedule schedule)
            {
                long buys = 0,
                    gets = 0;
                foreach (var row in schedule.Rows)
                {
                    (buys, gets) = (buys + row.Buy, gets + row.Get);
                    if (buys > buyable || gets > gettable || buys + gets > either)
                        return (buys, gets);
                }

                return (0, 0);
            }

            var deal = (Deal.ByQuantity)written.Deal;
            var next = Math.Min(Math.Min(buyable / deal.Buy, gettable / deal.Get), either / (deal.Buy + deal.Get)) + 1;
            return next > (deal.Repeat.Most ?? long.MaxValue) ? (0, 0) : (next * deal.Buy, next * deal.Get);
        }

        /// <summary>Finds the units got, as the first units of runs.</summary>
        /// <param name="sheet">As it stands.</param>
        /// <param name="left">How many applications all groups may have together, where there are groups.</param>
        /// <param name="parts">They are added here.</param>
        private void Find(Sheet sheet, long left, List<RunPart> parts)
        {
            var isBought = sheet.Selected(bought);
            sheet.Work.Count(2L * sheet.Cart.Lines);
            if (written.Same is not { } same)
            {
                var (buyable, buys, gets, _) = Applications(sheet);
                if (gets > 0)
                    Accept(sheet, sheet.ByPrice(got, written.Pick), 0, [], isBought, buyable - buys, gets, parts);
                return;
            }

            // A group stands where its first got unit does, which is the first of its walk: from there each run leads to the next of its
            // group.
            var order = sheet.ByPrice(bought, written.Pick);
            var groups = sheet.Cart.Groups(same);
            Span<int> next = order.Count <= 256 ? stackalloc int[order.Count] : new int[order.Count];
            Span<int> begin = groups.Length <= 256 ? stackalloc int[groups.Length] : new int[groups.Length];
            Span<long> units = groups.Length <= 256 ? stackalloc long[groups.Length] : new long[groups.Length];
            begin.Fill(int.MaxValue);
            units.Clear();
            for (var place = order.Count - 1; place >= 0; place--)
            {
                var run = sheet.Runs[order[place]];
                var group = groups[run.Line];
                (next[place], begin[group]) = (begin[group], place);
                units[group] += run.Count;
            }

            for (var place = 0; place < order.Count && left > 0; place++)
            {
                var group = groups[sheet.Runs[order[place]].Line];
                if (begin[group] != place)
                    continue;
                var (buys, gets, used) = WithinGroup(units[group], left);
                left -= used;
                Accept(sheet, order, place, next, isBought, units[group] - buys, gets, parts);
            }
        }

        private (long Buys, long Gets, long Used) WithinGroup(long count, long left)
        {
            if (written.Deal is Deal.BySchedule schedule)
            {
                var (buys, gets) = schedule.Fitting((buy, get) => buy + get <= count);
                return (buys, gets, 0);
            }

            var deal = (Deal.ByQuantity)written.Deal;
            var k = Math.Min(left, count / (deal.Buy + deal.Get));
            return (k * deal.Buy, k * deal.Get, k);
        }

        private (long Buyable, long Buys, long Gets, long Both) Applications(Sheet sheet)
        {
            var cart = sheet.Cart;
            // Where the same units can be bought and got, as they often are, the sheet knows how many.
            var (buyable, gettable, either, spent) =
                ReferenceEquals(bought, got) && sheet.Holds(got).Units is var units
                    ? new Holding(units, units, units, 0)
                    : Holding.Of(cart, sheet.Selected(bought), sheet.Selected(got));
            var both = buyable + gettable - either;
            switch (written.Deal)
            {
                case Deal.ByQuantity deal:
                    // Hall: enough to buy, enough to get, and enough of both together.
                    var k = deal.Repeat.Of(Math.Min(Math.Min(buyable / deal.Buy, gettable / deal.Get), either / (deal.Buy + deal.Get)));
                    return (buyable, k * deal.Buy, k * deal.Get, both);
                case Deal.BySpend deal:
                    return (buyable, 0, deal.Repeat.Of(Math.Min(spent / spend![cart], gettable / deal.Get)) * deal.Get, both);
                default:
                    var (buys, gets) = ((Deal.BySchedule)written.Deal).Fitting(
                        (buy, get) => buy <= buyable && get <= gettable && buy + get <= either
                    );
                    return (buyable, buys, gets, both);
            }
        }

        /// <summary>
        /// Walks runs from a place on, each leading to the next or, where nothing is said, to that behind it, and accepts units until
        /// enough
        /// are got; of those that could be bought, only so many may go.
        /// </summary>
        private static void Accept(
            Sheet sheet,
            List<int> order,
            int from,
            ReadOnlySpan<int> next,
            bool[] isBought,
            long spareToBuy,
            long gets,
            List<RunPart> parts
        )
        {
            for (var place = from; place < order.Count && gets > 0; place = next.IsEmpty ? place + 1 : next[place])
            {
                var i = order[place];
                var run = sheet.Runs[i];
                var count = Math.Min(gets, run.Count);
                if (isBought[run.Line])
                {
                    count = Math.Min(count, spareToBuy);
                    spareToBuy -= count;
                }

                if (count <= 0)
                    continue;
                parts.Add(new(i, (int)count));
                gets -= count;
            }
        }

        /// <summary>What a cart holds of both roles.</summary>
        /// <param name="Buyable">Units that can be bought.</param>
        /// <param name="Gettable">Units that can be got.</param>
        /// <param name="Either">Units of either role, each once.</param>
        /// <param name="Spent">At current prices on units that can only be bought, in minor units of the cart's currency.</param>
        private readonly record struct Holding(long Buyable, long Gettable, long Either, long Spent)
        {
            public static Holding Of(CartView cart, bool[] isBought, bool[] isGot)
            {
                long buyable = 0,
                    gettable = 0,
                    either = 0,
                    spent = 0;
                for (var line = 0; line < cart.Lines; line++)
                {
                    var (buy, get, count) = (isBought[line], isGot[line], cart.Quantity(line));
                    if (buy)
                        buyable += count;
                    if (get)
                        gettable += count;
                    if (buy || get)
                        either += count;
                    if (buy && !get)
                        spent += cart.Current(line) * count;
                }

                return new(buyable, gettable, either, spent);
            }
        }
    }
}

/// <summary>How many are got for how many bought.</summary>
public abstract record Deal
{
    private Deal() { }

    /// <summary>So many got for so many bought.</summary>
    public sealed record ByQuantity(long Buy, long Get, Repetition Repeat) : Deal;

    /// <summary>So many got for each amount spent on other units.</summary>
    public sealed record BySpend(Amount Spend, long Get, Repetition Repeat) : Deal;

    /// <summary>Rows of so many for so many, one after the other; their sums are one application.</summary>
    public sealed record BySchedule(EquatableArray<ScheduleRow> Rows) : Deal
    {
        /// <summary>The sums of as many rows as fit.</summary>
        internal (long Buys, long Gets) Fitting(Func<long, long, bool> fits)
        {
            long buys = 0,
                gets = 0;
            foreach (var row in Rows)
            {
                if (!fits(buys + row.Buy, gets + row.Get))
                    break;
                (buys, gets) = (buys + row.Buy, gets + row.Get);
            }

            return (buys, gets);
        }
    }
}

/// <summary>One row of a schedule.</summary>
public sealed record ScheduleRow(long Buy, long Get);

/// <summary>What the units of one application share.</summary>
public enum Same
{
    /// <summary>The SKU.</summary>
    Sku,

    /// <summary>The product.</summary>
    Product,
}
