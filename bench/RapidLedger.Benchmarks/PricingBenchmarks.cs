using BenchmarkDotNet.Attributes;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>
/// A whole pricing, against more and more live promotions of which ten touch the cart; and the floor: adding the cart up.
/// </summary>
public class PricingBenchmarks
{
    private Rulebook rulebook = null!;
    private Cart cart = null!;
    private long[] prices = [];

    [Params(5, 20)]
    public int Lines { get; set; }

    [Params(10, 100, 1_000, 10_000)]
    public int Promotions { get; set; }

    [GlobalSetup]
    public void Prepare()
    {
        rulebook = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), Shop.Promotions(Promotions));
        cart = Shop.Cart(Lines);
        prices = [.. rulebook.Price(cart).Lines.Select(line => line.Goods / line.Quantity)];
    }

    [Benchmark]
    public PricedCart Price() => rulebook.Price(cart);

    [Benchmark]
    public long Floor()
    {
        long sum = 0;
        for (var line = 0; line < prices.Length; line++)
            sum += prices[line] * cart.Lines[line].Quantity;
        return sum;
    }
}

/// <summary>The hardest carts.</summary>
public class WorstCaseBenchmarks
{
    private static readonly Dictionary<string, (Rulebook Rulebook, Cart Cart)> Cases = WorstCases
        .All()
        .ToDictionary(one => one.Name, one => (one.Rulebook, one.Cart));

    [ParamsSource(nameof(Names))]
    public string Case { get; set; } = "";

    public static IEnumerable<string> Names => Cases.Keys;

    [Benchmark]
    public PricedCart Worst() => Cases[Case].Rulebook.Price(Cases[Case].Cart);
}

/// <summary>Compiling 10,000 promotions over 50,000 SKUs.</summary>
public class CompileBenchmarks
{
    private readonly Catalogue catalogue = Shop.Catalogue(50_000);
    private readonly Promotion[] promotions = Shop.Promotions(10_000);

    [Benchmark]
    public Rulebook Compile() => Rulebook.Compile(Shop.Store, catalogue, promotions);
}
