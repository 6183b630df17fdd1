using System.Text;
using RapidLedger.Server.Commands;

namespace RapidLedger.Tests;

/// <summary>The same command in the process of the tests.</summary>
internal sealed class ServingHere : IServing
{
    private readonly CancellationTokenSource asked = new();
    private readonly Task<int> running;

    public ServingHere(string[] arguments)
    {
        var said = new FirstLine();
        running = Task.Run(() =>
            CommandLine
                .Create()
                .Parse(arguments)
                .InvokeAsync(
                    new()
                    {
                        Output = said,
                        EnableDefaultExceptionHandler = false,
                        ProcessTerminationTimeout = null,
                    },
                    asked.Token
                )
        );
        Opened = FirstOf(said.Line);
    }

    public Task<string?> Opened { get; }

    // What ends it before it is open is what the test is told.
    private async Task<string?> FirstOf(Task<string?> line)
    {
        if (await Task.WhenAny(line, running) == line)
            return await line;
        await running;
        return null;
    }

    public async Task<int> Stop()
    {
        await asked.CancelAsync();
        return await running;
    }

    // What is under way may end meanwhile: nobody waits for it.
    public void Dispose() => asked.Cancel();

    private sealed class FirstLine : TextWriter
    {
        private readonly TaskCompletionSource<string?> line = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public Task<string?> Line => line.Task;

        public override Encoding Encoding => Encoding.UTF8;

        public override void WriteLine(string? value) => line.TrySetResult(value);
    }
}
