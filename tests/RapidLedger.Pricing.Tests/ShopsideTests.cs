using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>What faces the shop: how far a cart is, how long a price holds, what comes back, and in which language it is said.</summary>
public class ShopsideTests
{
    [Theory]
    [InlineData(false, "no better, code unknown")]
    [InlineData(true, "code used up, code void, no better, code unknown")]
    public void Only_codes_of_a_batch_are_said_to_be_used_up_or_void(bool isOfBatch, string situations)
    {
        var promotion = new Promotion(
            "p",
            [new Discount(Selection.Everything, new Take.Off(RandomCase.Money(100)), Per.Cart)],
            Trigger: isOfBatch ? new([], ["cards"]) : new(["SAVE"])
        );
        var catalogue = new Catalogue([], [new("p", "P", [new("A", RandomCase.Money(1_000))])]);
        var alone = Rulebook.Compile(new(RandomCase.Eur, NodaTime.DateTimeZone.Utc), catalogue, [promotion.AsIfOpen()]);
        var said = SaysPreview
            .Of(alone, promotion, new(default, []), "A", new(alone.Catalogue, RandomCase.Eur))
            .Select(one => one.Situation)
            .SkipWhile(situation => situation is "reached" or "with one more");
        Assert.Equal(situations, string.Join(", ", said));
        Assert.Equal(-1, alone.Catalogue.Find("B"));
    }

    [Fact]
    public void Progress_tells_where_the_cart_is_and_every_step_as_it_is()
    {
        var (steps, reached) = (0, 0);
        RandomCase.Any.Sample(
            drawn =>
            {
                var priced = drawn.Priced;
                foreach (var progress in priced.Progress)
                {
                    Assert.True(progress.Promotion.Trigger is null or { IsAutomatic: true });
                    // At current prices, of what is selected: counted line by line.
                    var selected = priced
                        .Lines.Where(line =>
                            progress.Of is null
                            || drawn
                                .Rulebook.Catalogue.Select(progress.Of with { FullPriceOnly = false, PriceFrom = null, PriceTo = null })
                                .Contains(drawn.Rulebook.Catalogue.Find(line.Sku))
                        )
                        .ToArray();
                    if (progress.Of is null or { FullPriceOnly: false, PriceFrom: null, PriceTo: null })
                        Assert.Equal(
                            progress.Measure == Measure.Spend
                                ? selected.Sum(line => line.Goods)
                                : selected.Sum(line => (long)line.Quantity),
                            progress.At
                        );
                    Assert.Equal(progress.Steps.Select(step => step.From).Order(), progress.Steps.Select(step => step.From));
                    foreach (var step in progress.Steps)
                    {
                        steps++;
                        if (step.Reached)
                            reached++;
                        Assert.Equal(progress.At >= step.From, step.Reached);
                        Assert.NotEmpty(progress.Tell(step, new Wording(drawn.Rulebook.Catalogue, RandomCase.Eur)));
                    }
                }
            },
            iter: 1_500
        );
        Assert.True(steps > 300 && reached > 50 && steps - reached > 50, $"{steps} {reached}");
        // What every cart holds is no way to go.
        var any = new RandomCase(11);
        Progress[] Of(long number) =>
            [
                .. Rulebook
                    .Compile(any.Store, any.Catalogue, [new("p", [new Points(1)], When: new Quantity(null, Comparison.AtLeast, number))])
                    .Price(any.Cart)
                    .Progress,
            ];
        Assert.Equal((0, 1), (Of(0).Length, Of(1).Length));
    }

    [Fact]
    public void Until_the_next_turn_nothing_opens_or_closes()
    {
        var turned = 0;
        Gen.Select(Gen.Int[0, 400].Array[6], Gen.Int[0, 500], Gen.Int[0, 3])
            .Sample(
                (days, at, repeats) =>
                {
                    var zone = DateTimeZoneProviders.Tzdb["Europe/Berlin"];
                    var start = new LocalDateTime(2027, 1, 1, 9, 0);
                    var promotions = days.Chunk(2)
                        .Select(
                            (pair, number) =>
                                new Promotion(
                                    $"p{number}",
                                    [new Points(1, null)],
                                    Window: new(
                                        start.PlusDays(Math.Min(pair[0], pair[1])),
                                        start.PlusDays(Math.Max(pair[0], pair[1]) + 1),
                                        5,
                                        number < repeats ? new(RecurrenceRule.Read("FREQ=DAILY")!, Period.FromHours(3)) : null
                                    )
                                )
                        )
                        .ToArray();
                    var rulebook = Rulebook.Compile(
                        new(RandomCase.Eur, zone),
                        new([], [new("p", "P", [new("P", RandomCase.Money(100))])]),
                        promotions
                    );
                    var now = start.InZoneLeniently(zone).ToInstant() + Duration.FromHours(at * 20);
                    var usage = new Dictionary<string, Usage>();
                    var open = Ids(now);
                    if (rulebook.NextTurn(now) is not { } turn)
                    {
                        Assert.Equal(open, Ids(now + Duration.FromDays(900)));
                        return;
                    }

                    turned++;
                    Assert.True(turn > now);
                    // A moment before the turn all is as it was; looked at within, too.
                    Assert.Equal(open, Ids(turn - Duration.FromSeconds(1)));
                    Assert.Equal(open, Ids(now + ((turn - now) / 2)));
                    Assert.NotEqual(open, Ids(turn));

                    string[] Ids(Instant moment) => [.. rulebook.Open(moment, usage).Select(promotion => promotion.Id)];
                },
                iter: 600
            );
        Assert.True(turned > 200, $"{turned}");
    }

