using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text.Json;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Codes;

/// <summary>A batch that is being made.</summary>
/// <param name="Wanted">How many codes it is to hold.</param>
internal sealed record Making(string Batch, long Wanted, CancellationTokenSource Stop)
{
    /// <summary>What went wrong; null: nothing.</summary>
    public string? Fault { get; set; }
}

/// <summary>
/// Makes batches of codes in the background, some thousands at a time, so that orders get in between and memory stays flat.
/// </summary>
internal sealed class CodeMaking(CodeRepository codes, OpenShop shop)
{
    private const int AtOnce = 5_000;

    private readonly ConcurrentDictionary<string, Making> under = new(StringComparer.Ordinal);

    /// <summary>The batch that is being made under an id, or null.</summary>
    public Making? Find(string batch) => under.GetValueOrDefault(batch);

    /// <summary>Begins a batch, and makes its codes.</summary>
    public async Task<StoredBatch> Begin(CodeForm form, long count, string note, long? usesEach, string? lastDay)
    {
        var batch = await codes.Begin(note, usesEach, lastDay, JsonSerializer.Serialize(new Order(form, count)));
        Start(batch.Id, form, count, 0);
        return batch;
    }

    /// <summary>Goes on with what a stop of the program has left half made.</summary>
    public void GoOn()
    {
        foreach (var (id, making, made) in codes.Unfinished())
            if (JsonSerializer.Deserialize<Order>(making) is var (form, count))
                Start(id, form, count, made);
    }

    private void Start(string batch, CodeForm form, long count, long made)
    {
        var making = under[batch] = new Making(batch, count, new());
        _ = Task.Run(() => Make(form, making, made));
    }

    /// <summary>Stops making a batch; what was made stays until it is thrown away.</summary>
    public void Stop(string batch) => Find(batch)?.Stop.Cancel();

    private async Task Make(CodeForm form, Making making, long made)
    {
        try
        {
            for (; made < making.Wanted && !making.Stop.IsCancellationRequested; )
            {
                var part = new Dictionary<string, string>(StringComparer.Ordinal);
                while (part.Count < Math.Min(AtOnce, making.Wanted - made))
                {
                    var written = form.Draw(RandomNumberGenerator.GetInt32);
                    part[Trigger.Bare(Trigger.Normal(written))] = written;
                }

                var (edition, own) = (shop.Live.Number, shop.OwnCodes());
                // In the order of the index, which takes them faster so.
                var outcome = await codes.Fill(
                    making.Batch,
                    [
                        .. part.Where(code => !own.Contains(code.Key))
                            .OrderBy(code => code.Key, StringComparer.Ordinal)
                            .Select(code => (code.Key, code.Value)),
                    ],
                    edition
                );
                if (outcome.IsGone)
                    break;
                made += outcome.Put;
            }

            await codes.Made(making.Batch);
            under.TryRemove(making.Batch, out _);
        }
        catch (StorageFault fault)
        {
            making.Fault = fault.Message;
        }
    }

    private sealed record Order(CodeForm Form, long Count);
}
