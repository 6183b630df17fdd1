using System.Globalization;
using System.Text;
using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>A small shop, cart and set of promotions of every kind, drawn from a seed.</summary>
internal sealed class RandomCase
{
    public static readonly Currency Eur = Currency.Find("EUR")!;
    public static readonly Gen<RandomCase> Any = Gen.ULong.Select(seed => new RandomCase(seed));

    private static readonly string[] Tubes = ["T1", "T2", "T3"];
    private static readonly string[] Bags = ["B1", "B2"];
    private readonly Random random;

    public RandomCase(ulong seed)
    {
        Seed = seed;
        random = new((int)(seed ^ (seed >> 32)));
        Catalogue = new(
            [new("all", "All"), new("tubes", "Tubes", "all"), new("bags", "Bags", "all")],
            [
                new("tube", "Tube", Tubes.Select(Variant).ToEquatableArray(), "tubes", "Velt", ["light"], "standard"),
                new("bag", "Bag", Bags.Select(Variant).ToEquatableArray(), "bags", "Stoat", [], "reduced"),
                new(
                    "gift",
                    "Gift",
                    [new("G1", Money(400), Cost: Money(100), Stock: random.Next(4)), new("G2", Money(700), Cost: Money(200))],
                    "all",
                    null,
                    ["gift"],
                    "standard"
                ),
            ]
        );
        Store = new(
            Eur,
            DateTimeZoneProviders.Tzdb["Europe/Berlin"],
            Pick(Rounding.HalfUp, Rounding.HalfEven),
            Policy.Best,
            Families: [new("season", true), new("free")],
            Shipping: [new("parcel", "Parcel", null, null, [new(null, Money(490))], Money(410))],
            Tax: new(
                Pick(TaxMode.None, TaxMode.Exclusive, TaxMode.Inclusive),
                "standard",
                [new("standard", new("DE"), Percent.From(19)!.Value), new("reduced", new("DE"), Percent.From(7)!.Value)]
            )
        );
        Promotions = [.. Enumerable.Range(0, random.Next(1, 7)).Select(number => Promotion($"p{number}"))];
        Lines = [.. Enumerable.Range(0, random.Next(1, 5)).Select(_ => new Line(Pick([.. Tubes, .. Bags]), random.Next(1, 5)))];
    }

    public ulong Seed { get; }

    public Store Store { get; init; }

    public Catalogue Catalogue { get; }

    public Promotion[] Promotions { get; }

    public Line[] Lines { get; }

    public Cart Cart => CartOf(Lines);

    public Rulebook Rulebook => Rulebook.Compile(Store, Catalogue, Promotions);

    public PricedCart Priced => Rulebook.Price(Cart);

    public Cart CartOf(IEnumerable<Line> lines) =>
        new(
            Instant.FromUtc(2027, 3, 5, 9, 0),
            lines.ToEquatableArray(),
            Method: "parcel",
            Destination: new("DE"),
            Shopper: Seed % 3 == 0 ? null : new("s1", ["trade"], 3, 12_000),
            Codes: Seed % 2 == 0 ? ["ten"] : [],
            Picks: [new("p0", ["G2", "G1"]), new("p1", ["G2"])]
        );

    /// <summary>Everything a result says, to be compared.</summary>
    public static string Print(PricedCart priced, bool byLine = true)
    {
        var text = new StringBuilder();
        if (byLine)
            foreach (var line in priced.Lines)
                text.AppendLine(
                    CultureInfo.InvariantCulture,
                    $"{line.Sku} {line.Quantity} {line.Net} {string.Join(' ', line.Parts.Select(part => $"{part.Promotion.Id}:{part.Amount}/{part.Units}"))}"
                );
        foreach (var gift in priced.Gifts)
            text.AppendLine(CultureInfo.InvariantCulture, $"{gift.Promotion.Id} {gift.Sku} {gift.Quantity} {gift.Value} {gift.Net}");
        foreach (var outcome in priced.Outcomes.OrderBy(outcome => outcome.Promotion.Id, StringComparer.Ordinal))
            text.AppendLine(
                CultureInfo.InvariantCulture,
                $"{outcome.Promotion.Id} {outcome.Amount} {outcome.Units} {outcome.Reason?.Code} {outcome.ToPick?.Units}"
            );
        return text.AppendLine(CultureInfo.InvariantCulture, $"{priced.Totals} {string.Join(' ', priced.Taxes)}").ToString();
    }

    public static Amount Money(long minor) => Amount.In(Eur, minor);

    /// <summary>A promotion that can meet any other.</summary>
    public Promotion Promotion(string id, bool meetsAll = false) =>
        new(
            id,
            Rewards(id),
            Rank: random.Next(3),
            Trigger: random.Next(5) == 0 ? new(["TEN"]) : null,
            When: random.Next(3) == 0 ? Condition() : null,
            Stacking: meetsAll ? null : Stacking()
        );

    private EquatableArray<Reward> Rewards(string id)
    {
        if (random.Next(12) == 0)
            return [new Markdown([new(Selection(), Take())])];
        if (random.Next(12) == 0)
            return [new Credit(Money(random.Next(1, 3000)), true)];
        return random.Next(4) == 0 ? [Reward(id), Reward(id)] : [Reward(id)];
    }

