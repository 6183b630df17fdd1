using System.Text.Json;
using NodaTime;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Tape;

namespace RapidLedger.Server.Web;

/// <summary>Does once, before anybody waits, what is slow the first time.</summary>
internal static class WarmUp
{
    private const int Times = 40;

    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(1);

    /// <summary>Reads all promotions, makes the live ones and the search ready, and prices the sample carts until that is quick.</summary>
    public static void Run(IServiceProvider services)
    {
        var (shop, printer) = (services.GetRequiredService<OpenShop>(), services.GetRequiredService<TapePrinter>());
        _ = shop.Setup.Search;
        _ = services.GetRequiredService<PricingGate>();
        var edition = shop.Live;
        var clock = services.GetRequiredService<IClock>();
        var carts = shop
            .SampleCarts.Select(stored => shop.ReadCart(JsonDocument.Parse(stored.Document).RootElement, clock.GetCurrentInstant()).Value)
            .OfType<Pricing.Cart>()
            .ToArray();
        var watch = System.Diagnostics.Stopwatch.StartNew();
        for (var time = 0; carts.Length > 0 && time < Times && (time < carts.Length || watch.Elapsed < Longest); time++)
        {
            var cart = carts[time % carts.Length];
            _ = printer.Print(shop.ContextOf(cart, edition.Rulebook.Givable).Price(edition.Rulebook, cart, default), null, edition);
        }
    }
}
