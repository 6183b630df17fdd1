namespace RapidLedger.Tests;

/// <summary>One run of the command <c>serve</c>.</summary>
internal interface IServing : IDisposable
{
    /// <summary>The line that says where it is open; null: it ended before.</summary>
    Task<string?> Opened { get; }

    /// <summary>Asks it to end, waits until it has, and gives its exit code.</summary>
    Task<int> Stop();
}
