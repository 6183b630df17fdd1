using CsCheck;
using Google.OrTools.Sat;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>How sets are filled: against every way there is on small carts, and against CP-SAT of Google OR-Tools on larger ones.</summary>
public class FillingTests
{
    // Prices close together and far apart: of the latter there are too many sums to go through them all, also where many fillings come to
    // one.
    [Theory]
    [InlineData(12, 4_000, false)]
    [InlineData(300_000_000, 1_500, false)]
    [InlineData(300_000_000, 1_500, true)]
    public void A_bundle_is_filled_as_by_trying_every_way_there_is(int price, int times, bool fewPrices) =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(
                    seed,
                    lines: 4,
                    units: 3,
                    price,
                    priceOfAll: fewPrices,
                    fewPrices ? Pick.Cheapest : null,
                    fewPrices: fewPrices
                );
                var priced = drawn.Price();
                var expected = Exhaustive.Best(drawn);
                Assert.Equal(expected, priced.Lines.Select(line => line.Goods - line.Net));
                Assert.True(priced.Proved);
            },
            iter: times
        );

    [Theory]
    [InlineData(9, 4, 400, 3)]
    [InlineData(7, 2, 400_000_000, 3)]
    [InlineData(7, 2, 400_000_000, TransversalGreedy.MostSlots + 2)]
    public void The_cheapest_sets_above_a_price_are_those_of_the_solver(int lines, int units, int price, int slots) =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, lines, units, price, priceOfAll: true, Pick.Cheapest, slots);
                var priced = drawn.Price();
                Assert.True(priced.Proved);
                Assert.Equal(CheapestAbove(drawn), priced.Totals.Saving);
            },
            iter: 150
        );

    [Fact]
    public void Units_of_whole_sets_are_found_alike_by_a_greedy_walk_and_by_flows() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, lines: 12, units: 9, price: 50);
                var sheet = drawn.Sheet(out var slots);
                var sets = new TransversalGreedy();
                var layout = TransversalGreedy.Layout.Of(sheet, slots);
                sets.Open(sheet, layout);
                long[] capacity = [.. drawn.Quantities.Select(quantity => (long)quantity)];
                bool[] allowed =
                [
                    .. slots.SelectMany(slot => Enumerable.Range(0, capacity.Length).Select(line => slot.Of.Selects(sheet.Cart, line))),
                ];
                long[] Needs(long count) => [.. slots.Select(slot => slot.Quantity * count)];
                bool CanFill(long count) =>
                    new SlotFlow<long>(capacity, allowed, new long[allowed.Length], sheet.Work).FillMore(Needs(count));
                var most = layout.Most;
                Assert.True((most == 0 || CanFill(most)) && !CanFill(most + 1));

                for (var count = 1; count <= most; count++)
                {
                    foreach (var (pick, sign) in new[] { (Pick.Dearest, -1L), (Pick.Cheapest, 1L) })
                    {
                        var flow = new SlotFlow<long>(
                            capacity,
                            allowed,
                            [.. Enumerable.Range(0, allowed.Length).Select(place => sign * drawn.Prices[place % capacity.Length])],
                            sheet.Work
                        );
                        Assert.True(flow.FillMore(Needs(count)));
                        var units = Enumerable
                            .Range(0, capacity.Length)
                            .Select(line => flow.BySlot.Where((_, place) => place % capacity.Length == line).Sum())
                            .ToArray();
                        Assert.Equal(units.Select((taken, line) => taken * drawn.Prices[line]).Sum(), sets.Fill(count, pick));
                        if (sets.IsUnique)
                            Assert.Equal(units, sets.Taken.ToArray().Select(taken => (long)taken));
                    }
                }
            },
            iter: 1_500
        );

    [Fact]
    public void Sets_of_more_slots_than_are_walked_through_are_filled_all_the_same()
    {
        // Eight slots that anything may stand in, a price for all: the eight dearest units stand in the set.
        var slots = Enumerable.Range(0, 8).Select(_ => new Slot(Selection.Everything, 1)).ToEquatableArray();
        var drawn = new Draw(1, lines: 12, units: 1, price: 900);
        var dearest = drawn.Prices.OrderDescending().Take(8).Sum();
        var bundle = new Bundle(slots, new Take.To(RandomCase.Money(dearest - 7)), Repetition.Once);
        // Beside others it must not be thought too small to be worth a look.
        var others = Enumerable
            .Range(0, 3)
            .Select(number => new Promotion(
                $"z{number}",
                [new Discount(Selection.Everything, new Take.Off(RandomCase.Money(6)), Per.Cart)],
                Stacking: new(Allow.None)
            ));
        var priced = drawn.Rulebook([new("b", [bundle]), .. others]).Price(drawn.Cart);
        Assert.Equal(7, priced.Totals.Saving);
    }

    [Fact]
    public void As_many_sets_are_filled_as_pay_where_slots_are_many_and_units_too() =>
        Gen.ULong.Sample(
            seed =>
            {
                // Slots that anything may stand in: of the dearest units as many sets as cost more than is asked for them.
                var drawn = new Draw(seed, lines: 8, units: 1, price: 3_000);
                var random = new Random((int)(seed % 1_000_003));
                var quantities = drawn.Prices.Select(_ => random.Next(1, 900)).ToArray();
                var (count, each) = (TransversalGreedy.MostSlots + 1, random.Next(1_000, 3_000));
                var asked = (long)count * each;
                var units = drawn
                    .Prices.Zip(quantities)
                    .OrderByDescending(line => line.First)
                    .SelectMany(line => Enumerable.Repeat(line.First, line.Second))
                    .ToArray();
                var expected = units.Chunk(count).Where(set => set.Length == count).Sum(set => Math.Max(0, set.Sum() - asked));
                var bundle = new Bundle(
                    [.. Enumerable.Range(0, count).Select(_ => new Slot(Selection.Everything, 1))],
                    new Take.To(RandomCase.Money(asked)),
                    Repetition.Every
                );
                var priced = drawn.Rulebook([new("b", [bundle])]).Price(drawn.CartOf(quantities), effort: 20);
                Assert.Equal((expected, true), (priced.Totals.Saving, priced.Proved));
            },
            iter: 60
        );

    [Theory]
    [InlineData("percent")]
    [InlineData("amount")]
    [InlineData("price")]
    [InlineData("slots")]
    public void Many_times_the_units_and_sets_take_many_times_as_much(string take) =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new Draw(seed, lines: 6, units: 4, price: 2_000);
                Take? whole = take switch
                {
                    "percent" => new Take.Percentage(Percent.Whole),
                    "amount" => new Take.Off(RandomCase.Money(700)),
                    "price" => new Take.To(RandomCase.Money(900)),
                    _ => null,
                };
                var slots = drawn
                    .Bundle.Slots.Select(
                        (slot, place) => slot with { Take = whole is null ? new Take.Off(RandomCase.Money(100 * (place + 1))) : null }
                    )
                    .ToEquatableArray();
                long Saving(int times)
                {
                    var priced = drawn
                        .Rulebook([new("b", [new Bundle(slots, whole, new(drawn.Bundle.Repeat.Most is { } most ? most * times : null))])])
                        .Price(drawn.CartOf(drawn.Quantities.Select(quantity => quantity * times)));
                    Assert.True(priced.Proved, $"{times} times: {priced.Work}");
                    return priced.Totals.Saving;
                }

                // What is best for the units of a cart is best again for each of many such carts; together they can only do better.
                Assert.True(Saving(25_000) >= 25_000 * Saving(1), $"{Saving(25_000)} {Saving(1)}");
                Assert.True(Saving(25_000) * 2 <= Saving(50_000));
            },
            iter: 60
        );

    private static long CheapestAbove(Draw drawn)
    {
        var (slots, price) = (drawn.Bundle.Slots, ((Take.To)drawn.Bundle.Take!).Price);
        var asked = price.For(RandomCase.Eur, drawn.Store)!.Value;
        for (var sets = drawn.Bundle.Repeat.Of(drawn.Quantities.Sum()); sets > 0; sets--)
        {
            var model = new CpModel();
            var used = slots
                .Select(slot =>
                    drawn.Prices.Select((_, line) => model.NewIntVar(0, Draw.Stands(slot, line) ? drawn.Quantities[line] : 0, "")).ToArray()
                )
                .ToArray();
            for (var slot = 0; slot < slots.Count; slot++)
                model.Add(LinearExpr.Sum(used[slot]) == sets * slots[slot].Quantity);
            for (var line = 0; line < drawn.Prices.Length; line++)
                model.Add(LinearExpr.Sum(used.Select(slot => slot[line])) <= drawn.Quantities[line]);
            var sum = LinearExpr.Sum(used.SelectMany(slot => slot.Select((units, line) => units * drawn.Prices[line])));
            model.Add(sum >= (sets * asked) + 1);
            model.Minimize(sum);
            var solver = new CpSolver { StringParameters = "num_workers:1" };
            if (solver.Solve(model) == CpSolverStatus.Optimal)
                return (long)Math.Round(solver.ObjectiveValue) - (sets * asked);
        }

        return 0;
    }

    /// <summary>One bundle and one cart.</summary>
    private sealed class Draw
    {
        private readonly Catalogue catalogue;

        public Draw(
            ulong seed,
            int lines,
            int units,
            int price,
            bool priceOfAll = false,
            Pick? fill = null,
            int mostSlots = 3,
            bool fewPrices = false
        )
        {
            var random = new Random((int)(seed ^ (seed >> 32)));
            Prices =
            [
                .. Enumerable
                    .Range(0, lines)
                    .Select(_ => fewPrices ? (random.Next(3) * (price / 3L)) + random.Next(3) : random.Next(0, price)),
            ];
            Quantities = [.. Enumerable.Range(0, lines).Select(_ => random.Next(1, units + 1))];
            catalogue = new(
                [],
                [new("p", "P", Prices.Select((each, line) => new Variant($"S{line}", RandomCase.Money(each))).ToEquatableArray())]
            );
            Take Some() =>
                random.Next(3) switch
                {
                    0 => new Take.Percentage(Percent.From(25 * random.Next(5))!.Value),
                    1 => new Take.Off(RandomCase.Money(random.Next(price))),
                    _ => new Take.To(RandomCase.Money(random.Next(2 * price))),
                };
            var whole = priceOfAll || random.Next(2) == 0;
            var many = mostSlots > 3;
            var slots = Enumerable
                .Range(0, many ? mostSlots : random.Next(1, 4))
                .Select(_ => new Slot(
                    new(
                        Enumerable
                            .Range(0, lines)
                            .Where(_ => random.Next(2) == 0)
                            .DefaultIfEmpty(random.Next(lines))
                            .Select(line => (Term)new Term.OfSku($"S{line}"))
                            .ToEquatableArray()
                    ),
                    many ? 1 : random.Next(1, 3),
                    whole ? null : Some()
                ));
            Bundle = new(
                slots.ToEquatableArray(),
                priceOfAll ? new Take.To(RandomCase.Money(random.NextInt64((many ? mostSlots : 4L) * price)))
                    : whole ? Some()
                    : null,
                new(random.Next(3) == 0 ? null : random.Next(1, 3)),
                fill ?? (random.Next(2) == 0 ? Pick.Dearest : Pick.Cheapest)
            );
        }

        public Store Store { get; } = new(RandomCase.Eur, DateTimeZone.Utc);

        public long[] Prices { get; }

        public int[] Quantities { get; }

        public Bundle Bundle { get; }

        public Cart Cart => CartOf(Quantities);

        public static bool Stands(Slot slot, int line) => slot.Of.In.Contains(new Term.OfSku($"S{line}"));

        public Cart CartOf(IEnumerable<int> quantities) =>
            new(
                Instant.FromUtc(2027, 3, 5, 9, 0),
                quantities.Select((quantity, line) => new Line($"S{line}", quantity)).ToEquatableArray()
            );

        public Rulebook Rulebook(IEnumerable<Promotion> promotions) => Pricing.Rulebook.Compile(Store, catalogue, promotions);

        public PricedCart Price() => Rulebook([new("b", [Bundle])]).Price(Cart, effort: 100);

        public Sheet Sheet(out ReadySlot[] slots)
        {
            var index = CatalogueIndex.Of(Store, catalogue);
            var compiler = new Compiler(index);
            slots = [.. Bundle.Slots.Select(slot => new ReadySlot(compiler.Selection(slot.Of), slot.Quantity, null))];
            var sheet = new Sheet();
            sheet.Work.Open(long.MaxValue, default);
            sheet.Open(new CartView(Cart, index), 0, 0);
            return sheet;
        }
    }

    /// <summary>The rule of the contract, by going through all fillings.</summary>
    private static class Exhaustive
    {
        /// <summary>What the best filling takes from each line.</summary>
        public static long[] Best(Draw drawn)
        {
            var (best, taken) = (default(Rated?), new long[drawn.Prices.Length]);
            for (var sets = 1L; sets <= Math.Min(drawn.Bundle.Repeat.Of(20), drawn.Quantities.Sum()); sets++)
            {
                foreach (var filling in Fillings(drawn, 0, sets, [.. drawn.Quantities], []))
                {
                    var reductions = Reductions(drawn, filling, sets);
                    var rated = new Rated(
                        reductions.Sum(),
                        sets,
                        filling.Select((units, place) => units * drawn.Prices[place % drawn.Prices.Length]).Sum(),
                        [.. filling]
                    );
                    if (rated.Reduction == 0 || (best is { } other && !GoesBefore(rated, other, drawn.Bundle.Fill)))
                        continue;
                    (best, taken) = (rated, reductions);
                }
            }

            return taken;
        }

        private static bool GoesBefore(Rated rated, Rated other, Pick fill)
        {
            var (mine, theirs) =
                fill == Pick.Dearest
                    ? ((rated.Reduction, rated.Sets, rated.Sum), (other.Reduction, other.Sets, other.Sum))
                    : ((rated.Sets, -rated.Reduction, -rated.Sum), (other.Sets, -other.Reduction, -other.Sum));
            return mine.CompareTo(theirs) is var compared && compared != 0
                ? compared > 0
                : rated.Filling.AsSpan().SequenceCompareTo(other.Filling) > 0;
        }

        // Slot after slot, in each how many units of every line.
        private static IEnumerable<List<int>> Fillings(Draw drawn, int place, long sets, int[] left, List<int> filling)
        {
            var (lines, slots) = (drawn.Prices.Length, drawn.Bundle.Slots);
            if (place == lines * slots.Count)
            {
                yield return filling;
                yield break;
            }

            var (slot, line) = (slots[place / lines], place % lines);
            var missing = (sets * slot.Quantity) - filling.Skip(place - line).Sum();
            var most = Draw.Stands(slot, line) ? Math.Min(missing, left[line]) : 0;
            for (var units = line == lines - 1 ? missing : 0; units <= most; units++)
            {
                filling.Add((int)units);
                left[line] -= (int)units;
                foreach (var found in Fillings(drawn, place + 1, sets, left, filling))
                    yield return found;
                left[line] += (int)units;
                filling.RemoveAt(filling.Count - 1);
            }
        }

        private static long[] Reductions(Draw drawn, List<int> filling, long sets)
        {
            var lines = drawn.Prices.Length;
            var taken = new long[lines];
            CartTake In(Take take) => take.For(RandomCase.Eur, drawn.Store)!.Value;
            if (drawn.Bundle.Take is { } whole and not Take.Percentage)
            {
                int[] units = [.. Enumerable.Range(0, lines).Select(line => filling.Where((_, place) => place % lines == line).Sum())];
                var sum = units.Select((count, line) => count * drawn.Prices[line]).Sum();
                var amount = whole is Take.Off ? Math.Min(sum, sets * In(whole).Minor) : Math.Max(0, sum - (sets * In(whole).Minor));
                var runs = Enumerable.Range(0, lines).Where(line => units[line] > 0).ToArray();
                foreach (
                    var (run, count, share) in Spreading.Spread(
                        amount,
                        [.. runs.Select(line => new SpreadRun(drawn.Prices[line], units[line]))]
                    )
                )
                    taken[runs[run]] += count * share;
                return taken;
            }

            for (var place = 0; place < filling.Count; place++)
                taken[place % lines] +=
                    filling[place] * In(drawn.Bundle.Take ?? drawn.Bundle.Slots[place / lines].Take!).From(drawn.Prices[place % lines]);
            return taken;
        }

        private readonly record struct Rated(long Reduction, long Sets, long Sum, int[] Filling);
    }
}
