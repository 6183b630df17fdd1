using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>
/// Discounts, buy-some-get-some and ladders done again unit by unit, as the contract tells it, without runs, indexes or bounds:
/// few units and many must come to the same.
/// </summary>
public class UnitByUnitTests
{
    [Theory]
    [InlineData(1)]
    [InlineData(150)]
    public void Rewards_take_what_they_take_from_each_unit_by_itself(int times) =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new RandomCase(seed);
                var lines = drawn.Lines.Select(line => line with { Quantity = line.Quantity * times }).ToArray();
                var rewards = Enumerable
                    .Range(0, 60)
                    .SelectMany(number => drawn.Promotion($"r{number}").Rewards)
                    .Where(reward => reward is Discount or BuyGet or Ladder)
                    .Take(1 + (int)(seed % 2))
                    .ToEquatableArray();
                // Of sixty promotions one at least holds such a reward.
                Assert.NotEmpty(rewards);
                var priced = Rulebook.Compile(drawn.Store, drawn.Catalogue, [new("p", rewards)]).Price(drawn.CartOf(lines));
                Assert.Equal(new Units(drawn, lines).After(rewards), priced.Lines.Select(line => line.Net));
            },
            iter: times == 1 ? 6_000 : 600
        );

    [Theory]
    // Once: the group whose first unit got is the cheapest, or the dearest.
    [InlineData(Pick.Cheapest, 100)]
    [InlineData(Pick.Dearest, 900)]
    public void Of_groups_the_one_with_the_cheapest_or_dearest_unit_goes_first(Pick pick, long saving)
    {
        var reward = new BuyGet(
            Selection.Everything,
            Selection.Everything,
            new Deal.ByQuantity(1, 1, Repetition.Once),
            new Take.Percentage(Percent.Whole),
            pick,
            Same.Sku
        );
        var catalogue = new Catalogue(
            [],
            [new("p", "P", [new("A", RandomCase.Money(500)), new("B", RandomCase.Money(100)), new("C", RandomCase.Money(900))])]
        );
        var priced = Rulebook
            .Compile(new(RandomCase.Eur, NodaTime.DateTimeZone.Utc), catalogue, [new("p", [reward])])
            .Price(new(NodaTime.Instant.FromUtc(2027, 3, 5, 9, 0), [new("A", 2), new("B", 2), new("C", 2)]));
        Assert.Equal(saving, priced.Totals.Saving);
    }

    /// <summary>A cart as single units.</summary>
    private sealed class Units
    {
        private readonly RandomCase drawn;
        private readonly Line[] lines;
        private readonly Unit[] units;

        public Units(RandomCase drawn, Line[] lines)
        {
            (this.drawn, this.lines) = (drawn, lines);
            units =
            [
                .. Enumerable
                    .Range(0, lines.Length)
                    .SelectMany(line =>
                        Enumerable.Repeat(
                            new Unit(line, Minor(Sold(line).Variant.Price ?? Sold(line).Variant.Regular)),
                            lines[line].Quantity
                        )
                    )
                    .Select((unit, place) => unit with { Place = place }),
            ];
        }

        /// <summary>What is to be paid for each line.</summary>
        public IEnumerable<long> After(IEnumerable<Reward> rewards)
        {
            // The item pass comes before the order pass.
            var steps = rewards.SelectMany(Parts).ToArray();
            foreach (var pass in new[] { Per.Unit, Per.Cart })
            foreach (var (per, apply) in steps)
                if (per == pass)
                    apply();
            return units.GroupBy(unit => unit.Line).OrderBy(line => line.Key).Select(line => line.Sum(unit => unit.Price));
        }

        private IEnumerable<(Per Pass, Action Apply)> Parts(Reward reward)
        {
            switch (reward)
            {
                case Discount discount:
                    yield return (discount.Per, () => Take(discount));
                    break;
                case BuyGet deal:
                    yield return (Per.Unit, () => Take(deal));
                    break;
                case Ladder { Apply: StepsThatCount.Beyond } ladder:
                    yield return (Per.Unit, () => TakeBeyond(ladder));
                    break;
                case Ladder ladder:
                    var measured =
                        ladder.Measure == Measure.Quantity ? Selected(ladder.Of).Count() : Selected(ladder.Of).Sum(unit => unit.Current);
                    var reached = ladder
                        .Steps.Where(step => (step.Spend is { } spend ? Minor(spend) : step.Quantity) <= measured)
                        .ToArray();
                    foreach (var step in ladder.Apply == StepsThatCount.All ? reached : reached.TakeLast(1))
                    foreach (var part in step.Rewards.OfType<Discount>().SelectMany(Parts))
                        yield return part;
                    break;
            }
        }

        private void Take(Discount discount)
        {
            var chosen = Selected(discount.On).ToArray();
            var cap = discount.MaxDiscount is { } most ? Minor(most) : long.MaxValue;
            if (discount.Per == Per.Cart)
            {
                Spread(Math.Min(cap, Off(discount.Take, chosen.Sum(unit => unit.Price))), chosen, [.. chosen.Select(unit => unit.Price)]);
                return;
            }

            if (discount.MaxUnits is { } count)
                chosen = [.. Walk(chosen, discount.Pick ?? Pick.Cheapest).Take(count).OrderBy(unit => unit.Place)];
            long[] each = [.. chosen.Select(unit => Off(discount.Take, unit.Price))];
            Spread(Math.Min(cap, each.Sum()), chosen, each);
        }

        private void Take(BuyGet deal)
        {
            if (deal.Same is not { } same)
            {
                foreach (var unit in Got(deal, Selected(deal.Bought).ToHashSet(), [.. Selected(deal.Got)], long.MaxValue, out _).ToArray())
                    Lower(unit, deal.Take);
                return;
            }

            var groups = Selected(deal.Bought)
                .GroupBy(unit => same == Same.Sku ? lines[unit.Line].Sku : Sold(unit.Line).Product.Id)
                .Select(group => Walk([.. group], deal.Pick).ToArray());
            var ordered =
                deal.Pick == Pick.Cheapest ? groups.OrderBy(group => group[0].Price) : groups.OrderByDescending(group => group[0].Price);
            var left = deal.Deal is Deal.ByQuantity { Repeat.Most: { } most } ? most : long.MaxValue;
            var got = new List<Unit>();
            foreach (var group in ordered.ThenBy(group => group[0].Place).ToArray())
            {
                got.AddRange(Got(deal, [.. group], group, left, out var applications));
                left -= applications;
            }

            foreach (var unit in got)
                Lower(unit, deal.Take);
        }

        private static IEnumerable<Unit> Walk(IReadOnlyCollection<Unit> among, Pick pick) =>
            pick == Pick.Cheapest
                ? among.OrderBy(unit => unit.Price).ThenBy(unit => unit.Place)
                : among.OrderByDescending(unit => unit.Price).ThenBy(unit => unit.Place);

        private List<Unit> Got(BuyGet deal, HashSet<Unit> bought, Unit[] gettable, long left, out long applications)
        {
            var both = gettable.Count(bought.Contains);
            var (onlyBought, onlyGot) = (bought.Count - both, gettable.Length - both);
            bool Fits(long buys, long gets) =>
                Math.Max(0, buys - onlyBought) + Math.Max(0, gets - onlyGot) <= both && buys <= bought.Count && gets <= gettable.Length;
            var (buys, gets) = (0L, 0L);
            applications = 0;
            switch (deal.Deal)
            {
                case Deal.ByQuantity { Buy: var buy, Get: var get, Repeat: var repeat }:
                    while (applications < Math.Min(left, repeat.Most ?? long.MaxValue) && Fits(buys + buy, gets + get))
                        (buys, gets, applications) = (buys + buy, gets + get, applications + 1);
                    break;
                case Deal.BySpend { Spend: var spend, Get: var get, Repeat: var repeat }:
                    var spent = bought.Except(gettable).Sum(unit => unit.Current);
                    while (
                        applications < (repeat.Most ?? long.MaxValue)
                        && (applications + 1) * Minor(spend) <= spent
                        && gets + get <= gettable.Length
                    )
                        (gets, applications) = (gets + get, applications + 1);
                    break;
                case Deal.BySchedule { Rows: var rows }:
                    foreach (var row in rows)
                    {
                        if (!Fits(buys + row.Buy, gets + row.Get))
                            break;
                        (buys, gets, applications) = (buys + row.Buy, gets + row.Get, 1);
                    }

                    break;
            }

            var got = new List<Unit>();
            var remaining = bought.Count;
            foreach (var unit in Walk(gettable, deal.Pick))
            {
                if (got.Count == gets)
                    break;
                if (bought.Contains(unit) && remaining - 1 < buys)
                    continue;
                if (bought.Contains(unit))
                    remaining--;
                got.Add(unit);
            }

            return got;
        }

        private void TakeBeyond(Ladder ladder)
        {
            var place = 0;
            foreach (var unit in Walk([.. Selected(ladder.Of)], Pick.Dearest).ToArray())
            {
                place++;
                if (ladder.Steps.LastOrDefault(step => step.Quantity <= place) is { } step)
                    Lower(unit, ((Discount)step.Rewards[0]).Take);
            }
        }

        private void Lower(Unit unit, Take take) =>
            units[unit.Place] = units[unit.Place] with { Price = unit.Price - Off(take, unit.Price) };

        // By largest remainder, ties to the earlier.
        private void Spread(long amount, Unit[] among, long[] weights)
        {
            var total = weights.Sum();
            if (total == 0)
                return;
            var shares = weights.Select(weight => (long)((Int128)amount * weight / total)).ToArray();
            foreach (
                var place in Enumerable
                    .Range(0, among.Length)
                    .OrderByDescending(place => (Int128)amount * weights[place] % total)
                    .Take((int)(amount - shares.Sum()))
                    .ToArray()
            )
                shares[place]++;
            for (var i = 0; i < among.Length; i++)
                units[among[i].Place] = units[among[i].Place] with { Price = among[i].Price - shares[i] };
        }

        private IEnumerable<Unit> Selected(Selection selection) =>
            units.Where(unit =>
            {
                var (product, variant) = Sold(unit.Line);
                return selection.In.Any(Is)
                    && !selection.Out.Any(Is)
                    && !(selection.FullPriceOnly && unit.Current < Minor(variant.Regular))
                    && (selection.PriceFrom is not { } from || unit.Current >= Minor(from))
                    && (selection.PriceTo is not { } to || unit.Current <= Minor(to));

                bool Is(Term term) =>
                    term switch
                    {
                        Term.All => true,
                        Term.InCategory(var id) => Above(product.Category).Contains(id),
                        Term.OfBrand(var name) => product.Brand == name,
                        Term.OfProduct(var id) => product.Id == id,
                        Term.OfSku(var sku) => variant.Sku == sku,
                        Term.Tagged(var name) => product.Tags.Contains(name),
                        Term.WithOption(var name, var value, var of) => variant.Options.Contains(new(name, value))
                            && (of ?? product.Id) == product.Id,
                        _ => throw new System.Diagnostics.UnreachableException(),
                    };
            });

        private (Product Product, Variant Variant) Sold(int line) =>
            drawn
                .Catalogue.Products.SelectMany(product => product.Variants.Select(variant => (product, variant)))
                .Single(one => one.variant.Sku == lines[line].Sku);

        private IEnumerable<string> Above(string? category)
        {
            for (; category is not null; category = drawn.Catalogue.Categories.Single(one => one.Id == category).Parent)
                yield return category;
        }

        private long Off(Take take, long price) =>
            take switch
            {
                Take.Percentage(var percent) => (long)
                    Math.Round(
                        price * percent.Value / 100,
                        drawn.Store.Rounding == Rounding.HalfUp ? MidpointRounding.AwayFromZero : MidpointRounding.ToEven
                    ),
                Take.Off(var amount) => Math.Min(price, Minor(amount)),
                Take.To(var to) => Math.Max(0, price - Minor(to)),
                _ => throw new System.Diagnostics.UnreachableException(),
            };

        private static long Minor(Amount amount) => amount.Named.Single(named => named.Currency == RandomCase.Eur).Minor;

        private sealed record Unit(int Line, long Price)
        {
            public int Place { get; init; }

            public long Current { get; } = Price;
        }
    }
}
