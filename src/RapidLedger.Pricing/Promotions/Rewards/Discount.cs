namespace RapidLedger.Pricing;

/// <summary>Takes something off: from each selected unit, or once from what they come to together.</summary>
/// <param name="On">Which units.</param>
/// <param name="Take">How much.</param>
/// <param name="Per">From each unit, or once per cart and then spread over the units.</param>
/// <param name="Pick">With <paramref name="MaxUnits"/>: which units.</param>
/// <param name="MaxUnits">Per unit only: how many units at the most; none: all.</param>
/// <param name="MaxDiscount">The most it takes from one cart.</param>
public sealed record Discount(Selection On, Take Take, Per Per, Pick? Pick = null, int? MaxUnits = null, Amount? MaxDiscount = null)
    : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Per == Per.Unit ? Pass.Item : Pass.Order];

    /// <inheritdoc/>
    public override bool SetsUnitPrices => Per == Per.Unit;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Discount;

    internal override string Say(Wording wording) => DiscountWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => Reach.Nothing;

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler)
    {
        var (on, takes, cap) = (compiler.Selection(On), compiler.Takes(Take), compiler.Amounts(MaxDiscount));
        return [Per == Per.Unit ? new PerUnit(on, takes, Pick ?? Pricing.Pick.Cheapest, MaxUnits, cap) : new PerCart(on, takes, cap)];
    }

    private abstract class Ready(SelectionTest on, CartTake[] takes, AmountTable? cap) : UnitReward
    {
        public override IEnumerable<int> Touches => on.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => on.Selects(cart, line);

        // What is not in the cart is no more missing than anything else in the shop.
        public override IEnumerable<Want[]> Wants(CartView cart) => [];

        public override Idleness WhyIdle(Sheet sheet) =>
            on.Units(sheet.Cart) == 0 ? new Idleness.NothingOfIt(on.Written) : new Idleness.NothingToTake(on.Written);

        protected SelectionTest On => on;

        protected CartTake TakeOf(Sheet sheet) => takes[sheet.Cart.CurrencyNumber];

        protected bool IsCapped => cap is not null;

        protected long Capped(Sheet sheet, long amount) => cap is null ? amount : Math.Min(amount, cap[sheet.Cart]);
    }

    private sealed class PerUnit(SelectionTest on, CartTake[] takes, Pick pick, int? maxUnits, AmountTable? cap) : Ready(on, takes, cap)
    {
        public override Stage Stage => Stage.Item;

        public override void Apply(Sheet sheet)
        {
            var take = TakeOf(sheet);
            var lowering = sheet.BeginLowering();
            long total = 0;
            var runs = sheet.Runs;
            foreach (var part in sheet.TakeFrom(On, pick, maxUnits))
            {
                var reduction = take.From(runs[part.Run].Price);
                lowering.Add(part, reduction);
                total += reduction * part.Count;
            }

            var capped = Capped(sheet, total);
            if (capped < total)
                lowering.Spread(capped);
            else
                lowering.Done();
        }

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            var take = TakeOf(sheet);
            long bound = 0;
            var runs = sheet.Runs;
            // Prices only come down from here, and with them the cheapest n and the dearest n: what it takes now is the most.
            foreach (var part in sheet.TakeFrom(On, pick, maxUnits))
                bound += take.From(runs[part.Run].Price) * part.Count;
            return Capped(sheet, bound);
        }

        public override long BoundOf(Sheet sheet, long goods) => Capped(sheet, goods);

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest) =>
            prices.LowerFew(On, pick, maxUnits ?? long.MaxValue, TakeOf(sheet), IsCapped);
    }

    private sealed class PerCart(SelectionTest on, CartTake[] takes, AmountTable? cap) : Ready(on, takes, cap)
    {
        public override Stage Stage => Stage.Order;

        public override void Apply(Sheet sheet)
        {
            var lowering = sheet.BeginLowering();
            long sum = 0;
            var runs = sheet.Runs;
            foreach (var part in sheet.TakeFrom(On, Pricing.Pick.Cheapest, null))
            {
                var price = runs[part.Run].Price;
                lowering.Add(part, price);
                sum += price * part.Count;
            }

            lowering.Spread(Capped(sheet, TakeOf(sheet).From(sum)));
        }

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            return Capped(sheet, TakeOf(sheet).From(sheet.Sum(On)));
        }

        public override long BoundOf(Sheet sheet, long goods) => Capped(sheet, TakeOf(sheet).From(goods));

        // It is spread over all its units, in whole minor units: nothing can be said of one of them.
        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest) =>
            prices.LowerSum(On, TakeOf(sheet), Capped(sheet, long.MaxValue));
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
