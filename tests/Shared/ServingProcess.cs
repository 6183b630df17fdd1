using System.Diagnostics;
using System.Globalization;

namespace RapidLedger.Tests;

/// <summary>The program as it ships, in a process of its own.</summary>
internal sealed class ServingProcess : IServing
{
    private readonly Process process;

    public ServingProcess(string program, string[] arguments)
    {
        process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true })!;
        Opened = process.StandardOutput.ReadLineAsync();
    }

    public Task<string?> Opened { get; }

    public int Id => process.Id;

    public async Task<int> Stop()
    {
        using (Process.Start("kill", ["-TERM", Id.ToString(CultureInfo.InvariantCulture)])!)
            await process.WaitForExitAsync();
        return process.ExitCode;
    }

    /// <summary>Ends it at once.</summary>
    public void Kill()
    {
        process.Kill();
        process.WaitForExit();
    }

    public void Dispose()
    {
        if (!process.HasExited)
            Kill();
        process.Dispose();
    }
}
