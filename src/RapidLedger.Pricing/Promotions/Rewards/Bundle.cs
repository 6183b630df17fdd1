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

    private sealed class Ready(ReadySlot[] slots, CartTake[]? takes, Repetition repeat, Pick fill) : ReadyReward
    {
        public override Stage Stage => Stage.Item;

        public override IEnumerable<int> Touches => slots[0].Of.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => Array.Exists(slots, slot => slot.Of.Selects(cart, line));

        public override void Apply(Sheet sheet)
        {
            var filling = FillingOn(sheet);
            if (filling.Solve() is not { } solved) return;
            if (filling.ByWholeSum)
            {
                var (parts, weights) = (sheet.WorkingParts, sheet.Weights);
                parts.Clear();
                weights.Clear();
                for (var i = 0; i < sheet.Runs.Length; i++)
                {
                    if (solved.Units[i] == 0) continue;
                    parts.Add(new(i, solved.Units[i]));
                    weights.Add(new(sheet.Runs[i].Price, solved.Units[i]));
                }

                sheet.LowerBySpreading(parts, weights, Math.Max(0, filling.Reached(solved.Units, solved.Sets)));
                return;
            }

            var reductions = sheet.Working;
            reductions.Clear();
            for (var i = 0; i < sheet.Runs.Length; i++)
            {
                if (solved.Units[i] == 0) continue;
                if (solved.BySlot is not { } bySlot) reductions.Add(new(i, solved.Units[i], filling.TakeOf(0).From(sheet.Runs[i].Price)));
                else
                    for (var slot = 0; slot < slots.Length; slot++)
                        if (bySlot[(slot * solved.Units.Length) + i] is > 0 and var count) reductions.Add(new(i, (int)count, filling.TakeOf(slot).From(sheet.Runs[i].Price)));
            }

            sheet.LowerBy(reductions);
        }

        public override long Bound(Sheet sheet) => Bound(sheet, out _);

        public override long Bound(Sheet sheet, out long dearest) => FillingOn(sheet).Most(out dearest);

        public override bool LowerMost(Sheet sheet, Span<long> prices, long dearest)
        {
            var whole = takes?[sheet.Cart.CurrencyNumber];
            if (whole is null || whole.Value.Kind == Pricing.Take.Kind.Percent)
            {
                Span<long> most = prices.Length <= 256 ? stackalloc long[prices.Length] : new long[prices.Length];
                most.Clear();
                foreach (var slot in slots)
                {
                    if ((whole ?? slot.Takes?[sheet.Cart.CurrencyNumber]) is not { } take) continue;
                    var selected = sheet.Selected(slot.Of);
                    for (var i = 0; i < prices.Length; i++) if (selected[sheet.Runs[i].Line]) most[i] = Math.Max(most[i], take.From(prices[i]));
                }

                for (var i = 0; i < prices.Length; i++) prices[i] -= most[i];
                return true;
            }

            if (whole.Value.Kind == Pricing.Take.Kind.Amount) return false;
            // All units of the sets keep the same share of their price: that of the dearest set is the least.
            var price = whole.Value.Minor;
            if (dearest <= price) return true;
            Span<bool> isIn = prices.Length <= 256 ? stackalloc bool[prices.Length] : new bool[prices.Length];
            isIn.Clear();
            foreach (var slot in slots)
            {
                var selected = sheet.Selected(slot.Of);
                for (var i = 0; i < prices.Length; i++) isIn[i] |= selected[sheet.Runs[i].Line];
            }

            for (var i = 0; i < prices.Length; i++) if (isIn[i]) prices[i] -= ShareAbove(prices[i], dearest - price, dearest);
            return true;

            static long ShareAbove(long of, long part, long all) =>
                of < int.MaxValue && part < int.MaxValue ? ((of * part) + all - 1) / all : (long)((((Int128)of * part) + all - 1) / all);
        }

        private BundleFilling FillingOn(Sheet sheet)
        {
            if (!sheet.Fillings.TryGetValue(this, out var filling))
                sheet.Fillings.Add(this, filling = new(slots, takes?[sheet.Cart.CurrencyNumber], repeat, fill, sheet));
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
