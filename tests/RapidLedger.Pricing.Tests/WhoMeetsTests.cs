using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>
/// Who may meet whom, against carts priced one by one: what never meets meets in none, what meets shows where, and little is left open.
/// </summary>
public class WhoMeetsTests
{
    private static readonly Instant Now = Instant.FromUtc(2027, 3, 5, 9, 0);
    private static readonly Currency Chf = Currency.Find("CHF")!;

    [Fact]
    public void What_never_meets_meets_in_no_cart_and_what_meets_shows_where() =>
        Gen.ULong.Sample(
            seed =>
            {
                var shop = new Shop(seed);
                var found = shop.Found();
                foreach (var meeting in found.Values)
                    shop.Holds(meeting);
                shop.HoldsOfMost(found.Values);
                foreach (var (pair, cart) in shop.Met())
                    Assert.True(found[pair].Verdict != MeetingVerdict.Never, $"{found[pair].Message} {cart}");
            },
            iter: 60
        );

    [Fact]
    public void Whoever_applies_together_in_some_small_cart_can_meet_and_few_of_the_others_are_left_open()
    {
        var (others, open) = (0, 0);
        // The same shops each time: the search is not bound to find everything, and what it finds in these is known.
        foreach (var seed in Enumerable.Range(1, 80))
        {
            var shop = new Shop((ulong)seed);
            var found = shop.Found();
            foreach (var (pair, cart) in shop.Met())
                Assert.True(found[pair].Verdict == MeetingVerdict.Can, $"{seed}: {found[pair].Message} {cart}");
            others += found.Values.Count(meeting => meeting.Verdict != MeetingVerdict.Can);
            open += found.Values.Count(meeting => meeting.Verdict == MeetingVerdict.NotFound);
        }

        Assert.True(open * 20 <= others, $"{open} of {others} were not found.");
    }

    [Fact]
    public void Each_ground_is_told_by_its_name()
    {
        var drawn = new RandomCase(2);
        var store = drawn.Store with { Rates = [new(Chf, new(95, 2))] };
        var tubes = new Selection([new Term.InCategory("tubes")]);
        var bags = new Selection([new Term.InCategory("bags")]);
        var march = new LocalDateTime(2027, 3, 10, 0, 0);
        (string Ground, Promotion One, Promotion Other)[] pairs =
        [
            ("stacking", Plain() with { Stacking = new(Allow.None) }, Plain()),
            ("family", Plain() with { Stacking = new(Family: "season") }, Plain() with { Stacking = new(Family: "season") }),
            ("window", Plain() with { Window = new(null, march) }, Plain() with { Window = new(march) }),
            ("window", Every("FREQ=WEEKLY;BYDAY=MO"), Every("FREQ=WEEKLY;BYDAY=TU")),
            ("place", For(new Destination(new([new("AT")]))), For(new Destination(new(null, [new("AT")])))),
            ("channel", For(new Channel(["web"])), For(new NoneOf([new Channel(["web"])]))),
            ("currency", For(new PaidIn([Chf])), For(new PaidIn([RandomCase.Eur]))),
            ("method", For(new Method(["parcel"])), For(new NoneOf([new Method(["parcel"])]))),
            ("shopper", For(new Buyer.Guest()), For(new Buyer.InGroup(["trade"]))),
            ("orders", For(new Buyer.Orders(Comparison.Exactly, 0)), For(new Buyer.Orders(Comparison.AtLeast, 1))),
            ("orders", For(new Buyer.Guest()), For(new Buyer.Orders(Comparison.AtLeast, 1))),
            ("spent", For(new Buyer.Spent(null, 4_999)), For(new Buyer.Spent(5_000, null))),
            ("weight", For(new Weight(Comparison.LessThan, 500)), For(new Weight(Comparison.AtLeast, 500))),
            ("only", For(new Only(bags)), Plain(tubes)),
            ("only", For(new Quantity(tubes, Comparison.Exactly, 0)), For(new Spend(tubes, RandomCase.Money(100), null), bags)),
            ("spend", For(new Spend(null, null, RandomCase.Money(999))), For(new Spend(null, RandomCase.Money(1_000), null))),
            ("quantity", For(new Quantity(null, Comparison.AtMost, 2)), For(new Quantity(tubes, Comparison.AtLeast, 3))),
            ("distinct", For(new Distinct(null, Comparison.Exactly, 1)), For(new Distinct(null, Comparison.AtLeast, 2))),
            (
                "credit",
                new("one", [new Credit(RandomCase.Money(500), true)]),
                Plain() with
                {
                    Stacking = new(Allow.Except, [new StackingEntry.InPass(Pass.Credit)]),
                }
            ),
            ("neverApplies", For(new AllOf([new Buyer.Guest(), new Buyer.SignedIn()])), For(new Only(bags), bags)),
            ("neverApplies", Plain() with { Limits = new(Total: 0) }, Plain()),
        ];
        foreach (var (ground, one, other) in pairs)
        {
            var rulebook = Rulebook.Compile(store, drawn.Catalogue, [one with { Id = "one" }, other with { Id = "other" }]);
            var meeting = Meetings.Of(rulebook, "one", "other", Now);
            Assert.Equal((MeetingVerdict.Never, ground), (meeting.Verdict, meeting.Ground));
            Assert.Equal(ground, Meetings.Of(rulebook, "other", "one", Now).Ground);
        }

        // Every ground there is has its line here.
        Assert.Equal(Ground.All.Select(ground => ground.Name).Order(), pairs.Select(pair => pair.Ground).Distinct().Order());

        Promotion Plain(Selection? on = null) =>
            new("one", [new Discount(on ?? Selection.Everything, new Take.Off(RandomCase.Money(1)), Per.Unit)]);
        Promotion For(Condition when, Selection? on = null) => Plain(on) with { When = when };
        Promotion Every(string rule) => Plain() with { Window = new(march, Repeat: new(RecurrenceRule.Read(rule)!, Period.FromDays(1))) };
    }

