using NodaTime;

namespace RapidLedger.Storage.Tests;

/// <summary>Orders from before, brought by more than one program at a time.</summary>
public sealed class PastOrderTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("rapid-ledger").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task Who_comes_second_waits_for_what_the_first_one_keeps_or_gives_up(bool isGivenUp)
    {
        var path = Path.Combine(folder, "shop.db");
        using var database = new Database(path);
        database.Upgrade();
        using var elsewhere = new Database(path);
        var (first, second) = (new PastOrderBatches(database, SystemClock.Instance), new PastOrderBatches(elsewhere, SystemClock.Instance));
        using var stop = new CancellationTokenSource();
        using var written = new SemaphoreSlim(0);
        using var goOn = new SemaphoreSlim(0);
        // Its order is written, and does not count yet.
        var bringing = Task.Run(() =>
            first.Bring(
                StepSource.File("one"),
                "one",
                [Order("7")],
                _ =>
                {
                    written.Release();
                    goOn.Wait();
                },
                stop.Token
            )
        );
        await written.WaitAsync(TestContext.Current.CancellationToken);
        var beside = second.Bring(StepSource.File("two"), "two", [Order("7"), Order("8")], null, CancellationToken.None);
        await Task.Delay(300, TestContext.Current.CancellationToken);
        Assert.False(beside.IsCompleted);
        if (isGivenUp)
            await stop.CancelAsync();
        goOn.Release();
        if (isGivenUp)
            await Assert.ThrowsAnyAsync<OperationCanceledException>(() => bringing);
        else
            Assert.Equal(1, (await bringing).Changed);
        Assert.Equal(isGivenUp ? 2 : 1, (await beside).Changed);
        Assert.Equal(["7", "8"], new PastOrderRepository(elsewhere).All().Select(one => one.Order.Number));
    }

    [Fact]
    public async Task What_was_cleared_away_meanwhile_does_not_count_and_leaves_nothing()
    {
        using var database = new Database(Path.Combine(folder, "cleared.db"));
        database.Upgrade();
        var past = new PastOrderBatches(database, SystemClock.Instance);
        // Another program starts, and takes it for left over.
        var fault = await Assert.ThrowsAsync<StorageFault>(() =>
            past.Bring(StepSource.File("one"), "one", [Order("7")], _ => past.Recover().GetAwaiter().GetResult(), CancellationToken.None)
        );
        Assert.True(fault.Passes);
        Assert.Empty(new PastOrderRepository(database).All());
        Assert.Equal(1, (await past.Bring(StepSource.File("one"), "one", [Order("7")], null, CancellationToken.None)).Changed);
    }

    private static PastOrder Order(string number) =>
        new(number, 1_700_000_000, "2023-11-14", "EUR", null, null, null, null, [], false, 0, 100, [new("A", 1, 100, 84, null)]);
}
