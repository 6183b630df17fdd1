using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>Promotions that could touch a cart are found, however they are kept apart from those that could not.</summary>
public class IndexTests
{
    private static readonly string[] Countries = ["DE", "AT", "FR"];

    [Fact]
    public void Whatever_has_an_effect_alone_is_found_among_others() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new RandomCase(seed);
                var random = new Random((int)(seed % 999_983));
                var promotions = Enumerable.Range(0, 12).Select(number => Elsewhere(drawn, random, number)).ToArray();
                var cart = drawn.Cart with
                {
                    At = Day(random.Next(40)),
                    Destination = random.Next(5) == 0 ? null : new(random.Next(4) == 0 ? "ES-CN" : Countries[random.Next(3)]),
                };
                var priced = Rulebook.Compile(drawn.Store, drawn.Catalogue, promotions).Price(cart);
                foreach (var outcome in priced.Outcomes)
                {
                    // Priced without the index, and without anything beside it.
                    var alone = Together.Price(drawn.Store, drawn.Catalogue, [outcome.Promotion], cart);
                    var (acts, found) = (
                        alone is { IsNothing: false },
                        outcome.Applied || outcome.Reason is Reason.CannotMeet or Reason.NotBetter
                    );
                    Assert.True(found || !acts);
                    // Beside others a buy-get may act where alone it does not: they change which units, and so which group, come first.
                    Assert.True(acts || !found || outcome.Promotion.Rewards().Any(entry => entry.Reward is BuyGet));
                }
            },
            iter: 2_000
        );

    [Fact]
    public void Of_many_windows_those_that_are_open_are_found() =>
        Gen.ULong.Sample(
            seed =>
            {
                var random = new Random((int)(seed % 999_983));
                var drawn = new RandomCase(7);
                var always = new Take.Percentage(Percent.Whole);
                var promotions = Enumerable
                    .Range(0, random.Next(1, 40))
                    .Select(number =>
                    {
                        var from = random.Next(30);
                        return new Promotion(
                            $"p{number:00}",
                            [new Shipping(null, always)],
                            Rank: number,
                            Window: new(
                                random.Next(4) == 0 ? null : Local(from),
                                random.Next(4) == 0 ? null : Local(from + random.Next(1, 12))
                            )
                        );
                    })
                    .ToArray();
                var rulebook = Rulebook.Compile(drawn.Store, drawn.Catalogue, promotions);
                for (var day = 0; day < 45; day++)
                {
                    var at = Day(day);
                    var open = promotions
                        .Where(promotion =>
                            (promotion.Window!.Start is not { } start || start <= Local(day))
                            && (promotion.Window.End is not { } end || Local(day) < end)
                        )
                        .Select(promotion => promotion.Id);
                    var found = rulebook
                        .Price(drawn.Cart with { At = at })
                        .Outcomes.Where(outcome => outcome.Reason is null or Reason.NotBetter or Reason.NoMatchingItems)
                        .Select(outcome => outcome.Promotion.Id);
                    Assert.Equal(open, found);
                }
            },
            iter: 60
        );

    [Fact]
    public void Changed_one_by_one_a_rulebook_is_the_one_compiled_of_all_and_tells_the_nearest_first() =>
        Gen.ULong.Sample(
            seed =>
            {
                var drawn = new RandomCase(seed);
                var random = new Random((int)(seed % 999_983));
                Promotion Any(int number) => random.Next(4) == 0 ? drawn.Promotion($"p{number:00}") : Elsewhere(drawn, random, number);
                var now = Enumerable.Range(0, 10).Select(Any).ToDictionary(promotion => promotion.Id);
                var changing = Rulebook.Compile(drawn.Store, drawn.Catalogue, now.Values);
                // Now and then so many that all are settled anew.
                for (var turn = random.Next(6); turn > 0; turn--)
                {
                    var put = Enumerable
                        .Range(0, random.Next(20) == 0 ? 70 : random.Next(3))
                        .Select(_ => Any(random.Next(90)))
                        .DistinctBy(promotion => promotion.Id)
                        .ToArray();
                    var takenOut = now.Keys.Except(put.Select(promotion => promotion.Id)).Where(_ => random.Next(6) == 0).ToArray();
                    changing = changing.With(put, takenOut);
                    foreach (var promotion in put)
                        now[promotion.Id] = promotion;
                    foreach (var id in takenOut)
                        now.Remove(id);
                }

                var cart = drawn.Cart with { At = Day(random.Next(40)), Destination = new(Countries[random.Next(3)]) };
                // With work enough for all: what is compiled at once shares what it looks through, and so counts a little less of it.
                const int Effort = 8;
                var (priced, afresh) = (
                    changing.Price(cart, effort: Effort),
                    Rulebook.Compile(drawn.Store, drawn.Catalogue, now.Values).Price(cart, effort: Effort)
                );
                Assert.Equal(RandomCase.Print(afresh), RandomCase.Print(priced));
                Assert.Equal(afresh.Codes, priced.Codes);
                Assert.Equal(afresh.Nudges, priced.Nudges);
                Assert.Equal(priced.Outcomes.Where(outcome => outcome.Applied), priced.Applied);

                // Nearest is as when all are gone into.
                var near = priced.Nearest(now.Count + 1);
                Assert.Equal(priced.Outcomes.Where(outcome => !outcome.Applied).ToHashSet(), near.ToHashSet());
                var most = random.Next(1, 12);
                Assert.Equal(near.Take(most), priced.Nearest(most));
            },
            iter: 700
        );

    [Fact]
    public void A_code_tells_its_promotion_even_where_that_is_not_open()
    {
        var drawn = new RandomCase(11);
        var promotion = new Promotion(
            "late",
            [new Shipping(null, new Take.Percentage(Percent.Whole))],
            Trigger: new(["later"]),
            Window: new(Local(20))
        );
        var priced = Rulebook.Compile(drawn.Store, drawn.Catalogue, [promotion]).Price(drawn.Cart with { At = Day(3), Codes = ["LATER"] });
        var status = Assert.Single(priced.Codes);
        Assert.Equal(("late", "notStarted"), (status.Promotion!.Id, status.Reason!.Code));
    }

    [Fact]
    public void An_item_is_looked_at_where_something_could_lower_it()
    {
        var tube = new Selection([new Term.OfSku("T")]);
        var catalogue = new Catalogue(
            [],
            [new("t", "T", [new("T", RandomCase.Money(500))]), new("b", "B", [new("B", RandomCase.Money(500))])]
        );
        bool Looks(string sku, Reward reward) =>
            Rulebook.Compile(new(RandomCase.Eur, DateTimeZone.Utc), catalogue, [new("p", [reward])]).LooksAt(sku);
        Markdown To(long price) => new([new(tube, new Take.To(RandomCase.Money(price)))]);
        Assert.Equal(
            (true, false, false, true, false),
            (
                Looks("T", To(499)),
                Looks("T", To(500)),
                Looks("B", To(499)),
                Looks("T", new Discount(tube, new Take.Off(RandomCase.Money(1)), Per.Unit)),
                Looks("B", new Discount(tube, new Take.Off(RandomCase.Money(1)), Per.Unit))
            )
        );
    }

    [Fact]
    public void What_never_opens_nor_closes_has_no_next_turn()
    {
        var drawn = new RandomCase(11);
        Instant? Next(Window? window) =>
            Rulebook.Compile(drawn.Store, drawn.Catalogue, [new("p", [new Points(1)], Window: window)]).NextTurn(Day(3));
        Assert.Equal((null, null, Day(5)), (Next(null), Next(new(Local(1))), Next(new(Local(1), Local(5)))));
    }

    private static Promotion Elsewhere(RandomCase drawn, Random random, int number)
    {
        var promotion = drawn.Promotion($"p{number:00}");
        while (promotion.Rewards[0] is Markdown or Credit)
            promotion = drawn.Promotion($"p{number:00}");
        var to = new Destination(
            new([.. Countries.Where(_ => random.Next(2) == 0).Append("ES").Select(code => new Place(code))], [new("ES-CN")])
        );
        var items = new Quantity(
            new([new Term.OfSku($"T{random.Next(1, 4)}")]),
            random.Next(3) == 0 ? Comparison.LessThan : Comparison.AtLeast,
            random.Next(3)
        );
        Condition? when = random.Next(6) switch
        {
            0 => to,
            1 => new AllOf([items, to]),
            2 => new AnyOf([items, to]),
            3 => new AnyOf([to, new Destination(new(null))]),
            4 => new NoneOf([to]),
            _ => promotion.When,
        };
        var from = random.Next(30);
        return promotion with { When = when, Window = random.Next(2) == 0 ? null : new(Local(from), Local(from + random.Next(1, 20))) };
    }

    private static LocalDateTime Local(int day) => new LocalDateTime(2027, 3, 1, 0, 0).PlusDays(day);

    private static Instant Day(int day) => Local(day).InZoneStrictly(DateTimeZoneProviders.Tzdb["Europe/Berlin"]).ToInstant();
}
