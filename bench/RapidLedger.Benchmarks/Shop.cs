using NodaTime;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>
/// A made-up shop of a given size: most promotions are for other goods, codes, places or times than the cart's, ten touch it.
/// </summary>
internal static class Shop
{
    public static readonly Currency Eur = Currency.Find("EUR")!;

    public static readonly Store Store = new(
        Eur,
        DateTimeZoneProviders.Tzdb["Europe/Berlin"],
        Shipping: [new("parcel", "Parcel", null, null, [new(null, Money(490))], Money(410))],
        Tax: new(TaxMode.Inclusive, "standard", [new("standard", new("DE"), Percent.From(19)!.Value)])
    );

    public static Amount Money(long minor) => Amount.In(Eur, minor);

    /// <summary>Products of five variants in a hundred categories.</summary>
    public static Catalogue Catalogue(int skus) =>
        new(
            Enumerable.Range(0, 100).Select(number => new Category($"c{number}", $"Category {number}")).ToEquatableArray(),
            Enumerable
                .Range(0, skus / 5)
                .Select(number => new Product(
                    $"p{number}",
                    $"Product {number}",
                    Enumerable
                        .Range(0, 5)
                        .Select(variant => new Variant(
                            $"p{number}-{variant}",
                            Money(500 + ((number * 37) + (variant * 11)) % 9000),
                            null,
                            Money(300),
                            200
                        ))
                        .ToEquatableArray(),
                    $"c{number % 100}",
                    $"Brand {number % 40}",
                    [],
                    "standard"
                ))
                .ToEquatableArray()
        );

    /// <summary>Ten promotions of several kinds on what the cart holds (its goods are of category 0), the others elsewhere.</summary>
    public static Promotion[] Promotions(int count, int touching = 10) =>
        [.. Enumerable.Range(0, count).Select(number => number < touching ? Touching(number) : Elsewhere(number))];

    public static Cart Cart(int lines) =>
        new(
            Instant.FromUtc(2027, 3, 5, 9, 0),
            // Every hundredth product is of category 0.
            Enumerable.Range(0, lines).Select(line => new Line($"p{line * 100}-{line % 5}", 1 + (line % 3))).ToEquatableArray(),
            Method: "parcel",
            Destination: new("DE"),
            Shopper: new("s1", ["trade"], 4, 31_000),
            Codes: ["SAVE"]
        );

    /// <summary>
    /// Twenty promotions of ten kinds that touch a cart of ten categories, each of most kinds on the goods of one of them; the others
    /// elsewhere.
    /// </summary>
    public static Promotion[] ByCategory(int count) =>
        [
            .. Enumerable
                .Range(0, count)
                .Select(number =>
                    number < 20
                        ? Touching(number, new Selection([new Term.InCategory($"c{(number * 3) % 10}")]))
                        : Elsewhere(number) with
                        {
                            Rank = 200 + (number % 7),
                        }
                ),
        ];

    /// <summary>A cart of ten categories.</summary>
    public static Cart WideCart(int lines) =>
        Cart(lines) with
        {
            Lines = Enumerable
                .Range(0, lines)
                .Select(line => new Line($"p{(line / 10 * 100) + (line % 10)}-{line % 5}", 1 + (line % 3)))
                .ToEquatableArray(),
        };

    // About other goods, or on everything but for another code, another country, other goods bought or another week.
    private static Promotion Elsewhere(int number)
    {
        // Products of none of the first ten categories: no cart here holds any of them.
        var product = (number * 7 % 900) + 1;
        var other = new Selection([new Term.OfProduct($"p{(product % 100 < 10 ? product + 10 : product)}")]);
        var week = new LocalDateTime(2020 + (number % 6), 1, 1, 0, 0).PlusWeeks(number % 50);
        var less = new Take.Percentage(new(100_000));
        return (number % 5) switch
        {
            0 => new(
                $"other{number:00000}",
                [new Discount(other, less, Per.Unit)],
                Rank: 100 + (number % 7),
                When: new Quantity(other, Comparison.AtLeast, 1 + (number % 3))
            ),
            1 => new(
                $"code{number:00000}",
                [new Discount(Selection.Everything, less, Per.Cart)],
                Rank: 100,
                Trigger: new([$"CODE{number}"])
            ),
            2 => new(
                $"place{number:00000}",
                [new Shipping(null, less)],
                Rank: 100,
                When: new AllOf([new Destination(new([new(number % 2 == 0 ? "FR" : "AT")])), new Spend(null, Money(4000), null)])
            ),
            3 => new($"with{number:00000}", [new Shipping(null, less)], Rank: 100, When: new Quantity(other, Comparison.AtLeast, 1)),
            _ => new(
                $"week{number:00000}",
                [new Discount(Selection.Everything, less, Per.Unit)],
                Rank: 100,
                Window: new(week, week.PlusWeeks(1))
            ),
        };
    }

    private static Promotion Touching(int number, Selection? on = null)
    {
        var goods = on ?? new Selection([new Term.InCategory("c0")]);
        Reward reward = (number % 10) switch
        {
            0 => new Discount(goods, new Take.Percentage(new(100_000)), Per.Unit),
            1 => new Discount(Selection.Everything, new Take.Off(Money(500)), Per.Cart),
            2 => new Discount(Selection.Everything, new Take.Percentage(new(50_000)), Per.Cart, MaxDiscount: Money(2000)),
            3 => new BuyGet(goods, goods, new Deal.ByQuantity(3, 1, Repetition.Once), new Take.Percentage(Percent.Whole)),
            4 => new Discount(new([new Term.OfSku("p0-0")]), new Take.Off(Money(100)), Per.Unit),
            5 => new Shipping(null, new Take.Percentage(Percent.Whole)),
            6 => new Points(1, Money(1000)),
            7 => new Discount(new([new Term.OfBrand("Brand 0")]), new Take.Off(Money(50)), Per.Unit, Pick.Dearest, 2),
            8 => new Ladder(
                Measure.Quantity,
                goods,
                StepsThatCount.Highest,
                [
                    new(3, null, [new Discount(goods, new Take.Percentage(new(20_000)), Per.Unit)]),
                    new(10, null, [new Discount(goods, new Take.Percentage(new(40_000)), Per.Unit)]),
                ]
            ),
            _ => new Discount(goods, new Take.Percentage(new(30_000)), Per.Unit),
        };
        return new(
            $"touching{number:00}",
            [reward],
            Rank: number,
            Trigger: number == 1 ? new(["SAVE"]) : null,
            When: number == 2 ? new Spend(null, Money(5000), null) : null
        );
    }
}
