using System.Collections.Concurrent;
using System.Security.Cryptography;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Codes;

/// <summary>A batch that is being made.</summary>
/// <param name="Wanted">How many codes it is to hold.</param>
internal sealed record Making(string Batch, long Wanted, CancellationTokenSource Stop)
{
    /// <summary>What went wrong; null: nothing.</summary>
    public string? Fault { get; set; }
}

/// <summary>Makes batches of codes in the background, some thousands at a time, so that orders get in between and memory stays flat.</summary>
internal sealed class CodeMaking(CodeRepository codes)
{
    private const int AtOnce = 5_000;

    private readonly ConcurrentDictionary<string, Making> under = new(StringComparer.Ordinal);

    /// <summary>The batch that is being made under an id, or null.</summary>
    public Making? Find(string batch) => under.GetValueOrDefault(batch);

    /// <summary>Begins a batch, and makes its codes.</summary>
    public async Task<StoredBatch> Begin(CodeForm form, long count, string note, long? usesEach, string? lastDay)
    {
        var batch = await codes.Begin(note, usesEach, lastDay);
        var making = new Making(batch.Id, count, new());
        under[batch.Id] = making;
        _ = Task.Run(() => Make(form, making));
        return batch;
    }

    /// <summary>Stops making a batch; what was made stays until it is thrown away.</summary>
    public void Stop(string batch) => Find(batch)?.Stop.Cancel();

    private async Task Make(CodeForm form, Making making)
    {
        try
        {
            for (var made = 0L; made < making.Wanted && !making.Stop.IsCancellationRequested;)
            {
                var part = new Dictionary<string, string>(StringComparer.Ordinal);
                while (part.Count < Math.Min(AtOnce, making.Wanted - made))
                {
                    var written = form.Draw(RandomNumberGenerator.GetInt32);
                    part[Trigger.Bare(Trigger.Normal(written))] = written;
                }

                // In the order of the index, which takes them faster so.
                if (await codes.Fill(making.Batch, [.. part.OrderBy(code => code.Key, StringComparer.Ordinal).Select(code => (code.Key, code.Value))]) is not { } put) break;
                made += put;
            }

            under.TryRemove(making.Batch, out _);
        }
        catch (StorageFault fault)
        {
            making.Fault = fault.Message;
        }
    }
}
