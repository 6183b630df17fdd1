using System.Runtime.InteropServices;

namespace RapidLedger.Server.Web;

/// <summary>
/// What is worked out beside the tape: second looks, curves, counts of whom a rule meets. It has a line and threads of its own, which the
/// system lets run when nothing else wants the processor: no key and no shopper waits for it, nor does the end of the server.
/// </summary>
internal sealed class BackgroundGate(IHostApplicationLifetime lifetime) : Gate(waitingForEach: 8, lifetime.ApplicationStopping)
{
    /// <summary>Does some work when there is room for it.</summary>
    /// <param name="work">What is to be done; it looks at its token all the time.</param>
    /// <param name="context">Whose request it is.</param>
    public Task<IResult> Run(Func<CancellationToken, IResult> work, HttpContext context) =>
        InTurn(
            gone =>
                Task.Factory.StartNew(
                    () =>
                    {
                        StandBack();
                        return work(gone);
                    },
                    CancellationToken.None,
                    // A thread that ends with the work: what stood back may not step forward again.
                    TaskCreationOptions.LongRunning,
                    TaskScheduler.Default
                ),
            context
        );

    // A thread's own priority does nothing on Linux; its niceness does (setpriority(2)): at 10 it has a tenth of what another thread has
    // where both want the same processor, and all of one that is free.
    private static void StandBack()
    {
        if (OperatingSystem.IsLinux())
            _ = SetPriority(Process, CallingThread, 10);
    }

    private const int Process = 0;
    private const uint CallingThread = 0;

    [DllImport("libc", EntryPoint = "setpriority")]
    private static extern int SetPriority(int which, uint who, int niceness);
}
