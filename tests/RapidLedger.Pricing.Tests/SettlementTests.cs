using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>What is added up, taxed, converted and earned, done again in decimal numbers of major units.</summary>
public class SettlementTests
{
    private static readonly (Currency Currency, decimal PerEuro)[] Currencies =
    [
        (Currency.Find("EUR")!, 1m),
        (Currency.Find("JPY")!, 161.37m),
        (Currency.Find("KWD")!, 0.331250m),
        (Currency.Find("GBP")!, 0.85m),
    ];

    private static readonly Place?[] Destinations = [null, new("DE"), new("DE-HE"), new("AT"), new("FR")];

    [Fact]
    public void A_share_of_margin_is_of_what_is_left_without_the_tax()
    {
        // 11.90 with 19 % in it is 10.00, of which 6.00 is what it costs.
        Catalogue goods = new([], [new("p", "P", [new("P", RandomCase.Money(11_90), Cost: RandomCase.Money(6_00))], TaxClass: "standard")]);
        decimal? Share(TaxMode mode) =>
            CatalogueIndex
                .Of(
                    new(
                        RandomCase.Eur,
                        NodaTime.DateTimeZone.Utc,
                        Tax: new(mode, "standard", [new("standard", new("DE"), Percent.From(19)!.Value)])
                    ),
                    goods
                )
                .MarginShare(0, 11_90, RandomCase.Eur);
        Assert.Equal((0.4m, 590m / 1190), (Share(TaxMode.Inclusive), Share(TaxMode.None)));
    }

