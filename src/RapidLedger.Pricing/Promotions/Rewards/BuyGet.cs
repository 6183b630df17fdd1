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

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) =>
        [new Ready(this, compiler.Selection(Bought), compiler.Selection(Got), Deal is Deal.BySpend spend ? compiler.Amounts(spend.Spend) : null, compiler.Takes(Take))];

    private sealed class Ready(BuyGet written, SelectionTest bought, SelectionTest got, AmountTable? spend, CartTake[] takes) : ReadyReward
    {
        public override Stage Stage => Stage.Item;

        public override IEnumerable<int> Touches => got.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => bought.Selects(cart, line) || got.Selects(cart, line);

        public override void Apply(Sheet sheet)
        {
            var take = takes[sheet.Cart.CurrencyNumber];
            var reductions = sheet.Working;
            reductions.Clear();
            foreach (var part in Parts(sheet)) reductions.Add(new(part.Run, part.Count, take.From(sheet.Runs[part.Run].Price)));
            sheet.LowerBy(reductions);
        }

        public override long Bound(Sheet sheet)
        {
            var take = takes[sheet.Cart.CurrencyNumber];
            long bound = 0;
            if (written.Same is null)
            {
                // The cheapest that leave enough to buy, and the dearest, are the best of a matroid: they only fall with prices.
                foreach (var part in Parts(sheet)) bound += take.From(sheet.Runs[part.Run].Price) * part.Count;
                return bound;
            }

            // Which groups come first may change as prices fall: the dearest units of all bound every order.
            var left = Parts(sheet).Sum(part => (long)part.Count);
            if (written.Deal is not Deal.ByQuantity { Repeat.Most: not null }) left = long.MaxValue;
            foreach (var i in sheet.ByPrice(bought, Pick.Dearest))
            {
                if (left <= 0) break;
                var count = Math.Min(left, sheet.Runs[i].Count);
                bound += take.From(sheet.Runs[i].Price) * count;
                left -= count;
            }

            return bound;
        }

        public override bool LowerMost(Sheet sheet, Span<long> prices, long dearest)
        {
            LowerEach(sheet, got, takes[sheet.Cart.CurrencyNumber], prices);
            return true;
        }

        /// <summary>The units got, as the first units of runs.</summary>
        private List<RunPart> Parts(Sheet sheet)
        {
            var isBought = sheet.Selected(bought);
            var isGot = sheet.Selected(got);
            var parts = sheet.WorkingParts;
            parts.Clear();
            if (written.Same is not { } same)
            {
                var order = sheet.ByPrice(got, written.Pick);
                var (buyable, buys, gets) = Applications(sheet, isBought, isGot);
                Accept(sheet, order, isBought, buyable - buys, gets, parts);
                return parts;
            }

            var groups = new List<(List<int> Runs, long Count)>();
            foreach (var runs in sheet.ByPrice(bought, written.Pick).ToArray().GroupBy(i => KeyOf(sheet, i, same)))
                groups.Add(([.. runs], runs.Sum(i => (long)sheet.Runs[i].Count)));

            // A group stands where its first got unit does, which is the first of its walk; GroupBy keeps that order.
            var left = written.Deal is Deal.ByQuantity { Repeat.Most: { } most } ? most : long.MaxValue;
            foreach (var (runs, count) in groups)
            {
                if (left == 0) break;
                var (buys, gets, used) = WithinGroup(count, left);
                left -= used;
                Accept(sheet, runs, isBought, count - buys, gets, parts);
            }

            return parts;
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

        private static int KeyOf(Sheet sheet, int run, Same same)
        {
            var variant = sheet.Cart.Variant(sheet.Runs[run].Line);
            return same == Pricing.Same.Sku ? variant : sheet.Cart.Catalogue.ProductNumber(variant);
        }

        private (long Buyable, long Buys, long Gets) Applications(Sheet sheet, bool[] isBought, bool[] isGot)
        {
            long buyable = 0, gettable = 0, either = 0, spent = 0;
            foreach (var run in sheet.Runs)
            {
                var (buy, get) = (isBought[run.Line], isGot[run.Line]);
                if (buy) buyable += run.Count;
                if (get) gettable += run.Count;
                if (buy || get) either += run.Count;
                if (buy && !get) spent += sheet.Cart.Current(run.Line) * run.Count;
            }

            switch (written.Deal)
            {
                case Deal.ByQuantity deal:
                    // Hall: enough to buy, enough to get, and enough of both together.
                    var k = deal.Repeat.Of(Math.Min(Math.Min(buyable / deal.Buy, gettable / deal.Get), either / (deal.Buy + deal.Get)));
                    return (buyable, k * deal.Buy, k * deal.Get);
                case Deal.BySpend deal:
                    return (buyable, 0, deal.Repeat.Of(Math.Min(spent / spend![sheet.Cart], gettable / deal.Get)) * deal.Get);
                default:
                    var (buys, gets) = ((Deal.BySchedule)written.Deal).Fitting((buy, get) => buy <= buyable && get <= gettable && buy + get <= either);
                    return (buyable, buys, gets);
            }
        }

        /// <summary>Walks runs and accepts units until enough are got; of those that could be bought, only so many may go.</summary>
        private static void Accept(Sheet sheet, List<int> order, bool[] isBought, long spareToBuy, long gets, List<RunPart> parts)
        {
            foreach (var i in order)
            {
                if (gets == 0) return;
                var run = sheet.Runs[i];
                var count = Math.Min(gets, run.Count);
                if (isBought[run.Line])
                {
                    count = Math.Min(count, spareToBuy);
                    spareToBuy -= count;
                }

                if (count <= 0) continue;
                parts.Add(new(i, (int)count));
                gets -= count;
            }
        }
    }
}

/// <summary>How many are got for how many bought.</summary>
public abstract record Deal
{
    private Deal()
    {
    }

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
            long buys = 0, gets = 0;
            foreach (var row in Rows)
            {
                if (!fits(buys + row.Buy, gets + row.Get)) break;
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
