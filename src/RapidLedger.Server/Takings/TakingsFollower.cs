using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Takings;

/// <summary>
/// Keeps takings by their parts up to the orders, normally within a second; and completes what was kept before takings were.
/// </summary>
internal sealed class TakingsFollower(TakingsParts parts, TakingsRepository takings, OpenShop shop, ILogger<TakingsFollower> log)
    : BackgroundService
{
    private const int AtOnce = 100;
    private static readonly TimeSpan Rest = TimeSpan.FromMilliseconds(300);

    /// <summary>Keeps the figures of orders that were placed before they were kept, from what they were told.</summary>
    public static async Task Complete(TakingsRepository takings, OpenShop shop, CancellationToken gone = default)
    {
        for (
            var after = 0L;
            takings.WithoutFigures(after, AtOnce) is { Count: > 0 } orders && !gone.IsCancellationRequested;
            after = orders[^1].Change
        )
            await takings.Keep([.. orders.Select(order => (order, OlderOrder.Figures(order, shop.Catalogue)))]);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var isComplete = false;
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (!isComplete)
                    await Complete(takings, shop, stoppingToken);
                isComplete = true;
                if (parts.IsBehind())
                    while (await parts.Follow(shop.Store.Zone) && !stoppingToken.IsCancellationRequested)
                        // Whoever places goes first.
                        await Task.Yield();
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "Takings could not be added up");
            }

            await Task.Delay(Rest, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