    [Fact]
    public void Totals_tax_margin_and_conversion_are_those_of_decimal_arithmetic() =>
        Gen.ULong.Sample(
            seed =>
            {
                var random = new Random((int)(seed ^ (seed >> 32)));
                var shop = new Shop(random);
                var priced = Rulebook.Compile(shop.Store, shop.Catalogue, shop.Promotions).Price(shop.Cart);
                var (totals, digits) = (priced.Totals, shop.Currency.Exponent);
                decimal Major(long minor) => (decimal)minor / shop.Currency.MinorPerMajor;
                decimal Round(decimal amount) =>
                    Math.Round(
                        amount,
                        digits,
                        shop.Store.Rounding == Rounding.HalfUp ? MidpointRounding.AwayFromZero : MidpointRounding.ToEven
                    );
                decimal In(decimal euros) => Round(euros * shop.PerEuro);
                decimal WithoutTax(decimal amount, string? taxClass) =>
                    shop.Mode == TaxMode.Inclusive && shop.RateOf(taxClass) is { } rate ? Round(amount * 100 / (100 + rate)) : amount;

                // Each line at the converted price of one unit.
                Assert.Equal(
                    shop.Lines.Select(line => In(line.Item.Price) * line.Quantity),
                    priced.Lines.Select(line => Major(line.Goods))
                );
                // With tax in the prices each class is freed of it at once, and what is left is spread over its lines by largest remainder.
                var freed = priced.Lines.Select(line => Major(line.Net)).ToArray();
                foreach (
                    var group in shop
                        .Lines.Select((line, place) => (line.Item.TaxClass, place))
                        .GroupBy(line => line.TaxClass, line => line.place)
                )
                {
                    decimal[] nets = [.. group.Select(place => freed[place])];
                    if (nets.Sum() is not (> 0 and var sum))
                        continue;
                    // In whole minor units, so that what is left over is exact and equal ones stay equal.
                    var (goods, perMajor) = (
                        WithoutTax(sum, group.Key) * shop.Currency.MinorPerMajor,
                        (decimal)shop.Currency.MinorPerMajor
                    );
                    decimal[] over = [.. nets.Select(net => goods * net * perMajor % (sum * perMajor))];
                    decimal[] shares = [.. nets.Select((net, place) => ((goods * net * perMajor) - over[place]) / (sum * perMajor))];
                    var open = (int)(goods - shares.Sum());
                    foreach (var place in Enumerable.Range(0, shares.Length).OrderByDescending(place => over[place]).Take(open))
                        shares[place]++;
                    foreach (var (place, share) in group.Zip(shares))
                        freed[place] = share / perMajor;
                }

                var margins = freed
                    .Zip(shop.Lines, (net, of) => of.Item.Cost is { } cost ? net - (In(cost) * of.Quantity) : (decimal?)null)
                    .ToArray();
                Assert.Equal(margins, priced.Lines.Select(line => line.Margin is { } margin ? Major(margin) : (decimal?)null));

                // Delivery: the first band that holds the weight, where the method goes.
                var grams = shop.Lines.Sum(line => line.Item.Grams * line.Quantity);
                var delivers =
                    shop.Method is not null && shop.Lines.Length > 0 && grams <= 9_000 && shop.Destination?.Country is "DE" or "AT";
                var charge = !(shop.Method is not null && delivers && shop.Destination is not null)
                    ? 0
                    : In(
                        grams <= 1_000 ? 3.90m
                        : grams <= 3_000 ? 5.45m
                        : 8.90m
                    );
                Assert.Equal(charge, Major(totals.Shipping));
                Assert.Equal(shop.Method is not null && shop.Lines.Length > 0 && charge == 0, totals.ShippingUnavailable);

                // Tax on the sum of each class, delivery and gifts included.
                var paidForDelivery = charge - Major(totals.ShippingDiscount);
                var bases = priced
                    .Lines.Zip(shop.Lines, (line, of) => (of.Item.TaxClass, Net: Major(line.Net)))
                    .Append((TaxClass: "standard", Net: paidForDelivery))
                    .GroupBy(part => part.TaxClass)
                    .ToDictionary(group => group.Key ?? "", group => group.Sum(part => part.Net));
                var taxes =
                    shop.Mode == TaxMode.None
                        ? []
                        : bases
                            .Where(entry => shop.RateOf(entry.Key) is not null)
                            .ToDictionary(
                                entry => entry.Key,
                                entry =>
                                    Round(
                                        entry.Value
                                            * shop.RateOf(entry.Key)!.Value
                                            / (shop.Mode == TaxMode.Inclusive ? 100 + shop.RateOf(entry.Key)!.Value : 100)
                                    )
                            );
                Assert.All(priced.Taxes, tax => Assert.Equal(taxes[tax.Class], Major(tax.Tax)));
                Assert.Equal(taxes.Values.Sum(), Major(totals.Tax));

                var net = priced.Lines.Sum(line => Major(line.Net));
                var total = net + paidForDelivery + (shop.Mode == TaxMode.Exclusive ? taxes.Values.Sum() : 0);
                var credit = Math.Min(In(2.50m), total);
                Assert.Equal(
                    (net, total, credit, total - credit),
                    (Major(totals.Net), Major(totals.Total), Major(totals.Credit), Major(totals.Due))
                );
                Assert.Equal(Major(totals.Goods) - net + charge - paidForDelivery + Major(totals.GiftValue), Major(totals.Saving));

                // A cost that is not known makes every sum with it unknown, not smaller. Gifts cost too.
                var gifts = priced.Gifts.Sum(gift => In(0.80m) * gift.Quantity);
                var margin = margins.Any(one => one is null) ? null : margins.Sum() - gifts;
                Assert.Equal(margin, totals.Margin is { } earned ? Major(earned) : null);
                var carried = charge > 0 ? In(3.10m) : 0;
                Assert.Equal(
                    margin + WithoutTax(paidForDelivery, "standard") - carried,
                    totals.Contribution is { } left ? Major(left) : null
                );
            },
            iter: 4_000
        );

    /// <summary>A shop in euros, a cart in any currency, and a promotion of each kind that changes what is added up.</summary>
    private sealed class Shop
    {
        private static readonly string?[] Classes = ["standard", "reduced", null];

