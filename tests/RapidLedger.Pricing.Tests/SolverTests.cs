using CsCheck;
using Google.OrTools.Sat;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>
/// Optimal choices against a general-purpose solver: CP-SAT of Google OR-Tools (open source, Apache 2.0), on random instances.
/// </summary>
public class SolverTests
{
    [Fact]
    public void Bundles_with_overlapping_slots_are_filled_as_the_solver_fills_them() =>
        Gen.ULong.Sample(
            seed =>
            {
                var (random, prices, quantities) = Drawn(seed);
                var slots = Enumerable
                    .Range(0, random.Next(1, 4))
                    .Select(_ => (Skus: Some(random), Quantity: random.Next(1, 3), Percent: random.Next(0, 5) * 25))
                    .ToArray();
                var whole = random.Next(3) switch
                {
                    0 => "slots",
                    1 => "price",
                    _ => "amount",
                };
                var minor = random.Next(0, 80);
                var most = random.Next(3) == 0 ? 1 : 4;

                var bundle = new Bundle(
                    slots
                        .Select(slot => new Slot(
                            Of(slot.Skus),
                            slot.Quantity,
                            whole == "slots" ? new Take.Percentage(Percent.From(slot.Percent)!.Value) : null
                        ))
                        .ToEquatableArray(),
                    whole switch
                    {
                        "price" => new Take.To(RandomCase.Money(minor)),
                        "amount" => new Take.Off(RandomCase.Money(minor)),
                        _ => null,
                    },
                    new(most)
                );
                var priced = Shop(prices, [new("bundle", [bundle])]).Price(CartOf(quantities));

                Assert.Equal(Solve(prices, quantities, slots, whole, minor, most), priced.Totals.Saving);
            },
            iter: 250
        );

    [Fact]
    public void The_choice_among_twenty_promotions_that_exclude_each_other_is_the_solvers() =>
        Gen.Select(Gen.Int[1, 2_000].Array[20], Gen.Double[0, 0.5], Gen.Int)
            .Sample(
                (worth, density, seed) =>
                {
                    var (priced, maximum) = Choose(worth, density, seed);
                    Assert.Equal(maximum, priced.Totals.Saving);
                    Assert.True(priced.Proved);
                },
                iter: 120
            );

    [Fact]
    public void Among_more_what_is_said_to_be_proved_is_the_solvers_and_nothing_is_better() =>
        Gen.Select(Gen.Int[1, 2_000].Array[21, 60], Gen.Double[0, 0.9], Gen.Int)
            .Sample(
                (worth, density, seed) =>
                {
                    var (priced, maximum) = Choose(worth, density, seed);
                    if (priced.Proved)
                        Assert.Equal(maximum, priced.Totals.Saving);
                    // What is only the best that was found is as good as any of them alone.
                    else
                        Assert.InRange(priced.Totals.Saving, worth.Max(), maximum!.Value);
                },
                iter: 60
            );

    [Fact]
    public void Bundles_filled_cheapest_are_the_least_that_the_solver_finds() =>
        Gen.ULong.Sample(
            seed =>
            {
                var (random, prices, quantities) = Drawn(seed);
                var slots = Enumerable
                    .Range(0, random.Next(1, 4))
                    .Select(_ => (Skus: Some(random), Quantity: random.Next(1, 3), Percent: random.Next(0, 5) * 25))
                    .ToArray();
                var most = random.Next(1, 4);
                var bundle = new Bundle(
                    slots
                        .Select(slot => new Slot(Of(slot.Skus), slot.Quantity, new Take.Percentage(Percent.From(slot.Percent)!.Value)))
                        .ToEquatableArray(),
                    null,
                    new(most),
                    Pick.Cheapest
                );
                var priced = Shop(prices, [new("bundle", [bundle])]).Price(CartOf(quantities));

                // As many sets as reduce anything, and of those fillings the least reduction that is one.
                long least = 0;
                for (var sets = most; sets > 0 && least == 0; sets--)
                {
                    var (model, used) = Filling(prices, quantities, [.. slots.Select(slot => (slot.Skus, sets * slot.Quantity))]);
                    var reduction = LinearExpr.Sum(
                        from slot in Enumerable.Range(0, slots.Length)
                        from sku in Enumerable.Range(0, prices.Length)
                        select used[slot, sku] * Off(prices[sku], slots[slot].Percent)
                    );
                    model.Add(reduction >= 1);
                    model.Minimize(reduction);
                    least = Optimum(model) ?? 0;
                }

                Assert.Equal(least, priced.Totals.Saving);
            },
            iter: 250
        );

    [Fact]
    public void What_is_got_for_what_is_bought_is_as_often_and_as_cheap_as_the_solver_finds_where_units_fit_both_roles() =>
        Gen.ULong.Sample(
            seed =>
            {
                var (random, prices, quantities) = Drawn(seed);
                var (bought, got, buy, get) = (Some(random), Some(random), random.Next(1, 4), random.Next(1, 3));
                var (most, pick) = (
                    random.Next(3) == 0 ? random.Next(1, 3) : (int?)null,
                    random.Next(2) == 0 ? Pick.Cheapest : Pick.Dearest
                );
                var reward = new BuyGet(
                    Of(bought),
                    Of(got),
                    new Deal.ByQuantity(buy, get, new(most)),
                    new Take.Percentage(Percent.From(100)!.Value),
                    pick
                );
                var priced = Shop(prices, [new("deal", [reward])]).Price(CartOf(quantities));

                // As many applications as the units allow, no unit in both roles; of those the cheapest (dearest) got.
                long? given = null;
                for (var times = most ?? quantities.Sum(); times > 0 && given is null; times--)
                {
                    var (model, used) = Filling(prices, quantities, [(bought, times * buy), (got, times * get)]);
                    var sum = LinearExpr.Sum(Enumerable.Range(0, prices.Length).Select(sku => used[1, sku] * prices[sku]));
                    if (pick == Pick.Cheapest)
                        model.Minimize(sum);
                    else
                        model.Maximize(sum);
                    given = Optimum(model);
                }

                Assert.Equal(given ?? 0, priced.Totals.Saving);
            },
            iter: 250
        );

