using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>The most that a number can give, against trying every number.</summary>
public class MostItCanGiveTests
{
    [Fact]
    public void It_is_the_last_number_that_keeps_the_floor_when_all_are_tried()
    {
        var found = 0;
        Gen.Select(RandomCase.Any, Gen.Int[0, 3], Gen.Int[0, 40], Gen.OneOf(100, 95, 70, 50))
            .Sample(
                (drawn, kind, floor, share) =>
                {
                    var catalogue = drawn.Rulebook.Catalogue;
                    Promotion? With(long value) =>
                        kind switch
                        {
                            0 => Taking(new Discount(All, new Take.Percentage(Percent.From(value)!.Value), Per.Unit)),
                            1 => Taking(new Discount(All, new Take.Off(RandomCase.Money(value * 10)), Per.Unit)),
                            2 => Taking(new Discount(All, new Take.To(RandomCase.Money((100 - value) * 10)), Per.Unit)),
                            _ => Taking(
                                new BuyGet(
                                    All,
                                    All,
                                    new Deal.ByQuantity(2, 1, Repetition.Every),
                                    new Take.Percentage(Percent.From(value)!.Value)
                                )
                            ),
                        };
                    var most = MostItCanGive.Of(With, 0, 100, drawn.CartOf([]), catalogue, Percent.From(floor)!.Value, share / 100m);
                    if (most.Items == 0)
                    {
                        Assert.Null(most.Value);
                        return;
                    }

                    // Exhaustively: from the least on, as long as it is kept. A set of three takes only from what is there three times.
                    long? kept = null;
                    for (var value = 0L; value <= 100 && Keeps(With(value)!, floor, share, catalogue, drawn); value++)
                        kept = value;
                    Assert.Equal(kept, most.Value);
                    if (most.Value is < 100)
                        found++;
                    Assert.Equal(most.Value is 100, most.Binding is null);
                },
                iter: 60
            );
        Assert.True(found > 20, $"{found}");

        static Promotion Taking(Reward reward) => new("p", [reward]);
    }

    [Fact]
    public void A_threshold_that_is_too_low_is_raised_until_the_floor_is_kept()
    {
        // 20.00 off from some spend, of a thing that costs 6.00 and sells for 10.00: with n of them 10 n - 20 - 6 n >= 0.25 (10 n - 20)
        // holds from n = 10 on, 100.00.
        var catalogue = CatalogueIndex.Of(
            new(RandomCase.Eur, NodaTime.DateTimeZone.Utc),
            new([], [new("p", "P", [new("P", RandomCase.Money(10_00), Cost: RandomCase.Money(6_00))])])
        );
        Promotion With(long from) =>
            new(
                "p",
                [new Discount(All, new Take.Off(RandomCase.Money(20_00)), Per.Cart)],
                When: new Spend(null, RandomCase.Money(from), null)
            );
        var most = MostItCanGive.Of(
            With,
            200_00,
            0,
            new(NodaTime.Instant.FromUtc(2027, 3, 5, 9, 0), []),
            catalogue,
            Percent.From(25)!.Value
        );
        Assert.Throws<OperationCanceledException>(() =>
            MostItCanGive.Of(
                With,
                200_00,
                0,
                new(NodaTime.Instant.FromUtc(2027, 3, 5, 9, 0), []),
                catalogue,
                Percent.From(25)!.Value,
                gone: new(canceled: true)
            )
        );
        // Nine come to 90.00 and would not keep it; the least threshold that they do not reach lets ten in, which do.
        Assert.Equal(("P", 90_01L), (most.Binding, most.Value));
    }

    [Fact]
    public void Delivery_is_given_from_where_it_is_earned()
    {
        // Each earns 3.00 and the parcel costs 11.00: three come to 30.00 and lose, four pay for it.
        var parcel = new ShippingMethod("parcel", "Parcel", null, null, [new(null, RandomCase.Money(4_90))], RandomCase.Money(11_00));
        var catalogue = CatalogueIndex.Of(
            new(RandomCase.Eur, NodaTime.DateTimeZone.Utc, Shipping: [parcel]),
            new([], [new("p", "P", [new("P", RandomCase.Money(10_00), Cost: RandomCase.Money(7_00))])])
        );
        Promotion With(long from) =>
            new("p", [new Shipping(null, new Take.Percentage(Percent.Whole))], When: new Spend(null, RandomCase.Money(from), null));
        var most = MostItCanGive.Of(
            With,
            200_00,
            0,
            new(NodaTime.Instant.FromUtc(2027, 3, 5, 9, 0), [], Method: "parcel"),
            catalogue,
            Percent.From(0)!.Value
        );
        Assert.Equal(("P", 30_01L), (most.Binding, most.Value));
    }

    private static readonly Selection All = new([new Term.All()]);

    private static bool Keeps(Promotion promotion, int floor, int share, CatalogueIndex catalogue, RandomCase drawn)
    {
        var rulebook = Rulebook.Compile(catalogue, [promotion]);
        var prices = catalogue.PricesIn(RandomCase.Eur);
        bool[] kept =
        [
            .. Enumerable
                .Range(0, catalogue.Count)
                .Where(number => catalogue.MarginShare(number, prices.Current(number), RandomCase.Eur) * 100 >= floor)
                .Select(number =>
                    Enumerable
                        .Range(1, 20)
                        .All(units =>
                            rulebook.Price(drawn.CartOf([new(catalogue.Variant(number).Sku, units)])) is var priced
                            && (priced.Applied.Count == 0 || (priced.Totals.Net > 0 && priced.MarginShare * 100 >= floor))
                        )
                ),
        ];
        return kept.Count(keeps => !keeps) * 100 <= kept.Length * (100 - share);
    }
}
