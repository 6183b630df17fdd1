namespace RapidLedger.Pricing;

/// <summary>Gives units beside the cart, at the current price of their SKU less a take: as a rule all of it.</summary>
/// <param name="Give">What is given.</param>
/// <param name="Times">How many times.</param>
/// <param name="Quantity">Units each time.</param>
/// <param name="AtMost">At most so many times.</param>
/// <param name="Picked">A single SKU too is only given when it is picked.</param>
/// <param name="Take">What is taken off; none: all of it.</param>
public sealed record Gift(Give Give, Times Times, long Quantity = 1, long? AtMost = null, bool Picked = false, Take? Take = null) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => [Pass.Item];

    /// <inheritdoc/>
    public override bool SetsUnitPrices => false;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Gift;

    internal override string Say(Wording wording) => GiftWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart)
    {
        // The same again costs and is worth what so much of the cart does.
        if (Give is Give.SameAs)
            return new(Quantity * Int128.Max(cart.Goods, cart.Cost), 0);
        var prices = cart.Catalogue.PricesIn(cart.Currency);
        var dearest = ((Give.OneOf)Give)
            .Skus.Select(cart.Catalogue.Find)
            .Max(variant => Math.Max(prices.Current(variant), prices.Cost(variant) ?? 0));
        var times =
            Times.Of is null ? 1
            : Times.Spend is { } spend ? cart.Goods / cart.Divisor(spend)
            : cart.Units / Times.Quantity!.Value;
        return new(Int128.Min(times, AtMost ?? long.MaxValue) * Quantity * dearest, 0);
    }

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler)
    {
        var takes = compiler.Takes(Take ?? new Take.Percentage(Percent.Whole));
        return
        [
            Give switch
            {
                Give.SameAs(var selection) => new Again(this, compiler.Selection(selection)),
                Give.OneOf(var skus) => new Ready(
                    this,
                    [.. skus.Select(compiler.Catalogue.Find)],
                    Times.Of is null ? null : compiler.Selection(Times.Of),
                    compiler.Divisors(Times.Spend),
                    takes,
                    compiler.Promotion
                ),
                _ => throw new System.Diagnostics.UnreachableException(),
            },
        ];
    }

    private sealed class Ready(Gift gift, int[] variants, SelectionTest? of, AmountTable? spend, CartTake[] takes, string promotion)
        : GiftReward
    {
        public override IEnumerable<int>? Touches => of?.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => of?.Selects(cart, line) ?? true;

        public override void Apply(Sheet sheet)
        {
            var open = Entitled(sheet);
            if (open == 0)
                return;
            if (variants.Length == 1 && !gift.Picked)
            {
                var given = Math.Min(open, sheet.Gifts.Left(variants[0]));
                if (given < open)
                    sheet.Gifts.RanShort();
                if (given > 0)
                    sheet.Gifts.Give(variants[0], given, Off(sheet, variants[0]));
                return;
            }

            var picks = sheet.Cart.PicksOf(promotion);
            sheet.Work.Count(picks.Length * variants.Length);
            for (var place = 0; place < picks.Length && open > 0; place++)
            {
                var variant = picks[place];
                if (sheet.Gifts.IsUsed(place) || !variants.AsSpan().Contains(variant))
                    continue;
                sheet.Gifts.Use(place);
                if (sheet.Gifts.Left(variant) == 0)
                    sheet.Gifts.RanShort();
                else
                {
                    sheet.Gifts.Give(variant, 1, Off(sheet, variant));
                    open--;
                }
            }

            Offer(sheet, open);
        }

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            return Entitled(sheet) * variants.Max(variant => Off(sheet, variant));
        }

        public override IEnumerable<Want[]> Wants(CartView cart)
        {
            if (of is null)
                yield break;
            if (spend is not null)
            {
                var (spent, each) = (of.Spend(cart), spend[cart]);
                if (spent / each < (gift.AtMost ?? long.MaxValue))
                    yield return [new(of.Written, 0, each - (spent % each))];
            }
            else if (of.Units(cart) is var units && units / gift.Times.Quantity!.Value < (gift.AtMost ?? long.MaxValue))
            {
                yield return [new(of.Written, gift.Times.Quantity.Value - (units % gift.Times.Quantity.Value))];
            }
        }

        public override Idleness WhyIdle(Sheet sheet)
        {
            if (of is null || Entitled(sheet) > 0)
                return new Idleness.NothingToTake(null);
            if (of.Units(sheet.Cart) == 0)
                return new Idleness.NothingOfIt(of.Written);
            return spend is not null
                ? new Idleness.ComesToTooLittle(of.Written, of.Spend(sheet.Cart), spend[sheet.Cart])
                : new Idleness.TooFew(of.Written, of.Units(sheet.Cart), gift.Times.Quantity!.Value);
        }

        public override (long Units, long Net) BoundOfGifts(Sheet sheet)
        {
            var units = Entitled(sheet);
            return (units, units * variants.Max(variant => sheet.Cart.PriceOf(variant) - Off(sheet, variant)));
        }

        // What is not picked yet counts for the value that the cheapest choice would take off.
        private void Offer(Sheet sheet, long open)
        {
            if (open == 0)
                return;
            long worth = 0,
                units = 0;
            var offered = new List<int>();
            foreach (var variant in variants.Distinct().OrderBy(variant => Off(sheet, variant)))
            {
                var count = Math.Min(open - units, sheet.Gifts.Left(variant));
                worth += count * Off(sheet, variant);
                units += count;
            }

            foreach (var variant in variants.Distinct())
                if (sheet.Gifts.Left(variant) > 0)
                    offered.Add(variant);
            if (units < open)
                sheet.Gifts.RanShort();
            if (units > 0)
                sheet.Gifts.Offer(offered, units, worth);
        }

        private long Off(Sheet sheet, int variant) => takes[sheet.Cart.CurrencyNumber].From(sheet.Cart.PriceOf(variant));

        private long Entitled(Sheet sheet)
        {
            var times =
                of is null ? 1
                : spend is null ? of.Units(sheet.Cart) / gift.Times.Quantity!.Value
                : of.Spend(sheet.Cart) / spend[sheet.Cart];
            return Math.Min(times, gift.AtMost ?? long.MaxValue) * gift.Quantity;
        }
    }

    /// <summary>The same item again, free, for every so many of it.</summary>
    private sealed class Again(Gift gift, SelectionTest of) : GiftReward
    {
        public override IEnumerable<int> Touches => of.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => of.Selects(cart, line);

        public override void Apply(Sheet sheet)
        {
            foreach (var (variant, units) in Entitled(sheet))
            {
                var given = Math.Min(units, sheet.Gifts.Left(variant));
                if (given < units)
                    sheet.Gifts.RanShort();
                if (given > 0)
                    sheet.Gifts.Give(variant, given, sheet.Cart.PriceOf(variant));
            }
        }

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            long bound = 0;
            foreach (var (variant, units) in Entitled(sheet))
                bound += units * sheet.Cart.PriceOf(variant);
            return bound;
        }

        public override IEnumerable<Want[]> Wants(CartView cart)
        {
            var each = gift.Times.Quantity ?? 1;
            for (var line = 0; line < cart.Lines; line++)
            {
                if (!cart.IsFirstOfSku(line) || !of.Selects(cart, line))
                    continue;
                var variant = cart.Variant(line);
                yield return [new(of.Written, each - (cart.UnitsOf(variant) % each)) { Variant = variant }];
            }
        }

        public override Idleness WhyIdle(Sheet sheet)
        {
            if (of.Units(sheet.Cart) == 0)
                return new Idleness.NothingOfIt(of.Written);
            if (Entitled(sheet).Count > 0)
                return new Idleness.NothingToTake(of.Written);
            var most = Enumerable
                .Range(0, sheet.Cart.Lines)
                .Where(line => of.Selects(sheet.Cart, line))
                .Max(line => sheet.Cart.UnitsOf(sheet.Cart.Variant(line)));
            return new Idleness.TooFew(of.Written, most, gift.Times.Quantity ?? 1, OfOne: true);
        }

        public override (long Units, long Net) BoundOfGifts(Sheet sheet) => (Entitled(sheet).Sum(entry => entry.Units), 0);

        private List<(int Variant, long Units)> Entitled(Sheet sheet)
        {
            var entitled = new List<(int, long)>();
            var left = gift.AtMost ?? long.MaxValue;
            var cart = sheet.Cart;
            sheet.Work.Count(2L * cart.Lines);
            for (var line = 0; line < cart.Lines && left > 0; line++)
            {
                if (!cart.IsFirstOfSku(line) || !of.Selects(cart, line))
                    continue;
                var times = Math.Min(left, cart.UnitsOf(cart.Variant(line)) / (gift.Times.Quantity ?? 1));
                left -= times;
                if (times > 0)
                    entitled.Add((cart.Variant(line), times * gift.Quantity));
            }

            return entitled;
        }
    }
}

/// <summary>What a gift is.</summary>
public abstract record Give
{
    private Give() { }

    /// <summary>One SKU, or one of several to pick.</summary>
    public sealed record OneOf(EquatableArray<string> Skus) : Give;

    /// <summary>Of each selected SKU of the cart, the same again.</summary>
    public sealed record SameAs(Selection Selection) : Give;
}

/// <summary>How many times a gift is given: once, or once for each so many units or each amount.</summary>
/// <param name="Of">Of which units; none: once, or of the gift's own selection.</param>
/// <param name="Quantity">Once for each so many units.</param>
/// <param name="Spend">Once for each such amount of current prices.</param>
public sealed record Times(Selection? Of = null, long? Quantity = null, Amount? Spend = null)
{
    /// <summary>Once.</summary>
    public static readonly Times Once = new();
}