    private static (Random Random, long[] Prices, int[] Quantities) Drawn(ulong seed)
    {
        var random = new Random((int)(seed ^ (seed >> 32)));
        var prices = Enumerable.Range(0, 5).Select(_ => (long)random.Next(0, 60)).ToArray();
        return (random, prices, [.. prices.Select(_ => random.Next(1, 4))]);
    }

    private static int[] Some(Random random) => [.. Enumerable.Range(0, 5).Where(_ => random.Next(2) == 0).DefaultIfEmpty(0)];

    private static Selection Of(int[] skus) => new(skus.Select(sku => (Term)new Term.OfSku($"S{sku}")).ToEquatableArray());

    // A part of a price is rounded half away from zero for each unit by itself.
    private static long Off(long price, int percent) => (long)Math.Round(price * percent / 100m, MidpointRounding.AwayFromZero);

    // So many units of each slot, no unit in two of them.
    private static (CpModel Model, IntVar[,] Used) Filling(long[] prices, int[] quantities, (int[] Skus, int Quantity)[] slots)
    {
        var model = new CpModel();
        var used = new IntVar[slots.Length, prices.Length];
        for (var slot = 0; slot < slots.Length; slot++)
        for (var sku = 0; sku < prices.Length; sku++)
            used[slot, sku] = model.NewIntVar(0, slots[slot].Skus.Contains(sku) ? quantities[sku] : 0, $"{slot} {sku}");
        for (var slot = 0; slot < slots.Length; slot++)
            model.Add(LinearExpr.Sum(Enumerable.Range(0, prices.Length).Select(sku => used[slot, sku])) == slots[slot].Quantity);
        for (var sku = 0; sku < prices.Length; sku++)
            model.Add(LinearExpr.Sum(Enumerable.Range(0, slots.Length).Select(slot => used[slot, sku])) <= quantities[sku]);
        return (model, used);
    }

    // Amounts off an item each, of which pairs may not meet: a greatest independent set by weight.
    private static (PricedCart Priced, long? Maximum) Choose(int[] worth, double density, int seed)
    {
        var random = new Random(seed);
        var pairs = (
            from x in Enumerable.Range(0, worth.Length)
            from y in Enumerable.Range(0, x)
            where random.NextDouble() < density
            select (x, y)
        ).ToArray();
        var promotions = worth.Select(
            (amount, number) =>
                new Promotion(
                    $"p{number:00}",
                    [new Discount(new([new Term.OfSku($"S{number}")]), new Take.Off(RandomCase.Money(amount)), Per.Cart)],
                    Stacking: new(
                        Allow.Except,
                        pairs
                            .Where(pair => pair.x == number)
                            .Select(pair => (StackingEntry)new StackingEntry.OfPromotion($"p{pair.y:00}"))
                            .ToEquatableArray()
                    )
                )
        );
        var priced = Shop(worth.Select(_ => 2_000L).ToArray(), promotions).Price(CartOf([.. worth.Select(_ => 1)]));

        var model = new CpModel();
        var chosen = worth.Select((_, number) => model.NewBoolVar($"p{number}")).ToArray();
        foreach (var (x, y) in pairs)
            model.AddAtMostOne([chosen[x], chosen[y]]);
        model.Maximize(LinearExpr.WeightedSum(chosen, worth));
        return (priced, Optimum(model));
    }

    private static long Solve(
        long[] prices,
        int[] quantities,
        (int[] Skus, int Quantity, int Percent)[] slots,
        string whole,
        long minor,
        int most
    )
    {
        long best = 0;
        for (var sets = 1; sets <= most; sets++)
        {
            var (model, used) = Filling(prices, quantities, [.. slots.Select(slot => (slot.Skus, sets * slot.Quantity))]);
            long Weight(int slot, int sku) => whole == "slots" ? Off(prices[sku], slots[slot].Percent) : prices[sku];
            model.Maximize(
                LinearExpr.Sum(
                    from slot in Enumerable.Range(0, slots.Length)
                    from sku in Enumerable.Range(0, prices.Length)
                    select used[slot, sku] * Weight(slot, sku)
                )
            );
            if (Optimum(model) is not { } sum)
                break;
            best = Math.Max(
                best,
                whole switch
                {
                    "price" => sum - (sets * minor),
                    "amount" => Math.Min(sum, sets * minor),
                    _ => sum,
                }
            );
        }

        return best;
    }

    private static long? Optimum(CpModel model)
    {
        var solver = new CpSolver { StringParameters = "num_workers:1" };
        return solver.Solve(model) == CpSolverStatus.Optimal ? (long)Math.Round(solver.ObjectiveValue) : null;
    }

    private static Rulebook Shop(long[] prices, IEnumerable<Promotion> promotions) =>
        Rulebook.Compile(
            new Store(RandomCase.Eur, DateTimeZone.Utc),
            new Catalogue(
                [],
                [new("p", "P", prices.Select((price, number) => new Variant($"S{number}", RandomCase.Money(price))).ToEquatableArray())]
            ),
            promotions
        );

    private static Cart CartOf(int[] quantities) =>
        new(
            Instant.FromUtc(2027, 3, 5, 9, 0),
            quantities.Select((quantity, number) => new Line($"S{number}", quantity)).ToEquatableArray()
        );
}
