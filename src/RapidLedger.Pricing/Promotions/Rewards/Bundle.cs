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

    /// <inheritdoc/>
    public override bool SetsUnitPrices => true;

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Bundle;

    internal override string Say(Wording wording) => BundleWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) => Reach.Nothing;

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler) =>
        [
            new Ready(
                [
                    .. Slots.Select(slot => new ReadySlot(
                        compiler.Selection(slot.Of),
                        slot.Quantity,
                        slot.Take is { } take ? compiler.Takes(take) : null
                    )),
                ],
                Take is { } whole ? compiler.Takes(whole) : null,
                Repeat,
                Fill
            ),
        ];

    private sealed class Ready(ReadySlot[] slots, CartTake[]? takes, Repetition repeat, Pick fill) : UnitReward
    {
        public override Stage Stage => Stage.Item;

        public override IEnumerable<int> Touches => slots[0].Of.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => Array.Exists(slots, slot => slot.Of.Selects(cart, line));

        public override void Apply(Sheet sheet)
        {
            var filling = FillingOn(sheet);
            if (filling.Solve() is not { } solved)
                return;
            var lowering = sheet.BeginLowering();
            if (filling.ByWholeSum)
            {
                for (var i = 0; i < sheet.Runs.Length; i++)
                    if (solved.Units[i] > 0)
                        lowering.Add(new(i, solved.Units[i]), sheet.Runs[i].Price);
                lowering.Spread(Math.Max(0, filling.ReductionOf(solved.Units, solved.Sets)));
                return;
            }

            for (var i = 0; i < sheet.Runs.Length; i++)
            {
                if (solved.Units[i] == 0)
                    continue;
                if (solved.BySlot is not { } bySlot)
                    lowering.Add(new(i, solved.Units[i]), filling.TakeOf(0).From(sheet.Runs[i].Price));
                else
                    for (var slot = 0; slot < slots.Length; slot++)
                        if (bySlot[(slot * solved.Units.Length) + i] is > 0 and var count)
                            lowering.Add(new(i, (int)count), filling.TakeOf(slot).From(sheet.Runs[i].Price));
            }

            lowering.Done();
        }

        public override long Bound(Sheet sheet, out long dearest) => FillingOn(sheet).Most(out dearest);

        public override long BoundOf(Sheet sheet, long goods) => goods;

        public override IEnumerable<Want[]> Wants(CartView cart)
        {
            long[] units = [.. slots.Select(slot => slot.Of.Units(cart))];
            var sets = slots.Select((slot, place) => units[place] / slot.Quantity).Min();
            if (sets >= (repeat.Most ?? long.MaxValue))
                yield break;
            var wants = new List<Want>();
            for (var place = 0; place < slots.Length; place++)
            {
                if (units[place] >= (sets + 1) * slots[place].Quantity)
                    continue;
                wants.Add(new(slots[place].Of.Written, ((sets + 1) * slots[place].Quantity) - units[place]));
            }

            // Each slot for itself has enough: they ask for the same units.
            if (wants.Count == 0)
                wants.Add(new(slots[^1].Of.Written, slots[^1].Quantity));
            yield return [.. wants];
        }

        public override Idleness WhyIdle(Sheet sheet)
        {
            var cart = sheet.Cart;
            if (Array.TrueForAll(slots, slot => slot.Of.Units(cart) == 0))
                return new Idleness.NothingOfIt(slots[0].Of.Written);
            foreach (var slot in slots)
                if (slot.Of.Units(cart) is var units && units < slot.Quantity)
                    return new Idleness.TooFew(slot.Of.Written, units, slot.Quantity, ForSet: true);
            return FillingOn(sheet).HasSets ? new Idleness.NothingToTake(null) : new Idleness.SetNeedsMore();
        }

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest)
        {
            var lines = prices.Lines;
            var before = prices.Prices;
            sheet.Work.Count((long)slots.Length * lines.Length);
            foreach (var slot in slots)
                if (prices.Splits(sheet.Selected(slot.Of)))
                    return false;
            var whole = takes?[sheet.Cart.CurrencyNumber];
            if (whole is null || whole.Value.Kind == Pricing.Take.Kind.Percent)
            {
                Span<long> most = lines.Length <= 256 ? stackalloc long[lines.Length] : new long[lines.Length];
                most.Clear();
                foreach (var slot in slots)
                {
                    if ((whole ?? slot.Takes?[sheet.Cart.CurrencyNumber]) is not { } take)
                        continue;
                    var selected = sheet.Selected(slot.Of);
                    for (var i = 0; i < lines.Length; i++)
                        if (selected[lines[i]])
                            most[i] = Math.Max(most[i], take.From(before[i]));
                }

                for (var i = 0; i < lines.Length; i++)
                    if (most[i] > 0)
                        prices.Lower(i, most[i]);
                return true;
            }

            if (whole.Value.Kind == Pricing.Take.Kind.Amount)
                return false;
            // All units of the sets keep the same share of their price: that of the dearest set is the least.
            var price = whole.Value.Minor;
            if (dearest <= price)
                return true;
            Span<bool> isIn = lines.Length <= 256 ? stackalloc bool[lines.Length] : new bool[lines.Length];
            isIn.Clear();
            foreach (var slot in slots)
            {
                var selected = sheet.Selected(slot.Of);
                for (var i = 0; i < lines.Length; i++)
                    isIn[i] |= selected[lines[i]];
            }

            for (var i = 0; i < lines.Length; i++)
                if (isIn[i])
                    prices.Lower(i, ShareAbove(before[i], dearest - price, dearest));
            return true;

            static long ShareAbove(long of, long part, long all) =>
                of < int.MaxValue && part < int.MaxValue ? ((of * part) + all - 1) / all : (long)((((Int128)of * part) + all - 1) / all);
        }

        private BundleFilling FillingOn(Sheet sheet)
        {
            var filling = sheet.Fillings.Of(this, () => new(slots, takes?[sheet.Cart.CurrencyNumber], repeat, fill, sheet));
            filling.Open();
            return filling;
        }
    }
}

/// <summary>One place in a set.</summary>
/// <param name="Of">What fills it.</param>
/// <param name="Quantity">Units for one set.</param>
/// <param name="Take">What is taken from each unit in it; none: nothing, or what the set's own take says.</param>
public sealed record Slot(Selection Of, long Quantity, Take? Take = null);

/// <summary>A slot made ready.</summary>
internal sealed record ReadySlot(SelectionTest Of, long Quantity, CartTake[]? Takes);
