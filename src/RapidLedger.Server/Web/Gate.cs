using System.Threading.RateLimiting;
using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>
/// A line before work for the processor: only so much of it is done at once, a few more wait, and the others are asked to come again. Work
/// is given up when whoever asked has gone, or when it takes too long.
/// </summary>
internal abstract class Gate : IDisposable
{
    /// <summary>How long one piece of work may take.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromSeconds(20);

    private readonly ConcurrencyLimiter line;
    private readonly CancellationToken ending;

    /// <param name="waitingForEach">How many may wait in line for each processor.</param>
    /// <param name="ending">Says that the server ends, where its end does not wait for such work.</param>
    protected Gate(int waitingForEach, CancellationToken ending = default)
    {
        this.ending = ending;
        line = new(
            new()
            {
                PermitLimit = Environment.ProcessorCount,
                QueueLimit = waitingForEach * Environment.ProcessorCount,
                QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
            }
        );
    }

    /// <summary>How many wait in line.</summary>
    public long Waiting => line.GetStatistics()?.CurrentQueuedCount ?? 0;

    public void Dispose()
    {
        line.Dispose();
        GC.SuppressFinalize(this);
    }

    /// <summary>Does some work when it is its turn.</summary>
    protected async Task<IResult> InTurn(Func<CancellationToken, Task<IResult>> work, HttpContext context)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, ending);
        try
        {
            using var lease = await line.AcquireAsync(1, patience.Token);
            if (!lease.IsAcquired)
                return Later(
                    context,
                    StatusCodes.Status429TooManyRequests,
                    "Too many carts are being priced at once. Try again in a second."
                );
            patience.CancelAfter(Longest);
            return await work(patience.Token);
        }
        catch (OperationCanceledException) when (ending.IsCancellationRequested)
        {
            return Later(context, StatusCodes.Status503ServiceUnavailable, "The server ends just now. Try again when it is open.");
        }
        catch (OperationCanceledException) when (!context.RequestAborted.IsCancellationRequested)
        {
            return Later(
                context,
                StatusCodes.Status503ServiceUnavailable,
                $"Pricing this took longer than {Longest.TotalSeconds} seconds and was given up. Ask for less effort."
            );
        }
    }

    private static IResult Later(HttpContext context, int status, string message)
    {
        context.Response.Headers.RetryAfter = "1";
        return Answers.Refused(status, [new("", ProblemCode.Busy, message)]);
    }
}

/// <summary>
/// Pricing that somebody waits for: the tape's and, in a line of its own, the shops'. Of each line only as many stand before the processors
/// as there are of these: neither waits behind the whole line of the other.
/// </summary>
internal class PricingGate : Gate
{
    private const int UsuallyWaiting = 8;

    // Threads that are left for everybody else while pricing takes all of its own.
    private const int SpareThreads = 16;

    private readonly Processors processors;

    public PricingGate(Processors processors)
        : this(processors, UsuallyWaiting) { }

    /// <param name="processors">Shared by all that is priced.</param>
    /// <param name="waitingForEach">How many may wait in line for each processor.</param>
    protected PricingGate(Processors processors, int waitingForEach)
        : base(waitingForEach)
    {
        this.processors = processors;
        ThreadPool.GetMinThreads(out _, out var ports);
        ThreadPool.SetMinThreads(Environment.ProcessorCount + SpareThreads, ports);
    }

    /// <summary>Does some pricing when there is room for it.</summary>
    /// <param name="work">What is to be done; it looks at its token all the time.</param>
    /// <param name="context">Whose request it is.</param>
    public Task<IResult> Run(Func<CancellationToken, IResult> work, HttpContext context) =>
        Run(gone => Task.FromResult(work(gone)), context);

    /// <summary>Does some pricing when there is room for it.</summary>
    /// <param name="work">What is to be done; it looks at its token all the time.</param>
    /// <param name="context">Whose request it is.</param>
    public Task<IResult> Run(Func<CancellationToken, Task<IResult>> work, HttpContext context) =>
        InTurn(
            async gone =>
            {
                using var processor = await processors.Free.AcquireAsync(1, gone);
                return await work(gone);
            },
            context
        );
}

/// <summary>As many pricings at once as there are processors, whoever asks for them.</summary>
internal sealed class Processors : IDisposable
{
    /// <summary>A place at a processor; whoever came first has it first.</summary>
    public ConcurrencyLimiter Free { get; } =
        new(
            new()
            {
                PermitLimit = Environment.ProcessorCount,
                QueueLimit = int.MaxValue,
                QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
            }
        );

    public void Dispose() => Free.Dispose();
}