    [Fact]
    public void What_comes_back_unit_by_unit_adds_up_to_what_was_paid() =>
        Gen.Select(Gen.Long[0, 100_000], Gen.Int[1, 40], Gen.Int[1, 7], Gen.Long[0, 100_000])
            .Sample(
                (net, quantity, step, credit) =>
                {
                    credit = Math.Min(credit, net);
                    var (back, money, toCredit, inAll) = (0L, 0L, 0L, 0L);
                    var units = new List<long>();
                    while (back < quantity)
                    {
                        var count = Math.Min(step, quantity - back);
                        var share = Returns.Share(net, quantity, back, count);
                        units.AddRange(Enumerable.Range(0, (int)count).Select(place => Returns.Share(net, quantity, back + place, 1)));
                        back += count;
                        inAll += share;
                        var now = Returns.ToCredit(inAll, net, credit);
                        money += share - (now - toCredit);
                        toCredit = now;
                    }

                    Assert.Equal((net, credit, net - credit), (inAll, toCredit, money));
                    // Even shares: they differ by one minor unit at most, the larger ones first (largest remainder).
                    Assert.Equal(net, units.Sum());
                    Assert.True(units.Max() - units.Min() <= 1);
                    Assert.Equal(units.OrderDescending(), units);
                },
                iter: 2_000
            );

    [Theory]
    [InlineData("de-AT", null, "Grüezi")]
    [InlineData("de-CH", null, "Hoi")]
    [InlineData("DE-ch", null, "Hoi")]
    [InlineData("fr", "de", "Grüezi")]
    [InlineData("fr", "de-DE", "Grüezi")]
    [InlineData("fr", null, "Hello")]
    [InlineData(null, "it", "Hello")]
    [InlineData("en-GB", "de", "Hello")]
    public void The_readers_language_then_that_without_region_then_the_stores_then_the_first(
        string? reader,
        string? store,
        string expected
    ) => Assert.Equal(expected, new Texts([new("en", "Hello"), new("de", "Grüezi"), new("de-CH", "Hoi")]).In(reader, store));

    [Fact]
    public void Shoppers_are_told_everything_in_every_language_that_is_spoken()
    {
        var told = new System.Collections.Concurrent.ConcurrentDictionary<string, bool>(StringComparer.Ordinal);
        RandomCase.Any.Sample(
            drawn =>
            {
                var priced = drawn.Priced;
                foreach (var language in Wording.Languages)
                {
                    var wording = new Wording(drawn.Rulebook.Catalogue, RandomCase.Eur).InLanguage(language);
                    foreach (var outcome in priced.Outcomes)
                    {
                        var sentence = outcome.Reason is { } reason ? wording.Tell(reason) : wording.Tell(outcome);
                        Assert.False(string.IsNullOrWhiteSpace(sentence));
                        // No reason or kind by its name in the program, nothing that was not filled in.
                        Assert.DoesNotMatch(@"[{}]|Reason|Gap|Idleness|\bnull\b", sentence);
                        if (outcome.Reason is not null)
                            told[$"{language} {outcome.Reason.Code}"] = true;
                    }

                    foreach (var nudge in priced.Nudges)
                        Assert.Contains(wording.Label(nudge.Promotion), wording.Tell(nudge));
                }
            },
            iter: 600
        );
        foreach (var code in new[] { "codeNotEntered", "conditionNotMet", "noMatchingItems", "cannotMeet", "notBetter" })
            Assert.All(Wording.Languages, language => Assert.Contains($"{language} {code}", told.Keys));
    }

    [Fact]
    public void Gifts_are_given_from_what_is_left_of_the_stock()
    {
        var rulebook = Rulebook.Compile(
            new(RandomCase.Eur, DateTimeZone.Utc),
            new([], [new("p", "P", [new("P", RandomCase.Money(1_000))]), new("g", "G", [new("G", RandomCase.Money(500), Stock: 5)])]),
            [new("gift", [new Gift(new Give.OneOf(["G"]), new Times(), 2)])]
        );
        foreach (var (sold, given, isOut) in new[] { (0L, 2L, false), (3, 2, false), (4, 1, true), (5, 0, true), (9, 0, true) })
        {
            var priced = rulebook.Price(
                new(Instant.FromUtc(2027, 3, 5, 9, 0), [new("P", 1)]),
                left: new Dictionary<string, long> { ["G"] = 5 - sold }
            );
            Assert.Equal(
                (given, isOut),
                (
                    priced.Gifts.Sum(gift => gift.Quantity),
                    priced.Applied.Any(outcome => outcome.GiftOut) || priced.Outcomes[0].Reason is Reason.GiftOut
                )
            );
        }
    }
}
