using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>What a selection holds and what a markdown makes of prices, read once more from the catalogue itself, item by item.</summary>
public class SelectionTests
{
    [Fact]
    public void A_selection_holds_what_any_in_term_names_and_no_out_term_within_its_prices() =>
        Gen.ULong.Sample(
            seed =>
            {
                var shop = new Shop(new((int)(seed ^ (seed >> 32))));
                // One minor unit off each unit shows which are selected.
                var (markdown, selection) = (shop.Markdown(), shop.Selection());
                var priced = shop.Price([
                    new("lower", [markdown]),
                    new("mark", [new Discount(selection, new Take.Off(RandomCase.Money(1)), Per.Unit)]),
                ]);
                foreach (var (line, item) in priced.Lines.Zip(shop.Items))
                {
                    var current = shop.Lowest(item, [markdown]).Price;
                    Assert.Equal(current * line.Quantity, line.Goods);
                    var isSelected = Shop.Holds(selection, shop, item, current);
                    Assert.Equal(isSelected && current > 0 ? line.Quantity : 0, line.Goods - line.Net);
                }
            },
            iter: 4_000
        );

    [Fact]
    public void A_term_of_many_is_found_however_far_apart_their_numbers_are()
    {
        var (held, others) = (0, 0);
        Gen.Int.Sample(
            seed =>
            {
                var random = new Random(seed);
                var (count, below) = (random.GetItems([1, 3, 8, 9, 40, 300], 1)[0], random.GetItems([400, 5_000, 1_000_000], 1)[0]);
                var named = Enumerable.Range(0, count).Select(_ => random.Next(below)).ToHashSet();
                var set = new TermSet(named);
                Assert.Equal(named.Order(), set.Numbers.ToArray());
                int Any() => random.Next(3) == 0 ? named.ElementAt(random.Next(named.Count)) + random.Next(-1, 2) : random.Next(below);
                for (var turn = 0; turn < 20; turn++)
                {
                    var (variant, terms) = (Any(), Enumerable.Range(0, random.Next(4)).Select(_ => Any()).ToArray());
                    var holds = named.Contains(variant) || terms.Any(named.Contains);
                    Assert.Equal(holds, set.HoldsAny(variant, terms));
                    Interlocked.Increment(ref holds ? ref held : ref others);
                }
            },
            iter: 2_000
        );
        Assert.True(held > 5_000 && others > 5_000, $"{held} and {others}");
        Assert.False(new TermSet([]).HoldsAny(0, [0]));
    }

    [Fact]
    public void Of_all_levels_of_all_markdowns_the_one_that_leaves_least_counts_and_of_equal_ones_the_first() =>
        Gen.ULong.Sample(
            seed =>
            {
                var shop = new Shop(new((int)(seed ^ (seed >> 32))));
                Markdown[] markdowns = [shop.Markdown(), shop.Markdown(), shop.Markdown()];
                var priced = shop.Price(markdowns.Select((markdown, number) => new Promotion($"m{number}", [markdown])).Reverse());
                var took = new long[markdowns.Length];
                foreach (var (line, item) in priced.Lines.Zip(shop.Items))
                {
                    var (price, by) = shop.Lowest(item, markdowns);
                    Assert.Equal((item.Variant.Regular.Minor() * line.Quantity, price * line.Quantity), (line.Regular, line.Goods));
                    if (by >= 0)
                        took[by] += (item.Listed - price) * line.Quantity;
                }

                foreach (
                    var (outcome, amount) in priced.Outcomes.OrderBy(outcome => outcome.Promotion.Id, StringComparer.Ordinal).Zip(took)
                )
                {
                    Assert.Equal(amount, outcome.Amount);
                    if (amount > 0)
                        Assert.True(outcome.Applied);
                }

                // A markdown is a price, not a discount.
                Assert.Equal((0, priced.Totals.Goods), (priced.Totals.Discount, priced.Totals.Net));
            },
            iter: 4_000
        );

    /// <summary>Some items in a tree of categories, one cart line of each.</summary>
    private sealed class Shop
    {
        private static readonly string[] Brands = ["Velt", "Stoat"];
        private static readonly string[] Tags = ["light", "new", "last"];
        private static readonly string[] Colours = ["moss", "slate", "rust"];
        private static readonly string[] Sizes = ["28", "29"];
        private readonly Random random;
        private readonly Category[] categories;

        public Shop(Random random)
        {
            this.random = random;
            categories =
            [
                .. Enumerable
                    .Range(0, 6)
                    .Select(number => new Category(
                        $"c{number}",
                        $"C{number}",
                        number == 0 || random.Next(4) == 0 ? null : $"c{random.Next(number)}"
                    )),
            ];
            var products = Enumerable
                .Range(0, 5)
                .Select(number => new Product(
                    $"p{number}",
                    $"P{number}",
                    Enumerable.Range(0, random.Next(1, 3)).Select(variant => Variant($"p{number}-{variant}")).ToEquatableArray(),
                    random.Next(5) == 0 ? null : $"c{random.Next(6)}",
                    random.Next(3) == 0 ? null : Brands[random.Next(2)],
                    Tags.Where(_ => random.Next(3) == 0).ToEquatableArray()
                ))
                .ToArray();
            Items = [.. products.SelectMany(product => product.Variants.Select(variant => new Item(product, variant)))];
            Catalogue = new(categories.ToEquatableArray(), products.ToEquatableArray());
        }

