using System.Diagnostics;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>A quick look at time and bytes, for work on speed; the table is made by the benchmarks.</summary>
internal static class Quick
{
    public static void Run()
    {
        foreach (var lines in (int[])[5, 20])
        {
            foreach (var promotions in (int[])[10, 100, 1_000, 10_000])
            {
                var rulebook = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), Shop.Promotions(promotions));
                var cart = Shop.Cart(lines);
                Measure($"{lines} lines, {promotions} promotions", () => rulebook.Price(cart));
            }
        }

        foreach (var (name, rulebook, cart) in WorstCases.All()) Measure(name, () => rulebook.Price(cart), 20);
        foreach (var (kind, rulebook) in WorstCases.Kinds())
        {
            var (few, lots) = (Measure(() => rulebook.Price(WorstCases.Cart(20, 10))), Measure(() => rulebook.Price(WorstCases.Cart(20, 100_000))));
            Console.WriteLine($"{kind,-45} {few,12:0.0} us for 10 units a line, {lots:0.0} us for 100,000: {lots / few:0.0} times");
        }

        var catalogue = Shop.Catalogue(50_000);
        var many = Shop.Promotions(10_000);
        Measure("compile", () => Rulebook.Compile(Shop.Store, catalogue, many), 5);
    }

    private static double Measure(Func<object> work, int times = 2_000)
    {
        for (var i = 0; i < times; i++) work();
        var watch = Stopwatch.StartNew();
        for (var i = 0; i < times; i++) work();
        return watch.Elapsed.TotalMicroseconds / times;
    }

    private static void Measure(string name, Func<object> work, int times = 3_000)
    {
        for (var i = 0; i < times; i++) work();
        var before = GC.GetAllocatedBytesForCurrentThread();
        var watch = Stopwatch.StartNew();
        for (var i = 0; i < times; i++) work();
        watch.Stop();
        var proved = work() is PricedCart priced ? $"  proved {priced.Proved}  saving {priced.Totals.Saving}" : "";
        Console.WriteLine($"{name,-45} {watch.Elapsed.TotalMicroseconds / times,12:0.0} us {(GC.GetAllocatedBytesForCurrentThread() - before) / times,12} B{proved}");
    }
}