    [Fact]
    public void Those_about_the_same_items_are_the_nearest()
    {
        var drawn = new RandomCase(2);
        Promotion On(string id, Selection on) => new(id, [new Discount(on, new Take.Off(RandomCase.Money(1)), Per.Unit)]);
        var (tubes, bags) = (new Selection([new Term.InCategory("tubes")]), new Selection([new Term.InCategory("bags")]));
        var rulebook = Rulebook.Compile(
            drawn.Store,
            drawn.Catalogue,
            [On("a", bags), On("b", new([new Term.OfSku("T2")])), On("c", tubes), On("d", Selection.Everything)]
        );
        Assert.Equal(["b", "d", "a"], new Meetings(rulebook, Now).Nearest("c").Select(promotion => promotion.Id));
        Assert.Throws<ArgumentException>(() => new Meetings(rulebook, Now).Nearest("nobody"));
    }

    /// <summary>A small shop with promotions of every kind of reward, condition and window.</summary>
    private sealed class Shop
    {
        private static readonly string[] Skus = ["T1", "T2", "T3", "B1", "B2", "G1", "G2"];
        private readonly Random random;
        private readonly RandomCase drawn;
        private Meetings? meetings;
        private readonly Dictionary<string, BatchCode> batchCodes = new(StringComparer.Ordinal) { ["OFBATCH"] = new("batch") };

        public Shop(ulong seed)
        {
            random = new((int)(seed % 999_983));
            drawn = new(seed)
            {
                Store = new RandomCase(seed).Store with
                {
                    Rates = [new(Chf, new(95, 2))],
                    Policy = random.Next(4) == 0 ? Policy.Rank : Policy.Best,
                },
            };
            Promotions =
            [
                .. Enumerable
                    .Range(0, random.Next(2, 7))
                    .Select(number => drawn.Promotion($"p{number}", random.Next(2) == 0))
                    .Select(promotion =>
                        promotion with
                        {
                            When = random.Next(2) == 0 ? Tree(2) : promotion.When,
                            Window = random.Next(3) == 0 ? Window() : null,
                            Trigger = random.Next(8) == 0 ? new([], ["batch"]) : promotion.Trigger,
                        }
                    ),
            ];
            // A batch is of one promotion.
            var ofBatch = false;
            for (var place = 0; place < Promotions.Length; place++)
                if (Promotions[place].Trigger is { Batches.Count: > 0 })
                {
                    if (ofBatch)
                        Promotions[place] = Promotions[place] with { Trigger = null };
                    ofBatch = true;
                }

            // What no small cart earns says little of meeting.
            var carts = Carts().Where(_ => random.Next(3) == 0).ToArray();
            Promotions =
            [
                .. Promotions.Where(promotion => carts.Any(cart => Alone(promotion).Price(cart, batchCodes: batchCodes).Applied.Count > 0)),
            ];
            Rulebook = Rulebook.Compile(drawn.Store, drawn.Catalogue, Promotions);
        }