        public Item[] Items { get; }

        private Catalogue Catalogue { get; }

        public PricedCart Price(IEnumerable<Promotion> promotions) =>
            Rulebook
                .Compile(new(RandomCase.Eur, DateTimeZone.Utc), Catalogue, promotions)
                .Price(
                    new(
                        Instant.FromUtc(2027, 3, 5, 9, 0),
                        Items.Select((item, number) => new Line(item.Variant.Sku, 1 + (number % 3))).ToEquatableArray()
                    )
                );

        public Markdown Markdown() =>
            new(
                Enumerable
                    .Range(0, random.Next(1, 4))
                    .Select(_ => new MarkdownLevel(
                        Selection(),
                        random.Next(3) switch
                        {
                            0 => new Take.Percentage(new(random.Next(100) * 10_000)),
                            1 => new Take.Off(RandomCase.Money(random.Next(1, 40) * 10)),
                            _ => new Take.To(RandomCase.Money(random.Next(0, 90) * 10)),
                        }
                    ))
                    .ToEquatableArray()
            );

        public Selection Selection() =>
            new(
                Enumerable.Range(0, random.Next(1, 3)).Select(_ => Term()).ToEquatableArray(),
                Enumerable.Range(0, random.Next(3)).Select(_ => Term()).ToEquatableArray(),
                random.Next(4) == 0,
                random.Next(3) == 0 ? RandomCase.Money(random.Next(1, 90) * 10) : null,
                random.Next(3) == 0 ? RandomCase.Money(random.Next(30, 100) * 10) : null
            );

        /// <summary>The lowest price any level gives, and the number of the first markdown that gives it; -1: none lowers it.</summary>
        public (long Price, int By) Lowest(Item item, Markdown[] markdowns)
        {
            var (price, by) = (item.Listed, -1);
            for (var number = 0; number < markdowns.Length; number++)
            {
                foreach (var level in markdowns[number].Levels)
                {
                    if (!Holds(level.On, this, item, item.Listed))
                        continue;
                    var lowered = level.Take switch
                    {
                        Take.Percentage(var percent) => item.Listed
                            - (long)Math.Round(item.Listed * percent.Value / 100, MidpointRounding.AwayFromZero),
                        Take.Off(var amount) => Math.Max(0, item.Listed - amount.Minor()),
                        Take.To(var to) => Math.Min(item.Listed, to.Minor()),
                        _ => item.Listed,
                    };
                    if (lowered < price)
                        (price, by) = (lowered, number);
                }
            }

            return (price, by);
        }

        public static bool Holds(Selection selection, Shop shop, Item item, long current) =>
            selection.In.Any(term => shop.Names(term, item))
            && !selection.Out.Any(term => shop.Names(term, item))
            && !(selection.FullPriceOnly && current < item.Variant.Regular.Minor())
            && !(current < selection.PriceFrom?.Minor())
            && !(current > selection.PriceTo?.Minor());

        private bool Names(Term term, Item item) =>
            term switch
            {
                Term.InCategory(var id) => Chain(item.Product.Category).Contains(id),
                Term.OfBrand(var name) => item.Product.Brand == name,
                Term.OfProduct(var id) => item.Product.Id == id,
                Term.OfSku(var sku) => item.Variant.Sku == sku,
                Term.Tagged(var name) => item.Product.Tags.Contains(name),
                Term.WithOption(var name, var value, var product) => item.Variant.Options.Contains(new(name, value))
                    && (product ?? item.Product.Id) == item.Product.Id,
                _ => true,
            };

        private IEnumerable<string> Chain(string? id)
        {
            for (; id is not null; id = categories.Single(category => category.Id == id).Parent)
                yield return id;
        }

        private Term Term() =>
            random.Next(10) switch
            {
                0 => new Term.All(),
                1 or 2 => new Term.InCategory($"c{random.Next(6)}"),
                3 => new Term.OfBrand(Brands[random.Next(2)]),
                4 => new Term.OfProduct($"p{random.Next(5)}"),
                5 => new Term.OfSku(Items[random.Next(Items.Length)].Variant.Sku),
                8 => new Term.WithOption("colour", Colours[random.Next(3)]),
                9 => new Term.WithOption("size", Sizes[random.Next(2)], $"p{random.Next(5)}"),
                _ => new Term.Tagged(Tags[random.Next(3)]),
            };

        private Variant Variant(string sku)
        {
            var regular = random.Next(1, 100) * 10;
            VariantOption[] options = [new("colour", Colours[random.Next(3)]), new("size", Sizes[random.Next(2)])];
            return new(
                sku,
                RandomCase.Money(regular),
                random.Next(3) == 0 ? RandomCase.Money(random.Next(0, regular + 1)) : null,
                Options: [.. options.Take(random.Next(3))]
            );
        }
    }

    private sealed record Item(Product Product, Variant Variant)
    {
        /// <summary>What the catalogue asks for it.</summary>
        public long Listed => (Variant.Price ?? Variant.Regular).Minor();
    }
}

internal static class AmountExtensions
{
    /// <summary>In minor units of the euro, in which these shops say everything.</summary>
    public static long Minor(this Amount amount) => amount.For(RandomCase.Eur, new(RandomCase.Eur, DateTimeZone.Utc))!.Value;
}
