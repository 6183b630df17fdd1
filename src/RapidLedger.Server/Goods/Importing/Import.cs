using NodaTime;
using RapidLedger.Server.PastOrders;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>An import as pages see it; every window sees the same.</summary>
/// <param name="Id">Which.</param>
/// <param name="Name">The name of the file.</param>
/// <param name="What">goods, shoppers or orders.</param>
/// <param name="Form">csv, spreadsheet or json.</param>
/// <param name="Encoding">Of a text.</param>
/// <param name="Divider">Of a CSV file.</param>
/// <param name="Sheets">Of a spreadsheet.</param>
/// <param name="Sheet">Which of them is read.</param>
/// <param name="Columns">Its columns with what they are.</param>
/// <param name="First">Its first rows as they stand there.</param>
/// <param name="Rows">How many rows it holds.</param>
/// <param name="Open">What has to be said before it can be looked at.</param>
/// <param name="Look">What it would do; null while something is open.</param>
/// <param name="State">looked, writing, done or failed.</param>
/// <param name="Done">How many rows are written.</param>
/// <param name="Step">The step that it became.</param>
/// <param name="Fault">Why it failed.</param>
internal sealed record ImportState(
    string Id,
    string Name,
    string What,
    string Form,
    string? Encoding,
    string? Divider,
    IReadOnlyList<string> Sheets,
    int Sheet,
    IReadOnlyList<FileColumn> Columns,
    IReadOnlyList<IReadOnlyList<string>> First,
    int Rows,
    IReadOnlyList<string> Open,
    ImportLook? Look,
    string State,
    int Done,
    long? Step,
    string? Fault
);

