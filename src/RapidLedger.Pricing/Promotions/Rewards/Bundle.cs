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
            var filling = new BundleFilling(slots, takes?[sheet.Cart.CurrencyNumber], repeat, fill, sheet);
            if (filling.Solve() is not { } solved) return;
            if (filling.ByWholeSum)
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
    }
}

/// <summary>One place in a set.</summary>
/// <param name="Of">What fills it.</param>
/// <param name="Quantity">Units for one set.</param>
/// <param name="Take">What is taken from each unit in it; none: nothing, or what the set's own take says.</param>
public sealed record Slot(Selection Of, long Quantity, Take? Take = null);

/// <summary>A slot made ready.</summary>
internal sealed record ReadySlot(SelectionTest Of, long Quantity, CartTake[]? Takes);
