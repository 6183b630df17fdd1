namespace RapidLedger.Pricing;

/// <summary>Takes something off: from each selected unit, or once from what they come to together.</summary>
/// <param name="On">Which units.</param>
/// <param name="Take">How much.</param>
/// <param name="Per">From each unit, or once per cart and then spread over the units.</param>
/// <param name="Pick">With <paramref name="MaxUnits"/>: which units.</param>
/// <param name="MaxUnits">Per unit only: how many units at the most; none: all.</param>
/// <param name="MaxDiscount">The most it takes from one cart.</param>
public sealed record Discount(
    Selection On,
    Take Take,
    Per Per,
    Pick? Pick = null,
    int? MaxUnits = null,
    Amount? MaxDiscount = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Per == Per.Unit ? Pass.Item : Pass.Order];

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler)
    {
        var (on, takes, cap) = (compiler.Selection(On), compiler.Takes(Take), compiler.Amounts(MaxDiscount));
        return [Per == Per.Unit ? new PerUnit(on, takes, Pick ?? Pricing.Pick.Cheapest, MaxUnits, cap) : new PerCart(on, takes, cap)];
    }

    private abstract class Ready(SelectionTest on, CartTake[] takes, AmountTable? cap) : ReadyReward
    {
        public override IEnumerable<int> Touches => on.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => on.Selects(cart, line);

        protected SelectionTest On => on;

        protected CartTake TakeOf(Sheet sheet) => takes[sheet.Cart.CurrencyNumber];

        protected long Capped(Sheet sheet, long amount) => cap is null ? amount : Math.Min(amount, cap[sheet.Cart]);
    }

    private sealed class PerUnit(SelectionTest on, CartTake[] takes, Pick pick, int? maxUnits, AmountTable? cap) : Ready(on, takes, cap)
    {
        public override Stage Stage => Stage.Item;

        public override void Apply(Sheet sheet)
        {
            var take = TakeOf(sheet);
            var parts = sheet.TakeFrom(On, pick, maxUnits);
            long total = 0;
            var reductions = sheet.Weights;
            reductions.Clear();
            foreach (var part in parts)
            {
                var reduction = take.From(sheet.Runs[part.Run].Price);
                reductions.Add(new(reduction, part.Count));
                total += reduction * part.Count;
            }

            var capped = Capped(sheet, total);
            if (capped < total) sheet.LowerBySpreading(parts, reductions, capped);
            else sheet.LowerBy(parts, reductions);
        }

        public override long Bound(Sheet sheet)
        {
            var take = TakeOf(sheet);
            long bound = 0;
            // Prices only come down from here, and with them the cheapest n and the dearest n: what it takes now is the most.
            foreach (var part in sheet.TakeFrom(On, pick, maxUnits)) bound += take.From(sheet.Runs[part.Run].Price) * part.Count;
            return Capped(sheet, bound);
        }

        public override bool LowerMost(Sheet sheet, Span<long> prices, long dearest)
        {
            LowerEach(sheet, On, TakeOf(sheet), prices);
            return true;
        }
    }

    private sealed class PerCart(SelectionTest on, CartTake[] takes, AmountTable? cap) : Ready(on, takes, cap)
    {
        public override Stage Stage => Stage.Order;

        public override void Apply(Sheet sheet)
        {
            var parts = sheet.TakeFrom(On, Pricing.Pick.Cheapest, null);
            var prices = sheet.Weights;
            prices.Clear();
            long sum = 0;
            foreach (var part in parts)
            {
                var price = sheet.Runs[part.Run].Price;
                prices.Add(new(price, part.Count));
                sum += price * part.Count;
            }

            sheet.LowerBySpreading(parts, prices, Capped(sheet, TakeOf(sheet).From(sum)));
        }

        public override long Bound(Sheet sheet) => Capped(sheet, TakeOf(sheet).From(sheet.Sum(On)));

        public override long BoundOf(Sheet sheet, long goods) => Capped(sheet, TakeOf(sheet).From(goods));
    }
}

/// <summary>What a discount is taken from.</summary>
public enum Per
{
    /// <summary>Each unit by itself.</summary>
    Unit,
    /// <summary>What the selected units of the cart come to, once.</summary>
    Cart,
}