/// <summary>The import that goes on, if one does: one at a time, whoever brings it.</summary>
internal sealed class ImportDesk(
    OpenShop shop,
    ShopRepository shops,
    StepRepository steps,
    PastOrderRepository past,
    IncomingWriter writer,
    IClock clock,
    ILogger<ImportDesk> log
) : IDisposable
{
    private const int Shown = 20;

    private readonly SemaphoreSlim turn = new(1);
    private CancellationTokenSource? stopping;
    private string? path;
    private FileReading reading = new();

    /// <summary>The import that goes on or was the last; null: there is none.</summary>
    public ImportState? Current { get; private set; }

    /// <summary>Takes a file in and looks at it.</summary>
    /// <returns>Null: another import is not done yet; <see cref="Current"/> says which.</returns>
    /// <exception cref="FormatException">The file cannot be read.</exception>
    public async Task<ImportState?> Bring(string file, string name, string? what, CancellationToken gone)
    {
        await turn.WaitAsync(gone);
        try
        {
            if (Current is { State: "looked" or "writing" })
                return null;
            Forget();
            (path, reading) = (file, new(what));
            return Current = await LookAnew(Guid.NewGuid().ToString("n")[..8], name, gone);
        }
        catch (FormatException)
        {
            Forget();
            Current = null;
            throw;
        }
        finally
        {
            turn.Release();
        }
    }

    /// <summary>Looks again, with other columns or another sheet.</summary>
    /// <returns>Null: there is no such import.</returns>
    /// <exception cref="FormatException">The file cannot be read so.</exception>
    public async Task<ImportState?> Look(string id, FileReading other, CancellationToken gone)
    {
        await turn.WaitAsync(gone);
        try
        {
            if (Current is not { State: "looked" } current || current.Id != id)
                return null;
            var before = reading;
            try
            {
                reading = other with { What = other.What ?? current.What };
                return Current = await LookAnew(id, current.Name, gone);
            }
            catch (FormatException)
            {
                reading = before;
                throw;
            }
        }
        finally
        {
            turn.Release();
        }
    }

    /// <summary>Begins to write; the state tells how far it is.</summary>
    /// <param name="id">Which import.</param>
    /// <param name="takeOut">Whether items that are not in the file are taken out.</param>
    /// <returns>Whether it began: there is such an import, and nothing is open or bad in it.</returns>
    public async Task<bool> Write(string id, bool takeOut)
    {
        await turn.WaitAsync();
        try
        {
            if (Current is not { State: "looked", Look.BadCount: 0, Open.Count: 0 } current || current.Id != id)
                return false;
            stopping = new();
            Current = current with { State = "writing" };
            _ = Task.Run(() => WriteAll(current, takeOut, stopping.Token));
            return true;
        }
        finally
        {
            turn.Release();
        }
    }

    /// <summary>Stops what is being written, or lets an import go: nothing of it stays.</summary>
    public async Task Stop(string id)
    {
        await turn.WaitAsync();
        try
        {
            if (Current?.Id != id)
                return;
            stopping?.Cancel();
            if (Current.State == "writing")
                return;
            Forget();
            Current = null;
        }
        finally
        {
            turn.Release();
        }
    }

    public void Dispose()
    {
        stopping?.Cancel();
        Forget();
        turn.Dispose();
    }

    /// <summary>Reads all lines of a file.</summary>
    public static async Task<(IIncomingRows Rows, List<BadLine> Unread, int Count)> ReadLines(
        IncomingFile file,
        ShopSetup setup,
        Instant now,
        CancellationToken gone
    )
    {
        IIncomingRows rows = file.What switch
        {
            "orders" => new PastOrderLines(setup.Catalogue, setup.Renamed, now),
            "shoppers" => new ShopperLines(setup),
            _ => new ItemLines(setup),
        };
        var (unread, count) = (new List<BadLine>(), 0);
        await foreach (var line in file.Lines(unread.Add, gone))
        {
            count++;
            rows.Add(line);
        }

        return (rows, unread, count);
    }

    /// <summary>What a file of so many rows is called where it stands in the history.</summary>
    public static string Words(string name, int count, string what) =>
        $"{name}: {count} {(what switch { "goods" => "items", "orders" => "lines of past orders", _ => "shoppers" })}";

    private async Task<ImportState> LookAnew(string id, string name, CancellationToken gone)
    {
        await shop.FollowSetup();
        var setup = shop.Setup;
        var file = IncomingFile.Of(path!, reading, setup);
        // A list that comes again and again is read as it was said to be the last time.
        if (reading.Fields is null && shops.FieldsOf(file.Columns.Select(column => column.Heading)) is { } fields)
            file = IncomingFile.Of(path!, reading = reading with { Fields = fields }, setup);
        ImportLook? look = null;
        var rows = file.Rows;
        if (file.Open.Count == 0)
        {
            var (incoming, unread, count) = await ReadLines(file, setup, clock.GetCurrentInstant(), gone);
            rows = count;
            look = incoming switch
            {
                PastOrderLines orders => ImportLook.Of(orders, unread, past),
                ShopperLines shoppers => ImportLook.Of(shoppers, unread, steps),
                _ => ImportLook.Of((ItemLines)incoming, unread, steps, shop, clock.GetCurrentInstant()),
            };
        }

        return new(
            id,
            name,
            file.What,
            file.Table.Form.ToString().ToLowerInvariant(),
            file.Table.Encoding,
            file.Table.Divider?.ToString(),
            file.Table.Sheets,
            reading.Sheet,
            file.Columns,
            [.. file.First(Shown).Select(row => row.Cells)],
            rows,
            file.Open,
            look,
            "looked",
            0,
            null,
            null
        );
    }

    private async Task WriteAll(ImportState current, bool takeOut, CancellationToken gone)
    {
        try
        {
            var setup = shop.Setup;
            var file = IncomingFile.Of(path!, reading, setup);
            var (rows, _, count) = await ReadLines(file, setup, clock.GetCurrentInstant(), gone);
            if (takeOut && rows is ItemLines items)
                items.TakeOutOthers();
            void Progress(int done) => Current = Current! with { Done = done };
            var (outcome, bad) = await writer.Write(current.Name, Words(current.Name, count, file.What), rows, Progress, gone);
            if (bad.Count == 0 && current.Columns.Count > 0)
                await shops.KeepFields(current.Columns.Select(column => column.Heading), current.Columns.Select(column => column.Field));
            Current =
                bad.Count > 0
                    ? current with
                    {
                        State = "failed",
                        Fault =
                            $"Something was written meanwhile that this file no longer fits: row {bad[0].Line}, {bad[0].Message} Bring it again.",
                    }
                    : current with
                    {
                        State = "done",
                        Done = count,
                        Step = outcome.Number,
                    };
        }
        catch (OperationCanceledException)
        {
            Current = current with { State = "failed", Fault = "It was stopped. Nothing was written." };
        }
        catch (Exception error)
        {
            log.LogError(error, "A list of {What} could not be written", current.What);
            Current = current with
            {
                State = "failed",
                Fault = error is StorageFault or FormatException ? error.Message : "It could not be written. The server's log says why.",
            };
        }

        Forget();
    }

    private void Forget()
    {
        foreach (var file in path is null ? [] : (string[])[path, $"{path}.unpacked", $"{path}.unpacked.unpacked"])
            File.Delete(file);
        path = null;
    }
}