        public Promotion[] Promotions { get; }

        public Rulebook Rulebook { get; }

        public IEnumerable<(string One, string Other)> Pairs() =>
            from one in Promotions
            from other in Promotions
            where string.CompareOrdinal(one.Id, other.Id) < 0
            select (one.Id, other.Id);

        public Dictionary<(string One, string Other), Meeting> Found()
        {
            meetings = new(Rulebook, Now);
            return Pairs().ToDictionary(pair => pair, pair => meetings.Between(pair.One, pair.Other));
        }

        /// <summary>The most that met in one cart are no fewer than those of any pair, and apply there.</summary>
        public void HoldsOfMost(IEnumerable<Meeting> found)
        {
            foreach (var promotion in Promotions)
            {
                var pairs = found
                    .Where(meeting => meeting.Verdict == MeetingVerdict.Can && (meeting.One == promotion || meeting.Other == promotion))
                    .ToArray();
                var most = meetings!.MostTogether(promotion.Id);
                if (pairs.Length == 0)
                    continue;
                var applied = Rulebook
                    .Price(most!.Cart, batchCodes: most.BatchCodes)
                    .Applied.Select(outcome => outcome.Promotion)
                    .ToArray();
                Assert.Contains(promotion, applied);
                Assert.True(applied.Length >= pairs.Max(pair => pair.Witness!.Priced.Applied.Count));
            }
        }

        /// <summary>Those that apply together in small carts.</summary>
        public IEnumerable<((string One, string Other) Pair, Cart Cart)> Met()
        {
            foreach (var cart in Carts())
            {
                string[] applied = [.. Price(cart).Applied.Select(outcome => outcome.Promotion.Id)];
                foreach (var one in applied)
                foreach (var other in applied.Where(id => string.CompareOrdinal(one, id) < 0))
                    yield return ((one, other), cart);
            }
        }

        public PricedCart Price(Cart cart) => Rulebook.Price(cart, batchCodes: batchCodes);

        /// <summary>What a meeting says is so: its witness is priced once more.</summary>
        public void Holds(Meeting meeting)
        {
            Assert.Equal(meeting.Verdict == MeetingVerdict.Never, meeting.Ground is not null);
            Assert.Equal(meeting.Verdict is MeetingVerdict.Can or MeetingVerdict.OneWins, meeting.Witness is not null);
            Assert.NotEmpty(meeting.Message);
            if (meeting.Witness is not { } witness)
                return;
            Assert.True(witness.Cart.At >= Now);
            var applied = Rulebook
                .Price(witness.Cart, batchCodes: witness.BatchCodes)
                .Applied.Select(outcome => outcome.Promotion.Id)
                .ToHashSet();
            Assert.Equal(meeting.Verdict == MeetingVerdict.Can, applied.Contains(meeting.One.Id) && applied.Contains(meeting.Other.Id));
            if (meeting.Winner is not { } winner)
                return;
            Assert.Contains(winner.Id, applied);
            // The other does something there by itself.
            var loser = winner == meeting.One ? meeting.Other : meeting.One;
            Assert.NotEmpty(
                Rulebook
                    .Compile(drawn.Store, drawn.Catalogue, [loser with { When = WithoutAfter(loser.When) }])
                    .Price(witness.Cart, batchCodes: witness.BatchCodes)
                    .Applied
            );
        }