    private Reward Reward(string id) =>
        random.Next(9) switch
        {
            0 => new Shipping(null, Take()),
            1 => new Points(random.Next(1, 9), random.Next(2) == 0 ? Money(500) : null),
            2 => new BuyGet(
                Selection(),
                Selection(),
                Pick<Deal>(
                    new Deal.ByQuantity(random.Next(1, 3), random.Next(1, 3), Repeat()),
                    new Deal.BySpend(Money(1500), 1, Repeat()),
                    new Deal.BySchedule([new(1, 1), new(2, 1)])
                ),
                Take(),
                Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest)
            ),
            3 => Same(),
            4 => new Ladder(
                Measure.Quantity,
                Selection(),
                Pick(StepsThatCount.Highest, StepsThatCount.All),
                [new(2, null, [Discount()]), new(4, null, [Discount(), new Points(2)])]
            ),
            5 => new Ladder(
                Measure.Quantity,
                Selection(),
                StepsThatCount.Beyond,
                [new(random.Next(1, 3), null, [UnitDiscount()]), new(3, null, [UnitDiscount()]), new(5, null, [UnitDiscount()])]
            ),
            6 => Bundle(),
            7 => Gift(id),
            _ => Discount(),
        };

    private BuyGet Same()
    {
        var of = Selection();
        return new(
            of,
            of,
            Pick<Deal>(new Deal.ByQuantity(random.Next(1, 3), random.Next(1, 3), Repeat()), new Deal.BySchedule([new(1, 1), new(2, 1)])),
            Take(),
            Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest),
            Pick(Pricing.Same.Sku, Pricing.Same.Product)
        );
    }

    private Bundle Bundle()
    {
        var slots = Enumerable.Range(0, random.Next(1, 4)).Select(_ => new Slot(Selection(), random.Next(1, 3))).ToArray();
        var whole = random.Next(2) == 0;
        return new(
            slots.Select(slot => whole ? slot : slot with { Take = Take() }).ToEquatableArray(),
            whole ? Take() : null,
            Repeat(),
            Pick(Pricing.Pick.Dearest, Pricing.Pick.Cheapest)
        );
    }

    private Gift Gift(string id) =>
        random.Next(3) switch
        {
            0 => new(new Give.SameAs(Selection()), new(Quantity: 2), AtMost: 2),
            1 => new(new Give.OneOf(["G1", "G2"]), new(Selection(), Quantity: 2), Take: id == "p2" ? Take() : null),
            _ => new(new Give.OneOf(["G1"]), Times.Once, random.Next(1, 4)),
        };

    private Discount Discount() =>
        random.Next(2) == 0
            ? UnitDiscount()
            : new(
                Selection(),
                Pick<Take>(new Take.Percentage(Percentage()), new Take.Off(Money(random.Next(1, 2500)))),
                Per.Cart,
                MaxDiscount: random.Next(3) == 0 ? Money(random.Next(1, 600)) : null
            );

    private Discount UnitDiscount() =>
        new(
            Selection(),
            Take(),
            Per.Unit,
            Pick(Pricing.Pick.Cheapest, Pricing.Pick.Dearest),
            random.Next(2) == 0 ? random.Next(1, 4) : null,
            random.Next(4) == 0 ? Money(random.Next(1, 900)) : null
        );

    private Take Take() =>
        random.Next(3) switch
        {
            0 => new Take.Percentage(Percentage()),
            1 => new Take.Off(Money(random.Next(1, 1200))),
            _ => new Take.To(Money(random.Next(0, 1800))),
        };

    private Percent Percentage() => Percent.From(Pick(5m, 10m, 12.5m, 33.3333m, 50m, 100m))!.Value;

    private Selection Selection()
    {
        Term[] terms =
        [
            new Term.All(),
            new Term.InCategory("tubes"),
            new Term.InCategory("bags"),
            new Term.OfSku(Pick(Tubes)),
            new Term.OfBrand("Stoat"),
            new Term.Tagged("light"),
            new Term.WithOption("size", "1", "tube"),
        ];
        return new(
            [Pick(terms)],
            random.Next(4) == 0 ? [new Term.OfSku(Pick(Tubes))] : [],
            random.Next(8) == 0,
            random.Next(8) == 0 ? Money(700) : null
        );
    }

    private Condition Condition() =>
        random.Next(5) switch
        {
            0 => new Spend(Selection(), Money(random.Next(100, 4000)), null),
            1 => new Quantity(Selection(), Pick(Comparison.AtLeast, Comparison.MoreThan, Comparison.LessThan), random.Next(5)),
            2 => new AnyOf([new Buyer.InGroup(["trade"]), new Only(Selection())]),
            3 => new NoneOf([new Distinct(Selection(), Comparison.AtLeast, 3)]),
            _ => new AllOf([new Destination(new([new("DE")])), new Quantity(null, Comparison.AtLeast, 2)]),
        };

    private Stacking Stacking() =>
        random.Next(5) switch
        {
            0 => new(Allow.None),
            1 => new(Allow.Except, [new StackingEntry.OfPromotion($"p{random.Next(6)}"), new StackingEntry.InPass(Pass.Shipping)]),
            2 => new(Allow.Only, [new StackingEntry.InPass(Pick(Pass.Item, Pass.Order))]),
            3 => new(Family: Pick("season", "free")),
            _ => Pricing.Stacking.Any,
        };

    private Repetition Repeat() => Pick(Repetition.Once, Repetition.Every, new(2));

    private Variant Variant(string sku)
    {
        var regular = random.Next(1, 2500);
        return new(
            sku,
            Money(regular),
            random.Next(3) == 0 ? Money(random.Next(0, regular + 1)) : null,
            random.Next(6) == 0 ? null : Money(regular / 2),
            100,
            Options: [new("size", sku[1..])]
        );
    }

    private T Pick<T>(params ReadOnlySpan<T> of) => of[random.Next(of.Length)];
}
