using System.Diagnostics;
using Dapper;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>
/// Batches of orders from before, as they are brought in and taken back. They come in under the number of a batch that nobody reads, in
/// short pieces, so that orders are placed meanwhile; one short write makes the batch count. Taking it back is one short write too; its
/// rows are cleared away behind it.
/// </summary>
public sealed class PastOrderBatches(Database database, IClock clock)
{
    private const int AtOnce = 200;
    private static readonly TimeSpan Piece = TimeSpan.FromMilliseconds(40);

    // Whoever has written nothing for so long has died on the way.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(50);

    /// <summary>
    /// Brings orders in; a number that stands here already is left out. It waits for whoever began before, in this program or another: what
    /// that one brings counts or not only at its end.
    /// </summary>
    /// <param name="source">Which file.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="orders">Each number once.</param>
    /// <param name="progress">Is told how many lines are written.</param>
    /// <param name="gone">Nobody waits any more: nothing of it stays.</param>
    /// <exception cref="StorageFault">It stood still for so long that another program took it for broken off: nothing stays.</exception>
    public async Task<StepOutcome> Bring(
        StepSource source,
        string what,
        IEnumerable<PastOrder> orders,
        Action<int>? progress,
        CancellationToken gone
    )
    {
        var (step, batch) = await database.Write(
            (connection, transaction) =>
            {
                var number = new StepRows(connection, transaction).Begin(source, what, clock.GetCurrentInstant(), null);
                return (
                    number,
                    connection.ExecuteScalar<long>(
                        "INSERT INTO past_batches (step) VALUES (@number) RETURNING id",
                        new { number },
                        transaction
                    )
                );
            },
            gone
        );
        var (brought, lines, isOver) = (0, 0, false);
        try
        {
            await WaitFor(batch, gone);
            using var each = orders.GetEnumerator();
            while (!isOver)
            {
                await database.Write(
                    (connection, transaction) =>
                    {
                        using var writing = new PastOrderWriting(connection, transaction, batch);
                        var watch = Stopwatch.StartNew();
                        while (watch.Elapsed < Piece)
                        {
                            if (!each.MoveNext())
                            {
                                isOver = true;
                                break;
                            }

                            brought += writing.Add(each.Current) ? 1 : 0;
                            lines += each.Current.Lines.Count;
                        }

                        writing.AddUp();
                        return brought;
                    },
                    gone
                );
                progress?.Invoke(lines);
            }

            if (brought == 0)
                return StepOutcome.Nothing;
            await database.Write(
                (connection, transaction) =>
                {
                    var rows = new StepRows(connection, transaction);
                    if (
                        connection.Execute(
                            "UPDATE past_batches SET counts = 1, orders = @brought WHERE id = @batch",
                            new { batch, brought },
                            transaction
                        ) == 0
                    )
                        throw new StorageFault("Another program has cleared these orders away meanwhile. Bring them again.", passes: true);
                    rows.Count(step, null);
                    rows.SettleAll(step);
                    rows.ForgetOld(StepRepository.Kept);
                    return 0;
                },
                gone
            );
            batch = 0;
            return new(step, brought, []);
        }
        finally
        {
            if (batch != 0)
            {
                await database.Write((connection, transaction) => new StepRows(connection, transaction).Drop(step));
                await Clear(batch);
            }
        }
    }

    /// <summary>Takes the orders of a step out again.</summary>
    /// <param name="step">The step.</param>
    /// <param name="what">What is done, in words.</param>
    /// <returns>How many orders went; null: the step brought none, or they were taken back already.</returns>
    public async Task<StepOutcome?> TakeBack(long step, string what)
    {
        var (batch, number) = await database.Write(
            (connection, transaction) =>
            {
                var batch = connection.ExecuteScalar<long?>(
                    "UPDATE past_batches SET counts = 0 WHERE step = @step AND counts RETURNING id",
                    new { step },
                    transaction
                );
                if (batch is null)
                    return (null, 0L);
                var rows = new StepRows(connection, transaction);
                var number = rows.Begin(StepSource.App, what, clock.GetCurrentInstant(), step);
                rows.Count(number, step);
                rows.SettleAll(number);
                return (batch, number);
            }
        );
        return batch is { } own ? new(number, (int)await Clear(own), []) : null;
    }

    /// <summary>Clears away what a stop, a crash or a taking back left: batches that do not count.</summary>
    public async Task Recover()
    {
        using var connection = database.Open();
        foreach (var batch in connection.Query<long>("SELECT id FROM past_batches WHERE NOT counts"))
            await Clear(batch);
    }

    // Those that began before are waited for; a batch of which nothing moves any more is cleared away.
    private async Task WaitFor(long batch, CancellationToken gone)
    {
        var (before, still) = ("", Stopwatch.StartNew());
        while (true)
        {
            using var connection = database.Open();
            var ahead = connection
                .Query<(long Id, string? Rows)>(
                    """
                    SELECT id, (SELECT min(id) || ' to ' || max(id) FROM past_orders WHERE batch = past_batches.id)
                    FROM past_batches WHERE NOT counts AND id < @batch
                    """,
                    new { batch }
                )
                .AsList();
            if (ahead.Count == 0)
                return;
            var now = string.Join(", ", ahead);
            if (now != before)
                (before, still) = (now, Stopwatch.StartNew());
            else if (still.Elapsed > Patience)
                foreach (var (dead, _) in ahead)
                    await Clear(dead);
            await Task.Delay(Pause, gone);
        }
    }

    private async Task<long> Clear(long batch)
    {
        var cleared = 0L;
        for (int some = 1; some > 0; )
        {
            some = await database.Write(
                (connection, transaction) =>
                {
                    var ids = connection
                        .Query<long>("SELECT id FROM past_orders WHERE batch = @batch LIMIT @AtOnce", new { batch, AtOnce }, transaction)
                        .AsList();
                    connection.Execute(
                        "DELETE FROM past_lines WHERE order_id IN @ids; DELETE FROM past_orders WHERE id IN @ids",
                        new { ids },
                        transaction
                    );
                    if (ids.Count == 0)
                        connection.Execute(
                            "DELETE FROM past_days WHERE batch = @batch; DELETE FROM past_batches WHERE id = @batch",
                            new { batch },
                            transaction
                        );
                    return ids.Count;
                }
            );
            cleared += some;
        }

        return cleared;
    }
}