        /// <summary>All carts of up to five units, each in a setting of its own.</summary>
        public IEnumerable<Cart> Carts() =>
            from units in Enumerable.Range(1, 5)
            from lines in Of(units, 0)
            select new Cart(
                Now + Duration.FromHours(random.Next(24 * 12)),
                lines.ToEquatableArray(),
                random.Next(4) == 0 ? Chf : null,
                Any("web", "app", "till"),
                Any("parcel", null),
                Any<string?>("DE", "AT", "DE-BY", null) is { } code ? new Place(code) : null,
                random.Next(3) == 0
                    ? null
                    : new(
                        Any("s1", "s2", null),
                        Any<EquatableArray<string>>([], ["trade"], ["club"], ["trade", "club"]),
                        random.Next(4),
                        random.Next(3) * 5_000
                    ),
                Any<EquatableArray<string>>([], ["ten"], ["OFBATCH"], ["ten", "OFBATCH"])
            );

        private Rulebook Alone(Promotion promotion) => Rulebook.Compile(drawn.Store, drawn.Catalogue, [promotion]);

        private static IEnumerable<Line[]> Of(int units, int first)
        {
            if (units == 0)
                return
                [
                    [],
                ];
            return from place in Enumerable.Range(first, Skus.Length - first)
                from count in Enumerable.Range(1, units)
                from rest in Of(units - count, place + 1)
                select (Line[])[new(Skus[place], count), .. rest];
        }

        private Condition Tree(int depth) =>
            random.Next(depth == 0 ? 1 : 4) switch
            {
                1 => new AllOf([Tree(depth - 1), Tree(depth - 1)]),
                2 => new AnyOf([Tree(depth - 1), Tree(depth - 1)]),
                3 => new NoneOf([Tree(depth - 1)]),
                _ => Leaf(),
            };

        private Condition Leaf() =>
            random.Next(12) switch
            {
                0 => new Spend(Some(), RandomCase.Money(random.Next(100, 3000)), random.Next(3) == 0 ? RandomCase.Money(4000) : null),
                1 => new Quantity(Some(), Any<Comparison>(), random.Next(4)),
                2 => new Distinct(Some(), Any<Comparison>(), random.Next(3)),
                3 => new Only(Some()),
                4 => new Weight(Any<Comparison>(), random.Next(5) * 100),
                5 => Any<Buyer>(new Buyer.Guest(), new Buyer.SignedIn()),
                6 => new Buyer.InGroup([Any("trade", "club")]),
                7 => Any<Buyer>(new Buyer.Orders(Any<Comparison>(), random.Next(3)), new Buyer.Spent(random.Next(2) * 5_000, null)),
                8 => new Destination(
                    new(
                        random.Next(3) == 0 ? (EquatableArray<Place>?)null : [new(Any("DE", "AT", "DE-BY"))],
                        random.Next(3) == 0 ? [new Place("DE-BY")] : []
                    )
                ),
                9 => new Channel([Any("web", "app")]),
                10 => new PaidIn([Any(RandomCase.Eur, Chf)]),
                _ => new Method(["parcel"]),
            };

        private Selection Some() =>
            new([
                Any<Term>(new Term.All(), new Term.InCategory("tubes"), new Term.InCategory("bags"), new Term.OfSku(Any("T1", "T2", "B1"))),
            ]);

        private Window Window()
        {
            var start = new LocalDateTime(2027, 3, random.Next(1, 12), random.Next(24), 0);
            return random.Next(3) switch
            {
                0 => new(start),
                1 => new(start, start.PlusDays(random.Next(1, 6)), random.Next(2) * 30),
                _ => new(
                    start,
                    Repeat: new(
                        RecurrenceRule.Read(Any("FREQ=DAILY", "FREQ=WEEKLY", "FREQ=WEEKLY;BYDAY=MO,WE", "FREQ=DAILY;COUNT=3"))!,
                        Any(Period.FromHours(3), Period.FromDays(1))
                    )
                ),
            };
        }

        private static Condition? WithoutAfter(Condition? when) =>
            when switch
            {
                Spend { Basis: Basis.After } => null,
                AllOf(var parts) => new AllOf([.. parts.Where(part => part is not Spend { Basis: Basis.After })]),
                _ => when,
            };

        private T Any<T>()
            where T : struct, Enum => Any(Enum.GetValues<T>());

        private T Any<T>(params ReadOnlySpan<T> of) => of[random.Next(of.Length)];
    }
}
