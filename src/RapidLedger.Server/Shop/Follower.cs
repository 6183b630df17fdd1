namespace RapidLedger.Server.Shop;

/// <summary>
/// Looks twice a second whether another process has written to the store, so that nobody is sold at prices that have changed.
/// </summary>
internal sealed class Follower(OpenShop shop, ILogger<Follower> log) : BackgroundService
{
    private static readonly TimeSpan Often = TimeSpan.FromMilliseconds(500);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Often);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                await shop.Follow();
            }
            catch (Exception error) when (error is Storage.StorageFault or Microsoft.Data.Sqlite.SqliteException)
            {
                log.LogWarning(error, "What was written to the store could not be read; it is tried again.");
            }
        }
    }
}
