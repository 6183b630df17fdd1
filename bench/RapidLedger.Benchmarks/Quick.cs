using System.Diagnostics;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>A quick look at time and bytes, for work on speed; the table is made by the benchmarks.</summary>
internal static class Quick
{
    public static void Run(string? only = null)
    {
        if (only == "review")
        {
            // A second look at each kind of promotion that touches the carts, beside 1,000 live ones and 5,000 SKUs.
            var live = Rulebook.Compile(Shop.Store, Shop.Catalogue(5_000), Shop.Promotions(1_000));
            var around = new Surroundings(live.Catalogue, live, new Wording(live.Catalogue, Shop.Eur), Shop.Cart(1).At);
            foreach (var promotion in Shop.Promotions(10))
                Console.WriteLine($"{promotion.Id} {Measure(() => Review.Of(promotion, around with { }), 20) / 1_000:0.0} ms");
            return;
        }

        if (only == "meetings")
        {
            var benchmarks = new MeetingsBenchmarks();
            for (var round = 0; round < 5; round++)
            {
                Measure("all pairs of 26", () => benchmarks.AllPairsOf26(), 1);
                Measure("one of 1,000 by rule", () => benchmarks.OneOf1000ByRule(), 1);
            }

            return;
        }

        if (only == "categories")
        {
            var shop = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), Shop.ByCategory(1_000));
            var wide = Shop.WideCart(100);
            for (var round = 0; round < 5; round++)
                Measure("100 lines of ten categories", () => shop.Price(wide), 1_000);
            return;
        }

        if (only is not null)
        {
            var one = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), Shop.Promotions(1_000, only == "100" ? 20 : 10));
            var cartOfIt = Shop.Cart(int.Parse(only, System.Globalization.CultureInfo.InvariantCulture));
            for (var round = 0; round < 5; round++)
                Measure($"{only} lines", () => one.Price(cartOfIt), only == "100" ? 300 : 10_000);
            return;
        }

        foreach (var lines in (int[])[5, 20])
        {
            foreach (var promotions in (int[])[10, 100, 1_000, 10_000])
            {
                var rulebook = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), Shop.Promotions(promotions));
                var cart = Shop.Cart(lines);
                Measure($"{lines} lines, {promotions} promotions", () => rulebook.Price(cart));
            }
        }

        var twenty = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), Shop.Promotions(1_000, 20));
        Measure("100 lines, 1,000 promotions, 20 touching", () => twenty.Price(Shop.Cart(100)), 500);
        foreach (var (name, rulebook, cart) in WorstCases.All())
            Measure(name, () => rulebook.Price(cart), 10);
        foreach (var (kind, rulebook) in WorstCases.Kinds())
        {
            var (few, lots) = (
                Measure(() => rulebook.Price(WorstCases.Cart(20, 10))),
                Measure(() => rulebook.Price(WorstCases.Cart(20, 100_000)))
            );
            foreach (var lines in (int[])[100, 1_000, 10_000])
                Console.Write($"{Measure(() => rulebook.Price(WorstCases.Wide(lines)), 200_000 / lines / 10) / lines, 8:0.00} ");
            Console.WriteLine(
                $"us a line of 100, 1,000, 10,000;  {kind, -35} {few, 8:0.0} us for 10 units a line, {lots:0.0} us for 100,000: {lots / few:0.0} times"
            );
        }

        var catalogue = Shop.Catalogue(50_000);
        var many = Shop.Promotions(10_000);
        Measure("compile", () => Rulebook.Compile(Shop.Store, catalogue, many), 5);
    }

    // The best of five rounds: a shared machine only makes it slower.
    private static double Measure(Func<object> work, int times = 2_000)
    {
        var best = double.MaxValue;
        for (var round = 0; round < 6; round++)
        {
            var watch = Stopwatch.StartNew();
            for (var i = 0; i < times; i++)
                work();
            if (round > 0)
                best = Math.Min(best, watch.Elapsed.TotalMicroseconds / times);
        }

        return best;
    }

    private static void Measure(string name, Func<object> work, int times = 2_000)
    {
        var best = Measure(work, times);
        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var i = 0; i < times; i++)
            work();
        var bytes = (GC.GetAllocatedBytesForCurrentThread() - before) / times;
        var proved = work() is PricedCart priced
            ? $"  proved {priced.Proved}  saving {priced.Totals.Saving}  {best * 1_000 / priced.Work:0.0} ns a unit"
            : "";
        Console.WriteLine($"{name, -45} {best, 12:0.0} us {bytes, 12} B{proved}");
    }
}