        public Shop(Random random)
        {
            var items = Enumerable
                .Range(0, 4)
                .Select(_ => new Item(
                    random.Next(1, 9_000) / 100m,
                    random.Next(5) == 0 ? null : random.Next(0, 4_000) / 100m,
                    Classes[random.Next(3)],
                    random.Next(1_500)
                ))
                .ToArray();
            (Currency, PerEuro) = Currencies[random.Next(Currencies.Length)];
            Destination = Destinations[random.Next(Destinations.Length)];
            Method = random.Next(4) == 0 ? null : "parcel";
            Mode = random.GetItems([TaxMode.None, TaxMode.Inclusive, TaxMode.Exclusive], 1)[0];
            Lines = [.. Enumerable.Range(0, random.Next(4)).Select(_ => (items[random.Next(4)], random.Next(1, 6)))];
            TaxRate Rate(string name, string place, decimal percent) => new(name, new(place), Percent.From(percent)!.Value);
            Store = new(
                RandomCase.Eur,
                DateTimeZone.Utc,
                random.Next(2) == 0 ? Rounding.HalfUp : Rounding.HalfEven,
                Rates:
                [
                    new(Currencies[1].Currency, new(16_137, 2)),
                    new(Currencies[2].Currency, new(331_250, 6)),
                    new(Currencies[3].Currency, new(85, 2)),
                ],
                Shipping:
                [
                    new(
                        "parcel",
                        "Parcel",
                        null,
                        new([new("DE"), new("AT")]),
                        [new(1_000, Euros(3.90m)), new(3_000, Euros(5.45m)), new(9_000, Euros(8.90m))],
                        Euros(3.10m)
                    ),
                ],
                Tax: new(
                    Mode,
                    "standard",
                    [Rate("standard", "DE", 19), Rate("reduced", "DE", 7), Rate("standard", "DE-HE", 16.5m), Rate("standard", "AT", 20)]
                )
            );
            Catalogue = new(
                [],
                [
                    .. items.Select(
                        (item, number) =>
                            new Product(
                                $"p{number}",
                                "P",
                                [new($"S{number}", Euros(item.Price), Cost: item.Cost is { } cost ? Euros(cost) : null, Grams: item.Grams)],
                                TaxClass: item.TaxClass
                            )
                    ),
                    new("gift", "Gift", [new("G", Euros(4), Cost: Euros(0.80m))]),
                ]
            );
            Promotion[] all =
            [
                new("credit", [new Credit(Euros(2.50m), true)]),
                new("delivery", [new Shipping(null, new Take.Percentage(Percent.From(33)!.Value))]),
                new("gift", [new Gift(new Give.OneOf(["G"]), Times.Once)], When: new Quantity(null, Comparison.AtLeast, 4)),
                new("tenth", [new Discount(Selection.Everything, new Take.Percentage(Percent.From(10)!.Value), Per.Cart)]),
            ];
            Promotions = [all[0], .. all.Skip(1).Where(_ => random.Next(2) == 0)];
            Cart = new(
                Instant.FromUtc(2027, 3, 5, 9, 0),
                Lines.Select(line => new Line($"S{Array.IndexOf(items, line.Item)}", line.Quantity)).ToEquatableArray(),
                Currency,
                Method: Method,
                Destination: Destination
            );
        }

        public Store Store { get; }

        public Catalogue Catalogue { get; }

        public Promotion[] Promotions { get; }

        public Cart Cart { get; }

        public Currency Currency { get; }

        public decimal PerEuro { get; }

        public Place? Destination { get; }

        public string? Method { get; }

        public TaxMode Mode { get; }

        public (Item Item, int Quantity)[] Lines { get; }

        public decimal? RateOf(string? taxClass) =>
            (taxClass, Destination?.Code) switch
            {
                ("standard", "DE") => 19m,
                ("standard", "DE-HE") => 16.5m,
                ("standard", "AT") => 20m,
                ("reduced", "DE" or "DE-HE") => 7m,
                _ => null,
            };

        private static Amount Euros(decimal amount) => RandomCase.Money((long)(amount * 100));
    }

    private sealed record Item(decimal Price, decimal? Cost, string? TaxClass, int Grams);
}
