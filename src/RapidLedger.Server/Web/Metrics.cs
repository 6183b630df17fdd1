using Prometheus;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Web;

/// <summary>What the server counts, in Prometheus' text format.</summary>
internal static class Metrics
{
    private static readonly Histogram Seconds = Prometheus.Metrics.CreateHistogram(
        "rapid_ledger_pricing_seconds",
        "Time one pricing took.",
        new HistogramConfiguration { Buckets = Histogram.ExponentialBuckets(0.0001, 2.5, 14) }
    );

    private static readonly Histogram Work = Prometheus.Metrics.CreateHistogram(
        "rapid_ledger_pricing_work",
        "Work that one choice took, in units near to a run of units looked at.",
        new HistogramConfiguration { Buckets = Histogram.ExponentialBuckets(100, 4, 12) }
    );

    private static readonly Counter Unproved = Prometheus.Metrics.CreateCounter(
        "rapid_ledger_pricing_unproved_total",
        "Pricings whose choice is not proved to be the best."
    );

    private static readonly Histogram Gap = Prometheus.Metrics.CreateHistogram(
        "rapid_ledger_pricing_gap_ratio",
        "By how much another choice could be better, as a share of what the unproved choice is worth.",
        new HistogramConfiguration { Buckets = [0.001, 0.01, 0.05, 0.1, 0.25, 0.5, 1] }
    );

    private static readonly Counter Orders = Prometheus.Metrics.CreateCounter(
        "rapid_ledger_orders_total",
        "Orders by what became of them: placed, held, refused, taken, givenBack, lapsed.",
        "what"
    );

    private static readonly Counter RefusedCodes = Prometheus.Metrics.CreateCounter(
        "rapid_ledger_codes_refused_total",
        "Codes that were entered and not used, by why.",
        "status"
    );

    private static readonly Gauge Waiting = Prometheus.Metrics.CreateGauge("rapid_ledger_pricing_waiting", "Pricings that wait in line.");

    private static readonly Gauge Edition = Prometheus.Metrics.CreateGauge("rapid_ledger_edition", "The number of the live edition.");

    private static readonly Gauge Live = Prometheus.Metrics.CreateGauge("rapid_ledger_live_promotions", "Promotions in the live edition.");

    private static readonly Gauge Unreadable = Prometheus.Metrics.CreateGauge(
        "rapid_ledger_unreadable_promotions",
        "Live promotions that can no longer be read."
    );

    private static readonly Gauge Bytes = Prometheus.Metrics.CreateGauge(
        "rapid_ledger_database_bytes",
        "Size of the database file and its log."
    );

    private static readonly Gauge Fault = Prometheus.Metrics.CreateGauge(
        "rapid_ledger_database_fault",
        "1: the last write did not come through."
    );

    private static volatile Watched? watched;

    static Metrics() => Prometheus.Metrics.DefaultRegistry.AddBeforeCollectCallback(Read);

    /// <summary>Counts what became of orders.</summary>
    public static void Ordered(string what, int count = 1) => Orders.WithLabels(what).Inc(count);

    /// <summary>Counts the codes of a priced cart that were not used.</summary>
    public static void Entered(PricedCart priced, int withheld)
    {
        foreach (var code in priced.Codes)
            if (code.Status != "applied")
                RefusedCodes.WithLabels(code.Status).Inc();
        if (withheld > 0)
            RefusedCodes.WithLabels("tooMany").Inc(withheld);
    }

    /// <summary>
    /// Figures that are read when they are asked for, of the server that was opened last: where the demo is left, of the next.
    /// </summary>
    public static void Watch(IServiceProvider services)
    {
        watched = new(
            services.GetRequiredService<OpenShop>(),
            services.GetRequiredService<PricingGate>(),
            services.GetRequiredService<Database>()
        );
        services.GetRequiredService<OrderRepository>().Lapsed += count => Ordered("lapsed", count);
    }

    private static void Read()
    {
        if (watched is not var (shop, gate, database))
            return;
        var now = shop.Live;
        Waiting.Set(gate.Waiting);
        Edition.Set(now.Number);
        Live.Set(now.Rulebook.Count + now.Unreadable.Count);
        Unreadable.Set(now.Unreadable.Count);
        Bytes.Set(database.Size);
        Fault.Set(database.Fault is null ? 0 : 1);
    }

    /// <summary>Prices, and counts it.</summary>
    public static PricedCart Measured(Func<PricedCart> price)
    {
        PricedCart priced;
        using (Seconds.NewTimer())
            priced = price();
        Work.Observe(priced.Work);
        if (priced.Gap is { } gap)
        {
            Unproved.Inc();
            if (priced.Worth > 0)
                Gap.Observe((double)gap / priced.Worth);
        }

        return priced;
    }

    private sealed record Watched(OpenShop Shop, PricingGate Gate, Database Database);
}
